"""Pieces written for the app, and how they come onto the shelf."""
