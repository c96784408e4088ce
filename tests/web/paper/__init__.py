"""The part on paper."""
