"""Slurs and ties that no bow is long enough for: where the plan proposes to change the bow."""

from collections.abc import Mapping, Sequence

from pathway.core.music import Part
from pathway.core.planning.path_wishes import speeds_of
from pathway.core.planning.segments import Segment, divided, strength_at
from pathway.core.planning.strings import Placement
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
    result: list[Segment] = []
    at = 0
    for segment in segments:
        placed = placements[at : at + len(segment.notes)]
        at += len(segment.notes)
        result += known.get(id(segment)) or _fit(part, segment, placed, rig, high - low - TURNING_ROOM)
    return result


def _fit(part: Part, segment: Segment, placed: Sequence[Placement], rig: Rig, usable: float) -> list[Segment]:
    if len(segment.notes) == 1 or STARVED * speeds_of(segment, placed, rig).slowest * segment.moving <= usable:
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
