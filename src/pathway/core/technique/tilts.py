"""How far the stick is tilted by habit: by manner, colour and level. Degrees are our estimates."""

import numpy as np

from pathway.core.arrays import FloatArray, Floats

SOFT_TILT, FOCUSED_TILT = 15.0, -10.0  # for a whole step of colour [degrees]
LOUD_FLATTER, SOFT_MORE = 0.75, 0.25  # per dB above and below a plain mezzo-forte [degrees]
_LOUDEST, _SOFTEST = 8.0, -14.0  # beyond these nothing more changes [dB]


def habitual_tilt(type_deg: Floats, colour: Floats, level_db: Floats, habit: float) -> FloatArray:
    """Return the tilt [rad] that a manner, a colour and a level ask for; all but the habit broadcast.

    Args:
        type_deg: of the stroke type [degrees].
        colour: −1 soft to 1 focused.
        level_db: against a plain mezzo-forte.
        habit: more than others tilt the stick, or less [rad].
    """
    by_colour = np.where(np.asarray(colour) < 0, -SOFT_TILT, FOCUSED_TILT) * colour
    level = np.clip(level_db, _SOFTEST, _LOUDEST)
    by_level = np.where(level > 0, -LOUD_FLATTER, -SOFT_MORE) * level
    tilt: FloatArray = np.maximum(0.0, np.radians(type_deg + by_colour + by_level) + habit)
    return tilt
