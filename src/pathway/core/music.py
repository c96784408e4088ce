"""The part as written: bars, notes, slurs and marks. Times in quarter notes from the start, exact."""

from bisect import bisect_right
from dataclasses import dataclass, field, replace
from enum import StrEnum
from fractions import Fraction
from functools import cached_property

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.rig.bow import Direction

ASSUMED = 80.0  # beats a minute where no tempo is printed
PITCH_NAMES = ("C", "C♯", "D", "E♭", "E", "F", "F♯", "G", "A♭", "A", "B♭", "B")


def pitch_name(midi: int) -> str:
    """Return a pitch with its octave, c' = C4."""
    return f"{PITCH_NAMES[midi % 12]}{midi // 12 - 1}"


class Mark(StrEnum):
    """Articulation signs that change how a note is bowed."""

    DOT = "dot"
    DASH = "dash"
    WEDGE = "wedge"
    ACCENT = "accent"
    STRONG_ACCENT = "strong accent"
    TREMOLO = "tremolo"


@dataclass(frozen=True, slots=True)
class Head:
    """One sounding pitch of an event."""

    id: str
    midi: int  # as it sounds
    string: int | None = None  # as printed: 1 is the highest string
    finger: int | None = None  # as printed: 0 is an open string or a harmonic, 5 the thumb
    harmonic: bool = False  # touched, not stopped
    held: bool = False  # goes on from the event before, while another voice moves


@dataclass(frozen=True, slots=True)
class Event:
    """A note or chord as written; its id is that of its first head."""

    id: str
    measure: int  # index into the part's measures
    onset: Fraction
    duration: Fraction
    heads: tuple[Head, ...]
    marks: frozenset[Mark] = frozenset()
    bow: Direction | None = None  # printed ⊓ or ∨
    tied: bool = False  # continues the event before it
    grace: bool = False
    plucked: bool = False
    repeated: Fraction | None = None  # value of the notes it is repeated in, by its slashes [quarters]
    left_out: bool = False  # lies outside the instrument that is played
    place: float = field(init=False, compare=False)  # onset as a plain number, since exact ones are slow [quarters]
    until: float = field(init=False, compare=False)  # and its end
    pitches: tuple[int, ...] = field(init=False, compare=False)  # of its heads
    held: bool = field(init=False, compare=False)  # one of them goes on from before, so that the bow cannot stop

    def __post_init__(self) -> None:
        object.__setattr__(self, "pitches", tuple(head.midi for head in self.heads))
        object.__setattr__(self, "held", any(head.held for head in self.heads))
        object.__setattr__(self, "place", float(self.onset))
        object.__setattr__(self, "until", self.place + float(self.duration))

    @property
    def bowed(self) -> bool:
        """Whether the bow plays it."""
        return not (self.plucked or self.left_out)

    @property
    def end(self) -> Fraction:
        """Return where the written note ends."""
        return self.onset + self.duration

    @property
    def top(self) -> Head:
        """Return the highest head."""
        return max(self.heads, key=lambda head: head.midi)


@dataclass(frozen=True)
class Measure:
    """One bar: its printed number, place, length and meter."""

    number: str
    onset: Fraction
    length: Fraction
    beats: int
    beat_type: int
    pickup: bool = False

    @cached_property
    def full(self) -> Fraction:
        """Return what the meter asks for."""
        return Fraction(4 * self.beats, self.beat_type)

    @cached_property
    def beat_length(self) -> Fraction:
        """Return one beat: dotted in compound time."""
        unit = Fraction(4, self.beat_type)
        compound = self.beat_type >= 8 and self.beats % 3 == 0 and self.beats > 3
        return unit * 3 if compound else unit

    @cached_property
    def beat_count(self) -> float:
        """Return how many beats the full bar has."""
        return float(self.full / self.beat_length)

    @cached_property
    def _beat(self) -> float:
        return float(self.beat_length)

    @cached_property
    def _first_beat(self) -> float:
        """Where the first beat of the full bar lies; before the onset in a pickup."""
        missing = self.full - self.length if self.pickup else 0
        return float(self.onset - missing)

    def beat_of(self, onset: float) -> float:
        """Return the place in the bar in beats, the first beat being 1; exact to a millionth."""
        return round(1 + (onset - self._first_beat) / self._beat, 6)


