"""What every note gets of the hair: place, weight, tone, onset, crossing."""
