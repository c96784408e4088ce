"""What a plan says: strokes, notes, crossings, findings and totals. SI units, angles in radians."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from typing import TypeAlias

from pathway.core.guide.findings import finding_text
from pathway.core.guide.notices import proposed_notice, tempo_notice
from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.music import Part
from pathway.core.planning.carried import Carried
from pathway.core.planning.columns import NoteColumns
from pathway.core.planning.draft import Draft
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.wishes import Exit, Link, Lock, Profile, Vibrato
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import Rig
from pathway.core.technique.chords import Chord
from pathway.core.technique.limbs import Limb
from pathway.errors import NotFound

SILENT = 1e-4  # a slower bow is not told apart from a still one [m/s]


class Tone(StrEnum):
    """What the force window makes of a note."""

    CORE = "core"
    AIRY = "airy"
    PRESSED = "pressed"
    CHOKED = "choked"  # never starts


class Severity(StrEnum):
    """How much a finding matters."""

    HIGH = "high"
    MEDIUM = "medium"
    LOW = "low"


Points: TypeAlias = tuple[float, float, float]  # as a note starts, steady, as it ends


@dataclass(frozen=True, slots=True)
class Voice:
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


@dataclass(frozen=True, slots=True)
class Onset:
    """How a note begins."""

    rise: float  # time to gather speed [s]
    speak: float  # until the tone stands [s]
    clean: bool
    attack_db: float  # of an accent, over the note's own force


@dataclass(frozen=True, slots=True)
class Landing:
    """How a note off the string comes back to it: of its own string, lane, tilt and level."""

    rate: float  # the bow's own, where it lands [1/s]
    height: float  # of the flight after it [m]; 0 where the hair never leaves
    contact: float  # how long it touches [s]
    share: float  # of the note that it touches [1]
    dryness: float  # 0 brushed to 1 dry
    weight: float  # mean force of the bow by itself while it touches [N]
    led: bool  # so slow that the hand leads it: the flight and weight are those of a free bow, and not its own


@dataclass(frozen=True, slots=True)
class Load:
    """A start that is loaded before and let go with the stroke."""

    resting: tuple[float, float]  # least and most weight that rests before it [N]
    time: float  # to load [s]
    let_go: float  # when half of it should be gone after the bow starts [s]
    gone: float  # and all of it


@dataclass(frozen=True, slots=True)
class NotePlan:
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


@dataclass(frozen=True, slots=True)
class StrokePlan:
    """One travel of the bow in one direction."""

    id: str
    direction: Direction
    kind: str  # key of the stroke type
    notes: tuple[str, ...]
    start: float  # along the hair, frog = 0 [m]; of the first of its bows
    end: float
    begin: float  # while the bow moves [s]
    finish: float
    entry: Link
    exit: Exit
    printed: bool  # the part prints this direction
    locks: tuple[str, ...] = ()  # what the player set
    bows: int = 1  # strokes to and fro that it is made of, each from start to end or back: more in a tremolo
    profile: Profile = Profile.EVEN
    proposed: bool = False  # begins with a bow change that the page does not have
    in_hand: float = 0.0  # how much longer it could last [s]
    lowest_tempo: float = 0.0  # at which it keeps half its slowest speed [beats a minute]
    dip: float = 0.0  # of the tone where the bow turns into the next stroke [s]
    exit_time: float = 0.0  # what its ending takes [s]
    from_air: bool = False  # lands on the string, rather than starting on it
    kept_down: bool = False  # stays on the string among strokes that leave it
    limb: Limb = Limb.FOREARM  # that moves it

    @property
    def left_at(self) -> float:
        """Return where on the hair the bow is after it [m]."""
        return self.end if self.bows % 2 else self.start

    @property
    def left_by(self) -> Direction:
        """Return the direction of the last of its bows."""
        return self.direction if self.bows % 2 else self.direction.other

    @property
    def locked(self) -> bool:
        """Whether the player set its direction."""
        return "direction" in self.locks

    @property
    def length(self) -> float:
        """Return the hair used [m]."""
        return abs(self.end - self.start)


@dataclass(frozen=True, slots=True)
class Crossing:
    """The way from one string to another between two notes."""

    from_note: str
    to_note: str
    from_string: int
    to_string: int
    angle: float
    travel: float  # of the hand [m]
    time: float  # [s]
    limb: str
    sense: str  # easy, hard or neutral
    skips: int
    how: str = "change"  # early, smooth, through, change, oscillation, lift or roll
    turn: float = 0.0  # of the stick, seen from above
    drift: float = 0.0  # of the contact over the new note, if the stick kept its old direction [m]
    shift: float = 0.0  # of the contact along the hair, in a roll; positive towards the tip [m]
    dip: float = 0.0  # speed of the bow over the silent strings, in a roll: slower, but no halt [m/s]
    over: float = 0.0  # time it takes to roll over them, at least [s]
    falls: bool = False  # to the new string by the bow's own weight
    rings: float = 0.0  # how long the string left rings on [s]

    @property
    def speed(self) -> float:
        """Return the speed of the hand [m/s]."""
        return self.travel / max(self.time, 1e-3)


class Code(StrEnum):
    """Kinds of findings; what is known of each stands in the catalogue."""

    RUNS_OUT = "runs-out"
    SPEED_SPIKE = "speed-spike"
    STUCK = "stuck"
    RETAKE_NO_TIME = "retake-no-time"
    BURIED_NOTE = "buried-note"
    FADE_LITERAL = "fade-literal"
    REPEAT_SEAM = "repeat-seam"
    MIXED_RUN = "mixed-run"
    RETURNS_DIFFER = "returns-differ"
    KEEP_BACK_SHORT = "keep-back-short"
    NO_WINDOW = "no-window"
    AIRY = "airy"
    PRESSED = "pressed"
    CHOKED = "choked"
    LEVEL_SHORT = "level-short"
    TOO_LOUD = "too-loud"
    OFF_ZONE = "off-zone"
    HEAVY_HAND = "heavy-hand"
    SPEAKS_LATE = "speaks-late"
    JOIN_HEARD = "join-heard"
    WOOD_CONTACT = "wood-contact"
    HAIR_TOO_WIDE = "hair-too-wide"
    OFF_SQUARE_SENSITIVE = "off-square-sensitive"
    SHIFT_HEARD = "shift-heard"
    TOO_FAST_FOR_TYPE = "too-fast-for-type"
    PRESSED_THROUGH = "pressed-through"
    RATE_MISMATCH = "rate-mismatch"
    BOUNCE_HEIGHT = "bounce-height"
    BOUNCE_PLACE = "bounce-place"
    UNEVEN_ACCENTS = "uneven-accents"
    STRING_IMBALANCE = "string-imbalance"
    CROSSING_FAST = "crossing-fast"
    CROSSING_HARD = "crossing-hard"
    SKIP_NO_TIME = "skip-no-time"
    ANGLE_CARRIED = "angle-carried"
    VOICE_LOST = "voice-lost"
    CHORD_OUT_OF_REACH = "chord-out-of-reach"
    CHORD_HARD = "chord-hard"
    OUTSIDE = "outside"
    FAR_UP = "far-up"
    JUMP = "jump"
    CONTRAST_THIN = "contrast-thin"


@dataclass(frozen=True, slots=True)
class Finding:
    """Something that will go wrong."""

    code: Code
    severity: Severity
    notes: tuple[str, ...]
    bar: str  # in which it is told
    numbers: Mapping[str, float] = field(default_factory=dict)  # [SI], by names that end with their unit
    facts: Mapping[str, str] = field(default_factory=dict)  # names of strings, directions, manners
    also: tuple[str, ...] = ()  # further bars that it holds for
    others: tuple[tuple[str, ...], ...] = ()  # notes of the further places that it holds for, place by place

    @property
    def key(self) -> tuple[str, str]:
        """Return by what it is laid aside: code and first note."""
        return self.code, self.notes[0]

    @property
    def place(self) -> tuple[str, ...]:
        """Return the notes of the first place that it speaks of."""
        return self.notes[: len(self.notes) - sum(map(len, self.others))]

    @property
    def places(self) -> tuple[tuple[str, ...], ...]:
        """Return the notes of every place."""
        return self.place, *self.others

    def text(self, say: Speech = PLAIN) -> str:
        """Return it in a player's words."""
        return finding_text(self.code, self.bar, self.also, self.numbers, self.facts, say)


