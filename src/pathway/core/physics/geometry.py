"""The bow's levels on the bridge and the way from string to string. SI units, angles in radians."""

import math
from collections.abc import Callable
from functools import lru_cache

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, Floats, Ints
from pathway.core.rig.bow import Bow
from pathway.core.rig.instrument import Instrument

SETTLE_ANGLE = math.radians(6)  # turned in the crossing itself; the rest of the way settles later
ALTERNATING = 1 / 3  # separate notes shorter than this feel the way round [s]
HAND_BEHIND_PIVOT = 0.10  # from the hold's pivot to the hand's far side [m]
FASTEST_HAND = 2.2  # in a crossing: quick detached leaps over a string ask for as much [m/s], our estimate
ROLL_TIME = 0.040  # to roll over one silent string [s]
ROLL_SPEED = 0.4  # of the bow meanwhile, against the slower of the two notes; our estimate


@lru_cache(maxsize=64)
def between_strings(instrument: Instrument, of: Callable[[Instrument, int, int], float]) -> FloatArray:
    """Return a measure of the way between any two strings; shape (from, to)."""
    strings = range(len(instrument.strings))
    return np.array([[of(instrument, one, other) for other in strings] for one in strings])


def crossing_angle(instrument: Instrument, from_string: int, to_string: int) -> float:
    """Return the angle [rad] the bow turns in the time of the crossing, without sign."""
    over = abs(to_string - from_string) - 1
    return 0.0 if over < 0 else SETTLE_ANGLE + over * instrument.angle_step


def free_band(instrument: Instrument, stiffness: float, force: float) -> float:
    """Return how far the level may stray to either side [rad] before the bow touches a neighbouring string.

    Args:
        instrument: for the angle between strings.
        stiffness: of the string under the hair [N/m].
        force: F at the string [N]; it bends the string down between its neighbours.
    """
    return instrument.angle_step / 2 - math.asin(min(1.0, force / stiffness / instrument.spacing))


def stick_turn(instrument: Instrument, from_string: float, to_string: float) -> float:
    """Return how far the stick turns from string to string, seen from above [rad]; positive: the hand comes back."""
    return instrument.aside(to_string) - instrument.aside(from_string)


def contact_shift(instrument: Instrument, from_string: int, to_string: int) -> float:
    """Return how far the contact moves along the hair [m] when the bow rolls over silent strings; 0 to a neighbour.

    Positive towards the tip: on the way to a string further from the bow hand.
    """
    if abs(to_string - from_string) < 2:
        return 0.0
    away = instrument.level(from_string) > instrument.level(to_string)
    way = abs(to_string - from_string) * instrument.spacing
    return way if away else -way


def hand_travel(angle: Floats, place: Floats, bow: Bow) -> FloatArray:
    """Return how far the hand moves [m] when the bow turns by an angle at a place on the hair."""
    return np.asarray((place + bow.pivot + HAND_BEHIND_PIVOT) * angle)


def is_hard_way(step: Ints, direction: Ints, hard_way: int) -> BoolArray:
    """Whether a crossing goes the hard way round.

    Args:
        step: strings crossed, positive to a higher one.
        direction: of the stroke on the new string.
        hard_way: the rig's: +1 if a higher string on a down-bow is hard, −1 if a lower one, 0 if neither.
    """
    return np.asarray(step * direction * hard_way > 0)


def drift(length: Floats, angle: Floats) -> FloatArray:
    """Return how far the contact wanders [m] when a stroke is an angle off square."""
    return np.asarray(length * np.tan(angle))


def square_tolerance(length: float, contact: float, lane_step: float) -> float:
    """Return how far off square a stroke may go [rad] before it wanders half a lane.

    Args:
        length: of the stroke [m].
        contact: d, bridge to hair [m].
        lane_step: one lane as a difference of ln β.
    """
    return math.atan(contact * math.expm1(lane_step / 2) / length)


def strings_at(instrument: Instrument, level: float, band: float) -> tuple[int, ...]:
    """Return the strings the bow touches at a level [rad]: one within its free band [rad], else two."""
    nearest = min(range(len(instrument.strings)), key=lambda i: abs(instrument.level(i) - level))
    if abs(instrument.level(nearest) - level) <= band:
        return (nearest,)
    others = [i for i in (nearest - 1, nearest + 1) if 0 <= i < len(instrument.strings)]
    beside = min(others, key=lambda i: abs(instrument.level(i) - level))
    between = abs(instrument.level(beside) - level) < instrument.angle_step
    return tuple(sorted((nearest, beside))) if between else (nearest,)
