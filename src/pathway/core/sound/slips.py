"""What a string did under the bow: one slip a period is a clear tone, more are airy, uneven ones are raucous."""

from dataclasses import dataclass

import numpy as np

from pathway.core.planning.note_plan import Tone
from pathway.core.sound.strings import Bowed

COUNTS = 0.10  # of the bow's way in a period: smaller slips are ripples [1]
OFTEN = 1.25  # slips a period
_WHOLE, _MOST = 0.10, 0.75  # slips so near to a period apart are steady [periods]; this share of them is a clear tone
SEEN = 0.4  # the last part of a note that is looked at [1]
_LEAST_PERIODS = 4.0


@dataclass(frozen=True, slots=True)
class SlipsHeard:
    """What became of a note."""

    tone: Tone  # never choked: a late start is heard instead
    a_period: float  # slips
    steady: float  # share of the slips that are a period apart


def heard_in(string: Bowed, on: float, off: float, pitch: float, speed: float) -> SlipsHeard | None:
    """Return what the slips of a string say of a note; None where it is too short to tell.

    Args:
        string: as it was bowed.
        on: from here [s].
        off: up to here, while the bow is moving evenly [s].
        pitch: of the note [Hz].
        speed: of the bow [m/s].
    """
    begin = off - SEEN * (off - on)
    periods = (off - begin) * pitch
    if periods < _LEAST_PERIODS:
        return None
    rows = string.slips[(string.slips[:, 0] >= begin) & (string.slips[:, 0] < off)]
    counted = rows[np.abs(rows[:, 2]) > COUNTS * speed / pitch]
    a_period = len(counted) / periods
    apart = np.diff(counted[:, 0]) * pitch
    steady = float(np.mean(np.abs(apart - 1) < _WHOLE)) if len(apart) else 0.0
    if steady >= _MOST:
        return SlipsHeard(Tone.CORE, a_period, steady)
    return SlipsHeard(Tone.AIRY if a_period > OFTEN else Tone.PRESSED, a_period, steady)
