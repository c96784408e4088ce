"""Takes: what is heard in recordings of a simulated player, against the truth."""
