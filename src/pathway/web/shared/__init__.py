"""What all rooms of the app use."""
