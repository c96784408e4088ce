"""The stand."""
