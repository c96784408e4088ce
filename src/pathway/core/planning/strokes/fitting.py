"""Slurs and ties that no bow is long enough for: where the plan proposes to change the bow."""

from collections.abc import Mapping, Sequence

import numpy as np

from pathway.core.music import Part
from pathway.core.planning.strokes.segments import Segment, divided, strength_at
from pathway.core.planning.strokes.speeds import speeds_of
from pathway.core.planning.strokes.strings import Placement
from pathway.core.rig.instrument import Rig

TURNING_ROOM = 0.02  # hair kept for the turn of a stroke that takes all of it [m]
STARVED = 0.5  # of the slowest speed: below it a tone does not hold [1]
STRONG_PLACE = 0.15  # of the stroke's time that a strong beat is worth against cutting it in the middle [1]


def fitted(
    part: Part,
    segments: Sequence[Segment],
    placements: Sequence[Placement],
    rig: Rig,
    known: Mapping[int, list[Segment]] | None = None,
) -> list[Segment]:
    """Return the strokes with those cut, between notes, that cannot last even at half their slowest speed.

    Args:
        part: the part as written.
        segments: its strokes.
        placements: of every note of every segment, in order.
        rig: instrument, bow and hand.
        known: what strokes became before, by their identity.
    """
    known = known or {}
    low, high = rig.usable
    usable = high - low - TURNING_ROOM
    firsts = [0]
    for segment in segments:
        firsts.append(firsts[-1] + len(segment.notes))
    slurred = [k for k, s in enumerate(segments) if len(s.notes) > 1 and id(s) not in known]
    pieces = dict(known)
    if slurred:
        placed = [placements[firsts[k] : firsts[k + 1]] for k in slurred]
        hair = _least_hair([segments[k] for k in slurred], [one for row in placed for one in row], rig)
        for k, row, needed in zip(slurred, placed, hair, strict=True):
            if needed > usable:
                pieces[id(segments[k])] = _fit(part, segments[k], row, rig, usable)
    return [piece for segment in segments for piece in pieces.get(id(segment), (segment,))]


def _least_hair(segments: Sequence[Segment], placements: Sequence[Placement], rig: Rig) -> list[float]:
    """Return the hair [m] that each stroke needs at half its slowest speed."""
    moving = np.array([segment.moving for segment in segments])
    hair: list[float] = (STARVED * speeds_of(segments, placements, rig).slowest * moving).tolist()
    return hair


def _fit(part: Part, segment: Segment, placed: Sequence[Placement], rig: Rig, usable: float) -> list[Segment]:
    if len(segment.notes) == 1 or _least_hair([segment], placed, rig)[0] <= usable:
        return [segment]
    cut = _best_cut(part, segment)
    first, second = divided(part, segment, cut)
    return [*_fit(part, first, placed[:cut], rig, usable), *_fit(part, second, placed[cut:], rig, usable)]


def _best_cut(part: Part, segment: Segment) -> int:
    """Return the note before which to change: near the middle, rather on a strong beat."""

    def cost(i: int) -> float:
        share = (segment.notes[i].begin - segment.begin) / max(segment.end - segment.begin, 1e-9)
        return abs(share - 0.5) - STRONG_PLACE * strength_at(part, segment.notes[i])

    return min(range(1, len(segment.notes)), key=cost)
