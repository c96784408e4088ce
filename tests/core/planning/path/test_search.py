"""The search for the hair path against slower oracles, and laws it must keep."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from pathway.core.planning.draft import Draft
from pathway.core.planning.path.company import Company, Groups
from pathway.core.planning.path.grid import grid_path
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.path.refine import refine
from pathway.core.planning.path.search import find_path, path_around
from pathway.core.planning.wishes import Link, Settings
from pathway.core.rig import preset
from pathway.demo.loader import DEMO_PIECES, DemoPiece
from pathway.formats.score import ScoreFile, at_pitch
from tests.core.planning.path.exact import exact_path
from tests.core.planning.path.oracles import brute_force
from tests.helpers import is_sound, problem

TIMES = st.lists(st.sampled_from([0.1, 0.2, 0.4, 0.75, 1.5]), min_size=2, max_size=40)


@pytest.mark.parametrize("times", [(0.75, 0.75, 0.75), (0.2, 0.2, 2.5), (0.1, 1.5, 0.2), (0.3, 1.0, 0.3, 1.0)])
def test_small_problems_are_solved_as_by_brute_force(times: tuple[float, ...]) -> None:
    """Every pattern of directions and links tried out, places by a general minimiser."""
    asked = problem(times)
    assert asked.total(find_path(asked)) <= brute_force(asked) * 1.005 + 1e-3


def test_small_problems_with_a_rest_and_a_lock() -> None:
    """A retake over a rest and a stroke held against its wish."""
    asked = problem((1.2, 0.6, 1.2), rest=np.array([0, 0.8, 0]), retake=np.array([2.5, 0.3, 2.5]))
    costs = asked.direction_costs.copy()
    costs[2, 0] = np.inf
    asked = replace(asked, direction_costs=costs)
    found = find_path(asked)
    assert found.directions[2] == -1
    assert asked.total(found) <= brute_force(asked) * 1.005 + 1e-3


@pytest.mark.parametrize("bows", [(4, 1, 1), (1, 4, 1), (2, 2, 1), (1, 3, 2)])
def test_repeated_notes_are_left_as_their_number_says(bows: tuple[int, ...]) -> None:
    """After an even number the bow is where it was and goes on as it began; brute force agrees with the search.

    The length of a stroke that returns is not moved together with its neighbours': it is a hundredth worse at most.
    """
    asked = problem((1.2, 1.2, 0.6), bows=np.array(bows, dtype=float))
    found = find_path(asked)
    assert asked.total(found) <= brute_force(asked) * 1.01
    left, by = asked.left_at(found), np.where(asked.returns, -1, 1) * found.directions
    for k in (1, 2):
        if found.links[k] in (Link.CHANGE, Link.HOOK):
            assert found.starts[k] == pytest.approx(left[k - 1])
            assert (found.directions[k] == by[k - 1]) == (found.links[k] == Link.HOOK)


def test_the_exact_programme_knows_rolls_chords_and_strokes_that_return() -> None:
    """Each of them moves the path, and the search stays as good."""
    plain = problem((1.2, 0.6, 0.6, 1.2, 0.9))
    bands = plain.start_bands.copy()
    bands[3] = [(0.03, 0.08), (0.60, 0.64)]
    for asked in (
        replace(plain, shift=np.array([0.0, 0.035, 0.0, -0.035, 0.0])),
        replace(plain, start_bands=bands),
        replace(plain, bows=np.array([1.0, 4.0, 2.0, 1.0, 1.0])),
    ):
        exact = refine(asked, exact_path(asked, 0.02))
        assert asked.total(find_path(asked)) <= 1.01 * asked.total(exact)
        assert asked.total(exact) <= 1.01 * asked.total(find_path(asked))
        assert not np.allclose(find_path(asked).starts, find_path(plain).starts, atol=0.01)


@pytest.mark.parametrize("piece", DEMO_PIECES, ids=lambda piece: piece.key)
def test_as_good_as_the_exact_programme(piece: DemoPiece) -> None:
    """Second-order dynamic programming on whole pieces, refined like the search: no more than a hundredth better."""
    part = ScoreFile(piece.document, "piece.musicxml").part().part
    rig = preset(piece.rig)
    asked = Draft.of(at_pitch(part, rig), rig, Settings()).problem
    exact = refine(asked, exact_path(asked, 0.03))
    assert is_sound(exact, asked)
    assert asked.total(find_path(asked)) <= 1.01 * asked.total(exact)


@settings(max_examples=25)
@given(TIMES, st.floats(0.15, 0.45))
def test_every_path_is_sound(times: list[float], preferred: float) -> None:
    """On the hair, moving as its direction says, meeting where it is joined."""
    asked = problem(times, preferred)
    assert is_sound(find_path(asked), asked)


@settings(max_examples=25)
@given(TIMES)
def test_refining_never_makes_it_worse(times: list[float]) -> None:
    """The continuous search starts from the grid and only goes downhill."""
    asked = problem(times)
    coarse = grid_path(asked)
    fine = refine(asked, coarse)
    assert asked.total(fine) <= asked.total(coarse) + 1e-9
    assert (fine.directions == coarse.directions).all()


def test_even_strokes_stay_put_and_even() -> None:
    """Quarters around the middle, each as long as the last."""
    found = find_path(problem([0.6] * 16))
    assert np.ptp(found.lengths) < 0.005
    assert np.ptp(found.starts[::2]) < 0.01


def test_a_mirrored_bow_gives_the_mirrored_path() -> None:
    """Frog for tip and down for up: the cost does not change."""
    asked = problem((0.75, 0.4, 1.5, 0.4, 0.4, 0.75))
    mirrored = replace(
        asked,
        direction_costs=asked.direction_costs[:, ::-1].copy(),
        zone_low=asked.low + asked.high - asked.zone_high,
        zone_high=asked.low + asked.high - asked.zone_low,
    )
    one, other = find_path(asked), find_path(mirrored)
    assert asked.total(one) == pytest.approx(mirrored.total(other), rel=1e-3)
    assert (one.directions == -other.directions).all()


def test_locks_are_kept_even_against_all_wishes() -> None:
    """Ten down-bows in a row are hooked or retaken, never turned."""
    costs = np.zeros((10, 2))
    costs[:, 1] = np.inf
    asked = problem([0.4] * 10, direction_costs=costs)
    found = find_path(asked)
    assert (found.directions == 1).all()
    assert set(found.links[1:].tolist()) <= {Link.HOOK, Link.RETAKE}
    assert is_sound(found, asked)


def _turned(asked: PathProblem, known: Path, k: int) -> PathProblem:
    costs = asked.direction_costs.copy()
    costs[k, 0 if known.directions[k] > 0 else 1] = np.inf
    return replace(asked, direction_costs=costs)


NONE = Groups(())
ALONE = Company(120, NONE, NONE, (), (), (), ())


@settings(max_examples=10)
@given(st.integers(0, 119), st.integers(0, 5))
def test_an_edit_moves_its_neighbourhood_only(k: int, seed: int) -> None:
    """The search around an edit keeps the lock, stays sound, and leaves what is far."""
    chance = np.random.default_rng(seed)
    asked = problem(chance.choice([0.2, 0.4, 0.75, 1.5], 120))
    known = find_path(asked)
    after = _turned(asked, known, k)
    found = path_around(after, ALONE, known, slice(k, k + 1))
    assert found.directions[k] == -known.directions[k]
    assert is_sound(found, asked)
    changed = np.flatnonzero(np.abs(found.ends - known.ends) > 0.01)
    assert changed.size
    assert changed.size < 120


@settings(max_examples=10)
@given(st.integers(0, 9))
def test_many_edits_end_where_a_new_search_ends(seed: int) -> None:
    """Thirty turns, one after another: the path costs hardly more than one searched with all of them at once."""
    chance = np.random.default_rng(seed)
    after = problem(chance.choice([0.2, 0.4, 0.75, 1.5], 120))
    path = find_path(after)
    for k in chance.permutation(120)[:30].tolist():
        after = _turned(after, path, k)
        path = path_around(after, ALONE, path, slice(k, k + 1))
    assert after.total(path) <= 1.006 * after.total(find_path(after))


def test_a_path_that_has_become_bad_is_left_after_an_edit() -> None:
    """Every bow turned the wrong way round: a small edit in the middle finds the way back, as far as it is worth."""
    asked = problem([0.4] * 100)
    mirrored = replace(asked, direction_costs=asked.direction_costs[:, ::-1].copy())
    known = find_path(mirrored)
    after = _turned(asked, known, 50)
    found = path_around(after, Company(100, NONE, NONE, (), (), (), ()), known, slice(50, 51))
    assert after.total(known) > 2 * after.total(found)
    assert after.total(found) <= 1.006 * after.total(find_path(after))


def test_retakes_need_time() -> None:
    """The way back takes its time from the note before, and costs more the more it takes."""
    asked = problem((1.0, 1.0), rest=np.array([0.0, 0.0]))
    near, far = asked.cost.retakes(np.array([0.1, 0.5]))[1]
    assert far > near
    rested = replace(asked, rest=np.array([0.0, 2.0]))
    assert rested.cost.time_short(np.full(2, 0.5))[1] == 0


@pytest.mark.parametrize("shift", [0.013, -0.011])
def test_strokes_meet_between_grid_lines_too(shift: float) -> None:
    """After one bow and after two, which come back to where they began."""
    for bows in (1.0, 2.0):
        asked = replace(problem((1.0,) * 3), bows=np.array([1.0, bows, 1.0]), shift=np.array([0.0, 0.0, shift]))
        path = grid_path(asked)
        assert path.joined.tolist() == [False, True, True]
        assert path.starts[2] == pytest.approx(asked.left_at(path)[1] + shift, abs=1e-12)
        assert path.starts[1] == pytest.approx(asked.left_at(path)[0], abs=1e-12)
