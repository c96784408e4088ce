"""What a plan says of a note. SI units, angles in radians."""

import math
from enum import StrEnum
from typing import Annotated, TypeAlias

from msgspec import Struct

from pathway.core.planning.wishes import Vibrato
from pathway.core.says import CM, CM_S, DEG, LANES_PULLED, MM, NM, N, S, Says
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
    vibrating: Annotated[float, Says(CM)]  # ℓ as it sounds [m]
    beta: float
    force: Annotated[float, Says(N)]  # [N]
    window: Annotated[tuple[float, float], Says(kept=False)]  # least and greatest force [N]
    place: Annotated[float, Says(kept=False)]  # q in the window [1]
    level_db: float
    lead: bool
    loops: int = 1  # more than one: a harmonic
    finger: int | None = None  # 0 open or a harmonic, 1 to 4, 5 the thumb; None where no finger reaches


class Onset(Struct, frozen=True):
    """How a note begins."""

    rise: Annotated[float, Says(S)]  # time to gather speed [s]
    speak: Annotated[float, Says(S)]  # until the tone stands [s]
    attack_db: float  # of an accent, over the note's own force
    clean: Annotated[bool, Says(kept=False)] = True


class Landing(Struct, frozen=True):
    """How a note off the string comes back to it: of its own string, lane, tilt and level."""

    rate: float  # the bow's own, where it lands [1/s]
    height: Annotated[float, Says(MM)]  # of the flight after it [m]; 0 where the hair never leaves
    contact: Annotated[float, Says(S)]  # how long it touches [s]
    share: float  # of the note that it touches [1]
    dryness: float  # 0 brushed to 1 dry
    weight: Annotated[float, Says(N)]  # mean force of the bow by itself while it touches [N]
    led: bool  # so slow that the hand leads it: the flight and weight are those of a free bow, and not its own


class Load(Struct, frozen=True):
    """A start that is loaded before and let go with the stroke."""

    resting: Annotated[  # least and most weight that rests before it [N]
        tuple[float, float], Says(N, spread=("least_n", "most_n"))
    ]
    time: Annotated[float, Says(S)]  # to load [s]
    let_go: Annotated[float, Says(S)]  # when half of it should be gone after the bow starts [s]
    gone: Annotated[float, Says(S)]  # and all of it


class NotePlan(Struct, frozen=True):
    """One note under the bow, or plucked: then it has no stroke and no voices."""

    id: str
    measure: str
    beat: float
    onset: Annotated[float, Says(S)]  # [s]
    duration: Annotated[float, Says(S)]  # as written [s]
    sounding: Annotated[float, Says(S)]  # [s]
    stroke: str | None
    bows: int = 1  # strokes to and fro that its bow is made of, each over the whole length: more in a tremolo
    voices: tuple[Voice, ...] = ()
    start: Annotated[float, Says(CM)] = 0.0  # along the hair [m]
    end: Annotated[float, Says(CM)] = 0.0
    speed: Annotated[float, Says(CM_S)] = 0.0  # mean [m/s]
    speed_ends: Annotated[  # as it begins and ends [m/s]
        tuple[float, float], Says(CM_S, spread=("speed_start_cm_s", "speed_end_cm_s"))
    ] = (0.0, 0.0)
    contact: Annotated[float, Says(CM)] = 0.0  # bridge to hair [m]
    contact_ends: Annotated[  # as it begins and ends: they differ where the colour turns
        tuple[float, float], Says(CM, spread=("contact_start_cm", "contact_end_cm"))
    ] = (0.0, 0.0)
    lane: int = 0
    tilt: Annotated[float, Says(DEG)] = 0.0  # as it begins
    tilt_end: Annotated[float, Says(DEG)] = 0.0
    wood: Annotated[bool, Says(kept=False)] = False  # no tilt keeps the stick off the string
    hair_width: Annotated[float, Says(MM, key="hair_mm")] = 0.0  # on the string [m]
    level: Annotated[float, Says(DEG)] = 0.0  # of the bow over the bridge
    force_at: Annotated[  # of all strings, an accent in it [N]
        Points, Says(N, spread=("force_start_n", "force_n", "force_end_n"))
    ] = (0.0, 0.0, 0.0)
    torque_at: Annotated[  # of the hand [N m]
        Points, Says(NM, spread=("hand_torque_start_nm", "hand_torque_steady_nm", "hand_torque_nm"))
    ] = (0.0, 0.0, 0.0)
    target_db: float = 0.0
    pulse_db: float = 0.0  # accent on top
    level_db: float = 0.0
    brightness: float = 0.0  # [octaves]
    tone: Tone = Tone.CORE
    onset_of_tone: Annotated[Onset | None, Says(flat=True)] = None  # None inside a slur
    position: Annotated[int, Says(kept=False)] = 0  # of the left hand: semitones from open string to first finger
    chord: Annotated[Chord | None, Says(kept=False)] = None  # of three strings and more; documents list chords apart
    colour: Annotated[  # as it begins and ends, −1 soft to 1 focused
        tuple[float, float], Says(kept=False)
    ] = (0.0, 0.0)
    vibrato: Vibrato | None = None  # wished for
    landing: Landing | None = None  # off the string
    load: Load | None = None  # of a caught start
    rings: Annotated[float, Says(S)] = 0.0  # how long its string rings on, once the bow has left it [s]
    pull: Annotated[float, Says(LANES_PULLED)] = 0.0  # lanes by which its small speed would draw it to the bridge

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
