"""Which part of the arm moves a stroke. SI units; the limits are our estimates."""

from dataclasses import dataclass
from enum import StrEnum

_TINY, _QUICK = 0.03, 6.0  # strokes of the fingers: shorter than [m], from so many a second
SMALL = 0.06  # off the string: wrist and fingers make it, at every place [m]
SMALL_EARLY = 0.06  # strokes that the fingers make in an early hold or an underhand one [m]
HANDFUL, BRISK = 0.10, 4.0  # strokes of the wrist: shorter than [m], from so many a second
WHOLE_ARM = 0.6  # of the hair: longer ones take the whole arm [1]


class Limb(StrEnum):
    """What moves a stroke; what is named leads, the rest follows."""

    FINGERS = "fingers"
    WRIST = "wrist"  # with the fingers
    FOREARM = "forearm"
    UPPER_ARM = "upper arm"  # joins in
    WHOLE_ARM = "whole arm"


@dataclass(frozen=True, slots=True)
class Motion:
    """A stroke as the arm sees it."""

    length: float  # [m]
    place: float  # its middle on the hair [m]
    hair: float  # L [m]
    rate: float  # strokes a second, of a row; 0 where it stands alone
    off: bool = False  # the string
    early: bool = False  # held as early bows and viols are


def limb_of(motion: Motion) -> Limb:
    """Return what moves a stroke."""
    if motion.off and motion.length < SMALL:
        return Limb.WRIST
    if motion.early and motion.length < SMALL_EARLY:
        return Limb.FINGERS
    if motion.length < _TINY and motion.rate > _QUICK:
        return Limb.FINGERS
    if motion.length < HANDFUL and motion.rate > BRISK:
        return Limb.WRIST
    if motion.length > WHOLE_ARM * motion.hair:
        return Limb.WHOLE_ARM
    return Limb.UPPER_ARM if motion.place < motion.hair / 2 else Limb.FOREARM
