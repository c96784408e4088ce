"""What bow and hand do in every note: how far the stick is tilted, and the moment that the hand makes."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.physics.hair import FROM_AIR, NEAR_FROG, tilt_at, wood_force
from pathway.core.physics.lever import hand_torque
from pathway.core.planning.notes.rows import Rows
from pathway.core.planning.strokes.columns import of_kinds
from pathway.core.planning.strokes.rebound import TILT_OF_KIND
from pathway.core.planning.wishes import Link
from pathway.core.technique.tilts import habitual_tilt

CLOSE_FROM, CLOSE_FLATTER = 5, 4.0  # lanes from which on the hair is flatter, by so much a lane [degrees]
_QUICK, _SHORT, _QUICK_MORE = 6.0, 0.05, 5.0  # strokes a second; of a length up to [m]; tilted more by [degrees]
TURNED_MORE = 10.0  # where the bow turns near the hand [degrees]
_JOINS = of_kinds(lambda kind: kind.joins)


@dataclass(frozen=True, slots=True)
class BowHand:
    """What bow and hand do in every row."""

    tilt: FloatArray  # as it begins and as it ends [rad]; shape (2, N)
    force: FloatArray  # as it starts, steady and as it ends [N]; shape (3, N)
    torque: FloatArray  # likewise [N m]
    wood: NDArray[np.bool_]  # no tilt keeps the stick off the string; shape (N,)


def hand_in(rows: Rows, force: FloatArray, lanes: IntArray, gravity_share: FloatArray) -> BowHand:
    """Return tilt and moment of the hand; a tilt that the player set is kept.

    Args:
        rows: N notes.
        force: as each starts, is steady and ends [N]; shape (3, N).
        lanes: in which they lie; shape (N,).
        gravity_share: g₁ of their strings; shape (N,).
    """
    bow, places, steady = rows.draft.rig.bow, rows.places[::2], force[1]
    length = rows.lead.strings.length
    found = tilt_at(_wanted_tilt(rows, places, lanes), force[::2], places, bow, length)
    tilt, wood = found.angle, np.any(found.wood, axis=0)
    for i, angle in rows.locked("tilt").items():
        tilt[:, i], wood[i] = angle, force[2, i] > wood_force(float(places[1, i]), angle, bow)
    softest = np.clip(bow.hair / 2, places.min(axis=0), places.max(axis=0))
    wood |= tilt_at(0.0, steady, softest, bow, length).wood
    return BowHand(tilt, force, np.asarray(hand_torque(force, rows.places, bow, gravity_share)), wood)


def _wanted_tilt(rows: Rows, places: FloatArray, lanes: IntArray) -> FloatArray:
    """Return the tilt [rad] asked for as each note starts and ends: by manner, colour and level, then by the place.

    More where the bow turns near the hand, in short quick strokes and where it lands there out of the air; less close
    to the bridge.
    """
    wanted = habitual_tilt(TILT_OF_KIND[rows.kinds], rows.colours, rows.targets, rows.draft.rig.tilt_habit)
    more = -CLOSE_FLATTER * np.maximum(0, lanes - CLOSE_FROM + 1)
    rates = rows.each(rows.asked.columns.rate)
    more = more + _QUICK_MORE * ((rates > _QUICK) & (np.abs(np.diff(places, axis=0)[0]) < _SHORT))
    near = places < NEAR_FROG * rows.draft.rig.bow.hair
    wanted = np.maximum(0.0, wanted + np.radians(more) + np.radians(TURNED_MORE) * (near & _turns(rows)))
    lands = np.zeros(len(lanes), bool)
    lands[rows.firsts] = rows.from_air
    landed: FloatArray = np.where(lands & near, np.maximum(wanted, FROM_AIR), wanted)
    return landed


def _turns(rows: Rows) -> NDArray[np.bool_]:
    """Return where a note begins, and where it ends, with a turn of the bow that joins two strokes; shape (2, N)."""
    columns, strokes = rows.draft.columns, np.array(rows.strokes)
    joins = _JOINS[columns.kind]
    joined = (rows.path.links[1:] == Link.CHANGE) & (columns.rest[1:] == 0) & joins[1:] & joins[:-1]
    at = np.concatenate([[False], joined, [False]])  # before every stroke, and after the last
    turns = np.zeros((2, len(rows.notes)), bool)
    turns[0, rows.firsts], turns[1, rows.lasts] = at[strokes], at[strokes + 1]
    return turns
