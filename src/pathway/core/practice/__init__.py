"""From weak spots to work: drills, their ladders, the day, the load. Dates and minutes come in as values."""
