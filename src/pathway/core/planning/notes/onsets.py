"""How every stroke begins: advice in seconds, and what is likely to be heard."""

from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import BoolArray, FloatArray
from pathway.core.physics.attack import (
    Wedge,
    accent_force,
    most_catches,
    periods_to_speak,
    release_time,
    resting_force,
    rise_time,
    wedge,
)
from pathway.core.planning.note_plan import Load, NotePlan, Onset
from pathway.core.rig.instrument import Rig, frequency
from pathway.core.technique.stroke_types import Start, StrokeType


@dataclass(frozen=True, slots=True)
class Sounds:
    """What the onsets and ends of some notes depend on; arrays of one shape."""

    impedance: FloatArray  # Z [kg/s]
    loops: FloatArray  # in which the string sounds
    frequency: FloatArray  # [Hz]
    speed: FloatArray  # [m/s]
    force: FloatArray  # steady [N]
    swell: FloatArray  # force as it starts, is steady and ends, over the steady one; shape (3, …)
    greatest: FloatArray  # F_max [N]
    beta: FloatArray
    place: FloatArray  # q
    sounding: FloatArray  # [s]
    hair: FloatArray  # where the note begins [m]
    gravity_share: FloatArray  # g₁ of its string

    def at(self, rows: NDArray[np.int64]) -> "Sounds":
        """Return some of them."""
        return Sounds(*(getattr(self, field.name)[..., rows] for field in fields(self)))

    def wedge(self, force: FloatArray) -> Wedge:
        """Return their clean starts at a force [N]."""
        return wedge(force, self.beta * self.loops, self.frequency, self.impedance)


@dataclass(frozen=True, slots=True)
class Onsets:
    """How some notes begin; arrays of shape (N,)."""

    rise: FloatArray  # time to gather speed [s]
    speak: FloatArray  # until the tone stands [s]
    clean: BoolArray
    attack_db: FloatArray  # of an accent, over the note's own force

    def of(self, n: int) -> Onset:
        """Return how one of them begins."""
        return Onset(float(self.rise[n]), float(self.speak[n]), float(self.attack_db[n]), bool(self.clean[n]))


def onsets_of(sounds: Sounds, caught: BoolArray, rings: BoolArray, rig: Rig) -> Onsets:
    """Return how notes begin.

    Args:
        sounds: the notes.
        caught: whether the bow bites before each.
        rings: whether the string of each sounds already.
        rig: instrument, bow and hand.
    """
    force = sounds.force * sounds.swell[0]
    start = sounds.wedge(force)
    rise = rise_time(sounds.speed, start, sounds.sounding, rig.instrument.length)
    clean = rings | caught | ((start.low <= start.high) & (sounds.speed / rise >= start.low))
    speak = periods_to_speak(sounds.beta, sounds.place, rings, caught, clean) / sounds.frequency
    strongest = accent_force(force, sounds.greatest, sounds.hair, rig.bow, sounds.gravity_share, rig.torque_limit)
    return Onsets(rise, speak, clean, attack_db=np.maximum(0.0, 20 * np.log10(strongest / force)))


def loads_of(sounds: Sounds, times: Sequence[float]) -> list[Load]:
    """Return what is loaded before caught starts, and when it is let go.

    Args:
        sounds: the notes.
        times: to load each [s].
    """
    rows = zip(
        sounds.force.tolist(), sounds.greatest.tolist(), sounds.beta.tolist(), sounds.frequency.tolist(), times,
        strict=True,
    )  # fmt: skip
    found = []
    for force, greatest, beta, pitch, time in rows:
        half = release_time(beta, pitch)
        found.append(Load(resting_force(force, greatest), time, half, 2 * half))
    return found


def fastest_catch(note: NotePlan, kind: StrokeType) -> float | None:
    """Return how many caught strokes a second a string takes [1/s]; None for other starts."""
    if kind.start is not Start.CATCH or kind.catch == 0:
        return None
    return most_catches(note.lead.beta, frequency(note.lead.midi), kind.catch, max(kind.gap, 0.05))
