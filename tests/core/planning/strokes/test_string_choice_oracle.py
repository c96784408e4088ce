"""The compiled choice of strings against trying everything."""

import itertools

import numpy as np
import pytest

from pathway.core.planning.strokes.string_loop import cheapest_hand


def _cost(
    costs: np.ndarray, cross: np.ndarray, inside: np.ndarray, ease: np.ndarray, slide: np.ndarray,
    shifts: tuple[float, float],
    strings: tuple[int, ...], positions: tuple[int, ...],
) -> float:  # fmt: skip
    total = costs[0, strings[0], positions[0]]
    for k in range(1, len(costs)):
        way = abs(positions[k] - positions[k - 1])
        total += ease[k] * (shifts[0] + shifts[1] * way) if way else 0.0
        total += slide[k, strings[k], positions[k]] if not way and strings[k] == strings[k - 1] else 0.0
        total += cross[inside[k], strings[k - 1], strings[k]] + costs[k, strings[k], positions[k]]
    return float(total)


@pytest.mark.parametrize("seed", range(6))
def test_the_loop_finds_what_trying_everything_finds(seed: int) -> None:
    """Four notes, three strings, three positions; some of them impossible."""
    chance = np.random.default_rng(seed)
    costs = chance.random((4, 3, 3)) * 2
    costs[chance.random(costs.shape) < 0.2] = np.inf
    cross, shifts = chance.random((2, 3, 3)), (float(chance.random()), float(chance.random()))
    inside, ease = chance.integers(0, 2, 4), chance.random(4) + 0.5
    slide = chance.random(costs.shape) * (chance.random(costs.shape) < 0.5)
    found = cheapest_hand(costs, cross, inside, ease, slide, *shifts)
    ways = itertools.product(itertools.product(range(3), repeat=4), itertools.product(range(3), repeat=4))
    best = min(_cost(costs, cross, inside, ease, slide, shifts, *way) for way in ways)
    if found is None:
        assert np.isinf(best)
        return
    strings, positions = (tuple(int(i) for i in row) for row in found)
    assert _cost(costs, cross, inside, ease, slide, shifts, strings, positions) == pytest.approx(best)


def test_no_way_is_said() -> None:
    """A note that no string can hold."""
    costs = np.zeros((3, 2, 2))
    costs[1] = np.inf
    nothing = np.zeros((2, 2, 2))
    assert cheapest_hand(costs, nothing, np.zeros(3, dtype=np.int64), np.ones(3), costs, 0.0, 0.0) is None
