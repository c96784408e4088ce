"""Levels, crossings, drift, and the hair under tilt."""

import math

import numpy as np
import pytest

from pathway.core.physics.geometry import (
    crossing_angle,
    drift,
    hand_travel,
    is_hard_way,
    square_tolerance,
)
from pathway.core.physics.hair import MOST_TILT, WIDEST, hair_share, hair_stiffness, tilt_at, wood_force
from pathway.core.rig import Rig, preset
from pathway.core.rig.bow import Direction
from pathway.errors import NotFound, RigError

VIOLIN = preset("violin")


def test_violin_neighbours_lie_under_sixteen_degrees_apart() -> None:
    """11.5 mm on a radius of 42 mm."""
    assert math.degrees(VIOLIN.instrument.angle_step) == pytest.approx(15.7, abs=0.05)


def test_levels_are_symmetric_about_the_middle() -> None:
    """The outer strings lie as far to one side as to the other; a double stop lies between its strings."""
    instrument = VIOLIN.instrument
    assert instrument.level(0) == pytest.approx(-instrument.level(3))
    assert instrument.level(1.5) == pytest.approx(0)


def test_drift_of_a_skewed_bow() -> None:
    """30 cm at 5° wander 2.6 cm."""
    assert drift(0.30, math.radians(5)) == pytest.approx(0.026, abs=0.0005)


def test_a_crossing_moves_the_hand_further_at_the_tip() -> None:
    """The travel grows with the distance from the hand; a skip adds a whole step of angle."""
    angle = crossing_angle(VIOLIN.instrument, 1, 2)
    assert hand_travel(angle, 0.6, VIOLIN.bow) > 4 * hand_travel(angle, 0.05, VIOLIN.bow)
    assert crossing_angle(VIOLIN.instrument, 0, 2) - angle == pytest.approx(VIOLIN.instrument.angle_step)
    assert crossing_angle(VIOLIN.instrument, 2, 2) == 0


def test_the_hard_way_round_mirrors_with_the_direction() -> None:
    """A higher string on a down-bow is hard on the violin, on an up-bow it is easy; a cello does not care."""
    assert is_hard_way(1, Direction.DOWN, VIOLIN.hard_way)
    assert not is_hard_way(1, Direction.UP, VIOLIN.hard_way)
    assert is_hard_way(-1, Direction.UP, VIOLIN.hard_way)
    assert not is_hard_way(1, Direction.DOWN, preset("cello").hard_way)


@pytest.mark.parametrize(("degrees", "share"), [(0, 1.0), (15, 0.75), (30, 0.5), (45, 0.3)])
def test_hair_share_under_tilt(degrees: float, share: float) -> None:
    """The table's own points."""
    assert hair_share(math.radians(degrees)) == pytest.approx(share)


def test_short_strings_take_less_hair() -> None:
    """High notes tilt the bow until the ribbon is narrow enough; long ones keep the wanted tilt."""
    wanted = math.radians(15)
    tilt = tilt_at(wanted, 0.3, 0.3, VIOLIN.bow, 0.10).angle
    assert tilt > wanted
    assert VIOLIN.bow.ribbon * hair_share(tilt) == pytest.approx(WIDEST * 0.10)
    assert tilt_at(wanted, 0.3, 0.3, VIOLIN.bow, 0.328).angle == wanted


def test_weight_flattens_the_bow_before_the_wood_touches() -> None:
    """At the chosen tilt nine tenths of the touching force is never passed, unless the short string forbids it."""
    heavy = tilt_at(math.radians(40), 2.0, 0.33, VIOLIN.bow, 0.328)
    assert heavy.angle < math.radians(40)
    assert not heavy.wood
    assert wood_force(0.33, heavy.angle, VIOLIN.bow) == pytest.approx(2.0 / 0.9)
    assert tilt_at(0.2, 2.6, 0.33, VIOLIN.bow, 0.08).wood


def test_squareness_matters_more_for_long_strokes() -> None:
    """The tolerance is the angle whose drift is half a lane."""
    step = 0.29
    for length in (0.05, 0.6):
        angle = square_tolerance(length, 0.03, step)
        assert drift(length, angle) == pytest.approx(0.03 * math.expm1(step / 2))


def test_hair_is_softest_in_the_middle() -> None:
    """Two springs in line: stiffness is least at half the length, and the same at like distances."""
    middle = hair_stiffness(0.325, VIOLIN.bow)
    assert hair_stiffness(0.1, VIOLIN.bow) > middle
    assert hair_stiffness(0.1, VIOLIN.bow) == pytest.approx(hair_stiffness(0.55, VIOLIN.bow))


def test_unknown_rig_names_those_there_are() -> None:
    """The player can choose from the message."""
    with pytest.raises(NotFound, match="violin, viola, cello, bass"):
        preset("theremin")


def test_a_rig_without_hair_is_refused() -> None:
    """Margins that eat the bow make no rig."""
    with pytest.raises(RigError, match="10 cm"):
        Rig("x", VIOLIN.instrument, VIOLIN.bow, VIOLIN.hold, 0.5, frog_margin=0.3, tip_margin=0.3)
    assert VIOLIN.with_hair(0.02, 0.5).usable == pytest.approx((0.02, 0.5))


def test_tilts_of_many_notes_are_those_of_each() -> None:
    """Columns give what single values give, and keep the rules: never more than 45°, never below what is wanted."""
    wanted, forces = np.radians([0.0, 15.0, 30.0, 60.0]), np.array([0.4, 1.0, 1.9, 0.2])
    places, lengths = np.array([0.05, 0.2, 0.33, 0.6]), np.array([0.33, 0.2, 0.33, 0.08])
    many = tilt_at(wanted, forces, places, VIOLIN.bow, lengths)
    for i in range(4):
        one = tilt_at(wanted[i], forces[i], places[i], VIOLIN.bow, lengths[i])
        assert many.angle[i] == pytest.approx(float(one.angle))
        assert bool(many.wood[i]) == bool(one.wood)
    assert (many.angle <= MOST_TILT + 1e-12).all()
