"""Slurs and ties that no bow is long enough for: where the plan proposes to change the bow."""

from collections.abc import Sequence
from itertools import chain

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.music import Part
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.segments import strength_at
from pathway.core.planning.strokes.speeds import speeds_of
from pathway.core.planning.strokes.stroke import Stroke, divided
from pathway.core.rig.instrument import Rig

TURNING_ROOM = 0.02  # hair kept for the turn of a stroke that takes all of it [m]
STARVED = 0.5  # of the slowest speed: below it a tone does not hold [1]
STRONG_PLACE = 0.15  # of the stroke's time that a strong beat is worth against cutting it in the middle [1]


def fitted(part: Part, strokes: Sequence[Stroke], rig: Rig) -> StrokesAsked:
    """Return strokes with those cut, between notes, that cannot last even at half their slowest speed.

    Args:
        part: the part as written.
        strokes: some of it.
        rig: instrument, bow and hand.
    """
    low, high = rig.usable
    usable = high - low - TURNING_ROOM
    asked = StrokesAsked.of(strokes)
    long = {*np.flatnonzero(asked.columns.slurred & (_least_hair(asked, rig) > usable)).tolist()}
    if not long:
        return asked
    pieces = (_fit(part, stroke, rig, usable) if k in long else (stroke,) for k, stroke in enumerate(strokes))
    return StrokesAsked.of([*chain.from_iterable(pieces)])


def _least_hair(asked: StrokesAsked, rig: Rig) -> FloatArray:
    """Return the hair [m] that each stroke needs at half its slowest speed."""
    return STARVED * speeds_of(asked, rig).slowest * asked.columns.moving / asked.columns.bows


def _fit(part: Part, stroke: Stroke, rig: Rig, usable: float) -> list[Stroke]:
    if len(stroke.notes) == 1 or _least_hair(StrokesAsked.of([stroke]), rig)[0] <= usable:
        return [stroke]
    return [piece for half in divided(part, stroke, _best_cut(part, stroke)) for piece in _fit(part, half, rig, usable)]


def _best_cut(part: Part, stroke: Stroke) -> int:
    """Return the note before which to change: near the middle, rather on a strong beat."""

    def cost(i: int) -> float:
        share = (stroke.notes[i].begin - stroke.begin) / max(stroke.end - stroke.begin, 1e-9)
        return abs(share - 0.5) - STRONG_PLACE * strength_at(part, stroke.notes[i])

    return min(range(1, len(stroke.notes)), key=cost)
