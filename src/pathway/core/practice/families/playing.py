"""What makers of drills share: wishes for the notes of a line that was made for them."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from fractions import Fraction

from pathway.core.music import Part
from pathway.core.planning.wishes import Lock
from pathway.core.practice.drill import Rung, Work
from pathway.core.practice.ground import Ground
from pathway.core.practice.material import QUARTER, line, tones
from pathway.core.rig.bow import Direction


def ids_of(part: Part) -> list[str]:
    """Return the notes of a part that begin, in order."""
    return [event.id for event in part.events if not event.tied]


def firsts_of(part: Part) -> list[str]:
    """Return the notes with which its bows begin."""
    inside = set()
    for slur in part.slurs:
        start, end = part.index[slur.start], part.index[slur.end]
        inside |= {event.id for event in part.events[start + 1 : end + 1]}
    return [id_ for id_ in ids_of(part) if id_ not in inside]


def tempo_for(value: Fraction, seconds: float) -> float:
    """Return the tempo at which a note value lasts so long [quarters a minute]."""
    return float(60 * value) / seconds


def way(down: bool) -> Direction:
    """Return a direction."""
    return Direction.DOWN if down else Direction.UP


def bows(ids: Iterable[str], *, down: bool) -> tuple[Lock, ...]:
    """Return bows in turn, the first one down or up."""
    return tuple(Lock(id_, direction=way(down == (n % 2 == 0))) for n, id_ in enumerate(ids))


def spans(g: Ground, part: Part, places: Sequence[tuple[float, float]]) -> tuple[Lock, ...]:
    """Return bows from place to place, told as shares of the usable hair."""
    firsts = firsts_of(part)
    return tuple(
        Lock(id_, direction=way(start < end), start=g.at(start), end=g.at(end))
        for id_, (start, end) in zip(firsts, places, strict=True)
    )


def kinds(locks: Iterable[Lock], kind: str) -> tuple[Lock, ...]:
    """Return locks that ask for a stroke type too."""
    return tuple(replace(lock, kind=kind) for lock in locks)


def in_type(part: Part, kind: str, *, down: bool = True) -> tuple[Lock, ...]:
    """Return a stroke type for all bows of a part, the first one in a direction."""
    firsts = firsts_of(part)
    return (replace(Lock(firsts[0], kind=kind), direction=way(down)), *(Lock(id_, kind=kind) for id_ in firsts[1:]))


def paced(
    name: str,
    pitches: Sequence[int],
    a_bow: int,
    rate: float,
    kind: str = "",
    *,
    down: bool = True,
) -> Rung:
    """Return even notes at a rate, so many a bow.

    Args:
        name: of the rung.
        pitches: of the notes.
        a_bow: notes in each.
        rate: notes a second.
        kind: stroke type; that of the signs if not said.
        down: direction of the first bow.
    """
    value = QUARTER
    while 60 * rate * float(value) > 160:
        value /= 2
    meter = (a_bow, 4 * value.denominator) if a_bow > 1 and a_bow % 3 == 0 else (4, 4)
    part = line(name, tones(pitches, value), a_bow=a_bow, meter=meter, tempo=60 * rate * float(value))
    locks = in_type(part, kind, down=down) if kind else bows(firsts_of(part)[:1], down=down)
    return Rung(name, Work(part, locks=locks))
