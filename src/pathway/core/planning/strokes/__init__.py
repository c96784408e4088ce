"""From the page to strokes: what is asked of each note, its clock, level and string, and what one bow carries."""
