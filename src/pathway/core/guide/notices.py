"""What the reader and the planner had to decide, told over the sheet."""

from collections.abc import Sequence

from pathway.core.music import Unread
from pathway.core.technique.fingers import NAMES

_NAMED = 6  # bars


def tempo_notice(word: str, beats_per_minute: float) -> str:
    """Return what is told of a tempo that no number says; without a word it is assumed."""
    if word:
        return f"No number is printed: “{word}” is taken as {beats_per_minute:.0f}."
    return f"No tempo is printed; {beats_per_minute:.0f} is assumed until you set one."


def hairpin_notices(gestures: Sequence[str], steps: Sequence[str]) -> list[str]:
    """Return what is told of hairpins without a mark at their end, by the bars in which they begin."""
    told = []
    if gestures:
        told.append(
            f"{bars_named(gestures)}: short hairpins without a mark at their end come back to the level they left."
        )
    if steps:
        told.append(
            f"{bars_named(steps)}: long hairpins without a mark at their end are taken as one step of loudness."
        )
    return told


def bars_named(bars: Sequence[str]) -> str:
    """Return bars by their numbers, as a sentence about them begins: the first, and how many more there are."""
    names = list(dict.fromkeys(bars))
    shown = ", ".join(names[:_NAMED]) + (f" and {len(names) - _NAMED} more" if len(names) > _NAMED else "")
    return f"Bar{'' if len(names) == 1 else 's'} {shown}"


def unread_notice(unread: Sequence[Unread]) -> str:
    """Return what is told of what the page says and no plan listens to; empty where there is nothing."""
    told = "; ".join(f"{one.what} ({_small(bars_named(one.bars))})" for one in unread)
    return f"On the page and not planned: {told}." if told else ""


def _small(text: str) -> str:
    return text[:1].lower() + text[1:]


def proposed_notice(place: str) -> str:
    """Return what is told of a slur that the plan divides."""
    return f"The slur is too long for one bow; a change is proposed at {place}."


def finger_notice(place: str, wanted: int, finger: int | None) -> str:
    """Return what is told of a finger that cannot play its note; None plays it where no finger reaches."""
    played = f"{NAMES[finger]} plays it" if finger is not None else "another place is taken"
    return f"At {place}: {NAMES[wanted]} does not reach it; {played}."


def contradiction_notice(place: str, manner: str, against: str) -> str:
    """Return what is told of words that contradict signs."""
    return f"At {place}: {manner} is asked for over {against}; the signs are planned."
