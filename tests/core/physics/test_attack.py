"""Starts, joins and ends of a tone: worked values and laws."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pathway.core.physics.attack import (
    SOON,
    accent_force,
    attack_scale,
    dip_time,
    join_is_heard,
    most_catches,
    periods_to_speak,
    release_time,
    resting_force,
    rise_time,
    slowest_start,
    wedge,
)
from pathway.core.physics.lever import hand_torque
from pathway.core.rig import preset
from pathway.core.rig.instrument import frequency

VIOLIN, CELLO = preset("violin"), preset("cello")
OPEN_D, Z_D = frequency(62), VIOLIN.instrument.impedances[1]


def test_scale_of_an_open_d() -> None:
    """.65 K is 3.34 m/s² at a tenth of the string and .8 N."""
    assert 0.65 * attack_scale(0.8, 0.10, OPEN_D, Z_D) == pytest.approx(3.34, abs=0.01)


@given(st.floats(0.3, 3.0), st.floats(0.04, 0.16))
def test_the_best_start_lies_in_its_wedge(force: float, beta: float) -> None:
    """Wherever the wedge is open; a light start closes it."""
    start = wedge(force, beta, OPEN_D, Z_D)
    if start.low <= start.high:
        assert start.low <= start.best <= start.high
    closed = wedge(0.05, 0.10, OPEN_D, Z_D)
    assert closed.low > closed.high


def test_speed_is_gathered_in_about_a_tenth_of_a_second() -> None:
    """A mezzo-forte on the violin's open D; never below 10 ms, never over half the note or the instrument's own."""
    start = wedge(0.8, 0.10, OPEN_D, Z_D)
    assert rise_time(0.30, start, 2.0, 0.328) == pytest.approx(0.095, abs=0.003)
    assert rise_time(0.30, start, 0.1, 0.328) == 0.05
    assert rise_time(0.001, start, 2.0, 0.328) == SOON
    assert rise_time(2.0, start, 2.0, 0.328) == slowest_start(0.328) == 0.150
    assert (slowest_start(0.69), slowest_start(1.05)) == (0.250, 0.400)


def test_a_ringing_string_speaks_soonest() -> None:
    """Change before rest before catch; outside the wedge it takes longest, and longer the lighter it is."""

    def periods(place: float = 0.6, *, ringing: bool = False, caught: bool = False, clean: bool = True) -> float:
        return float(periods_to_speak(0.1, place, ringing, caught, clean))

    assert periods(ringing=True) < periods() < periods(caught=True) < periods(clean=False)
    assert periods(0.2, clean=False) > periods(0.6, clean=False)
    assert periods(1.0) / periods(0.9) == pytest.approx(1.8)
    assert periods(1.2) / periods(0.9) == pytest.approx(4.7)


def test_what_rests_on_the_string_before_a_catch() -> None:
    """Half as much again to twice, but never more than eight tenths of what the string takes."""
    assert resting_force(1.0, 9.0) == (1.5, 2.0)
    assert resting_force(1.0, 2.0) == (1.5, 1.6)


def test_low_strings_take_fewer_catches() -> None:
    """The load lies in the gap, its letting go in the note; both bound the rate."""
    high = most_catches(0.1, frequency(76), 0.070, 0.35)
    low = most_catches(0.1, frequency(36), 0.070, 0.35)
    assert high == pytest.approx(5.0)
    assert low == pytest.approx(0.65 / release_time(0.1, frequency(36)))
    assert low < 3 < high


@given(st.floats(0.02, 0.62), st.floats(0.3, 2.0))
def test_an_accent_never_asks_more_than_the_hand_has(place: float, force: float) -> None:
    """Half as much again where it can; the comfortable moment bounds it outward."""
    reached = accent_force(force, 9.0, place, VIOLIN.bow, 0.95, VIOLIN.torque_limit)
    assert reached <= 1.5 * force
    assert hand_torque(reached, place, VIOLIN.bow, 0.95) <= VIOLIN.torque_limit + 1e-9


def test_accents_fall_short_at_the_tip() -> None:
    """The same force at the frog and at the tip."""
    frog, tip = (accent_force(1.4, 9.0, x, VIOLIN.bow, 0.95, 0.55) for x in (0.05, 0.60))
    assert frog == pytest.approx(2.1)
    assert tip < 1.2 * 1.4


def test_slower_turns_dip_less() -> None:
    """In proportion to the speed, up to a quarter of the shorter note and what the instrument takes at most."""
    start = wedge(0.8, 0.10, OPEN_D, Z_D)
    slow, quick = dip_time(0.04, start, 1.0, 0.328), dip_time(0.08, start, 1.0, 0.328)
    assert quick == pytest.approx(2 * slow)
    assert dip_time(9.0, start, 0.1, 0.328) == pytest.approx(0.025)
    lengths = (VIOLIN, preset("viola"), CELLO, preset("bass"))
    assert [float(dip_time(9.0, start, 9.0, rig.instrument.length)) for rig in lengths] == [0.06, 0.09, 0.13, 0.18]


def test_a_join_is_heard_past_what_the_ear_lets_pass() -> None:
    """Eighty milliseconds and two thirds of a period over β."""
    assert not join_is_heard(0.080, 0.1, 220.0)
    assert not join_is_heard(0.105, 0.1, 220.0)
    assert join_is_heard(0.113, 0.1, 220.0)
