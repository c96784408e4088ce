"""Small parts made for drills: a line of tones and rests, in bows of so many notes."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import cycle

from pathway.core.music import Dynamic, Event, Head, Mark, Measure, Part, Slur, TempoMark
from pathway.core.rig.bow import Direction

QUARTER, EIGHTH, SIXTEENTH, HALF, WHOLE = Fraction(1), Fraction(1, 2), Fraction(1, 4), Fraction(2), Fraction(4)
MAJOR = (0, 2, 4, 5, 7, 9, 11)


@dataclass(frozen=True, slots=True)
class DrillTone:
    """One tone, double stop or chord of a line; without pitches a rest."""

    pitches: tuple[int, ...]
    value: Fraction = QUARTER  # [quarters]
    marks: frozenset[Mark] = frozenset()


def tones(pitches: Iterable[int], value: Fraction = QUARTER, *marks: Mark) -> list[DrillTone]:
    """Return single tones of one value."""
    return [DrillTone((pitch,), value, frozenset(marks)) for pitch in pitches]


def rest(value: Fraction = QUARTER) -> DrillTone:
    """Return a silence."""
    return DrillTone((), value)


def line(
    title: str,
    played: Sequence[DrillTone],
    *,
    a_bow: int | Sequence[int] = 1,
    meter: tuple[int, int] = (4, 4),
    tempo: float = 60.0,
    level_db: float = 0.0,
    begins: Direction | None = None,
) -> Part:
    """Return tones as a part; those that reach over a bar line are tied.

    Args:
        title: of the drill.
        played: one after the other.
        a_bow: notes in each bow, in turn; rests do not count.
        meter: beats and their value.
        tempo: quarters a minute.
        level_db: of the whole, against a plain mezzo-forte.
        begins: direction of the first bow, if it matters.
    """
    long = Fraction(4 * meter[0], meter[1])
    events: list[Event] = []
    slurs: list[Slur] = []
    at, heads, counts = Fraction(0), 0, cycle([a_bow] if isinstance(a_bow, int) else a_bow)
    left, opened = 0, ""
    for tone in played:
        pieces = list(_pieces(at, tone.value, long))
        if tone.pitches:
            first = f"n{heads + 1}"
            if left == 0:
                left, opened = next(counts), first
            for n, (onset, value) in enumerate(pieces):
                ids = [f"n{heads + 1 + i}" for i in range(len(tone.pitches))]
                heads += len(tone.pitches)
                sounding = tuple(Head(id_, midi) for id_, midi in zip(ids, tone.pitches, strict=True))
                bow = begins if not events else None
                marks = tone.marks if n == 0 else frozenset[Mark]()
                events.append(Event(ids[0], int(onset // long), onset, value, sounding, marks, bow, tied=n > 0))
            left -= 1
            if left == 0 and events[-1].id != opened and first != opened:
                slurs.append(Slur(opened, events[-1].id))
        elif left:
            if opened and events[-1].id != opened:
                slurs.append(Slur(opened, events[-1].id))
            left = 0
        at += tone.value
    if left and events[-1].id != opened:
        slurs.append(Slur(opened, events[-1].id))
    bars = -(-at // long)
    measures = tuple(Measure(str(i + 1), i * long, long, *meter) for i in range(int(bars)))
    return Part(
        title,
        "Drill",
        measures,
        tuple(events),
        tuple(slurs),
        (Dynamic(Fraction(0), level_db),),
        tempos=(TempoMark(Fraction(0), tempo),),
    )


def _pieces(at: Fraction, value: Fraction, long: Fraction) -> Iterable[tuple[Fraction, Fraction]]:
    """Yield a tone in pieces that end at bar lines."""
    while value > 0:
        here = min(value, long - at % long)
        yield at, here
        at, value = at + here, value - here


def scale(low: int, fifths: int, count: int = 8, highest: int | None = None) -> list[int]:
    """Return a major scale up and down again.

    Args:
        low: it begins on the lowest tone of the key from here on.
        fifths: of the key.
        count: tones up, the last one the highest.
        highest: pitch that it does not go beyond.
    """
    tonic = 7 * fifths % 12
    start = low + (tonic - low) % 12
    up = [start + 12 * (i // 7) + MAJOR[i % 7] for i in range(count)]
    up = [pitch for pitch in up if highest is None or pitch <= highest]
    return up + up[-2:0:-1]


def key_of(part: Part) -> int:
    """Return the fifths of the major key that most of a part's time lies in, the plainest first."""
    time = [Fraction(0)] * 12
    for event in part.events:
        for head in event.heads:
            time[head.midi % 12] += event.duration

    def inside(fifths: int) -> Fraction:
        return sum((time[(7 * fifths + step) % 12] for step in MAJOR), Fraction(0))

    return max(sorted(range(-6, 7), key=abs), key=inside)
