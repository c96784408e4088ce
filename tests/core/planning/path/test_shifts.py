"""Where the bow rolls over strings, and where a chord asks for a place to begin: in the grid, and refined."""

import numpy as np
import pytest

from pathway.core.planning.path.grid import FINE, grid_path
from pathway.core.planning.path.problem import Path, PathProblem, joined, outside
from pathway.core.planning.path.refine import refine
from pathway.core.planning.path.search import find_path
from pathway.core.planning.wishes import Link
from tests.helpers import is_sound, problem

TIMES = (0.6, 0.6, 0.6, 0.6)


def _shifted(way: float) -> PathProblem:
    """The third stroke begins a way further along the hair than the second one ended."""
    return problem(TIMES, shift=np.array([0.0, 0.0, way, 0.0]))


@pytest.mark.parametrize("way", [0.023, -0.023, 0.048])
def test_a_shift_lies_between_two_joined_strokes(way: float) -> None:
    """On the grid to its step, refined to the hair's breadth; all other joints meet."""
    asked = _shifted(way)
    coarse = grid_path(asked)
    path = refine(asked, coarse)
    for found in (coarse, path):
        gaps = found.starts[1:] - found.ends[:-1]
        assert gaps == pytest.approx([0.0, way, 0.0], abs=1e-9)
        assert (found.directions * (found.ends - found.starts) > 0).all()
    assert asked.total(path) <= asked.total(coarse)


def test_a_shift_costs_little_and_never_leaves_the_hair() -> None:
    """Places stay usable at both ends of the hair."""
    asked = problem((2.2, 2.2, 2.2), shift=np.array([0.0, 0.03, -0.03]))
    path = find_path(asked)
    for places in (path.starts, path.ends):
        assert places.min() >= asked.low - 1e-9
        assert places.max() <= asked.high + 1e-9


def test_a_retake_forgets_the_shift() -> None:
    """Lifted, the bow is set anew wherever it likes; the shift is not in the way."""

    def lifted(way: float) -> Path:
        shift, rest = np.array([0.0, 0.0, way, 0.0]), np.array([0.0, 0.0, 2.0, 0.0])
        shut = np.array([0.0, 0.0, np.inf, 0.0])
        return find_path(problem(TIMES, shift=shift, rest=rest, change=shut, hook=1 + shut))

    path, plain = lifted(0.3), lifted(0.0)
    assert path.links[2] == Link.RETAKE
    assert path.starts == pytest.approx(plain.starts)
    assert path.starts[2] != pytest.approx(path.ends[1] + 0.3, abs=0.05)


def test_a_place_to_begin_pulls_the_start_there() -> None:
    """A chord near the frog: with the wish it begins in its band, without it where it likes."""
    free = problem(TIMES)
    bands = np.full((4, 2, 2), (-np.inf, np.inf))
    bands[2] = [(0.03, 0.08), (0.60, 0.64)]
    wished = problem(TIMES, start_bands=bands, rest=np.array([0.0, 0.0, 1.0, 0.0]))
    path = find_path(wished)
    off = abs(outside(path.starts, 0.03, 0.08)[2] if path.directions[2] > 0 else outside(path.starts, 0.60, 0.64)[2])
    unwished = find_path(free)
    assert off < 0.05
    assert abs(outside(unwished.starts, 0.03, 0.08)[2]) > off
    assert is_sound(path, wished)


def test_hair_at_rest_takes_its_time_before_a_chord() -> None:
    """A retake with a time to settle needs more of the rest."""
    plain, settled = problem(TIMES), problem(TIMES, settle=np.array([0.0, 0.0, 0.04, 0.0]))
    way = np.full(4, 0.3)
    assert settled.cost.time_short(way)[2] == pytest.approx(plain.cost.time_short(way)[2] + 0.04)
    assert settled.cost.time_short(way)[1] == plain.cost.time_short(way)[1]


def test_parts_of_a_problem_join_to_the_whole() -> None:
    """Cut anywhere, put together again: every number is the same."""
    whole = problem(TIMES, rest=np.array([0.0, 0.1, 0.2, 0.3]))
    again = joined([whole.part(slice(0, 1)), whole.part(slice(1, 3)), whole.part(slice(3, 4))])
    path = find_path(whole)
    assert again.total(path) == whole.total(path)
    assert len(again) == len(whole)


def test_pinned_places_closer_than_the_grid_are_kept() -> None:
    """Three joined strokes of a centimetre each, as a player may set them."""
    start = np.array([np.nan, 0.30, 0.31, 0.30])
    end = np.array([0.30, 0.31, 0.30, np.nan])
    path = find_path(problem(TIMES, pinned_start=start, pinned_end=end))
    assert path.ends[:3] == pytest.approx([0.30, 0.31, 0.30])
    assert path.starts[1:] == pytest.approx([0.30, 0.31, 0.30])
    assert FINE > 0.01
