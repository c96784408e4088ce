"""What strokes owe to others far away: like bars are bowed alike, and a repeat comes round to its own beginning.

Both need a path to look at, so they enter in the second pass. Costs are our choice.
"""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.music import Part
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.strokes.segments import Segment

UNLIKE = 0.25  # for a stroke bowed against its twins
SEAM = 0.5  # weight of the link from a repeat's end to its beginning
FREE = 0.4  # a silence that sets the bow free [s]
SAME_TIME = 1e-3  # durations are told apart to this [s]


@dataclass(frozen=True, slots=True)
class Seam:
    """Where a repeat goes back: from its last stroke to its first."""

    last: int
    first: int
    rest: float  # silence between them [s]


def twins_of(segments: Sequence[Segment]) -> list[list[int]]:
    """Return groups of strokes that stand at one place of like bars, two or more each."""
    bars: dict[int, list[int]] = defaultdict(list)
    for k, segment in enumerate(segments):
        bars[segment.notes[0].event.measure].append(k)
    figures: dict[tuple[object, ...], list[list[int]]] = defaultdict(list)
    for strokes in bars.values():
        start = min(segments[k].begin for k in strokes)
        figures[tuple(_figure(segments[k], start) for k in strokes)].append(strokes)
    return [
        list(group)
        for alike in figures.values()
        if len(alike) > 1 and len(alike[0]) > 1
        for group in zip(*alike, strict=True)
    ]


def _figure(segment: Segment, start: float) -> tuple[object, ...]:
    times = (segment.begin - start, segment.moving, segment.rest_before)
    return (*(round(t / SAME_TIME) for t in times), len(segment.notes), segment.kind.key, segment.accented)


def seams_of(part: Part, segments: Sequence[Segment]) -> list[Seam]:
    """Return the seams of a part's repeats, those that some of its strokes have whole."""
    found = []
    bowed = [event for event in part.events if event.bowed]
    from_start = segments[0].notes[0].event.id == bowed[0].id
    to_end = segments[-1].notes[-1].event.id == bowed[-1].id
    for repeat in part.repeats:
        inside = [k for k, s in enumerate(segments) if repeat.start <= s.notes[0].event.onset < repeat.end]
        begins = inside and (from_start or inside[0] > 0)
        if begins and (to_end or inside[-1] + 1 < len(segments)) and len(inside) > 1:
            last, first = segments[inside[-1]].notes[-1], segments[inside[0]].notes[0]
            silent = repeat.end - last.event.end + first.event.onset - repeat.start
            seconds = (last.end - last.begin) / max(float(last.event.duration), SAME_TIME)
            found.append(Seam(inside[-1], inside[0], float(silent) * seconds))
    return found


def with_company(
    problem: PathProblem, twins: Sequence[Sequence[int]], seams: Sequence[Seam], path: Path
) -> PathProblem:
    """Return the problem in which going against one's twins, or against a seam, costs."""
    return replace(problem, direction_costs=problem.direction_costs + company_costs(twins, seams, path))


def company_costs(twins: Sequence[Sequence[int]], seams: Sequence[Seam], path: Path) -> FloatArray:
    """Return what a down-bow and an up-bow cost every stroke of a path for its company; shape (K, 2)."""
    costs = np.zeros((len(path.links), 2))
    if twins:
        every = np.concatenate([np.array(group) for group in twins])
        group_of = np.repeat(np.arange(len(twins)), [len(group) for group in twins])
        most = np.sign(np.bincount(group_of, weights=path.directions[every]))
        first = path.directions[[group[0] for group in twins]]  # decides where they are even
        side = np.where(most == 0, first, most)[group_of]
        costs[every, np.where(side > 0, 1, 0)] += UNLIKE
    for seam in (seam for seam in seams if seam.rest < FREE):
        _charge(costs, seam.last, int(path.directions[seam.first]), SEAM)
    return costs


def _charge(costs: FloatArray, k: int, direction: int, cost: float) -> None:
    costs[k, 0 if direction > 0 else 1] += cost
