"""The hand's moment, passive weight and the effortless place: worked values and laws."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pathway.core.physics.lever import (
    effortless_place,
    finger_force,
    greatest_force,
    hand_torque,
    passive_weight,
)
from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from tests.helpers import part_of

BOW, HOLD = preset("violin").bow, preset("violin").hold


@pytest.mark.parametrize(("place", "torque"), [(0.08, -0.04), (0.33, 0.19), (0.63, 0.46)])
def test_moment_along_the_bow(place: float, torque: float) -> None:
    """0.9 N at frog, middle and tip of a violin bow, by hand."""
    assert hand_torque(0.9, place, BOW, 1.0) == pytest.approx(torque, abs=0.005)


@pytest.mark.parametrize(("force", "place"), [(0.9, 0.12), (0.5, 0.23)])
def test_letting_go_is_enough_outward_of_the_effortless_place(force: float, place: float) -> None:
    """Worked for the violin with 95 % of the weight on the string."""
    assert effortless_place(force, BOW, 0.95) == pytest.approx(place, abs=0.005)


@given(st.floats(0.02, 0.6), st.floats(0.3, 1.0))
def test_no_moment_at_the_passive_weight(place: float, share: float) -> None:
    """Where the bow lies by itself the hand does nothing."""
    assert hand_torque(passive_weight(place, BOW, share), place, BOW, share) == pytest.approx(0, abs=1e-12)


@given(st.floats(0.02, 0.6), st.floats(0.1, 1.0))
def test_greatest_force_needs_the_whole_torque(place: float, limit: float) -> None:
    """The force at the limit asks for just the limit."""
    assert hand_torque(greatest_force(place, BOW, 1.0, limit), place, BOW, 1.0) == pytest.approx(limit)


def test_index_presses_and_little_finger_carries() -> None:
    """The little finger has the longer lever, so it needs less force for the same moment."""
    assert finger_force(0.3, HOLD) == pytest.approx(10.0)
    assert finger_force(-0.3, HOLD) == pytest.approx(10.0 / 1.6)


def test_a_player_s_habit_tilts_every_stroke() -> None:
    """Five degrees more where nothing else bounds the tilt; the words for the directions are the player's own too."""
    violin = preset("violin")
    own = replace(violin, tilt_habit=math.radians(5), says_pull=True)
    part = part_of("[mf] d4:2 f4 | g4 a4")
    plain, tilted = plan_part(part, violin), plan_part(part, own)
    for one, other in zip(plain.bowed, tilted.bowed, strict=True):
        assert other.tilt == pytest.approx(one.tilt + math.radians(5))
    assert (violin.word(Direction.UP), own.word(Direction.UP)) == ("up-bow", "push")
