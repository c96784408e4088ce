"""Every finding there is, in one table: where it belongs, how it is told, what may help. Its words are in the guide."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from pathway.core.planning.finding import Code


class WorkedOn(StrEnum):
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
    JOIN_CROSSING = "join crossing"
    LIKE = "like"
    ENDING = "ending"
    PROFILE = "profile"
    ACCENTS = "accents"
    PLACE = "place"
    STAY = "stay"
    LANE = "lane"
    WEIGHT = "weight"
    TILT = "tilt"
    LOUDER = "louder"
    COLOUR = "colour"
    CONTRAST = "contrast"
    VOICING = "voicing"
    OCTAVE = "octave"
    TUNING = "tuning"


@dataclass(frozen=True, slots=True)
class AboutCode:
    """What is known of one code."""

    station: WorkedOn
    makers: tuple[Maker, ...]  # what a teacher says first; last what changes the text: hooks, slurs, new bows
    once: Once = Once.FIGURE
    whole_piece: bool = False  # concerns the piece: a trial on a few strokes cannot judge it
    spans_bars: bool = False  # may go over a bar line or two by itself
    strains: bool = False  # a caution is told with it
    between: bool = False  # it speaks of the way from one note to the next


M, S = Maker, WorkedOn
_TONE = (M.LANE, M.WEIGHT, M.PLACE, M.STRING, M.PROFILE, M.SOFTER, M.TURN, M.TYPE, M.SPLIT)

CATALOGUE: Mapping[Code, AboutCode] = {
    Code.RUNS_OUT: AboutCode(S.BOWING, (M.PROFILE, M.SOFTER, M.TURN, M.RETAKE, M.TEMPO, M.SPLIT), spans_bars=True),
    Code.SPEED_SPIKE: AboutCode(S.BOWING, (M.PLACE, M.SOFTER, M.TURN, M.RETAKE, M.HOOK, M.JOIN)),
    Code.STUCK: AboutCode(S.BOWING, (M.PLACE, M.RETAKE, M.TURN, M.HOOK, M.JOIN), spans_bars=True, strains=True),
    Code.RETAKE_NO_TIME: AboutCode(S.BOWING, (M.ENDING, M.CHANGE, M.HOOK)),
    Code.BURIED_NOTE: AboutCode(S.BOWING, (M.ENDING, M.GAP, M.LANE, M.HOOK, M.JOIN)),
    Code.FADE_LITERAL: AboutCode(S.MUSIC, (M.ACCENTS, M.TYPE), whole_piece=True, spans_bars=True),
    Code.REPEAT_SEAM: AboutCode(S.BOWING, (M.TURN, M.PLACE, M.HOOK), whole_piece=True),
    Code.MIXED_RUN: AboutCode(S.BOWING, (M.CHANGE, M.HOOK)),
    Code.RETURNS_DIFFER: AboutCode(S.BOWING, (M.LIKE, M.TURN), whole_piece=True),
    Code.KEEP_BACK_SHORT: AboutCode(S.BOWING, (M.PLACE, M.SOFTER, M.TURN, M.RETAKE, M.SPLIT)),
    Code.NO_WINDOW: AboutCode(S.TONE, _TONE),
    Code.AIRY: AboutCode(S.TONE, _TONE),
    Code.PRESSED: AboutCode(S.TONE, _TONE),
    Code.CHOKED: AboutCode(S.TONE, (M.WEIGHT, M.LANE, M.TYPE, M.STRING)),
    Code.LEVEL_SHORT: AboutCode(S.TONE, _TONE),
    Code.TOO_LOUD: AboutCode(S.TONE, (M.LANE, M.LOUDER, M.STRING, M.TURN, M.HOOK)),
    Code.OFF_ZONE: AboutCode(S.BOWING, (M.PLACE, M.TYPE, M.RETAKE, M.TURN), Once.MANNER),
    Code.HEAVY_HAND: AboutCode(
        S.BOWING, (M.SOFTER, M.COLOUR, M.TEMPO), whole_piece=True, spans_bars=True, strains=True
    ),
    Code.SPEAKS_LATE: AboutCode(S.TONE, (M.LANE, M.WEIGHT, M.STRING, M.JOIN)),
    Code.JOIN_HEARD: AboutCode(S.TONE, (M.PROFILE, M.WEIGHT, M.SOFTER), whole_piece=True),
    Code.WOOD_CONTACT: AboutCode(S.TONE, (M.TILT, M.WEIGHT, M.PLACE, M.SOFTER)),
    Code.HAIR_TOO_WIDE: AboutCode(S.TONE, (M.STRING, M.OCTAVE)),
    Code.OFF_SQUARE_SENSITIVE: AboutCode(S.BOWING, (M.LANE, M.SPLIT), whole_piece=True),
    Code.SHIFT_HEARD: AboutCode(S.BOWING, (M.SPLIT, M.STRING), between=True),
    Code.TOO_FAST_FOR_TYPE: AboutCode(S.BOWING, (M.TYPE, M.TEMPO, M.JOIN), Once.MANNER),
    Code.PRESSED_THROUGH: AboutCode(S.TONE, (M.WEIGHT, M.LANE, M.TYPE)),
    Code.RATE_MISMATCH: AboutCode(S.BOWING, (M.PLACE, M.TYPE, M.TEMPO), Once.MANNER),
    Code.BOUNCE_HEIGHT: AboutCode(S.BOWING, (M.TILT, M.PLACE, M.TYPE), Once.MANNER),
    Code.BOUNCE_PLACE: AboutCode(S.BOWING, (M.PLACE, M.TYPE, M.TILT), Once.MANNER),
    Code.UNEVEN_ACCENTS: AboutCode(S.TONE, (M.PLACE, M.TURN, M.WEIGHT, M.SOFTER), whole_piece=True),
    Code.STRING_IMBALANCE: AboutCode(S.TONE, (M.LANE, M.STRING), whole_piece=True),
    Code.CROSSING_FAST: AboutCode(S.BOWING, (M.ENDING, M.STRING, M.PLACE, M.JOIN_CROSSING), between=True),
    Code.CROSSING_HARD: AboutCode(S.BOWING, (M.TURN, M.STRING, M.JOIN_CROSSING)),
    Code.SKIP_NO_TIME: AboutCode(S.BOWING, (M.ENDING, M.STRING, M.GAP), between=True),
    Code.ANGLE_CARRIED: AboutCode(S.BOWING, (M.ENDING, M.STRING), whole_piece=True, between=True),
    Code.VOICE_LOST: AboutCode(S.TONE, (M.LEAD, M.LANE, M.WEIGHT)),
    Code.CHORD_OUT_OF_REACH: AboutCode(S.BOWING, (M.VOICING, M.OCTAVE)),
    Code.CHORD_HARD: AboutCode(S.BOWING, (M.VOICING, M.OCTAVE)),
    Code.FAR_UP: AboutCode(S.BOWING, (M.STRING, M.STAY)),
    Code.JUMP: AboutCode(S.BOWING, (M.ENDING, M.GAP, M.TEMPO), between=True),
    Code.OUTSIDE: AboutCode(S.MUSIC, (M.OCTAVE, M.TUNING), whole_piece=True),
    Code.CONTRAST_THIN: AboutCode(S.MUSIC, (M.CONTRAST, M.COLOUR), whole_piece=True),
}
