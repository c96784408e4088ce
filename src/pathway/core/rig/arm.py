"""How far an arm of some length brings the bow: where the elbow stands square, where the hair ends for it.

Seen from above the bow travels along a line that passes the shoulder at a distance; where the string meets that line
depends on how the instrument is held. All of it our estimate, for a bow held square to the string.
"""

import math
from dataclasses import dataclass

from pathway.core.rig.instrument import Rig
from pathway.errors import OutOfRange

_LIMITS = (0.12, 0.60)  # of either arm length [m]
STRAIGHT = 0.98  # of the whole arm that a player stretches to without locking the elbow [1]
_UPHELD, _HELD_DOWN = (-0.10, 0.36), (-0.15, 0.40)  # string along the line from the shoulder's foot; line off it [m]


@dataclass(frozen=True, slots=True)
class Arm:
    """A bow arm."""

    upper: float  # shoulder to elbow [m]
    fore: float  # elbow to where the hand holds the bow [m]


@dataclass(frozen=True, slots=True)
class Reach:
    """What an arm can do with a bow."""

    square_elbow: float | None  # place on the hair where the elbow makes a right angle [m]; None: nowhere on it
    furthest: float  # last place on the hair with the bow square to the string [m]
    skew: float  # angle off square that the last usable hair would need [rad]; 0 where the arm is long enough


def reach_of(rig: Rig, arm: Arm) -> Reach:
    """Return how far an arm brings a bow.

    Raises:
        OutOfRange: an arm no player has.
    """
    for name, length in (("the upper arm", arm.upper), ("the forearm", arm.fore)):
        if not _LIMITS[0] <= length <= _LIMITS[1]:
            raise OutOfRange(name, 100 * length, 100 * _LIMITS[0], 100 * _LIMITS[1], "cm")
    string, line = _HELD_DOWN if rig.instrument.held_down else _UPHELD
    start = string + rig.bow.pivot  # of the hand along the line, the hair's first end on the string
    last = rig.bow.hair - rig.tip_margin
    whole = STRAIGHT * (arm.upper + arm.fore)
    square = _along(math.hypot(arm.upper, arm.fore), line)
    square_at = None if square is None or not 0 <= square - start <= rig.bow.hair else square - start
    end = _along(whole, line)
    furthest = 0.0 if end is None else min(max(end - start, 0.0), last)
    return Reach(square_at, furthest, _skew(string, line, whole, last + rig.bow.pivot) if furthest < last else 0.0)


def _along(distance: float, line: float) -> float | None:
    """Return how far along the bow's line the hand lies at a distance from the shoulder."""
    return math.sqrt(distance**2 - line**2) if distance >= line else None


def _skew(string: float, line: float, whole: float, way: float) -> float:
    """Return by how much the bow turns about the string for a hand at full stretch to stand a way from it."""
    apart = math.hypot(string, line)
    square = math.acos(-string / apart)  # between the bow's line and the shoulder, at the string
    turned = (apart**2 + way**2 - whole**2) / (2 * apart * way)
    return max(0.0, square - math.acos(min(max(turned, -1.0), 1.0)))
