"""What the player asks for beyond the page: locks on strokes, and passages with a character of their own."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import IntEnum, StrEnum
from typing import Annotated

from pathway.core.physics.hair import MOST_TILT
from pathway.core.physics.string import LANES
from pathway.core.rig.bow import Direction
from pathway.core.says import BPM, CM, DB, DEG, PITCH, Acts, N, Says, acting, declared
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.endings import Exit


class Link(IntEnum):
    """How a stroke follows the one before."""

    FIRST = 0
    CHANGE = 1
    HOOK = 2
    RETAKE = 3

    @property
    def word(self) -> str:
        """Return the name used in documents."""
        return self.name.lower()


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


class Role(StrEnum):
    """What a passage is among the others who play: it moves level and place."""

    LEADS = "leads"
    BLENDS = "blends"


class Vibrato(StrEnum):
    """What the left hand does to a tone; it is noted and heeded, not planned."""

    NONE = "none"
    NARROW = "narrow"
    WIDE = "wide"
    PULSE = "pulse"  # with the accent

    @property
    def shakes(self) -> bool:
        """Whether a finger has to stop the note for it."""
        return self is not Vibrato.NONE


class Break(StrEnum):
    """Whether a new stroke begins with a note, against the page."""

    SPLIT = "split"  # a new bow inside a slur or tie
    JOIN = "join"  # in the bow of the note before


_SHAPES, _STEERS, _SOUNDS = Acts.SHAPES, Acts.STEERS, Acts.SOUNDS


@dataclass(frozen=True, slots=True)
class Lock:
    """A wish that the planner keeps: for the stroke that starts with a note, or for where strokes begin.

    Each says how it acts: it shapes the strokes, steers their path, or sounds.
    """

    note: str
    direction: Annotated[Direction | None, Says(acts=_STEERS)] = None
    start: Annotated[float | None, Says(CM, acts=_STEERS)] = None  # along the hair [m]
    end: Annotated[float | None, Says(CM, acts=_STEERS)] = None
    link: Annotated[Link | None, Says(acts=_STEERS)] = None  # change, hook or retake
    kind: Annotated[str | None, Says(acts=_SHAPES, key="type")] = None
    profile: Annotated[Profile | None, Says(acts=_SHAPES)] = None
    divide: Annotated[
        Break | None, Says(acts=_SHAPES, key="slur", note="split: a new bow begins here; join: it goes on")
    ] = None
    string: Annotated[int | None, Says(acts=_SHAPES, note="0 is the lowest")] = None  # of the note itself
    lead: Annotated[Leading | None, Says(acts=_SHAPES, note="which voice of a double stop or chord leads")] = None
    chord: Annotated[Form | None, Says(acts=_SHAPES, note="how a chord is bowed")] = None
    exit: Annotated[Exit | None, Says(acts=_SHAPES, note="how the stroke ends")] = None
    lane: Annotated[int | None, Says(within=(1, LANES), acts=_SOUNDS, note="1 at the fingerboard")] = None
    force: Annotated[  # on the note's strings together [N]
        float | None, Says(N, (0.02, 20.0), _SOUNDS, called="weight", when_read=False)
    ] = None
    tilt: Annotated[float | None, Says(DEG, (0.0, MOST_TILT), _SOUNDS, when_read=False)] = None  # of the note [rad]
    octave: Annotated[  # of its heads outside the instrument, or else all
        int | None, Says(within=(-3, 3), acts=_SHAPES, note="how many higher than printed", when_read=False)
    ] = None
    voicing: Annotated[
        tuple[int, ...] | None,
        Says(PITCH, acts=_SHAPES, note="pitches played instead of those of the printed chord"),
    ] = None
    vibrato: Annotated[Vibrato | None, Says(acts=_SHAPES)] = None  # of the note
    from_air: Annotated[
        bool | None, Says(acts=_SHAPES, note="whether a stroke off the string lands on it")  # or starts on it
    ] = None
    finger: Annotated[
        int | None, Says(within=(0, 5), acts=_SHAPES, note="0 open or a harmonic, 1 to 4, 5 the thumb")
    ] = None  # of the note itself

    @property
    def sounds(self) -> bool:
        """Whether it changes the tone of its note, not its path."""
        return self._asks(_SOUNDING)

    @property
    def steers(self) -> bool:
        """Whether it changes the path of the stroke that starts with its note."""
        return self._asks(_STEERING)

    @property
    def shapes(self) -> bool:
        """Whether it changes the strokes themselves, not only their path."""
        return self._asks(_SHAPING)

    @property
    def names(self) -> list[str]:
        """Return what it fixes, as players are told it."""
        return [called for name, called in _CALLED.items() if getattr(self, name) is not None]

    def _asks(self, names: Sequence[str]) -> bool:
        return any(getattr(self, name) is not None for name in names)


_SHAPING, _STEERING, _SOUNDING = (acting(Lock, acts) for acts in (_SHAPES, _STEERS, _SOUNDS))
_CALLED = {name: field.called for name, field in declared(Lock).items() if field.says.acts}
LOCK_FIELDS = {called: name for name, called in _CALLED.items()}  # of a lock, by what players are told


@dataclass(frozen=True, slots=True)
class Stress:
    """Which beats and bars carry weight in a passage."""

    beats: tuple[float, ...] = ()  # the heaviest first; empty: by the meter
    bars: tuple[int, ...] = ()  # which bars of a group are heavy, counted from 1
    group: Annotated[int, Says(within=(1, 32))] = 1  # bars in a group
    swing: Annotated[float, Says(within=(0.5, 3.0), when_read=False)] = 1.0  # first half of a beat over its second


BY_METER = Stress()


@dataclass(frozen=True, slots=True)
class Relation:
    """How loud a passage is against another one."""

    to: Annotated[int, Says(note="the id of the other passage")]
    by_db: float = 0.0  # 0: like it; negative: less than it


@dataclass(frozen=True, slots=True)
class Passage:
    """A range of notes with a character of its own; it overrides the notation."""

    start: Annotated[str, Says(key="from")]  # ids of its first and last note
    end: Annotated[str, Says(key="to")]
    character: str = ""
    kind: Annotated[str | None, Says(key="type")] = None
    colour: Colour = Colour.PLAIN
    colour_end: Colour | None = None  # where it leads; None: stays
    offset_db: Annotated[float, Says(DB, (-12.0, 12.0), when_read=False)] = 0.0
    style: Style | None = None
    profile: Profile | None = None
    string: int | None = None  # wished for, 0 the lowest
    lead: Leading | None = None  # of double stops
    chords: Form | None = None
    role: Role | None = None
    vibrato: Vibrato | None = None
    stress: Stress = BY_METER
    gap: Annotated[float | None, Says(within=(0.0, 0.8), when_read=False)] = None  # silent share of separate notes
    keep_back: Annotated[  # hair to be left ahead at its end [m]
        float | None, Says(CM, (0.0, 0.6), when_read=False)
    ] = None
    relation: Relation | None = None
    id: Annotated[int, Says(within=(0, 9999), note="0: its place in the list, from 1")] = 0  # for relations


def identified(passages: Sequence[Passage]) -> tuple[Passage, ...]:
    """Return passages that keep the names they go by, wherever others come and go."""
    taken = {passage.id for passage in passages}
    found = []
    for n, passage in enumerate(passages, start=1):
        own = passage.id or (n if n not in taken else max(taken) + 1)
        taken.add(own)
        found.append(replace(passage, id=own))
    return tuple(found)


@dataclass(frozen=True, slots=True)
class TempoChange:
    """From a note on the player's own tempo, until the next mark; told, as printed marks are, at the first tempo."""

    note: Annotated[str, Says(key="at")]
    beats_per_minute: Annotated[float, Says(key="bpm")]  # in the part's own beat unit


@dataclass(frozen=True, slots=True)
class Settings:
    """What the player chose for a whole piece."""

    tempo_bpm: Annotated[  # None: as printed
        float | None, Says(BPM, note="of the whole, in the part's beat unit; else as printed")
    ] = None
    style: Style = Style.MODERN
    chords_before_beat: bool = False  # the low strings of a chord come before the beat
    tempi: tuple[TempoChange, ...] = ()  # beside the printed marks
    tuning: Annotated[  # pitches
        tuple[int, ...], Says(PITCH, note="the open strings, the lowest first, where they are retuned")
    ] = ()
    passages: tuple[Passage, ...] = ()


@dataclass(frozen=True, slots=True)
class Wishes:
    """Everything a player asks for beyond the page."""

    settings: Annotated[Settings, Says(flat=True)] = Settings()
    locks: tuple[Lock, ...] = ()
