"""One file for each station of the path."""
