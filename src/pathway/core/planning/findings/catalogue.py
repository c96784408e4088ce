"""Every finding there is, in one table: where it belongs, how it is told, what may help. Its words are in the guide."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from pathway.core.planning.plan import Code


class Station(StrEnum):
    """Where a player works on it."""

    MUSIC = "Music"
    BOWING = "Bowing"
    TONE = "Tone"


class Once(StrEnum):
    """For what a finding is told once."""

    FIGURE = "figure"  # like figures, and strokes one after the other
    MANNER = "manner"  # one stroke type in one passage


class Maker(StrEnum):
    """Ways in which something may help."""

    SPLIT = "split"
    RETAKE = "retake"
    TURN = "turn"
    SOFTER = "softer"
    TEMPO = "tempo"
    HOOK = "hook"
    JOIN = "join"
    CHANGE = "change"
    GAP = "gap"
    TYPE = "type"
    STRING = "string"
    LEAD = "lead"
    OCTAVE = "octave"
    TUNING = "tuning"


@dataclass(frozen=True, slots=True)
class Row:
    """What is known of one code."""

    station: Station
    makers: tuple[Maker, ...]  # the likeliest first
    once: Once = Once.FIGURE
    whole_piece: bool = False  # concerns the piece: a trial on a few strokes cannot judge it
    spans_bars: bool = False  # may go over a bar line or two by itself
    strains: bool = False  # a caution is told with it
    why_no_help: str = ""  # where fewer than two makers are known


SPLIT, RETAKE, TURN, SOFTER, TEMPO, HOOK = (
    Maker.SPLIT, Maker.RETAKE, Maker.TURN, Maker.SOFTER, Maker.TEMPO, Maker.HOOK,
)  # fmt: skip
JOIN, CHANGE, GAP, TYPE, STRING, LEAD = Maker.JOIN, Maker.CHANGE, Maker.GAP, Maker.TYPE, Maker.STRING, Maker.LEAD
_OTHERWISE = (STRING, SPLIT, SOFTER, TURN)
_MUSIC, _BOWING, _TONE = Station.MUSIC, Station.BOWING, Station.TONE

CATALOGUE: Mapping[Code, Row] = {
    Code.RUNS_OUT: Row(_BOWING, (SPLIT, RETAKE, TURN, SOFTER, TEMPO), spans_bars=True),
    Code.SPEED_SPIKE: Row(_BOWING, (HOOK, JOIN, RETAKE, TURN, SOFTER)),
    Code.STUCK: Row(_BOWING, (RETAKE, HOOK, TURN, JOIN), spans_bars=True, strains=True),
    Code.RETAKE_NO_TIME: Row(_BOWING, (CHANGE, HOOK)),
    Code.BURIED_NOTE: Row(_BOWING, (JOIN, GAP, HOOK)),
    Code.REPEAT_SEAM: Row(_BOWING, (), whole_piece=True, why_no_help="the seam lies between two places of the piece"),
    Code.MIXED_RUN: Row(_BOWING, (HOOK, CHANGE)),
    Code.RETURNS_DIFFER: Row(_BOWING, (TURN,), whole_piece=True, why_no_help="its like lies elsewhere in the piece"),
    Code.KEEP_BACK_SHORT: Row(_BOWING, (SPLIT, RETAKE, TURN, SOFTER)),
    Code.NO_WINDOW: Row(_TONE, _OTHERWISE),
    Code.AIRY: Row(_TONE, _OTHERWISE),
    Code.PRESSED: Row(_TONE, _OTHERWISE),
    Code.CHOKED: Row(_TONE, _OTHERWISE),
    Code.LEVEL_SHORT: Row(_TONE, _OTHERWISE),
    Code.TOO_LOUD: Row(_TONE, (STRING, SOFTER)),
    Code.OFF_ZONE: Row(_BOWING, (TYPE, RETAKE, TURN), Once.MANNER),
    Code.HEAVY_HAND: Row(
        _BOWING, (), whole_piece=True, spans_bars=True, strains=True, why_no_help="it is a sum over a minute"
    ),
    Code.SPEAKS_LATE: Row(_TONE, _OTHERWISE),
    Code.JOIN_HEARD: Row(_TONE, (), whole_piece=True, why_no_help="the hand shapes the turn"),
    Code.WOOD_CONTACT: Row(_TONE, _OTHERWISE),
    Code.HAIR_TOO_WIDE: Row(_TONE, _OTHERWISE),
    Code.OFF_SQUARE_SENSITIVE: Row(_BOWING, (), whole_piece=True, why_no_help="the eye mends it, in a mirror"),
    Code.SHIFT_HEARD: Row(_BOWING, (SPLIT, STRING)),
    Code.TOO_FAST_FOR_TYPE: Row(_BOWING, (TYPE, JOIN, TEMPO), Once.MANNER),
    Code.RATE_MISMATCH: Row(_BOWING, (TYPE, TEMPO), Once.MANNER),
    Code.BOUNCE_HEIGHT: Row(
        _BOWING, (TYPE,), Once.MANNER, why_no_help="place and tilt follow from the rate; only another manner is flatter"
    ),
    Code.BOUNCE_PLACE: Row(_BOWING, (TYPE, RETAKE), Once.MANNER),
    Code.UNEVEN_ACCENTS: Row(_TONE, _OTHERWISE, whole_piece=True),
    Code.STRING_IMBALANCE: Row(_TONE, (), whole_piece=True, why_no_help="it is a mean over the piece"),
    Code.CROSSING_FAST: Row(_BOWING, (STRING, JOIN)),
    Code.CROSSING_HARD: Row(_BOWING, (TURN, STRING, JOIN)),
    Code.SKIP_NO_TIME: Row(_BOWING, (STRING, GAP)),
    Code.ANGLE_CARRIED: Row(_BOWING, (), why_no_help="the hand turns the stick"),
    Code.VOICE_LOST: Row(_TONE, (LEAD,), why_no_help="two strings have one place; only another lead moves it"),
    Code.CHORD_OUT_OF_REACH: Row(_BOWING, (), why_no_help="another voicing is the player's to write"),
    Code.FAR_UP: Row(_BOWING, (STRING,), why_no_help="it lies there for its string; only another one is lower"),
    Code.JUMP: Row(_BOWING, (GAP, TEMPO)),
    Code.OUTSIDE: Row(_MUSIC, (Maker.OCTAVE, Maker.TUNING), whole_piece=True),
    Code.CONTRAST_THIN: Row(_MUSIC, (), whole_piece=True, why_no_help="the characters are set in Music"),
}
