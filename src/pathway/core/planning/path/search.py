"""The search for the hair path: on a grid, then to true places; whole, or only around an edit."""

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from pathway.core.planning.path.company import Company
from pathway.core.planning.path.costs import with_inertia
from pathway.core.planning.path.grid import COARSE, Impasse, grid_path
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.path.refine import refine
from pathway.core.planning.path.rows import held_in, laid_in
from pathway.core.planning.path.weights import WORTH_TURNING

_NEAR = 12  # strokes on each side of an edit that make room for it
_WIDE = 24  # strokes on each side that are searched anew, in doubles as long as it is worth while


def find_path(problem: PathProblem) -> Path:
    """Return the best hair path for all strokes of a problem."""
    return refine(problem, grid_path(problem))


def best_path(problem: PathProblem, company: Company) -> Path:
    """Return the best path of strokes in company: a first search tells how like figures can be bowed alike."""
    return find_path(_in_company(problem, company, lambda asked: grid_path(asked, COARSE)))


def _in_company(
    problem: PathProblem, company: Company, look: Callable[[PathProblem], Path], window: slice = slice(None)
) -> PathProblem:
    """Return the problem in which strokes look to each other, as a first look at it tells.

    Runs of long and short are looked at both ways, all hooked and all apart, and keep the better one.
    """
    if company.runs:
        apart, together = (look(company.keeping_ways(problem, [way] * len(company.runs))) for way in (False, True))
        problem = company.keeping_ways(problem, company.better_hooked(problem, apart, together))
    first = look(problem)
    return company.liked_by(laid_in(problem, company.rows, first, window), first)


def path_around(problem: PathProblem, company: Company, known: Path, changed: slice) -> Path:
    """Return the path after an edit of some strokes.

    Near the edit the strokes make room, with as few turns as they can. What is best without regard to the path before
    is taken where it is better by more than a player can overlook; then it is looked for farther out, too.

    Args:
        problem: of K strokes.
        company: theirs.
        known: the path before.
        changed: the strokes that are steered otherwise.

    Raises:
        Impasse: the wishes leave no way.
    """

    def cost(path: Path) -> float:
        return company.kept_by(problem, path).total(path)

    near = _around(changed, _NEAR, len(problem))

    def held(asked: PathProblem, window: slice) -> Path:
        """Search a window with the rest of its rows held where they are, if that leaves a way."""
        try:
            return _searched(held_in(asked, company.rows, known, changed), known, window)
        except Impasse:
            return _searched(asked, known, window)

    path = held(with_inertia(company.kept_by(problem, known), known), near)
    reach = _WIDE
    while True:
        window = _around(changed, reach, len(problem))
        look = partial(_searched, known=path, window=window, rough=True)
        anew = held(_in_company(problem, company, look, window), window)
        if cost(anew) >= (1 - WORTH_TURNING) * cost(path):
            return path
        path = anew
        if window == slice(0, len(problem)):
            return path
        reach *= 2


def _around(changed: slice, reach: int, count: int) -> slice:
    return slice(max(0, changed.start - reach), min(count, changed.stop + reach))


def _searched(problem: PathProblem, known: Path, window: slice, rough: bool = False) -> Path:
    """Search a window with the strokes just outside it held where they are."""
    outer = slice(max(0, window.start - 1), min(len(problem), window.stop + 1))
    inner = problem.part(outer)
    start, end = inner.pinned_start.copy(), inner.pinned_end.copy()
    for k in (window.start - 1, window.stop):
        if outer.start <= k < outer.stop:
            start[k - outer.start], end[k - outer.start] = known.starts[k], known.ends[k]
    held = replace(inner, pinned_start=start, pinned_end=end)
    try:
        found = grid_path(held, COARSE) if rough else find_path(held)
    except Impasse as impasse:
        raise Impasse(outer.start + impasse.stroke) from impasse
    shift = window.start - outer.start
    kept = slice(shift, shift + window.stop - window.start + (1 if window.stop < len(problem) else 0))
    return known.with_part(slice(window.start, window.start + kept.stop - kept.start), found.part(kept))
