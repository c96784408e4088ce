"""What speeds strokes can have: the slowest and fastest that carry their level, and the one a player takes by habit."""

from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import FloatArray, Floats
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.columns import of_kinds
from pathway.core.planning.strokes.rebound import longest_landings
from pathway.core.planning.strokes.stroke import Stroke
from pathway.core.rig.instrument import Rig

_PREFERRED, _SOFTER = 0.09, -0.35  # v_pref = PREFERRED · D · (D/D_mf)^SOFTER
ABOVE_SLOWEST, BELOW_FASTEST = 1.15, 0.87
LENGTH_LEVELS = (-12.0, 6.0)  # at which a tremolo takes its least and its most hair [dB]
_ATTACK, _BREADTH = of_kinds(lambda kind: kind.attack), of_kinds(lambda kind: kind.breadth)
_WHOLE_BOW = of_kinds(lambda kind: kind.whole_bow)
_LEAST_NOTE = 0.005  # hair of a note of a staccato in one bow, on a short stretch [m]
WHOLE_BOW_SPEED = 1.8  # most of a stroke thrown over the whole hair [m/s]


@dataclass(frozen=True, slots=True)
class Speeds:
    """What speeds strokes can have; arrays of shape (K,)."""

    level_db: FloatArray  # mean level over their time [dB]
    drive: FloatArray  # mean [m/s]
    pace: FloatArray  # by which colour and role are faster than habit [ln]
    slowest: FloatArray  # v_lo [m/s]
    fastest: FloatArray  # v_hi [m/s]
    preferred: FloatArray  # [m/s]


def speeds_of(asked: StrokesAsked, rig: Rig) -> Speeds:
    """Return drive and speeds of K strokes, weighed by the time of their notes.

    A type with a length of its own is not bound by the speeds of a singing tone: they open around it.

    Args:
        asked: K strokes.
        rig: instrument, bow and hand.
    """
    drive_mf = rig.instrument.drive_mf
    columns, notes, firsts = asked.columns, asked.notes, asked.columns.firsts
    on_string = drive_mf * 10 ** (notes.level / 20) / notes.heaviness
    weights = notes.sounding / columns.moving.repeat(columns.notes)
    of_notes = notes.nearest * on_string, notes.furthest * on_string, notes.level, (notes.pace + notes.pace_end) / 2
    slowest, fastest, level, pace = (np.add.reduceat(weights * values, firsts) for values in of_notes)
    drive = drive_mf * 10 ** (level / 20)
    attack = _ATTACK[columns.kind]
    habit = preferred_speed(drive, drive_mf) * _BREADTH[columns.kind] * np.exp(pace)
    plain = np.maximum(habit, ABOVE_SLOWEST * slowest)
    wanted = np.minimum(plain, BELOW_FASTEST * fastest) * attack
    speeds = Speeds(level, drive, pace, slowest, fastest * attack, wanted)
    lengths = _own_lengths(asked, rig, wanted)
    for k in np.flatnonzero(_WHOLE_BOW[columns.kind] | ~columns.sung).tolist():
        limits, stroke = (float(slowest[k]), float(fastest[k])), asked.strokes[k]
        speeds.slowest[k], speeds.fastest[k], speeds.preferred[k] = _by_length(stroke, rig, *limits, lengths.get(k))
    return speeds


def _own_lengths(asked: StrokesAsked, rig: Rig, sung: FloatArray) -> dict[int, float]:
    """Return the hair of a note [m] of the strokes whose type has a length of its own, by their index.

    Within its lengths a note takes what its level and its time ask for, so that soft bounces are short ones; and never
    more than the hand draws while the bow touches.

    Args:
        asked: K strokes.
        rig: whose hair they have.
        sung: speeds at which sung notes of their levels go [m/s]; shape (K,).
    """
    reliable = [high - low for low, high in (one.stretch for one in rig.staccato if one.stretch)]
    found, strokes = {}, asked.strokes
    for k in np.flatnonzero(~asked.columns.sung).tolist():
        stroke, hair = strokes[k], strokes[k].kind.hair_a_note or (0.0, 0.0)
        found[k] = min(max(float(sung[k]) * stroke.moving / len(stroke.notes), hair[0]), hair[1])
        if stroke.kind.one_bow:
            found[k] = max(_LEAST_NOTE, min(found[k], max(reliable, default=rig.bow.hair) / len(stroke.notes)))
    bouncing = [k for k in found if strokes[k].kind.bounces]
    if bouncing:
        some = [strokes[k] for k in bouncing]
        speed = np.array([found[k] * len(strokes[k].notes) / strokes[k].moving for k in bouncing])
        for k, longest in zip(bouncing, longest_landings(some, rig, speed).tolist(), strict=True):
            found[k] = max((strokes[k].kind.hair_a_note or (0.0,))[0], min(found[k], longest))
    return found


def _by_length(
    stroke: Stroke, rig: Rig, slowest: float, fastest: float, length: float | None
) -> tuple[float, float, float]:
    """Return slowest, fastest and preferred speed of a stroke whose type has a length of its own.

    Args:
        stroke: as it is.
        rig: whose hair it has.
        slowest: speed that carries its level [m/s].
        fastest: likewise.
        length: hair of a note [m]; None where it is thrown over the whole hair.
    """
    hair, whole = stroke.kind.hair_a_note, stroke.moving
    if hair is None or length is None:
        wanted = min(WHOLE_BOW_SPEED, (rig.usable[1] - rig.usable[0]) / whole)
        return min(slowest, wanted), max(fastest, wanted), wanted
    a_second = len(stroke.notes) / whole
    if stroke.bows > 1:
        share = float(np.interp(stroke.level_db, LENGTH_LEVELS, (0.0, 1.0)))
        a_second, length = stroke.bows / whole, hair[0] * (hair[1] / hair[0]) ** share
    return min(slowest, hair[0] * a_second), max(fastest, hair[1] * a_second), length * a_second


def preferred_speed(drive: Floats, drive_mf: float) -> FloatArray:
    """Return the speed [m/s] a player takes by habit for a drive [m/s]."""
    return np.asarray(_PREFERRED * drive * (drive / drive_mf) ** _SOFTER)
