"""Tilt and hair. Angles in radians, lengths in metres; the share table and the clearance rule are our estimates."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import FloatArray, Floats
from pathway.core.rig.bow import Bow

_TILTS = np.radians([0.0, 15.0, 30.0, 45.0])
_SHARES = np.array([1.0, 0.75, 0.5, 0.3])
WIDEST = 0.04  # most of the sounding length that the hair may cover [1]
DEGREE = math.radians(1)
MOST_TILT = 45 * DEGREE
LOWERED = 0.6  # of the clearance that the greatest tilt takes away [1]
WOOD_NEAR = 0.9  # of the force that puts wood on the string: no more is planned [1]
FROM_AIR = math.radians(20)  # least tilt of a landing near the frog
NEAR_FROG = 0.25  # share of the hair


def hair_share(tilt: Floats) -> Floats:
    """Return the share of the ribbon on the string at a tilt [rad]."""
    shares: Floats = np.interp(tilt, _TILTS, _SHARES)
    return shares


def hair_stiffness(place: Floats, bow: Bow) -> Floats:
    """Return the stiffness of the flat hair under the stick, T_h (1/x + 1/(L − x)) [N/m]."""
    return bow.tightness * (1 / place + 1 / (bow.hair - place))


def wood_force(place: Floats, tilt: Floats, bow: Bow) -> Floats:
    """Return the force [N] that puts the stick on the string at a place and tilt."""
    return hair_stiffness(place, bow) * bow.headroom * (1 - LOWERED * tilt / MOST_TILT)


@dataclass(frozen=True, slots=True)
class Tilt:
    """The tilt at some moments of notes."""

    angle: FloatArray
    wood: NDArray[np.bool_]  # no tilt that the string allows keeps the stick off it


def tilt_at(wanted: Floats, force: Floats, place: Floats, bow: Bow, sounding_length: Floats) -> Tilt:
    """Return the tilt nearest to the wanted one at which hair and stick agree with the string.

    A short string wants less hair, a heavy bow a flatter stick; where both cannot be had, the hair wins.
    All arguments but the bow broadcast.

    Args:
        wanted: by stroke type and colour [rad].
        force: F at the string [N].
        place: x on the hair [m].
        bow: the bow.
        sounding_length: ℓ [m].
    """
    least = np.interp(-WIDEST * sounding_length / bow.ribbon, -_SHARES, _TILTS)
    flat = wood_force(place, 0.0, bow) * WOOD_NEAR
    most = MOST_TILT / LOWERED * (1 - force / flat)
    angle = np.maximum(least, np.minimum(np.maximum(wanted, 0.0), np.minimum(most, MOST_TILT)))
    return Tilt(angle, wood=least > most)