@dataclass(frozen=True, slots=True)
class Slur:
    """A slur from one event to another, by their ids."""

    start: str
    end: str


@dataclass(frozen=True, slots=True)
class Dynamic:
    """A dynamic mark; levels against a plain mezzo-forte."""

    onset: Fraction
    level_db: float | None  # from here on; None where that of before goes on
    start_db: float | None = None  # at which it starts, where that is another one: fp
    accent_db: float = 0.0  # on top of the level of its note: sf, fz and their kin
    step_db: float = 0.0  # more or less than before: più f

    @property
    def changes(self) -> bool:
        """Whether another level begins here."""
        return self.level_db is not None or self.step_db != 0


@dataclass(frozen=True, slots=True)
class Hairpin:
    """A growth or fade, by a sign or a word."""

    start: Fraction
    end: Fraction
    grows: bool
    worded: bool = False  # a word asks for it, such as cresc.


@dataclass(frozen=True, slots=True)
class TempoMark:
    """A tempo mark: quarter notes a minute from here on, and the note value it was written for."""

    onset: Fraction
    quarters_per_minute: float
    unit: Fraction = Fraction(1)
    word: str = ""  # as printed, where a word asks for it and no number
    assumed: bool = False  # nothing is printed

    @property
    def beats_per_minute(self) -> float:
        """Return it in its own note value."""
        return self.quarters_per_minute / float(self.unit)


@dataclass(frozen=True, slots=True)
class Words:
    """Words printed over the staff."""

    onset: Fraction
    text: str


@dataclass(frozen=True, slots=True)
class Stretch:
    """A span that is held back or driven on: a fermata, a ritardando, an accelerando."""

    start: Fraction
    end: Fraction
    factor: float  # how much longer than counted


@dataclass(frozen=True, slots=True)
class Repeat:
    """A section played again, planned once as written: by its bar lines, or by D.C. and D.S."""

    start: Fraction
    end: Fraction
    until: Fraction | None = None  # where the second time leaves it: a fine, or the sign of the coda
    then: Fraction | None = None  # where it goes on from there; None where it is the end
    by_words: bool = False  # so that repeats inside are not played again


@dataclass(frozen=True, slots=True)
class Unread:
    """Something on the page that the plan does not listen to."""

    what: str
    bars: tuple[str, ...]


