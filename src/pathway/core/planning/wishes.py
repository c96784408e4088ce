"""What the player asks for beyond the page: locks on strokes, and passages with a character of their own."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise

from pathway.core.music import Part
from pathway.core.physics.hair import MOST_TILT
from pathway.core.physics.string import LANES
from pathway.core.planning.path_problem import Link
from pathway.core.rig.bow import Direction
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import OutOfRange, PlanError


class Style(StrEnum):
    """How strong and weak beats are told apart."""

    MODERN = "modern"  # even strokes, distribution first
    EARLY = "early"  # strong beats on the strong bow, weak ones on the weak


class Profile(StrEnum):
    """How a stroke shares its hair over its time."""

    EVEN = "even"
    SAVE = "save"  # opens slowly, most hair for its second half
    SPEND = "spend"  # an impulse, then coasting
    SWELL = "swell"


class Colour(StrEnum):
    """Tone intention: where in the force window, how much tilt."""

    SOFT = "soft"
    PLAIN = "plain"
    FOCUSED = "focused"

    @property
    def amount(self) -> float:
        """Return it as a number from −1, soft, to 1, focused."""
        return {Colour.SOFT: -1.0, Colour.PLAIN: 0.0, Colour.FOCUSED: 1.0}[self]


class Exit(StrEnum):
    """How a stroke ends."""

    JOINED = "joined"
    STOPPED = "stopped"
    RINGING = "ringing"
    LIFTED = "lifted"

    @property
    def silence(self) -> float:
        """Return the least share of the last note that it takes [1]; our choice."""
        return {Exit.JOINED: 0.0, Exit.STOPPED: 0.15, Exit.RINGING: 0.08, Exit.LIFTED: 0.20}[self]


class Break(StrEnum):
    """Whether a new stroke begins with a note, against the page."""

    SPLIT = "split"  # a new bow inside a slur or tie
    JOIN = "join"  # in the bow of the note before


@dataclass(frozen=True, slots=True)
class Lock:
    """A wish that the planner keeps: for the stroke that starts with a note, or for where strokes begin."""

    note: str
    direction: Direction | None = None
    start: float | None = None  # along the hair [m]
    end: float | None = None
    link: Link | None = None  # change, hook or retake
    kind: str | None = None  # stroke type
    profile: Profile | None = None
    divide: Break | None = None
    string: int | None = None  # of the note itself, 0 the lowest
    lead: Leading | None = None  # of the note's own voices
    chord: Form | None = None  # how the note is bowed, if it is a chord
    exit: Exit | None = None  # how the stroke ends
    lane: int | None = None  # of the note itself, 1 at the fingerboard
    force: float | None = None  # on the note's strings together [N]
    tilt: float | None = None  # of the note [rad]

    @property
    def sounds(self) -> bool:
        """Whether it changes the tone of its note, not its path."""
        return any(wish is not None for wish in (self.lane, self.force, self.tilt))

    @property
    def steers(self) -> bool:
        """Whether it changes the path of the stroke that starts with its note."""
        return any(wish is not None for wish in (self.direction, self.start, self.end, self.link))

    @property
    def shapes(self) -> bool:
        """Whether it changes the strokes themselves, not only their path."""
        wishes = (self.kind, self.profile, self.divide, self.string, self.lead, self.chord, self.exit)
        return any(wish is not None for wish in wishes)

    @property
    def names(self) -> list[str]:
        """Return what it fixes, by the names of the plan document."""
        values = {
            "direction": self.direction, "start": self.start, "end": self.end, "link": self.link,
            "type": self.kind, "profile": self.profile, "slur": self.divide,
            "string": self.string, "lead": self.lead, "chord": self.chord,
            "exit": self.exit, "lane": self.lane, "weight": self.force, "tilt": self.tilt,
        }  # fmt: skip
        return [name for name, value in values.items() if value is not None]


@dataclass(frozen=True, slots=True)
class Stress:
    """Which beats and bars carry weight in a passage."""

    beats: tuple[float, ...] = ()  # the heaviest first; empty: by the meter
    bars: tuple[int, ...] = ()  # which bars of a group are heavy, counted from 1
    group: int = 1  # bars in a group
    swing: float = 1.0  # first half of a beat over its second


BY_METER = Stress()


@dataclass(frozen=True, slots=True)
class Relation:
    """How loud a passage is against another one."""

    to: int  # the other passage, counted from 1
    by_db: float = 0.0  # 0: like it; negative: less than it


@dataclass(frozen=True, slots=True)
class Passage:
    """A range of notes with a character of its own; it overrides the notation."""

    start: str  # ids of its first and last note
    end: str
    character: str = ""
    kind: str | None = None
    colour: Colour = Colour.PLAIN
    colour_end: Colour | None = None  # where it leads; None: stays
    offset_db: float = 0.0
    style: Style | None = None
    profile: Profile | None = None
    string: int | None = None  # wished for, 0 the lowest
    stress: Stress = BY_METER
    gap: float | None = None  # silent share of separate notes
    keep_back: float | None = None  # hair to be left ahead at its end [m]
    relation: Relation | None = None
    lead: Leading | None = None  # of double stops
    chords: Form | None = None


MOST_FORCE = (0.02, 20.0)  # that a hand can mean [N]
LIMITS = {"offset_db": (-12.0, 12.0), "gap": (0.0, 0.8), "keep_back": (0.0, 0.6)}
SWING = (0.5, 3.0)


@dataclass(frozen=True, slots=True)
class TempoChange:
    """From a note on the player's own tempo, until the next mark; told, as printed marks are, at the first tempo."""

    note: str
    beats_per_minute: float  # in the part's own beat unit


