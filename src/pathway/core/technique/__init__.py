"""What players call the ways of playing."""