@dataclass(frozen=True)
class Part:
    """One player's part as written, repeats not unfolded."""

    title: str
    name: str
    measures: tuple[Measure, ...]
    events: tuple[Event, ...]
    slurs: tuple[Slur, ...] = ()
    dynamics: tuple[Dynamic, ...] = ()
    hairpins: tuple[Hairpin, ...] = ()
    tempos: tuple[TempoMark, ...] = ()
    words: tuple[Words, ...] = ()
    stretches: tuple[Stretch, ...] = ()
    repeats: tuple[Repeat, ...] = ()
    sections: tuple[Fraction, ...] = ()  # where double bars stand, and rehearsal marks
    transposed: bool = False  # the file itself says how it transposes
    notices: tuple[str, ...] = field(default=())  # what the reader had to decide
    unread: tuple[Unread, ...] = ()  # what it did not understand
    tuning: tuple[tuple[int, int], ...] = ()  # strings, counted from the highest, 1, and their pitches as the file says

    @cached_property
    def index(self) -> dict[str, int]:
        """Return the place of every event by its id."""
        return {event.id: i for i, event in enumerate(self.events)}

    @cached_property
    def bar(self) -> dict[str, str]:
        """Return the number of the bar every event stands in, by its id."""
        return {event.id: self.measures[event.measure].number for event in self.events}

    def bar_at(self, onset: Fraction) -> str:
        """Return the number of the bar in which a place lies."""
        at = bisect_right([measure.onset for measure in self.measures], onset) - 1
        return self.measures[max(at, 0)].number if self.measures else ""

    @cached_property
    def places(self) -> FloatArray:
        """Return where every event begins and where it ends [quarters]; shape (2, events)."""
        return np.array([(event.place, event.until) for event in self.events]).reshape(-1, 2).T

    @cached_property
    def bowed(self) -> tuple[Event, ...]:
        """Return the events under the bow."""
        return tuple(event for event in self.events if event.bowed)

    @cached_property
    def event(self) -> dict[str, Event]:
        """Return the events by id."""
        return {event.id: event for event in self.events}

    @cached_property
    def compass(self) -> tuple[int, int]:
        """Return the lowest and the highest pitch."""
        pitches = [head.midi for event in self.events for head in event.heads]
        return min(pitches, default=0), max(pitches, default=0)

    def place(self, event: Event) -> str:
        """Return where an event stands, for messages: bar, beat and pitch."""
        measure = self.measures[event.measure]
        beat = f"{measure.beat_of(event.place):.3g}"
        return f"bar {measure.number}, beat {beat}, {pitch_name(event.top.midi)}"

    @cached_property
    def opening(self) -> tuple[TempoMark, ...]:
        """Return the tempo marks of the beginning: at it, or where its pickup ends."""
        begins = self.measures[0].length if self.measures and self.measures[0].pickup else Fraction(0)
        return tuple(mark for mark in self.tempos if mark.onset <= begins)

    @property
    def tempo(self) -> TempoMark:
        """Return the tempo of the beginning, a number rather than a word; ASSUMED where nothing is printed there."""
        first = next((mark for mark in self.opening if not mark.word), next(iter(self.opening), None))
        unit = self.measures[0].beat_length if self.measures else Fraction(1)
        return (
            replace(first, onset=Fraction(0))
            if first
            else TempoMark(Fraction(0), ASSUMED * float(unit), unit, assumed=True)
        )


class Clock:
    """Turns places in a part into seconds at a chosen tempo; later marks keep their proportion, held notes last."""

    def __init__(self, part: Part, beats_per_minute: float | None = None) -> None:
        """Set the tempo in the part's own beat unit; None keeps the printed one."""
        first = part.tempo
        factor = (beats_per_minute or first.beats_per_minute) / first.beats_per_minute
        marks = [first, *(m for m in part.tempos if m.onset > 0)]
        edges = {float(edge) for stretch in part.stretches for edge in (stretch.start, stretch.end)}
        self._onsets = sorted({float(mark.onset) for mark in marks} | edges)
        tempos = [float(mark.onset) for mark in marks]
        self._per_quarter = [
            _stretched(part, onset) * 60.0 / (marks[bisect_right(tempos, onset) - 1].quarters_per_minute * factor)
            for onset in self._onsets
        ]
        self._seconds = [0.0]
        for i in range(1, len(self._onsets)):
            span = self._onsets[i] - self._onsets[i - 1]
            self._seconds.append(self._seconds[-1] + span * self._per_quarter[i - 1])

    def seconds(self, where: float) -> float:
        """Return the time of a place in the part [s], given in quarters."""
        i = bisect_right(self._onsets, where) - 1
        return self._seconds[i] + (where - self._onsets[i]) * self._per_quarter[i]

    def times(self, where: FloatArray) -> FloatArray:
        """Return the times of many places [s]."""
        onsets, seconds, per_quarter = map(np.array, (self._onsets, self._seconds, self._per_quarter))
        i = np.searchsorted(onsets, where, side="right") - 1
        times: FloatArray = seconds[i] + (where - onsets[i]) * per_quarter[i]
        return times


def _stretched(part: Part, onset: float) -> float:
    """Return how much longer than counted the time lasts from a place on."""
    return max((s.factor for s in part.stretches if s.start <= onset < s.end), default=1.0)


DYNAMIC_LEVELS = {
    "ppp": -19.0, "pp": -14.0, "p": -9.0, "mp": -4.0, "mf": 0.0, "f": 4.0, "ff": 8.0, "fff": 11.0,
}  # against a plain mezzo-forte [dB], our estimate  # fmt: skip
