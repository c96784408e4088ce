"""Sharing with the home network."""
