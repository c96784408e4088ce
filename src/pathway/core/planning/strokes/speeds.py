"""What speeds strokes can have: the slowest and fastest that carry their level, and the one a player takes by habit."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import FloatArray, Floats, IntArray
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.columns import of_kinds
from pathway.core.planning.strokes.rebound import longest_landings
from pathway.core.rig.instrument import Rig

_PREFERRED, _SOFTER = 0.09, -0.35  # v_pref = PREFERRED · D · (D/D_mf)^SOFTER
ABOVE_SLOWEST, BELOW_FASTEST = 1.15, 0.87
LENGTH_LEVELS = (-12.0, 6.0)  # at which a tremolo takes its least and its most hair [dB]
_ATTACK, _BREADTH = of_kinds(lambda kind: kind.attack), of_kinds(lambda kind: kind.breadth)
_WHOLE_BOW, _ONE_BOW = of_kinds(lambda kind: kind.whole_bow), of_kinds(lambda kind: kind.one_bow)
_BOUNCES = of_kinds(lambda kind: kind.bounces)
_LEAST_HAIR = of_kinds(lambda kind: min(kind.hair_a_note or (0.0,)))
_MOST_HAIR = of_kinds(lambda kind: max(kind.hair_a_note or (0.0,)))
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

    A type with a length of its own is not bound by the speeds of a singing tone: they open around it, and a bow thrown
    over the whole hair takes the time it has.

    Args:
        asked: K strokes.
        rig: instrument, bow and hand.
    """
    drive_mf = rig.instrument.drive_mf
    columns, notes, firsts = asked.columns, asked.notes, asked.columns.firsts
    on_string = drive_mf * 10 ** (notes.level / 20) / notes.heaviness
    weights = notes.sounding / columns.moving.repeat(columns.notes)
    of_notes = notes.beta_from * on_string, notes.beta_to * on_string, notes.level, (notes.pace + notes.pace_end) / 2
    slowest, fastest, level, pace = (np.add.reduceat(weights * values, firsts) for values in of_notes)
    drive = drive_mf * 10 ** (level / 20)
    attack = _ATTACK[columns.kind]
    habit = preferred_speed(drive, drive_mf) * _BREADTH[columns.kind] * np.exp(pace)
    plain = np.maximum(habit, ABOVE_SLOWEST * slowest)
    wanted = np.minimum(plain, BELOW_FASTEST * fastest) * attack
    sung = Speeds(level, drive, pace, slowest, fastest * attack, wanted)
    for some, own in _by_length(asked, rig, sung):
        sung.slowest[some] = np.minimum(slowest[some], own[0])
        sung.fastest[some] = np.maximum(fastest[some], own[2])
        sung.preferred[some] = own[1]
    return sung


def _by_length(asked: StrokesAsked, rig: Rig, sung: Speeds) -> Iterator[tuple[IntArray, FloatArray]]:
    """Yield strokes whose type has a length of its own, with their slowest, preferred and fastest speed [m/s].

    Within its lengths a note takes what its level and its time ask for, so that soft bounces are short ones; and never
    more than the hand draws while the bow touches.

    Args:
        asked: K strokes.
        rig: whose hair they have.
        sung: speeds that they would have if they were sung.
    """
    whole = np.flatnonzero(_WHOLE_BOW[asked.columns.kind] & asked.columns.sung)
    thrown = np.minimum(WHOLE_BOW_SPEED, (rig.usable[1] - rig.usable[0]) / asked.columns.moving[whole])
    yield whole, np.stack([thrown, thrown, thrown])
    own = np.flatnonzero(~asked.columns.sung)
    if not own.size:
        return
    asked, speed = asked.at(own.tolist()), sung.preferred[own]
    columns, kinds = asked.columns, asked.columns.kind
    least, most = _LEAST_HAIR[kinds], _MOST_HAIR[kinds]
    length = np.clip(speed * columns.moving / columns.notes, least, most)
    reliable = [high - low for low, high in (one.stretch for one in rig.staccato if one.stretch)]
    stretch = max(reliable, default=rig.bow.hair) / columns.notes
    length = np.where(_ONE_BOW[kinds], np.maximum(_LEAST_NOTE, np.minimum(length, stretch)), length)
    bounced = np.flatnonzero(_BOUNCES[kinds])
    if bounced.size:
        longest = longest_landings(asked.at(bounced.tolist()), rig, (length * columns.notes / columns.moving)[bounced])
        length[bounced] = np.maximum(least[bounced], np.minimum(length[bounced], longest))
    repeated = columns.bows > 1
    share = np.interp(columns.level, LENGTH_LEVELS, (0.0, 1.0))
    length = np.where(repeated, least * (most / least) ** share, length)
    yield own, np.stack([least, length, most]) * np.where(repeated, columns.bows, columns.notes) / columns.moving


def preferred_speed(drive: Floats, drive_mf: float) -> FloatArray:
    """Return the speed [m/s] a player takes by habit for a drive [m/s]."""
    return np.asarray(_PREFERRED * drive * (drive / drive_mf) ** _SOFTER)
