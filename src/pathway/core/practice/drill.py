"""What a drill is: a small piece of music in which one thing changes, and a ladder of rungs that are plans."""

from dataclasses import dataclass, field, replace
from enum import IntEnum, StrEnum
from fractions import Fraction

from pathway.core.music import Part
from pathway.core.planning import Path
from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.plan import Plan
from pathway.core.planning.wishes import Lock, Settings
from pathway.core.rig.instrument import Rig
from pathway.errors import NotFound

_BETWEEN = "."  # the fields of a drill's key


class Varies(StrEnum):
    """The one thing that changes in a drill."""

    SPEED = "speed"
    WEIGHT = "weight"
    PLACE = "place"
    TILT = "tilt"
    LEVEL = "level of the bow"
    DIRECTION = "direction"
    TYPE = "stroke type"
    PART = "part of the bow"
    HAIR = "hair"
    TEMPO = "tempo"
    GAP = "gap"
    LEAD = "lead"
    COLOUR = "colour"
    COUNT = "notes a bow"
    STRESS = "stress"


class Stage(IntEnum):
    """In which order a skill is built."""

    HAND = 0  # without the instrument
    SILENT = 1  # the bow without sound
    OPEN = 2  # open strings
    PITCH = 3
    SCALE = 4  # of the piece's key
    PATTERN = 5
    BARS = 6  # of the piece
    AROUND = 7  # in their surroundings

    @property
    def word(self) -> str:
        """Return what it is told as."""
        return _STAGES[self]


_STAGES = {
    Stage.HAND: "the hand alone", Stage.SILENT: "the bow without sound", Stage.OPEN: "open strings",
    Stage.PITCH: "one pitch", Stage.SCALE: "a scale", Stage.PATTERN: "a pattern", Stage.BARS: "the bars themselves",
    Stage.AROUND: "the bars in their surroundings",
}  # fmt: skip


class Aim(IntEnum):
    """What is worked at over the same bars, one after the other."""

    HAIR = 0
    CROSSINGS = 1
    SHIFTS = 2
    TOGETHER = 3


class Strain(StrEnum):
    """How much a drill asks of the hand."""

    LIGHT = "light"
    NORMAL = "normal"
    HEAVY = "heavy"


class Keeps(StrEnum):
    """What a slower rung keeps of the plan."""

    HAIR = "hair"  # speed and lane differ
    SPEED = "speed"  # the bow is parted


class Quantity(StrEnum):
    """What must not move in a drill, or what it is passed by."""

    LANE = "lane"
    LEVEL = "level"
    SPEED = "speed"
    TEMPO = "tempo"
    HAIR = "hair"
    EVENNESS = "evenness"
    START = "start"
    PARTS = "parts"
    OWN = "own verdict"


@dataclass(frozen=True, slots=True)
class Still:
    """What must not move: its value in the plan, and by how much it may."""

    quantity: Quantity
    value: float  # lane counted, level [dB], speed [m/s]
    within: float  # lane ± half, level ± dB, speed ± share


@dataclass(frozen=True, slots=True)
class DrillAsk:
    """Which drill: enough to make it again."""

    family: str
    member: str = ""
    stage: Stage = Stage.BARS
    first: str = ""  # notes of the piece that it is for
    last: str = ""
    kind: str = ""  # stroke type

    @property
    def key(self) -> str:
        """Return it as a word for addresses and the log."""
        fields = (self.family, self.member, str(int(self.stage)), self.first, self.last, self.kind)
        return _BETWEEN.join(fields).rstrip(_BETWEEN)

    @classmethod
    def of(cls, key: str) -> "DrillAsk":
        """Return it from its word.

        Raises:
            NotFound: it means no drill.
        """
        fields = [*key.split(_BETWEEN), "", "", "", "", ""]
        if not fields[2].isdigit() or int(fields[2]) not in list(Stage) or len(fields) > 11:
            raise NotFound("There is no such drill", advice="Choose one from the list.")
        return cls(fields[0], fields[1], Stage(int(fields[2])), fields[3], fields[4], fields[5])

    def at(self, stage: Stage) -> "DrillAsk":
        """Return the same drill at another stage."""
        return replace(self, stage=stage)


class AskedBy(StrEnum):
    """What asks for a drill."""

    FINDING = "finding"
    TYPE = "stroke type"
    PASSAGE = "passage"
    HEARD = "heard"
    CONTRAST = "contrast"
    PLAYER = "player"


@dataclass(frozen=True, slots=True)
class Offer:
    """A drill that is offered, and what asks for it."""

    ask: DrillAsk
    why: AskedBy
    what: str = ""  # code of the finding, key of the type, what is heard, name of the passage
    bars: tuple[str, ...] = ()  # every place that it is for
    severity: int = 1  # 1 low to 3 high
    share: float = 0.0  # of the piece's notes that it touches


@dataclass(frozen=True)
class Work:
    """What is played: a part with wishes; or bars of the piece, as they are engraved there."""

    part: Part
    settings: Settings = field(default_factory=Settings)
    locks: tuple[Lock, ...] = ()
    path: Path | None = None  # to be kept, where it can be
    bars: tuple[int, int] | None = None  # of the piece, counted from 0

    def at_tempo(self, quarters_per_minute: float) -> "Work":
        """Return the same at another tempo [quarters a minute]."""
        unit = self.part.tempo.unit
        return replace(self, settings=replace(self.settings, tempo_bpm=quarters_per_minute / float(unit)))

    @property
    def quarters_per_minute(self) -> float:
        """Return its tempo [quarters a minute]."""
        first = self.part.tempo
        return (self.settings.tempo_bpm or first.beats_per_minute) * float(first.unit)


@dataclass(frozen=True)
class Rung:
    """One step of the ladder."""

    name: str
    work: Work
    keeps: Keeps | None = None
    fault: Heard | None = None  # heard from the app on the first note before it is played right


@dataclass(frozen=True)
class Drill:
    """A drill, made for a rig; its rungs are planned when they are looked at."""

    ask: DrillAsk
    rig: Rig
    rungs: tuple[Rung, ...]
    strict: bool = True  # a rung with a high finding is not offered
    known: frozenset[str] = frozenset()  # findings that the piece has there anyway


@dataclass(frozen=True)
class PlannedWork:
    """A rung with its plan, and what differs there from the bars as they are planned in the piece."""

    rung: Rung
    plan: Plan
    rate: float  # notes a second
    parted: int = 0  # bows more than in the piece
    lanes: float = 0.0  # by which the place moves, to the bridge
    replaced: tuple[tuple[str, str], ...] = ()  # stroke types outside their limits, and what stands for them
    holds: bool = True  # whether the bowing is that of the piece

    @property
    def beats_per_minute(self) -> float:
        """Return its tempo in the part's own beat unit."""
        return self.plan.draft.tempo_bpm

    @property
    def beat(self) -> Fraction:
        """Return that unit."""
        return self.plan.part.tempo.unit
