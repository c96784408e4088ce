"""A click on the beats, to be mixed into a sound."""

from collections.abc import Iterable

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.planning.beats import Beat

_FIRST, _OTHER = 1320.0, 880.0  # [Hz]
_LONG, _FALLS, _LEVEL = 0.05, 0.010, 0.25  # [s], [s], of full scale


def with_click(samples: FloatArray, begin: float, beats: Iterable[Beat], rate: int) -> FloatArray:
    """Return a sound with a click on every beat in it.

    Args:
        samples: full scale 1; shape stays.
        begin: of the first sample, in the time of the beats [s].
        beats: that may lie outside.
        rate: samples a second.
    """
    clicked, times = samples.copy(), np.arange(round(_LONG * rate)) / rate
    for beat in beats:
        at = round((beat.time - begin) * rate)
        if not 0 <= at < len(samples):
            continue
        pitch = _FIRST if beat.first else _OTHER
        click = _LEVEL * np.sin(2 * np.pi * pitch * times) * np.exp(-times / _FALLS)
        clicked[at : at + len(click)] += click[: len(samples) - at]
    return clicked
