"""Slurs and ties that no bow is long enough for: where the plan proposes to change the bow."""

from collections.abc import Sequence

from pathway.core.music import Part
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.segments import strength_at
from pathway.core.planning.strokes.speeds import speeds_of
from pathway.core.planning.strokes.stroke import Stroke, divided
from pathway.core.rig.instrument import Rig

TURNING_ROOM = 0.02  # hair kept for the turn of a stroke that takes all of it [m]
STARVED = 0.5  # of the slowest speed: below it a tone does not hold [1]
STRONG_PLACE = 0.15  # of the stroke's time that a strong beat is worth against cutting it in the middle [1]


def fitted(part: Part, strokes: Sequence[Stroke], rig: Rig) -> list[Stroke]:
    """Return strokes with those cut, between notes, that cannot last even at half their slowest speed.

    Args:
        part: the part as written.
        strokes: some of it.
        rig: instrument, bow and hand.
    """
    low, high = rig.usable
    usable = high - low - TURNING_ROOM
    slurred = [stroke for stroke in strokes if len(stroke.notes) > 1]
    needed = dict(zip(map(id, slurred), _least_hair(slurred, rig), strict=True)) if slurred else {}
    return [
        piece
        for stroke in strokes
        for piece in (_fit(part, stroke, rig, usable) if needed.get(id(stroke), 0.0) > usable else (stroke,))
    ]


def _least_hair(strokes: Sequence[Stroke], rig: Rig) -> list[float]:
    """Return the hair [m] that each stroke needs at half its slowest speed."""
    asked = StrokesAsked.of(strokes)
    hair: list[float] = (STARVED * speeds_of(asked, rig).slowest * asked.columns.moving / asked.columns.bows).tolist()
    return hair


def _fit(part: Part, stroke: Stroke, rig: Rig, usable: float) -> list[Stroke]:
    if len(stroke.notes) == 1 or _least_hair([stroke], rig)[0] <= usable:
        return [stroke]
    return [piece for half in divided(part, stroke, _best_cut(part, stroke)) for piece in _fit(part, half, rig, usable)]


def _best_cut(part: Part, stroke: Stroke) -> int:
    """Return the note before which to change: near the middle, rather on a strong beat."""

    def cost(i: int) -> float:
        share = (stroke.notes[i].begin - stroke.begin) / max(stroke.end - stroke.begin, 1e-9)
        return abs(share - 0.5) - STRONG_PLACE * strength_at(part, stroke.notes[i])

    return min(range(1, len(stroke.notes)), key=cost)
