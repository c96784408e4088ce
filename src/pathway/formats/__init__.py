"""Bytes in, core values out, and back: scores and plan documents."""
