"""Pathway plans the bow, note by note, for players of bowed strings."""

__version__ = "0.1.0"
