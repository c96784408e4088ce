"""What the reader and the planner had to decide, told over the sheet."""


def tempo_notice(word: str, beats_per_minute: float) -> str:
    """Return what is told of a tempo that no number says; without a word it is assumed."""
    if word:
        return f"No number is printed: “{word}” is taken as {beats_per_minute:.0f}."
    return f"No tempo is printed; {beats_per_minute:.0f} is assumed until you set one."


def proposed_notice(place: str) -> str:
    """Return what is told of a slur that the plan divides."""
    return f"The slur is too long for one bow; a change is proposed at {place}."


def contradiction_notice(place: str, manner: str, against: str) -> str:
    """Return what is told of words that contradict signs."""
    return f"At {place}: {manner} is asked for over {against}; the signs are planned."
