"""How a tone begins, joins and ends. SI units.

The form of the wedge of clean starts follows Guettler, Acta Acustica 88 (2002); its edges and the periods until a
tone stands come from a time-domain simulation of our own: likely, not certain.
"""

import math
from dataclasses import dataclass

from pathway.core.physics.lever import weight_moment
from pathway.core.physics.string import FRICTION_DROP
from pathway.core.rig.bow import Bow

SOON = 0.010  # no start is quicker [s]
_SLOW_STARTS = ((0.50, 0.150), (0.90, 0.250), (math.inf, 0.400))  # open length below [m], slowest start [s]
HEAVIEST = 0.8  # of the greatest force: more is neither rested nor pressed [1]
ACCENT = 1.5  # most that an accent multiplies the force by [1]
CATCHES = (1.5, 2.0)  # resting force before a caught start over the force of the note [1]
RINGING, FROM_REST, CAUGHT, OUTSIDE = 0.65, 0.9, 1.6, 2.5  # periods until the tone stands, times β
RELEASE = 1.5  # periods times β before half the catch is let go; it is gone after twice that
_PRESSED = ((0.95, 1.0, 1.1), (1.0, 1.8, 4.7))  # place in the window → factor on the periods
COME_BACK = 0.060  # to set a lifted bow again [s]


@dataclass(frozen=True, slots=True)
class Wedge:
    """The accelerations with which a tone starts cleanly [m/s²]; where ``low > high`` none does."""

    low: float  # slower ones choke
    high: float  # quicker ones slip
    best: float

    @property
    def open(self) -> bool:
        """Whether any start is clean."""
        return self.low <= self.high


def wedge(force: float, beta: float, frequency: float, impedance: float) -> Wedge:
    """Return the clean starts of a string.

    Args:
        force: F [N].
        beta: β [1].
        frequency: f of the sounding note [Hz].
        impedance: Z of the string [kg/s].
    """
    scale = attack_scale(force, beta, frequency, impedance)
    low = 0.42 * (beta / 0.1) ** -0.42 * scale
    high = 1.05 * scale * force / (force + 0.7 * impedance)
    return Wedge(low, high, min(0.65 * scale, math.sqrt(low * high)))


def attack_scale(force: float, beta: float, frequency: float, impedance: float) -> float:
    """Return K = β² f Δμ F/Z [m/s²], the acceleration that all clean starts are told against."""
    return beta**2 * frequency * FRICTION_DROP * force / impedance


def rise_time(speed: float, start: Wedge, sounding: float, open_length: float) -> float:
    """Return how long the bow should take to gather speed [s].

    Args:
        speed: v of the note [m/s].
        start: its wedge.
        sounding: of the note [s]; at most half of it is used.
        open_length: of the open strings [m]; long ones need more time.
    """
    return min(max(speed / start.best, SOON), slowest_start(open_length), sounding / 2)


def slowest_start(open_length: float) -> float:
    """Return the longest time to gather speed [s] that an instrument of a string length [m] asks for."""
    return next(most for below, most in _SLOW_STARTS if open_length < below)


def periods_to_speak(beta: float, place: float, *, ringing: bool, caught: bool, clean: bool) -> float:
    """Return how many periods pass until the tone stands.

    Args:
        beta: β [1].
        place: q in the force window [1].
        ringing: the string sounds already: a change of bow or a slurred crossing.
        caught: the hand set the start with weight.
        clean: the start lies in the wedge.
    """
    if not clean:
        periods = OUTSIDE / beta * math.exp(4 * max(0.0, 0.7 - place))
    else:
        periods = (RINGING if ringing else CAUGHT if caught else FROM_REST) / beta
    at, factors = _PRESSED
    if place <= at[0]:
        return periods
    i = 0 if place < at[1] else 1
    share = min((place - at[i]) / (at[i + 1] - at[i]), 1.0)
    return float(periods * factors[i] * (factors[i + 1] / factors[i]) ** share)


def resting_force(force: float, greatest: float) -> tuple[float, float]:
    """Return the least and most force [N] that rests on the string before a caught start."""
    low, high = (min(times * force, HEAVIEST * greatest) for times in CATCHES)
    return low, high


def release_time(beta: float, frequency: float) -> float:
    """Return when half of a catch should be let go after the bow starts [s]; all is gone after twice that.

    Earlier whistles, later crunches; on low strings it is long.
    """
    return RELEASE / (beta * frequency)


def most_catches(beta: float, frequency: float, catch: float, gap: float) -> float:
    """Return how many caught strokes a second a string takes [1/s]; our estimate.

    Args:
        beta: β [1].
        frequency: f [Hz].
        catch: time to load the string [s]; it lies in the gap.
        gap: silent share of each note; in the rest the catch must be let go.
    """
    return 1 / max(catch / gap, release_time(beta, frequency) / (1 - gap))


def accent_force(force: float, greatest: float, place: float, bow: Bow, gravity_share: float, torque: float) -> float:
    """Return the force [N] an accent reaches at a place: by habit, by the string and by the hand."""
    by_hand = (torque + weight_moment(bow, gravity_share)) / (place + bow.pivot)
    return min(ACCENT * force, HEAVIEST * greatest, by_hand)


def dip_time(speed: float, start: Wedge, open_length: float) -> float:
    """Return how long the tone dips at a change of bow [s]: from a speed over the last 2 cm to rest, and back."""
    return 2 * min(speed / start.best, slowest_start(open_length))


def join_is_heard(dip: float, beta: float, frequency: float, open_length: float) -> bool:
    """Whether a dip is longer than a change itself needs; what an instrument needs is our estimate."""
    return dip > slowest_start(open_length) + RINGING / (beta * frequency)
