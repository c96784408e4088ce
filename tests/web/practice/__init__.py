"""The station Practise."""
