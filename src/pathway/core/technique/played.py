"""In which order the bars of a part are played: repeats, and jumps by words."""

from collections.abc import Iterator
from fractions import Fraction

from pathway.core.music import Part, Repeat


def played_bars(part: Part) -> list[int]:
    """Return the bars as they are played, by their indices; after D.C. or D.S. repeats are not played again."""
    return list(_played(part))


def _played(part: Part) -> Iterator[int]:
    ends = [measure.onset + measure.length for measure in part.measures]
    back = {repeat.end: repeat for repeat in part.repeats if not repeat.by_words}
    jumps = {repeat.end: repeat for repeat in part.repeats if repeat.by_words}
    second: Repeat | None = None  # the jump whose second time this is
    at = 0
    while at < len(ends):
        yield at
        if second is not None and second.until is not None and ends[at] >= second.until:
            if second.then is None:
                return
            at, second = _bar_from(part, second.then), None
            continue
        repeat = back.pop(ends[at], None) if second is None else None
        if repeat is None and (repeat := jumps.pop(ends[at], None)) is not None:
            second = repeat
        at = at + 1 if repeat is None else _bar_from(part, repeat.start)


def _bar_from(part: Part, onset: Fraction) -> int:
    return next((n for n, measure in enumerate(part.measures) if measure.onset >= onset), len(part.measures))
