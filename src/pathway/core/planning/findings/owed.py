"""Findings about what a stroke owes to others: to its like, to what returns, to what the player keeps hair for."""

from collections.abc import Iterator

import numpy as np

from pathway.core.arrays import BoolArray
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.findings.scene import Scene, where
from pathway.core.planning.path.company import FREE
from pathway.core.planning.wishes import Link

SEAM_WAY = 0.08  # [m]
LEAST_TURNED = 2  # strokes in a row: one alone is a matter of taste
KEPT_SHORT = 0.03  # less hair than that is not missed [m]


def owed_findings(scene: Scene) -> Iterator[Finding]:
    """Yield where the plan bows otherwise than it should for the sake of other places."""
    yield from _seams(scene)
    yield from _mixed(scene)
    yield from _returns(scene)
    yield from _kept(scene)


def _seams(scene: Scene) -> Iterator[Finding]:
    for seam in scene.draft.company.seams:
        last, first = scene.strokes[seam.last], scene.strokes[seam.first]
        same = last.direction is first.direction
        way = abs(first.start - last.end)
        if (not same and way <= SEAM_WAY) or seam.rest > FREE:
            continue
        facts = {"how": "same bow" if same else "far"}
        yield scene.finding(Code.REPEAT_SEAM, Severity.LOW, seam.last, facts, way_m=way)


def _mixed(scene: Scene) -> Iterator[Finding]:
    """Runs of long and short of which some pairs are hooked and some are not."""
    for run in scene.draft.company.runs:
        hooked = scene.path.links[list(run)] == Link.HOOK
        most = 2 * np.count_nonzero(hooked) > len(run)
        odd = [k for k, is_hooked in zip(run, hooked, strict=True) if is_hooked != most]
        if odd:
            notes = tuple(id_ for k in odd for id_ in scene.strokes[k].notes)
            hooks = float(np.count_nonzero(hooked))
            numbers = {"pairs": float(len(run)), "hooked": hooks, "apart": len(run) - hooks}
            yield Finding(Code.MIXED_RUN, Severity.LOW, notes, scene.bar(odd[0]), numbers, {})


def _returns(scene: Scene) -> Iterator[Finding]:
    """Phrases that return and are bowed otherwise, though neither print nor player asks for it."""
    forced = _forced(scene)
    like: dict[int, int] = {}
    phrases, directions = scene.draft.company.phrases, scene.path.directions
    if not phrases:
        return
    every = phrases.every
    turned = {*every[directions[every] != phrases.most(scene.path)].tolist()}
    for group in phrases.each if turned else ():
        as_most = next(k for k in group if k not in turned)
        like |= {k: as_most for k in group if k in turned}
    for first, last in _chains(sorted(like)):
        near = slice(max(first - 1, 0), last + 2)
        other = slice(max(like[first] - 1, 0), like[last] + 2)
        if last - first + 1 < LEAST_TURNED or forced[near].any() or forced[other].any():
            continue
        notes = tuple(id_ for k in range(first, last + 1) for id_ in scene.strokes[k].notes)
        numbers, facts = {"strokes": float(last - first + 1)}, {"as_bar": scene.bar(like[first])}
        yield Finding(Code.RETURNS_DIFFER, Severity.LOW, notes, scene.bar(first), numbers, facts)


def _forced(scene: Scene) -> BoolArray:
    """Return which strokes print or player steer; shape (K,)."""
    problem = scene.problem
    steered: BoolArray = np.isinf(problem.direction_costs).any(axis=1) | np.isinf(problem.change)
    return steered | np.isinf(problem.hook) | ~np.isnan(problem.pinned_start) | ~np.isnan(problem.pinned_end)


def _chains(strokes: list[int]) -> list[tuple[int, int]]:
    """Return the first and last of strokes that follow each other."""
    found: list[tuple[int, int]] = []
    for k in strokes:
        if found and k == found[-1][1] + 1:
            found[-1] = found[-1][0], k
        else:
            found.append((k, k))
    return found


def _kept(scene: Scene) -> Iterator[Finding]:
    """Hair that the player wants left and that is not."""
    short = scene.problem.cost.short_of_keep(scene.path)
    for k in where(short > KEPT_SHORT):
        numbers = {"asked_m": float(scene.problem.keep[k]), "short_m": float(short[k])}
        yield scene.finding(Code.KEEP_BACK_SHORT, Severity.MEDIUM, k, {}, **numbers)
