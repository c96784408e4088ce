"""Every way from string to string in a plan."""

from collections.abc import Mapping

from pathway.core.physics.geometry import (
    ALTERNATING,
    crossing_angle,
    crossing_limb,
    hand_travel,
    is_hard_way,
)
from pathway.core.planning.plan import Crossing, NotePlan, StrokePlan
from pathway.core.rig.instrument import Rig


def crossing_between(before: NotePlan, after: NotePlan, strokes: Mapping[str, StrokePlan], rig: Rig) -> Crossing | None:
    """Return the crossing between neighbouring bowed notes, or None if they share a string."""
    old, new = {v.string for v in before.voices}, {v.string for v in after.voices}
    if old & new:
        return None
    source, target = min(((a, b) for a in old for b in new), key=lambda ab: abs(ab[0] - ab[1]))
    angle = crossing_angle(rig.instrument, source, target)
    travel = hand_travel(angle, before.end, rig.bow)
    interval = after.onset - before.onset
    silence = max(0.0, interval - before.sounding)
    return Crossing(
        from_note=before.id,
        to_note=after.id,
        from_string=source,
        to_string=target,
        angle=angle,
        travel=travel,
        time=min(before.sounding, after.sounding) / 2 + silence,
        limb=crossing_limb(travel, 1 / max(interval, 1e-3)),
        sense=_sense(before, after, target - source, interval, strokes, rig),
        skips=abs(target - source) - 1,
    )


def _sense(
    before: NotePlan, after: NotePlan, step: int, interval: float, strokes: Mapping[str, StrokePlan], rig: Rig
) -> str:
    one, other = strokes[before.stroke or ""], strokes[after.stroke or ""]
    separate = one is not other and len(one.notes) == len(other.notes) == 1
    if not (separate and rig.hard_way and interval < ALTERNATING):
        return "neutral"
    return "hard" if is_hard_way(step, other.direction, rig.hard_way) else "easy"
