"""Banded equations: the same answer as a dense solve, for every size and cut."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pathway.core.planning.path.banded import FEW, solve_banded


def _system(count: int, width: int, seed: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Bands of a positive matrix, the matrix itself, and a right side."""
    chance = np.random.default_rng(seed)
    factor = np.tril(np.triu(chance.normal(size=(count, count)), -width))
    matrix = factor @ factor.T + np.eye(count)
    bands = np.zeros((width + 1, count))
    for offset in range(min(width + 1, count)):
        bands[offset, : count - offset] = np.diagonal(matrix, -offset)
    return bands, matrix, chance.normal(size=count)


@given(st.integers(1, 260), st.integers(1, 4), st.integers(0, 99))
def test_any_size_agrees_with_a_dense_solve(count: int, width: int, seed: int) -> None:
    """Small ones at once, larger ones in blocks whose last is not full."""
    bands, matrix, right = _system(count, width, seed)
    assert solve_banded(bands, right) == pytest.approx(np.linalg.solve(matrix, right), abs=1e-7)


@pytest.mark.parametrize("count", [FEW, FEW + 1, 1000, 3001])
def test_the_border_between_both_ways_and_long_systems(count: int) -> None:
    """The answer fulfils the equations, where a dense check would be slow."""
    bands, _, right = _system(min(count, 200), 3, 1)
    bands = np.tile(bands, (1, count // bands.shape[1] + 1))[:, :count]
    bands[0] = 1 + 2 * np.abs(bands[1:]).sum() / 1.0
    for offset in (1, 2, 3):
        bands[offset, count - offset :] = 0
    right = np.resize(right, count)
    found = solve_banded(bands, right)
    product = bands[0] * found
    for offset in (1, 2, 3):
        product[offset:] += bands[offset, : count - offset] * found[: count - offset]
        product[: count - offset] += bands[offset, : count - offset] * found[offset:]
    assert product == pytest.approx(right, abs=1e-8)
