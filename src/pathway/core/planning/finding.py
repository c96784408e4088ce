"""What a plan says will go wrong."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from pathway.core.guide.findings import finding_text
from pathway.core.guide.speech import PLAIN, Speech


class Severity(StrEnum):
    """How much a finding matters."""

    HIGH = "high"
    MEDIUM = "medium"
    LOW = "low"


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
