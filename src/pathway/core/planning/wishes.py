"""What the player asks for beyond the page: locks on strokes, and passages with a character of their own."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import IntEnum, StrEnum

from pathway.core.rig.bow import Direction
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
    octave: int | None = None  # how many higher than printed its heads outside the instrument sound, or else all
    voicing: tuple[int, ...] | None = None  # pitches of a chord that are played instead of the printed ones
    vibrato: Vibrato | None = None  # of the note
    from_air: bool | None = None  # whether a stroke off the string lands on it, or starts on it

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
        wishes = (self.kind, self.profile, self.divide, self.string, self.lead, self.chord, self.exit, self.octave)
        return any(wish is not None for wish in (*wishes, self.voicing, self.vibrato, self.from_air))

    @property
    def names(self) -> list[str]:
        """Return what it fixes, by the names of the plan document."""
        values = {
            "direction": self.direction, "start": self.start, "end": self.end, "link": self.link,
            "type": self.kind, "profile": self.profile, "slur": self.divide,
            "string": self.string, "lead": self.lead, "chord": self.chord,
            "exit": self.exit, "lane": self.lane, "weight": self.force, "tilt": self.tilt, "octave": self.octave,
            "voicing": self.voicing, "vibrato": self.vibrato, "from air": self.from_air,
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

    to: int  # the other passage's id
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
    role: Role | None = None
    vibrato: Vibrato | None = None
    id: int = 0  # by which relations name it; 0: its place among the passages, counted from 1


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
    tuning: tuple[int, ...] = ()  # pitches of the open strings from the lowest, where they are tuned for the piece
