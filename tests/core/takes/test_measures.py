"""How like a period of a tone is to the next one."""

import numpy as np
import pytest

from pathway.core.arrays import FloatArray
from pathway.core.takes.measures import sameness

RATE, HZ = 48_000, 220.0


def _tone(cents: float = 0.0, noise: float = 0.0, seconds: float = 0.4) -> FloatArray:
    times = np.arange(int(seconds * RATE)) / RATE
    hz = HZ * 2 ** (cents / 1200)
    tone = sum(np.sin(2 * np.pi * h * hz * times) / h for h in range(1, 9))
    return np.asarray(tone + noise * np.random.default_rng(5).standard_normal(len(times)))


@pytest.mark.parametrize("cents", [-40.0, 0.0, 40.0])
def test_a_clear_tone_repeats_itself_if_it_is_a_little_out_of_tune(cents: float) -> None:
    """Up to three hundredths of a period, either way."""
    assert sameness(_tone(cents), RATE, HZ) > 0.999


def test_noise_makes_periods_unlike() -> None:
    """The more of it, the less they are alike; another pitch is no likeness; silence is none either."""
    clear, rough, noise = (sameness(_tone(noise=noise), RATE, HZ) for noise in (0.05, 0.5, 20.0))
    assert clear > rough > noise
    assert noise < 0.5
    assert sameness(_tone(350.0), RATE, HZ) < 0.95
    assert sameness(np.zeros(8000), RATE, HZ) == 0.0


def test_what_is_too_short_is_not_known() -> None:
    """Ten periods are needed."""
    assert np.isnan(sameness(_tone(seconds=9.5 / HZ), RATE, HZ))
