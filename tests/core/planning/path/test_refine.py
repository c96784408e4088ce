"""The equations of the refinement against the cost itself."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pathway.core.planning.path.cost_loop import downhill
from pathway.core.planning.path.grid import grid_path
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.path.refine import ROUGH, _Unknowns, refine
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
    slope, _ = problem.cost.equations(path, unknowns.start, unknowns.end, unknowns.count)
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
    _, bands = problem.cost.equations(path, unknowns.start, unknowns.end, unknowns.count)
    matrix = np.zeros((unknowns.count, unknowns.count))
    for offset in range(bands.shape[0]):
        for i in range(unknowns.count - offset):
            matrix[i + offset, i] = matrix[i, i + offset] = bands[offset, i]
    assert (np.diag(matrix) > 0).all()
    assert np.linalg.eigvalsh(matrix).min() > -1e-9 * np.abs(matrix).max()


@given(st.integers(1, 260), st.integers(0, 99))
def test_a_step_solves_the_equations(count: int, seed: int) -> None:
    """As a dense solve does, with the fixed ones left out of it."""
    chance = np.random.default_rng(seed)
    factor = np.tril(np.triu(chance.normal(size=(count, count)), -3))
    matrix, slope = factor @ factor.T + np.eye(count), chance.normal(size=count)
    bands = np.zeros((4, count))
    for offset in range(min(4, count)):
        bands[offset, : count - offset] = np.diagonal(matrix, -offset)
    fixed = chance.random(count) < 0.2
    step, free = downhill(slope, bands, fixed), ~fixed
    assert not step[fixed].any()
    assert step[free] == pytest.approx(-np.linalg.solve(matrix[np.ix_(free, free)], slope[free]), rel=1e-4, abs=1e-4)


def test_a_rough_search_is_never_better() -> None:
    """Stopping early leaves cost on the table, and less than a hundredth a round."""
    problem, path, _ = _found()
    rough, fine = (problem.total(refine(problem, path, enough)) for enough in (ROUGH, 1e-5))
    assert fine <= rough + 1e-12
    assert rough <= problem.total(path)
