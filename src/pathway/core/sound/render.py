"""The whole chain: a plan, or some bars of it, as sound."""

import math
from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.sound.body import convolve, muted, response
from pathway.core.sound.curves import RATE, Curves
from pathway.core.sound.gestures import gestures_of
from pathway.core.sound.playable import Playable
from pathway.core.sound.strings import SAMPLES, Bowed, bowed
from pathway.core.steps import step

_EVENNESS = 0.5  # of the body
GAIN = 0.18  # of a plain mezzo-forte, against full scale
_FADES = 0.5  # a note that is longer than what is rendered at once [s]
KNEE = 0.8  # louder parts are bent down [of full scale]


@dataclass(frozen=True, slots=True)
class Manner:
    """How a plan is to be heard."""

    helped: bool = True  # by a competent hand
    vibrato: float = 10.0  # [cents]
    wet: float = 0.22  # share of the room


@dataclass(frozen=True)
class Sound:
    """A sound, SAMPLES a second, full scale 1."""

    samples: FloatArray
    begin: float  # of the first sample, in the time of the plan [s]
    curves: Curves
    strings: tuple[Bowed, ...]

    @property
    def seconds(self) -> float:
        """Return how long it is [s]."""
        return len(self.samples) / SAMPLES


def render(plan: Playable, begin: float = 0.0, end: float = math.inf, manner: Manner | None = None) -> Sound:
    """Return the notes that begin in a span of a plan as sound; the same call gives the same bytes.

    Raises:
        PlanError: no note begins there, or too much is asked for at once.
    """
    manner = manner or Manner()
    curves = gestures_of(plan, begin, end, helped=manner.helped, vibrato=manner.vibrato)
    instrument = plan.rig.instrument
    strings = bowed(curves, instrument)
    step()
    dry = np.sum([string.sound for string in strings], axis=0)
    if curves.muted.any():
        share = np.repeat(curves.muted, SAMPLES // RATE)[: len(dry)]
        dry = dry * (1 - share) + muted(dry, instrument.length, SAMPLES) * share
    heard = convolve(dry, response(instrument.length, SAMPLES, _EVENNESS, manner.wet))[: len(dry)]
    if curves.cut_off:
        last = min(len(heard), round(_FADES * SAMPLES))
        heard[-last:] *= np.linspace(1, 0, last)
    return Sound(_bent(GAIN * heard), curves.begin, curves, strings)


def _bent(sound: FloatArray) -> FloatArray:
    """Return a sound that never leaves full scale."""
    size = np.abs(sound)
    over = np.sign(sound) * (KNEE + (1 - KNEE) * np.tanh((size - KNEE) / (1 - KNEE)))
    return np.where(size > KNEE, over, sound)