@dataclass(frozen=True, slots=True)
class Totals:
    """The plan summed up."""

    hair: float  # [m]
    per_measure: tuple[tuple[str, float, float], ...]  # number, hair, net movement [m]
    lowest_tempo_bpm: float
    down_minus_up_db: float
    by_string_db: Mapping[int, float]
    spread_db: float


@dataclass(frozen=True)
class Plan:
    """Everything the planner found out about one part on one rig."""

    draft: Draft
    locks: Mapping[str, Lock]  # the player's, by note
    path: Path
    strokes: tuple[StrokePlan, ...]
    notes: tuple[NotePlan, ...]
    columns: NoteColumns  # of the bowed ones
    crossings: tuple[Crossing, ...]
    findings: tuple[Finding, ...]
    totals: Totals
    carried: Carried  # from the plan before an edit; nothing, if it was planned whole

    @property
    def part(self) -> Part:
        """Return the part as written."""
        return self.draft.part

    @property
    def rig(self) -> Rig:
        """Return the rig it was planned for."""
        return self.draft.rig

    @cached_property
    def problem(self) -> PathProblem:
        """Return what the path's cost knew of the strokes, the locks left aside."""
        return self.draft.problem

    @cached_property
    def notices(self) -> tuple[str, ...]:
        """Return what the reader and the planner had to decide."""
        told = (self.tempo_told,) if self.tempo_told else ()
        places = (self.part.place(stroke.notes[0].event) for stroke in self.draft.strokes if stroke.proposed)
        return (*self.part.notices, *told, *self.draft.contradictions, *map(proposed_notice, places))

    @property
    def tempo_told(self) -> str:
        """Return what is told of the tempo where no number is printed and the player has set none; empty else."""
        first = self.part.tempo
        if self.draft.settings.tempo_bpm or not (first.word or first.assumed):
            return ""
        return tempo_notice(first.word, first.beats_per_minute)

    @cached_property
    def bowed(self) -> tuple[NotePlan, ...]:
        """Return the notes under the bow, in order."""
        return tuple(note for note in self.notes if note.stroke)

    @cached_property
    def note(self) -> dict[str, NotePlan]:
        """Return the notes by id."""
        return {note.id: note for note in self.notes}

    def any_note(self, id_: str) -> NotePlan:
        """Return a note, under the bow or not.

        Raises:
            NotFound: there is no such note.
        """
        if id_ not in self.note:
            raise NotFound("There is no such note", advice="Choose another note.")
        return self.note[id_]

    def bowed_note(self, id_: str) -> NotePlan:
        """Return a note under the bow.

        Raises:
            NotFound: there is no such note, or it is plucked or left out.
        """
        found = self.note.get(id_)
        if found is None or found.stroke is None:
            raise NotFound("There is no bowed note there", advice="Choose another note.")
        return found

    @cached_property
    def stroke_index(self) -> dict[str, int]:
        """Return the place of every stroke by its id."""
        return {stroke.id: k for k, stroke in enumerate(self.strokes)}

    @cached_property
    def stroke(self) -> dict[str, StrokePlan]:
        """Return the strokes by id."""
        return {stroke.id: stroke for stroke in self.strokes}


Known: TypeAlias = tuple[Plan, Carried]  # the plan before an edit, and what of it is carried over
