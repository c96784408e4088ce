"""The search for the hair path: on a grid, then to true places; whole, or only around an edit."""

from dataclasses import replace

import numpy as np

from pathway.core.planning.path.grid import Impasse, grid_path
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.path.refine import refine

WINDOW = 12  # strokes on each side of an edit that are searched again at first
WIDEST = 48  # the window does not grow beyond this
CALM = 4  # outermost strokes of a window that must have stayed
MOVED = 0.01  # a place that moved less has stayed [m]


def find_path(problem: PathProblem) -> Path:
    """Return the best hair path for all strokes of a problem."""
    return refine(problem, grid_path(problem))


def find_path_around(problem: PathProblem, known: Path, changed: slice) -> Path:
    """Return the path after an edit of some strokes.

    The window grows until its outermost strokes stay as they were, or to its greatest width; what lies outside is
    kept in any case.
    """
    reach = WINDOW
    while True:
        window = slice(max(0, changed.start - reach), min(len(problem), changed.stop + reach))
        whole = window.start == 0 and window.stop == len(problem)
        found = _solve_window(problem, known, window)
        if whole or reach >= WIDEST or _calm(known, found, window, len(problem)):
            return found
        reach *= 2


def _solve_window(problem: PathProblem, known: Path, window: slice) -> Path:
    """Search a window with the strokes just outside it held where they are."""
    outer = slice(max(0, window.start - 1), min(len(problem), window.stop + 1))
    inner = problem.part(outer)
    start, end = inner.pinned_start.copy(), inner.pinned_end.copy()
    for k in (window.start - 1, window.stop):
        if outer.start <= k < outer.stop:
            start[k - outer.start], end[k - outer.start] = known.starts[k], known.ends[k]
    try:
        found = find_path(replace(inner, pinned_start=start, pinned_end=end))
    except Impasse as impasse:
        raise Impasse(outer.start + impasse.stroke) from impasse
    shift = window.start - outer.start
    kept = slice(shift, shift + window.stop - window.start + (1 if window.stop < len(problem) else 0))
    return known.with_part(slice(window.start, window.start + kept.stop - kept.start), found.part(kept))


def _calm(known: Path, found: Path, window: slice, count: int) -> bool:
    edges = []
    if window.start > 0:
        edges.append(slice(window.start, window.start + CALM))
    if window.stop < count:
        edges.append(slice(window.stop - CALM, window.stop))
    return all(_same(known.part(edge), found.part(edge)) for edge in edges)


def _same(one: Path, other: Path) -> bool:
    return bool(
        np.array_equal(one.directions, other.directions)
        and np.array_equal(one.links, other.links)
        and np.allclose(one.ends, other.ends, atol=MOVED)
        and np.allclose(one.starts, other.starts, atol=MOVED)
    )
