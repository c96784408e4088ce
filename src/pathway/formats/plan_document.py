"""The open plan format: Pydantic models that carry a plan between programs, as JSON.

Lengths in cm, speeds in cm/s, forces in N with the weight in grams-force beside them, angles in degrees, times in s.
"""

from typing import Annotated, Literal

from pydantic import Field, ValidationError

from pathway.core.planning.wishes import Lock, Passage, TempoChange, Vibrato
from pathway.core.rig import Rig
from pathway.core.technique.chords import Form
from pathway.core.technique.crossings import CrossingManner, Mover, Sense
from pathway.core.technique.limbs import Limb
from pathway.errors import PlanError
from pathway.formats.codec import Doc
from pathway.formats.misread import first_fault
from pathway.formats.pitches import Pitch
from pathway.formats.rig_document import RIGS
from pathway.formats.wishes_document import LOCKS, PASSAGES, TEMPO_CHANGES


class PieceDoc(Doc):
    """What was planned."""

    title: str
    part: str
    measures: int
    tempo_bpm: float
    beat_unit: float = Field(description="in quarter notes")


class SettingsDoc(Doc):
    """Choices for the whole piece, its passages, and the player's locks."""

    style: Literal["modern", "early"]
    tempi: list[Annotated[TempoChange, TEMPO_CHANGES]] = []
    tuning: list[Pitch] = Field(default=[], description="the open strings from the lowest, where they are retuned")
    passages: list[Annotated[Passage, PASSAGES]] = []
    locks: list[Annotated[Lock, LOCKS]] = []


class StrokeDoc(Doc):
    """One travel of the bow."""

    id: str
    direction: Literal["down", "up"]
    type: str
    notes: list[str]
    start_cm: float = Field(description="along the hair, 0 at the frog")
    end_cm: float
    begin_s: float
    end_s: float
    entry: Literal["first", "change", "hook", "retake", "air"]
    exit: Literal["joined", "stopped", "ringing", "lifted"]
    profile: Literal["even", "save", "spend", "swell"]
    locked: list[str]
    bows: int = Field(default=1, description="strokes to and fro that it is made of: more in a tremolo")
    proposed: bool = Field(default=False, description="begins with a bow change that the page does not have")
    in_hand_s: float = Field(default=0.0, description="how much longer it could last")
    lowest_tempo_bpm: float = Field(default=0.0, description="at which it keeps half its slowest speed")
    exit_s: float = Field(default=0.0, description="what its ending takes")
    limb: Limb = Limb.FOREARM
    kept_down: bool = Field(default=False, description="on the string among strokes that leave it")


class WindowDoc(Doc):
    """The force window of a voice."""

    min_n: float
    max_n: float
    place: float = Field(description="0 at the least, 1 at the greatest force, on a log scale")


class VoiceDoc(Doc):
    """One sounding string of a note."""

    midi: int
    string: int = Field(description="0 is the lowest")
    string_name: str
    vibrating_cm: float
    beta: float
    force_n: float
    window: WindowDoc
    level_db: float
    lead: bool
    loops: int = Field(default=1, description="more than one: a harmonic")
    finger: int | None = Field(default=None, description="0 open or a harmonic, 1 to 4, 5 the thumb; else null")


class LandingDoc(Doc):
    """How a note off the string comes back to it."""

    rate: float = Field(description="the bow's own, where it lands, a second")
    height_mm: float
    contact_s: float
    share: float = Field(description="of the note that the hair touches")
    dryness: float = Field(description="0 brushed to 1 dry")
    weight_n: float = Field(description="mean force of the bow by itself while it touches")
    led: bool = Field(description="by the hand: flight and weight are those of a free bow")


class LoadDoc(Doc):
    """A start that is loaded before and let go with the stroke."""

    least_n: float = Field(description="weight that rests before it")
    most_n: float
    time_s: float = Field(description="to load")
    let_go_s: float = Field(description="when half of it should be gone after the bow starts")
    gone_s: float


class StartDoc(Doc):
    """The weight with which a competent hand begins a note, before it is the note's own."""

    weight_n: float
    hold_s: float
    fade_s: float = Field(description="from then on until the weight is the note's own")


class PluckedDoc(Doc):
    """A pitch that a finger plucks."""

    midi: int
    string: int = Field(ge=0, le=11, description="0 is the lowest")


class SpanDoc(Doc):
    """From when to when."""

    begin_s: float
    end_s: float


class NoteDoc(Doc):
    """One note; without a stroke it is plucked."""

    id: str
    measure: str
    beat: float
    onset_s: float
    duration_s: float
    sounding_s: float
    stroke: str | None
    voices: list[VoiceDoc]
    start_cm: float
    end_cm: float
    length_cm: float
    speed_cm_s: float = Field(description="its bows times its length over its sounding time")
    bows: int = Field(default=1, description="strokes to and fro, each over the whole length: more in a tremolo")
    speed_start_cm_s: float = 0.0
    speed_end_cm_s: float = 0.0
    rise_s: float | None = Field(default=None, description="time to gather speed; null inside a slur")
    speak_s: float | None = Field(default=None, description="until the tone stands; null inside a slur")
    attack_db: float | None = Field(default=None, description="of an accent here; null inside a slur")
    contact_cm: float
    contact_start_cm: float = Field(default=0.0, description="where the colour turns it differs from the end's")
    contact_end_cm: float = 0.0
    lane: int
    force_n: float
    weight_g: float
    tilt_deg: float = Field(description="as the note begins")
    tilt_end_deg: float = 0.0
    hair_mm: float
    level_deg: float
    hand_torque_nm: float = Field(description="at the note's end; positive: the index finger presses")
    hand_torque_start_nm: float
    hand_torque_steady_nm: float = 0.0
    force_start_n: float = Field(default=0.0, description="of all strings, an accent in it")
    force_end_n: float = 0.0
    level_start_db: float = 0.0
    level_end_db: float = 0.0
    target_db: float
    pulse_db: float = Field(description="accent on top of the level")
    level_db: float
    brightness: float
    tone: Literal["core", "airy", "pressed", "choked"]
    vibrato: Vibrato | None = None
    landing: LandingDoc | None = Field(default=None, description="of a note off the string")
    load: LoadDoc | None = Field(default=None, description="of a caught start")
    start: StartDoc | None = Field(default=None, description="on the leading string; null where its weight does")
    plucked: list[PluckedDoc] = Field(default=[], description="what a finger plucks, in place of the bow")
    rings_s: float = Field(default=0.0, description="how long its string rings on, once the bow has left it")
    pull_lanes: float = Field(default=0.0, description="by which a small speed would draw it to the bridge")
    locked: list[str]


