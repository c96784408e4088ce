"""The bench: one place of a piece, or two open strings, taken apart."""
