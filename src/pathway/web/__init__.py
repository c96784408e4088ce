"""The app in the browser."""
