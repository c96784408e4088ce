"""How a tone begins, joins and ends. SI units.

The form of the wedge of clean starts follows Guettler, Acta Acustica 88 (2002); its edges and the periods until a
tone stands come from a time-domain simulation of our own: likely, not certain.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import FloatArray, Floats
from pathway.core.physics.lever import greatest_force
from pathway.core.physics.string import FRICTION_DROP
from pathway.core.rig.bow import Bow

Flags = bool | NDArray[np.bool_]  # one or many

SOON = 0.010  # no start is quicker [s]
_SLOW_STARTS = ((0.50, 0.150), (0.90, 0.250), (math.inf, 0.400))  # open length below [m], slowest start [s]
_LONGEST_DIPS = ((0.35, 0.060), (0.45, 0.090), (0.80, 0.130), (math.inf, 0.180))  # likewise
HEARD_DIP = 0.080  # a shorter dip is not heard [s], our estimate
HEAVIEST = 0.8  # of the greatest force: more is neither rested nor pressed [1]
_ACCENT = 1.5  # most that an accent multiplies the force by [1]
CATCHES = (1.5, 2.0)  # resting force before a caught start over the force of the note [1]
RINGING, FROM_REST, CAUGHT, OUTSIDE = 0.65, 0.9, 1.6, 2.5  # periods until the tone stands, times β
RELEASE = 1.5  # periods times β before half the catch is let go; it is gone after twice that
_PRESSED = ((0.95, 1.0, 1.1), (1.0, 1.8, 4.7))  # place in the window → factor on the periods, straight in its log
COME_BACK = 0.060  # to set a lifted bow again [s]


@dataclass(frozen=True, slots=True)
class Wedge:
    """The accelerations with which tones start cleanly [m/s²]; where ``low > high`` none does."""

    low: FloatArray  # slower ones choke
    high: FloatArray  # quicker ones slip
    best: FloatArray


def wedge(force: Floats, beta: Floats, frequency: Floats, impedance: Floats) -> Wedge:
    """Return the clean starts of strings; all arguments broadcast.

    Args:
        force: F [N].
        beta: β [1].
        frequency: f of the sounding note [Hz].
        impedance: Z of the string [kg/s].
    """
    scale = attack_scale(force, beta, frequency, impedance)
    low = 0.42 * (beta / 0.1) ** -0.42 * scale
    high = 1.05 * scale * force / (force + 0.7 * impedance)
    return Wedge(low, high, np.minimum(0.65 * scale, np.sqrt(low * high)))


def attack_scale(force: Floats, beta: Floats, frequency: Floats, impedance: Floats) -> FloatArray:
    """Return K = β² f Δμ F/Z [m/s²], the acceleration that all clean starts are told against."""
    return np.asarray(beta**2 * frequency * FRICTION_DROP * force / impedance)


def rise_time(speed: Floats, start: Wedge, sounding: Floats, open_length: float) -> FloatArray:
    """Return how long the bow should take to gather speed [s].

    Args:
        speed: v of the notes [m/s].
        start: their wedges.
        sounding: of the notes [s]; at most half of it is used.
        open_length: of the open strings [m]; long ones need more time.
    """
    gathered = np.maximum(speed / start.best, SOON)
    times: FloatArray = np.minimum(np.minimum(gathered, slowest_start(open_length)), sounding / 2)
    return times


def slowest_start(open_length: float) -> float:
    """Return the longest time to gather speed [s] that an instrument of a string length [m] asks for."""
    return next(most for below, most in _SLOW_STARTS if open_length < below)


def periods_to_speak(beta: Floats, place: Floats, ringing: Flags, caught: Flags, clean: Flags) -> FloatArray:
    """Return how many periods pass until tones stand.

    Args:
        beta: β [1].
        place: q in the force window [1].
        ringing: whether the string sounds already: a change of bow or a slurred crossing.
        caught: whether the hand sets the start with weight.
        clean: whether the start lies in the wedge.
    """
    plain = np.where(ringing, RINGING, np.where(caught, CAUGHT, FROM_REST)) / beta
    periods = np.where(clean, plain, OUTSIDE / beta * np.exp(4 * np.maximum(0.0, 0.7 - place)))
    at, factors = _PRESSED
    slower: FloatArray = periods * np.exp(np.interp(place, at, np.log(factors)))
    return slower


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


def accent_force(
    force: Floats, greatest: Floats, place: Floats, bow: Bow, gravity_share: Floats, torque: float
) -> FloatArray:
    """Return the force [N] an accent reaches at a place: by habit, by the string and by the hand."""
    by_hand = greatest_force(place, bow, gravity_share, torque)
    reached: FloatArray = np.minimum(np.minimum(_ACCENT * force, HEAVIEST * greatest), by_hand)
    return reached


def longest_dip(open_length: float) -> float:
    """Return how long a change of bow may dip at most [s] on an instrument of a string length [m], our bound."""
    return next(most for below, most in _LONGEST_DIPS if open_length < below)


def dip_time(speed: Floats, start: Wedge, shorter: Floats, open_length: float) -> FloatArray:
    """Return how long the tone dips at a change of bow [s]: from a speed over the last 2 cm to rest, and back.

    On low strings the formula asks for far more than players take: a quarter of the shorter note beside the change, and
    what the instrument takes at most, bound it.

    Args:
        speed: over the last 2 cm [m/s].
        start: the clean starts of the note.
        shorter: of the two notes that meet [s].
        open_length: of the instrument's strings [m].
    """
    dips: FloatArray = np.minimum(np.minimum(2 * speed / start.best, shorter / 4), longest_dip(open_length))
    return dips


def join_is_heard(dip: float, beta: float, frequency: float) -> bool:
    """Whether a dip is longer than the ear lets pass, and than the string needs to stand again."""
    return dip > HEARD_DIP + RINGING / (beta * frequency)
