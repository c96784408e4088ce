"""The station Takes."""
