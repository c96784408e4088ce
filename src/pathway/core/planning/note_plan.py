"""What a plan says of a note. SI units, angles in radians."""

import math
from enum import StrEnum
from typing import TypeAlias

from msgspec import Struct

from pathway.core.planning.wishes import Vibrato
from pathway.core.technique.chords import Chord

SILENT = 1e-4  # a slower bow is not told apart from a still one [m/s]


class Tone(StrEnum):
    """What the force window makes of a note."""

    CORE = "core"
    AIRY = "airy"
    PRESSED = "pressed"
    CHOKED = "choked"  # never starts


Points: TypeAlias = tuple[float, float, float]  # as a note starts, steady, as it ends


class Voice(Struct, frozen=True):
    """One sounding string of a note."""

    midi: int
    string: int  # 0 is the lowest
    vibrating: float  # ℓ as it sounds [m]
    beta: float
    force: float  # [N]
    window: tuple[float, float]  # least and greatest force [N]
    place: float  # q in the window [1]
    level_db: float
    lead: bool
    loops: int = 1  # more than one: a harmonic


class Onset(Struct, frozen=True):
    """How a note begins."""

    rise: float  # time to gather speed [s]
    speak: float  # until the tone stands [s]
    clean: bool
    attack_db: float  # of an accent, over the note's own force


class Landing(Struct, frozen=True):
    """How a note off the string comes back to it: of its own string, lane, tilt and level."""

    rate: float  # the bow's own, where it lands [1/s]
    height: float  # of the flight after it [m]; 0 where the hair never leaves
    contact: float  # how long it touches [s]
    share: float  # of the note that it touches [1]
    dryness: float  # 0 brushed to 1 dry
    weight: float  # mean force of the bow by itself while it touches [N]
    led: bool  # so slow that the hand leads it: the flight and weight are those of a free bow, and not its own


class Load(Struct, frozen=True):
    """A start that is loaded before and let go with the stroke."""

    resting: tuple[float, float]  # least and most weight that rests before it [N]
    time: float  # to load [s]
    let_go: float  # when half of it should be gone after the bow starts [s]
    gone: float  # and all of it


class NotePlan(Struct, frozen=True):
    """One note under the bow, or plucked: then it has no stroke and no voices."""

    id: str
    measure: str
    beat: float
    onset: float  # [s]
    duration: float  # as written [s]
    sounding: float  # [s]
    stroke: str | None
    bows: int = 1  # strokes to and fro that its bow is made of, each over the whole length: more in a tremolo
    voices: tuple[Voice, ...] = ()
    start: float = 0.0  # along the hair [m]
    end: float = 0.0
    speed: float = 0.0  # mean [m/s]
    speed_ends: tuple[float, float] = (0.0, 0.0)  # as it begins and ends [m/s]
    contact: float = 0.0  # bridge to hair [m]
    contact_ends: tuple[float, float] = (0.0, 0.0)  # as it begins and ends: they differ where the colour turns
    lane: int = 0
    tilt: float = 0.0  # as it begins
    tilt_end: float = 0.0
    wood: bool = False  # no tilt keeps the stick off the string
    hair_width: float = 0.0  # on the string [m]
    level: float = 0.0  # of the bow over the bridge
    force_at: Points = (0.0, 0.0, 0.0)  # of all strings, an accent in it [N]
    torque_at: Points = (0.0, 0.0, 0.0)  # of the hand [N m]
    target_db: float = 0.0
    pulse_db: float = 0.0  # accent on top
    level_db: float = 0.0
    brightness: float = 0.0  # [octaves]
    tone: Tone = Tone.CORE
    onset_of_tone: Onset | None = None  # None inside a slur
    position: int = 0  # of the left hand: semitones of the first finger above the open string
    chord: Chord | None = None  # of three strings and more
    colour: tuple[float, float] = (0.0, 0.0)  # as it begins and ends, −1 soft to 1 focused
    vibrato: Vibrato | None = None  # wished for
    landing: Landing | None = None  # off the string
    load: Load | None = None  # of a caught start
    rings: float = 0.0  # how long its string rings on, once the bow has left it [s]
    pull: float = 0.0  # lanes by which its small speed would draw it to the bridge

    @property
    def level_at(self) -> Points:
        """Return the level [dB] as it starts, is steady and ends: it follows the speed, and falls further out."""
        start, end = (
            20 * math.log10(max(speed, SILENT) / max(self.speed, SILENT) / (contact / self.contact if contact else 1.0))
            for speed, contact in zip(self.speed_ends, self.contact_ends, strict=True)
        )
        return self.level_db + start, self.level_db, self.level_db + end

    @property
    def torque_end(self) -> float:
        """Return the moment of the hand as it ends [N m]."""
        return self.torque_at[2]

    @property
    def left_at(self) -> float:
        """Return where on the hair the bow is after it [m]: an even number of bows comes back."""
        return self.end if self.bows % 2 else self.start

    @property
    def length(self) -> float:
        """Return the hair of this note [m]."""
        return abs(self.end - self.start)

    @property
    def where(self) -> str:
        """Return where it stands, for messages: bar and beat."""
        return f"bar {self.measure}, beat {self.beat:.3g}"

    @property
    def force(self) -> float:
        """Return the whole bow force [N]; of a chord in pieces, that of its last one."""
        if self.chord is None:
            return sum(voice.force for voice in self.voices)
        last = self.chord.pieces[-1].strings
        return sum(voice.force for voice in self.voices if voice.string in last)

    @property
    def lead(self) -> Voice:
        """Return the leading voice."""
        return self.voices[0] if self.voices[0].lead else next(v for v in self.voices if v.lead)