@dataclass(frozen=True, slots=True)
class Settings:
    """What the player chose for a whole piece."""

    tempo_bpm: float | None = None  # in the part's own beat unit; None: as printed
    style: Style = Style.MODERN
    passages: tuple[Passage, ...] = ()
    chords_before_beat: bool = False  # the low strings of a chord come before the beat
    tempi: tuple[TempoChange, ...] = ()  # beside the printed marks


def checked_passages(part: Part, passages: Sequence[Passage], strings: int) -> tuple[Passage, ...]:
    """Return the passages in the order of the music, with their relations worked into their levels.

    Raises:
        PlanError: notes that are not there, passages that overlap, relations that go round in a circle.
        OutOfRange: a number no player can mean.
    """
    spans = [_span(part, n, passage) for n, passage in enumerate(passages, start=1)]
    for n, passage in enumerate(passages, start=1):
        _check_values(n, passage, strings)
    order = sorted(range(len(passages)), key=lambda i: spans[i])
    for i, j in pairwise(order):
        if spans[j][0] <= spans[i][1]:
            where = part.place(part.events[spans[j][0]])
            raise PlanError(
                f"Passages {i + 1} and {j + 1} overlap", place=where, advice="Let one end before the other begins."
            )
    levels = [_level_of(passages, i, ()) for i in range(len(passages))]
    return tuple(replace(passages[i], offset_db=levels[i], relation=None) for i in order)


def _span(part: Part, n: int, passage: Passage) -> tuple[int, int]:
    for id_ in (passage.start, passage.end):
        if id_ not in part.index:
            raise PlanError(f"Passage {n} lies outside the piece: there is no note {id_!r}")
    first, last = part.index[passage.start], part.index[passage.end]
    if first > last:
        raise PlanError(f"Passage {n} ends before it begins", place=part.place(part.events[first]))
    return first, last


def _check_values(n: int, passage: Passage, strings: int) -> None:
    if passage.kind is not None and passage.kind not in STROKE_TYPES:
        raise PlanError(
            f"Passage {n} asks for a stroke type {passage.kind!r} that there is not",
            advice=f"Types: {', '.join(STROKE_TYPES)}.",
        )
    for name, (low, high) in LIMITS.items():
        value = getattr(passage, name)
        if value is not None and not low <= value <= high:
            raise OutOfRange(f"{name} of passage {n}", value, low, high)
    if passage.string is not None and not 0 <= passage.string < strings:
        raise OutOfRange(f"string of passage {n}", passage.string, 0, strings - 1)
    stress = passage.stress
    if not SWING[0] <= stress.swing <= SWING[1]:
        raise OutOfRange(f"swing of passage {n}", stress.swing, *SWING)
    if stress.group < 1 or any(not 1 <= bar <= stress.group for bar in stress.bars):
        raise PlanError(f"Passage {n}: the heavy bars must lie in their group of {stress.group}")


def _level_of(passages: Sequence[Passage], i: int, seen: tuple[int, ...]) -> float:
    relation = passages[i].relation
    if relation is None:
        return passages[i].offset_db
    if not 1 <= relation.to <= len(passages):
        raise PlanError(f"Passage {i + 1} leans on passage {relation.to}, which there is not")
    if i in seen:
        raise PlanError(f"Passage {i + 1} leans on itself, by way of others", advice="Let one of them stand alone.")
    return _level_of(passages, relation.to - 1, (*seen, i)) + relation.by_db


def checked_locks(part: Part, locks: Iterable[Lock]) -> dict[str, Lock]:
    """Return the locks by note.

    Raises:
        PlanError: a note that is not there, or wishes that contradict each other; names the note.
    """
    found: dict[str, Lock] = {}
    for lock in locks:
        if lock.note not in part.index:
            raise PlanError(f"There is no note {lock.note!r} to lock")
        place = part.place(part.event[lock.note])
        if lock.note in found:
            raise PlanError("Two locks on one note", place=place, advice="Put their wishes into one.")
        if lock.kind is not None and lock.kind not in STROKE_TYPES:
            raise PlanError(f"There is no stroke type {lock.kind!r}", place=place)
        _check_places(lock, place)
        _check_sound(lock, place)
        found[lock.note] = lock
    return found


def _check_sound(lock: Lock, place: str) -> None:
    for name, value, (low, high) in (
        ("lane", lock.lane, (1, LANES)),
        ("weight", lock.force, MOST_FORCE),
        ("tilt", lock.tilt, (0.0, MOST_TILT)),
    ):
        if value is not None and not low <= value <= high:
            raise PlanError(f"A {name} of {value:g} cannot be held", place=place, advice=f"{low:g} to {high:g}.")


def _check_places(lock: Lock, place: str) -> None:
    if lock.divide is Break.JOIN and (lock.direction or lock.link is not None or lock.start is not None):
        raise PlanError(
            "A note that is joined to the bow before cannot have a direction or a start of its own",
            place=place,
            advice="Take one of the two wishes back.",
        )
    if lock.start is None or lock.end is None:
        return
    way = lock.end - lock.start
    if lock.direction is not None and way * lock.direction <= 0:
        raise PlanError(
            f"A {lock.direction.word}-bow cannot go from {100 * lock.start:g} to {100 * lock.end:g} cm",
            place=place,
            advice="Turn the bow, or exchange start and end.",
        )
