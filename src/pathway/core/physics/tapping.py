"""From taps along with a rebounding bow to its rate, and a bow that taps by itself. SI units."""

import random
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pathway.core.physics.bounce import Bounce
from pathway.core.rig.bow import Bow
from pathway.errors import RigError

LEAST_TAPS = 6
STRAY = 0.35  # of the middle interval: one further off is a slip and is left out [1]
MOST_SLIPS = 0.4  # of all intervals


@dataclass(frozen=True, slots=True)
class Tapped:
    """What taps say of a rebound."""

    rate: float  # of the bow [1/s]
    scatter: float  # standard deviation of the intervals over their mean [1]
    taps: int


def tapped(times: Sequence[float], rebounds_a_tap: int = 1) -> Tapped:
    """Return the rate of a rebound that was tapped along with.

    Args:
        times: of the taps in order [s].
        rebounds_a_tap: every how many rebounds were tapped; a quick bow is easier to follow at every second or fourth.

    Raises:
        RigError: too few taps, or taps that keep no time.
    """
    if len(times) < LEAST_TAPS:
        raise RigError(f"{len(times)} taps are too few", advice=f"Tap at least {LEAST_TAPS} times in a row.")
    intervals = np.diff(np.asarray(times, dtype=float))
    middle = float(np.median(intervals))
    steady = intervals[np.abs(intervals - middle) < STRAY * middle] if middle > 0 else intervals[:0]
    if len(steady) < (1 - MOST_SLIPS) * len(intervals):
        raise RigError("These taps keep no time", advice="Listen to the rebound first, then tap along with it.")
    mean = float(steady.mean())
    return Tapped(rebounds_a_tap / mean, float(steady.std()) / mean, len(times))


def simulated_taps(
    bow: Bow, place: float, *, taps: int = 16, rebounds_a_tap: int = 4, scatter: float = 0.012, seed: int = 1
) -> list[float]:
    """Return when a player would tap along with a bow trembling at a place [s].

    Args:
        bow: the true one.
        place: x on the hair [m].
        taps: how many.
        rebounds_a_tap: every how many rebounds.
        scatter: of the hand about each beat [s], as measured on finger tapping: 10 to 15 ms when slow.
        seed: of the chance.
    """
    chance = random.Random(seed)
    interval = rebounds_a_tap / float(Bounce(bow, 1.0).rate(place))
    return [n * interval + chance.gauss(0.0, scatter) for n in range(taps)]
