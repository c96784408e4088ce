"""The equations of the refinement against the cost itself."""

import numpy as np
import pytest

from pathway.core.planning.path.grid import grid_path
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.path.refine import ROUGH, _equations, _Patterns, _Unknowns, refine
from tests.helpers import plan_of

PIECE = "[mf] (d4:4d e4:8) f4:4 g4:4 | [f] a4:2> r:4 b4:4 | (c5:8 d5 e5 f5) g5:4. a5:4. | [p] g4:1"


def _found() -> tuple[PathProblem, Path, _Unknowns]:
    """Return a problem with every kind of term in it, and a path between the grid's and the best."""
    plan = plan_of(PIECE)
    problem = plan.problem
    grid = grid_path(problem, 0.05)
    unknowns = _Unknowns.of(grid, problem)
    return problem, grid, unknowns


def test_the_gradient_is_the_slope_of_the_cost() -> None:
    """Move one place by a little: the cost changes as twice the Gauss–Newton gradient says, where nothing bends."""
    problem, path, unknowns = _found()
    slope, _ = _equations(problem, path, unknowns, _Patterns(unknowns, np.flatnonzero(path.links == 3)))
    places, step = unknowns.gather(path), 1e-7
    smooth = 0
    for i in range(unknowns.count):
        sides = []
        for sign in (-1, 1):
            moved = places.copy()
            moved[i] += sign * step
            sides.append(problem.total(unknowns.spread(moved, path)))
        here = problem.total(path)
        left, right = (here - sides[0]) / step, (sides[1] - here) / step
        if abs(left - right) < 1e-3 * max(1.0, abs(left)):  # no limit begins or ends just here
            smooth += 1
            assert (left + right) / 2 == pytest.approx(2 * slope[i], rel=0.02, abs=0.02)
    assert smooth > unknowns.count / 2


def test_the_bands_are_symmetric_and_positive() -> None:
    """Along the diagonal every unknown is held by something; the full matrix has no negative eigenvalue."""
    problem, path, unknowns = _found()
    _, bands = _equations(problem, path, unknowns, _Patterns(unknowns, np.flatnonzero(path.links == 3)))
    matrix = np.zeros((unknowns.count, unknowns.count))
    for offset in range(bands.shape[0]):
        for i in range(unknowns.count - offset):
            matrix[i + offset, i] = matrix[i, i + offset] = bands[offset, i]
    assert (np.diag(matrix) > 0).all()
    assert np.linalg.eigvalsh(matrix).min() > -1e-9 * np.abs(matrix).max()


def test_a_rough_search_is_never_better() -> None:
    """Stopping early leaves cost on the table, and less than a hundredth a round."""
    problem, path, _ = _found()
    rough, fine = (problem.total(refine(problem, path, enough)) for enough in (ROUGH, 1e-5))
    assert fine <= rough + 1e-12
    assert rough <= problem.total(path)
