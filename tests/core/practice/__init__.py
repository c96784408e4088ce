"""Practice: drills, ladders, the day, the load."""
