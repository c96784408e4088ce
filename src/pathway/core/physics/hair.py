"""Tilt and hair. Angles in radians, lengths in metres; the share table is our estimate."""

import math
from functools import lru_cache

import numpy as np

from pathway.core.rig.bow import Bow

_TILTS = np.radians([0.0, 15.0, 30.0, 45.0])
_SHARES = np.array([1.0, 0.75, 0.5, 0.3])
WIDEST = 0.04  # most of the sounding length that the hair may cover [1]
MOST_TILT = math.radians(45)


def hair_share(tilt: float) -> float:
    """Return the share of the ribbon on the string at a tilt [rad]."""
    return float(np.interp(tilt, _TILTS, _SHARES))


@lru_cache(maxsize=4096)
def tilt_for_width(tilt: float, bow: Bow, sounding_length: float) -> float:
    """Return the tilt [rad], at least the wanted one, at which the hair is narrow enough for the string."""
    share = WIDEST * sounding_length / bow.ribbon
    if hair_share(tilt) <= share:
        return tilt
    return float(np.interp(-share, -_SHARES, _TILTS))


def hair_stiffness(place: float, bow: Bow) -> float:
    """Return the stiffness of the flat hair under the stick, T_h (1/x + 1/(L − x)) [N/m]."""
    return bow.tension * (1 / place + 1 / (bow.hair - place))
