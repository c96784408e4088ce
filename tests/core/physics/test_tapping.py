"""Taps along with a rebounding bow, and what they tell of it."""

from dataclasses import replace

import pytest

from pathway.core.physics.bounce import calibrated
from pathway.core.physics.tapping import simulated_taps, tapped
from pathway.core.rig import preset
from pathway.errors import RigError

BOW = preset("violin").bow


def test_even_taps_have_their_rate_and_no_scatter() -> None:
    """Every second rebound tapped at four a second: eight rebounds."""
    found = tapped([0.25 * n for n in range(9)], rebounds_a_tap=2)
    assert found.rate == pytest.approx(8.0)
    assert found.scatter == pytest.approx(0.0, abs=1e-9)


def test_a_slip_is_left_out() -> None:
    """One tap forgotten does not slow the bow."""
    times = [0.2 * n for n in range(12) if n != 6]
    assert tapped(times).rate == pytest.approx(5.0)


@pytest.mark.parametrize(
    ("times", "said"), [([0, 1, 2], "3 taps are too few"), ([0, 1, 1.1, 3, 3.2, 6, 6.1, 9], "keep no time")]
)
def test_taps_that_tell_nothing_are_refused(times: list[float], said: str) -> None:
    """Too few, or without a beat."""
    with pytest.raises(RigError, match=said):
        tapped(times)


@pytest.mark.parametrize("seed", range(12))
def test_a_bow_is_found_again_from_its_taps(seed: int) -> None:
    """Looser and held further back than set; the hand scatters by 12 ms: tension and pivot within 5 %."""
    true = replace(BOW, tension=0.85 * BOW.tension, pivot=0.032, measured_inertia=BOW.inertia)
    rates = []
    for place in (0.10, 0.23, 0.36):
        times = simulated_taps(true, place, taps=24, seed=100 * seed + round(100 * place))
        rates.append((place, tapped(times, 4).rate))
    found = calibrated(BOW, rates)
    assert found.bow.tension == pytest.approx(true.tension, rel=0.05)
    assert found.bow.pivot == pytest.approx(true.pivot, rel=0.05)
    assert found.residual < 0.02