class CrossingDoc(Doc):
    """The way from one string to another."""

    from_: str = Field(alias="from")
    to: str
    from_string: int
    to_string: int
    angle_deg: float
    hand_travel_cm: float
    time_s: float
    limb: Mover
    sense: Sense
    skips: int
    how: CrossingManner = CrossingManner.CHANGE
    hand_speed_m_s: float = 0.0
    turn_deg: float = Field(default=0.0, description="of the stick, seen from above")
    drift_cm: float = Field(default=0.0, description="of the contact, if the stick kept its old direction")
    shift_cm: float = Field(default=0.0, description="of the contact along the hair; positive towards the tip")
    dip_cm_s: float = Field(default=0.0, description="speed of the bow over silent strings, in a roll")
    over_s: float = Field(default=0.0, description="time it takes to roll over them, at least")
    begin_s: float = Field(default=0.0, description="the hand sets out")
    end_s: float = Field(default=0.0, description="and is there")
    falls: bool = Field(default=False, description="to the new string by the bow's own weight")
    rings_s: float = Field(default=0.0, description="how long the string left rings on")


class PieceOfChordDoc(Doc):
    """Strings of a chord that sound together for a while."""

    strings: list[int]
    time_s: float
    hair_cm: float
    turn: bool = Field(default=False, description="on the way from pair to pair, lighter and faster")


class ChordDoc(Doc):
    """How a chord of three strings and more is bowed."""

    note: str
    form: Form = Form.PAIRS
    pieces: list[PieceOfChordDoc]
    arm_level_deg: float
    pivot: list[int] = Field(default=[], description="the strings over which the bow turns")
    turn_travel_cm: float = 0.0
    before_beat_s: float = 0.0


class ChangeDoc(Doc):
    """What a fix adds to the player's wishes."""

    locks: list[Annotated[Lock, LOCKS]] = []
    frees: list[str] = Field(default=[], description="the notes whose locks are taken back")
    passage: Annotated[Passage, PASSAGES] | None = None
    tempo_bpm: float | None = None
    tuning: list[Pitch] = Field(default=[], description="the open strings from the lowest, tuned for the piece")


class FixDoc(Doc):
    """A change that was tried and helps."""

    id: str
    text: str
    effect: str = Field(description="on all findings near")
    change: ChangeDoc


class FindingDoc(Doc):
    """Something that will go wrong."""

    code: str
    severity: Literal["high", "medium", "low"]
    notes: list[str]
    text: str
    numbers: dict[str, float]
    fixes: list[FixDoc] = []


class MeasureDoc(Doc):
    """Hair used in one bar, and where it leaves the bow."""

    measure: str
    hair_cm: float
    net_cm: float


class GroupDoc(Doc):
    """Some notes that have something in common."""

    kind: Literal["direction", "string", "third", "passage", "voice"]
    name: str
    notes: int
    off_db: float = Field(description="mean of level less target")
    attack_db: float | None = Field(description="mean of the accents; null without any")


class BalanceDoc(Doc):
    """How even the plan sounds."""

    down_minus_up_db: float
    by_string_db: dict[str, float]
    spread_db: float
    groups: list[GroupDoc] = []
    worst_notes: list[str] = []


class TempiDoc(Doc):
    """Where the bows fit, in beats a minute."""

    lowest_bpm: float
    comfortable_bpm: float
    in_context_bpm: float | None
    first_to_fail: list[str]


class TotalsDoc(Doc):
    """The plan summed up."""

    hair_m: float
    per_measure: list[MeasureDoc]
    lowest_tempo_bpm: float
    tempi: TempiDoc | None = None
    balance: BalanceDoc


class PlanDocument(Doc):
    """A whole plan."""

    format: Literal["pathway-plan"] = "pathway-plan"
    version: Literal[1] = 1
    piece: PieceDoc
    rig: Annotated[Rig, RIGS]
    settings: SettingsDoc
    strokes: list[StrokeDoc]
    notes: list[NoteDoc]
    crossings: list[CrossingDoc]
    chords: list[ChordDoc] = []
    muted: list[SpanDoc] = Field(default=[], description="with a mute on the bridge")
    findings: list[FindingDoc]
    totals: TotalsDoc
    notices: list[str] = Field(default=[], description="what the reader and the planner had to decide")

    def to_json(self) -> str:
        """Return the document as JSON text."""
        return self.model_dump_json(by_alias=True, indent=1)


def read_plan_document(data: bytes) -> PlanDocument:
    """Return a plan document from JSON.

    Raises:
        PlanError: not a plan document; names the first field that is wrong.
    """
    try:
        return PlanDocument.model_validate_json(data)
    except ValidationError as error:
        where, what = first_fault(error)
        raise PlanError(
            f"This is not a plan document: {where} {what}",
            advice="Write one with `pathway plan SCORE --out plan.json`.",
        ) from error
