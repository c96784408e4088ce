"""How far an arm brings the bow."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pathway.core.rig import preset
from pathway.core.rig.arm import Arm, reach_of
from pathway.errors import OutOfRange

VIOLIN = preset("violin")


def test_an_ordinary_arm_plays_the_whole_bow() -> None:
    """Nearly to the tip without a slant, the elbow square a little beyond the middle."""
    reach = reach_of(VIOLIN, Arm(0.32, 0.38))
    assert reach.furthest == pytest.approx(VIOLIN.usable[1])
    assert reach.skew == 0
    assert reach.square_elbow is not None
    assert VIOLIN.bow.hair / 2 < reach.square_elbow < 0.75 * VIOLIN.bow.hair


@given(st.floats(0.20, 0.40), st.floats(0.25, 0.40))
def test_a_shorter_arm_never_reaches_further(upper: float, fore: float) -> None:
    """And what it lacks has to be slanted for."""
    short, long = reach_of(VIOLIN, Arm(upper - 0.03, fore)), reach_of(VIOLIN, Arm(upper, fore))
    assert short.furthest <= long.furthest
    assert short.skew >= long.skew
    assert (short.skew > 0) == (short.furthest < VIOLIN.usable[1])


def test_the_right_angle_follows_from_both_lengths() -> None:
    """At the place found, upper arm, forearm and the way from the shoulder make a right angle."""
    arm = Arm(0.31, 0.37)
    square = reach_of(VIOLIN, arm).square_elbow
    assert square is not None
    along = square + VIOLIN.bow.pivot - 0.10  # the string lies 10 cm before the shoulder's foot on the bow's line
    assert math.hypot(along, 0.36) == pytest.approx(math.hypot(arm.upper, arm.fore))


def test_arms_nobody_has_are_refused() -> None:
    """With the length and its range."""
    with pytest.raises(OutOfRange, match="the forearm is 5"):
        reach_of(VIOLIN, Arm(0.3, 0.05))
