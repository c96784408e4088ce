"""What is told to players: words, cues, ways to work, ways to measure."""
