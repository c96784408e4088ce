"""Whether strokes fit one after the other on one hair."""

import numpy as np

from pathway.core.planning.path.chains import starving
from pathway.core.planning.path.problem import Path
from pathway.core.planning.wishes import Link
from tests.helpers import problem


def _path(directions: list[int], links: list[Link]) -> Path:
    nowhere = np.zeros(len(directions))
    return Path(np.array(directions), nowhere, nowhere, np.array([int(link) for link in links]))


HOOKED = _path([1, 1, 1, 1], [Link.FIRST, Link.HOOK, Link.HOOK, Link.HOOK])


def test_strokes_that_go_on_the_same_way_use_the_hair_up() -> None:
    """Four seconds each, 21 cm at least: the fourth has nowhere to go; at twice the tempo all fit."""
    slow = problem([4.0] * 4)
    assert starving(slow, HOOKED).tolist() == [False, False, False, True]
    assert not starving(slow, HOOKED, faster=2.0).any()


def test_a_turn_and_a_retake_give_hair_back() -> None:
    """An up-bow goes back over it; after a retake a stroke begins anywhere."""
    slow = problem([4.0] * 4)
    assert not starving(slow, _path([1, -1, 1, -1], [Link.FIRST, *[Link.CHANGE] * 3])).any()
    assert not starving(slow, _path([1, 1, 1, 1], [Link.FIRST, Link.HOOK, Link.RETAKE, Link.HOOK])).any()


def test_an_even_number_of_bows_ends_where_it_began() -> None:
    """A tremolo of two bows a note takes nothing from the one after it."""
    assert not starving(problem([4.0] * 4, bows=np.array([2.0] * 4)), HOOKED).any()


def test_a_stroke_that_cannot_go_far_enough_keeps_the_next_from_its_place() -> None:
    """A short stroke up after a long one down leaves no room for another long one down."""
    asked = problem([7.0, 0.1, 7.0], fastest=np.full(3, 0.53))
    assert starving(asked, _path([1, -1, 1], [Link.FIRST, Link.CHANGE, Link.CHANGE])).tolist() == [False, False, True]
