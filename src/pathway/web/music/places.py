"""Where a stretch of music lies, as players say it."""

from pathway.core.music import Part
from pathway.core.planning.wishes import Passage


def place_of(part: Part, note: str) -> str:
    """Return the place of a note, as wish files have it."""
    event = part.event[note]
    measure = part.measures[event.measure]
    return f"bar {measure.number} beat {measure.beat_of(event.place):g}"


def stretch(part: Part, start: str, end: str) -> str:
    """Return from where to where a stretch goes: in bars where it fills them, else to the beat."""
    first, last = part.event[start], part.event[end]
    bars = part.measures[first.measure].number, part.measures[last.measure].number
    bowed = [event for event in part.events if not event.plucked]
    opens = next(event for event in bowed if event.measure == first.measure) is first
    closes = next(event for event in reversed(bowed) if event.measure == last.measure) is last
    if opens and closes:
        return f"Bar {bars[0]}" if bars[0] == bars[1] else f"Bars {bars[0]}–{bars[1]}"
    if start == end:
        return place_of(part, start).capitalize()
    return f"{place_of(part, start).capitalize()} to {place_of(part, end)}"


def name_of(passage: Passage) -> str:
    """Return what a passage is called."""
    return passage.character or "passage"
