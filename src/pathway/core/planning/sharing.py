"""How a stroke shares its hair among its notes, and how its speed runs inside each of them."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from pathway.core.planning.path_problem import Path
from pathway.core.planning.segments import Segment
from pathway.core.planning.wishes import Profile

ROLLED = 0.3  # of a stroke's hair, at most, that rolling over strings gives or takes [1]
LEAST_SOUND = 0.3  # of a note: more a retake does not take from it [1]
_SPEEDS: dict[Profile, Callable[[float], float]] = {
    Profile.EVEN: lambda _: 1.0,
    Profile.SAVE: lambda u: 0.6 + 0.8 * u,
    Profile.SPEND: lambda u: 1.4 - 0.8 * u,
    Profile.SWELL: lambda u: 0.6 + 0.8 * math.sin(math.pi * u),
}  # speed over the share u of the stroke's time, before it is normalised
_WAYS: dict[Profile, Callable[[float], float]] = {
    Profile.EVEN: lambda u: u,
    Profile.SAVE: lambda u: 0.6 * u + 0.4 * u**2,
    Profile.SPEND: lambda u: 1.4 * u - 0.4 * u**2,
    Profile.SWELL: lambda u: 0.6 * u + 0.8 * (1 - math.cos(math.pi * u)) / math.pi,
}  # its integral


@dataclass(frozen=True, slots=True)
class Span:
    """What one note gets of the bow."""

    start: float  # [m]
    end: float  # [m]
    sounding: float  # [s]
    opening: float = 1.0  # speed as it begins, over its mean [1]
    closing: float = 1.0  # and as it ends


def spans_of(segment: Segment, path: Path, k: int, time: float, shifts: Sequence[float] = ()) -> list[Span]:
    """Share the hair of stroke k by time, the square root of the drive, and the stroke's profile.

    Args:
        segment: the stroke to be.
        path: of all strokes.
        k: the stroke's index.
        time: for which the bow really moves [s]; less than asked for where a retake takes some.
        shifts: of the contact along the hair before every note but the first, where the bow rolls over strings [m].
    """
    sounding = _shortened([note.sounding for note in segment.notes], segment.moving - time)
    whole = sum(sounding)
    edges = [0.0]
    for seconds in sounding:
        edges.append(edges[-1] + seconds / whole)
    way, speed = _WAYS[segment.profile], _SPEEDS[segment.profile]
    means = [(way(u1) - way(u0)) / max(u1 - u0, 1e-12) for u0, u1 in pairwise(edges)]
    shares = [m * t * 10 ** (n.level_db / 40) for m, t, n in zip(means, sounding, segment.notes, strict=True)]
    at, end = float(path.starts[k]), float(path.ends[k])
    rolled = _bearable([0.0, *shifts] if shifts else [0.0] * len(sounding), end - at)
    per_share = (end - at - sum(rolled)) / sum(shares)
    result = []
    for i, note in enumerate(segment.notes):
        opening, closing = (
            speed(u) / means[i] * 10 ** ((level - note.level_db) / 40)
            for u, level in zip(edges[i : i + 2], note.level_ends, strict=True)
        )
        at += rolled[i]
        result.append(Span(at, at + shares[i] * per_share, sounding[i], opening, closing))
        at += shares[i] * per_share
    return result


def _bearable(shifts: list[float], way: float) -> list[float]:
    """Return shifts that leave the bow most of its way [m]; in a short stroke the hand takes up the rest."""
    whole = abs(sum(shifts))
    most = ROLLED * abs(way)
    return [shift * most / whole for shift in shifts] if whole > most else shifts


def _shortened(sounding: list[float], taken: float) -> list[float]:
    """Take time for a retake from the last notes."""
    result = list(sounding)
    for i in range(len(result) - 1, -1, -1):
        part = min(max(taken, 0.0), (1 - LEAST_SOUND) * result[i])
        result[i] -= part
        taken -= part
    return result
