"""Impedance, drive and the force window: worked values, laws and refusals."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pathway.core.physics.string import (
    CLOSEST,
    SoundingString,
    drive,
    drive_for,
    force_window,
    lane_of,
    level_db,
    swing,
)
from pathway.core.rig import preset
from pathway.errors import OutOfRange

VIOLIN, CELLO = preset("violin").instrument, preset("cello").instrument


@pytest.mark.parametrize(
    ("rig", "expected"), [("violin", (0.342, 0.228, 0.191, 0.173)), ("cello", (1.407, 0.961, 0.666, 0.560))]
)
def test_impedances_of_typical_strings(rig: str, expected: tuple[float, ...]) -> None:
    """Z = T/(2 ℓ f), worked by hand for each string."""
    assert preset(rig).instrument.impedances == pytest.approx(expected, abs=0.001)


def test_mean_impedance_of_the_violin() -> None:
    """The geometric mean of the four strings."""
    assert VIOLIN.impedance_mean == pytest.approx(0.225, abs=0.001)


@pytest.mark.parametrize(
    ("string", "beta", "contact_cm"), [(0, 0.111, 3.6), (1, 0.091, 3.0), (2, 0.083, 2.7), (3, 0.079, 2.6)]
)
def test_heavier_strings_are_bowed_further_out(string: int, beta: float, contact_cm: float) -> None:
    """The place of a plain mezzo-forte at 27 cm/s, by hand for the violin."""
    sounding = SoundingString.of(VIOLIN, string, 0)
    place = 0.27 * sounding.heaviness / VIOLIN.drive_mf
    assert place == pytest.approx(beta, abs=0.001)
    assert 100 * place * sounding.length == pytest.approx(contact_cm, abs=0.05)


@pytest.mark.parametrize(
    ("instrument", "string", "speed", "beta", "least", "most"),
    [(VIOLIN, 1, 0.20, 0.08, 0.133, 2.28), (CELLO, 1, 0.25, 0.107, 0.285, 9.01)],
)
def test_windows_worked_by_hand(
    instrument: object, string: int, speed: float, beta: float, least: float, most: float
) -> None:
    """Least and greatest force on an open D of the violin and an open G of the cello."""
    window = force_window(speed, beta, SoundingString.of(instrument, string, 0))  # type: ignore[arg-type]
    assert float(window.lower) == pytest.approx(least, rel=0.01)
    assert float(window.upper) == pytest.approx(most, rel=0.01)


def test_a_stopped_string_needs_more_force_than_an_open_one() -> None:
    """The least force of the same speed and β grows by a quarter; the greatest stays."""
    open_, stopped = (SoundingString.of(VIOLIN, 1, s) for s in (0, 2))
    a, b = force_window(0.2, 0.08, open_), force_window(0.2, 0.08, stopped)
    assert float(b.lower / a.lower) == pytest.approx(1.25)
    assert float(b.upper) == pytest.approx(float(a.upper))


@given(st.floats(0.05, 1.0), st.floats(0.04, 0.19), st.floats(0.0, 1.0))
def test_place_and_force_are_inverse(speed: float, beta: float, place: float) -> None:
    """Going to a place in the window and asking for it again gives the same place."""
    window = force_window(speed, beta, SoundingString.of(VIOLIN, 2, 5))
    assert float(window.place(window.force(place))) == pytest.approx(place, abs=1e-9)


@given(st.floats(0.05, 1.0), st.floats(-14, 8))
def test_level_of_a_drive_is_the_level_asked_for(speed: float, wanted: float) -> None:
    """β chosen from speed and drive sounds at the wanted level."""
    sounding = SoundingString.of(CELLO, 0, 3)
    beta = speed * sounding.heaviness / float(drive_for(wanted, CELLO.drive_mf))
    assert float(level_db(drive(speed, beta, sounding), CELLO.drive_mf)) == pytest.approx(wanted)


def test_window_narrows_towards_the_bridge_when_the_bow_is_fast() -> None:
    """The least force grows faster than the greatest as β falls."""
    window = force_window(0.5, np.array([0.15, 0.10, 0.05]), SoundingString.of(VIOLIN, 0, 0))
    assert (np.diff(window.upper / window.lower) < 0).all()


@pytest.mark.parametrize(
    ("speed", "beta", "name"), [(-0.1, 0.1, "-0.1"), (0.2, 0.6, "0.6"), (float("nan"), 0.1, "nan")]
)
def test_numbers_that_mean_nothing_are_refused(speed: float, beta: float, name: str) -> None:
    """The error names the bad value."""
    with pytest.raises(OutOfRange, match=name):
        force_window(speed, beta, SoundingString.of(VIOLIN, 0, 0))


def test_first_bad_value_of_an_array_is_named() -> None:
    """A bad value among good ones is found."""
    with pytest.raises(OutOfRange, match="7"):
        force_window(np.array([0.2, 7.0]), 0.1, SoundingString.of(VIOLIN, 0, 0))


def test_lanes_count_from_fingerboard_to_bridge() -> None:
    """Six equal steps of ln β; places outside fall into the outermost lanes."""
    sounding = SoundingString.of(VIOLIN, 1, 0)
    edges = sounding.lane_edges()
    middles = np.sqrt(edges[:-1] * edges[1:])
    assert lane_of(middles, sounding.furthest).tolist() == [1, 2, 3, 4, 5, 6]
    assert lane_of(np.array([0.3, CLOSEST / 2]), sounding.furthest).tolist() == [1, 6]


def test_the_string_swings_less_close_to_the_bridge_only_if_the_bow_is_slower() -> None:
    """An open D at 27 cm/s on a tenth of it: 1.15 mm to each side; the same drive swings as far anywhere.

    The string sticks to the bow for all of a period but the share β: so far it is carried from one side to the other.
    """
    carried = 0.27 * (1 - 0.1) / 293.66
    assert 2 * 4 * 0.1 * (1 - 0.1) * swing(0.27, 0.1, 293.66) == pytest.approx(carried)
    assert 1000 * swing(0.27, 0.1, 293.66) == pytest.approx(1.15, abs=0.01)
    assert swing(0.54, 0.2, 293.66) == pytest.approx(swing(0.27, 0.1, 293.66))
