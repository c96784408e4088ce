"""How the bow moves in a manner of playing, drawn against time. SI units; the shapes are our own simplification."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import FloatArray
from pathway.core.physics.string import PLAIN_SPEED
from pathway.core.technique.stroke_types import Contact, Start, StrokeType

SHOWN_NOTES = 4  # that are shown
POINTS = 48  # of a note
_WHOLE_BOW = 0.62  # hair of a stroke thrown over all of it [m]
_USUAL_RATE, _SHARE_OF_MOST = (
    2.0,
    0.6,
)  # a type without a limit is shown at so many a second; others at this share of it
LOADED = 1.8  # weight of a catch against that of the note
_FADES = 0.25  # of a note in which an impulse has gone


@dataclass(frozen=True, slots=True)
class ShownMotion:
    """A few notes of a manner of playing; arrays of one shape."""

    rate: float  # notes a second
    times: FloatArray  # [s]
    place: FloatArray  # along the hair from where it begins [m]
    speed: FloatArray  # [m/s], with sign
    weight: FloatArray  # against that of a plain note; 0 off the string
    lifted: FloatArray  # how high the hair flies, 0 to 1


def usual_rate(kind: StrokeType) -> float:
    """Return a rate at which a type is at home [1/s]."""
    if kind.most_per_second is None:
        return max(_USUAL_RATE, kind.least_per_second)
    return max(_SHARE_OF_MOST * kind.most_per_second, kind.least_per_second)


def motion_of(kind: StrokeType, rate: float | None = None) -> ShownMotion:
    """Return how the bow moves in some notes of a type.

    Args:
        kind: the manner of playing.
        rate: notes a second; the usual one if not said.
    """
    rate = rate or usual_rate(kind)
    u = (np.arange(POINTS) + 0.5) / POINTS  # share of one note
    sounding = u < 1 - kind.gap
    speeds = np.where(sounding, _speed(kind, u / (1 - kind.gap)), 0.0)
    mean = float(speeds.mean())
    speeds = speeds / mean * _length(kind, rate) * rate
    weights = _weight(kind, u, sounding)
    lifted = _lift(kind, u, sounding)
    ways = np.repeat([1.0 if kind.stops_inside or i % 2 == 0 else -1.0 for i in range(SHOWN_NOTES)], POINTS)
    if kind.key in {"legato", "sustained"}:
        ways[:] = 1.0
    speed = np.tile(speeds, SHOWN_NOTES) * ways
    return ShownMotion(
        rate=rate,
        times=np.arange(SHOWN_NOTES * POINTS) / (POINTS * rate),
        place=np.cumsum(speed) / (POINTS * rate),
        speed=speed,
        weight=np.tile(np.where(lifted > 0, 0.0, weights), SHOWN_NOTES),
        lifted=np.tile(lifted, SHOWN_NOTES),
    )


def _length(kind: StrokeType, rate: float) -> float:
    """Return the hair of one note [m]."""
    if kind.whole_bow:
        return _WHOLE_BOW
    if kind.hair_a_note is not None:
        return sum(kind.hair_a_note) / 2
    return min(PLAIN_SPEED * kind.breadth * kind.attack * (1 - kind.gap) / rate, _WHOLE_BOW)


def _speed(kind: StrokeType, u: FloatArray) -> FloatArray:
    """Return the shape of the speed over the share of a sounding note."""
    if kind.key in {"legato", "sustained"}:
        return np.ones_like(u)
    if kind.start is Start.CATCH:
        return np.exp(-2.2 * u) * np.minimum(1.0, u / 0.04)
    if kind.start is Start.PULSE:
        return 0.5 + np.exp(-((u - _FADES) ** 2) / 0.04)
    if kind.contact is not Contact.ON:
        return np.sin(np.pi * np.clip(u, 0, 1))
    return np.minimum(1.0, np.minimum(u, 1 - u) / 0.12).clip(0.05)


def _weight(kind: StrokeType, u: FloatArray, sounding: NDArray[np.bool_]) -> FloatArray:
    """Return the shape of the weight over a note."""
    plain = np.ones_like(u)
    if kind.start is Start.CATCH:
        return np.where(
            sounding, 0.8 + (LOADED - 0.8) * np.exp(-6 * u), LOADED * (u - (1 - kind.gap)) / max(kind.gap, 1e-6)
        )
    if kind.start is Start.PULSE:
        return 0.85 + 0.5 * np.exp(-((u - _FADES) ** 2) / 0.03)
    if kind.contact is not Contact.ON and kind.gap == 0:
        return 0.4 + 1.2 * np.sin(np.pi * u)  # springs, but never leaves the string
    if kind.contact is not Contact.ON:
        return 1.6 * np.sin(np.pi * np.clip(u / (1 - kind.gap), 0, 1))
    return plain


def _lift(kind: StrokeType, u: FloatArray, sounding: NDArray[np.bool_]) -> FloatArray:
    """Return how high the hair flies over a note, 0 to 1."""
    if kind.contact is Contact.ON or kind.gap == 0:
        return np.zeros_like(u)
    flight = np.clip((u - (1 - kind.gap)) / kind.gap, 0, 1)
    return np.where(sounding, 0.0, np.sin(np.pi * flight))
