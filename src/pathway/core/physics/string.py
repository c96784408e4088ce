"""How loud a bowed string sounds and how hard it may be pressed. SI units throughout."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import FloatArray, Floats
from pathway.core.rig.instrument import Instrument
from pathway.errors import OutOfRange

MAX_SPEED = 3.0  # faster than an arm moves a bow [m/s]
FRICTION_DROP = 0.5  # Δμ, static less sliding friction of rosin [1]
CLOSEST = 0.035  # least β at which a tone is planned [1]
FURTHEST = 0.20  # greatest β without asking for the fingerboard [1]
LANES = 6
_STOPPED = 1.25  # a stopped string needs this much more than the least force of an open one
WIDEST_LOOP = 0.45  # β on the loop of a harmonic, at most [1]
AIRY, CORE_FROM, PRESSED = 0.08, 0.15, 0.92  # borders of the tone in the window [1]


@dataclass(frozen=True, slots=True)
class SoundingString:
    """A string as it sounds: open, stopped or touched."""

    impedance: float  # Z [kg/s]
    mean_impedance: float  # Z_g of the instrument [kg/s]
    loss_resistance: float  # R [kg/s]
    length: float  # ℓ [m]
    gap: float  # bridge to fingerboard end [m]
    stopped: bool
    tension: float = math.inf  # T_s [N]
    loops: int = 1  # equal parts a touched string sounds in
    answer: float = 0.0  # louder than another one of its weight [dB]

    @classmethod
    def of(cls, instrument: Instrument, string: int, semitones: float, loops: int = 1) -> "SoundingString":
        """Return a string stopped some semitones above its open pitch.

        Args:
            instrument: the instrument.
            string: index, 0 the lowest.
            semitones: above the open string; 0 is open.
            loops: more than one for a harmonic, which sounds that partial of the string.

        Raises:
            OutOfRange: semitones outside 0 to 36.
        """
        if not 0 <= semitones <= 36:
            raise OutOfRange("semitones above the open string", semitones, 0, 36)
        return cls(
            impedance=instrument.impedances[string],
            mean_impedance=instrument.impedance_mean,
            loss_resistance=instrument.loss_resistance,
            length=instrument.length * 2 ** (-semitones / 12),
            gap=instrument.gap,
            stopped=semitones > 0,
            tension=instrument.strings[string].tension,
            loops=loops,
            answer=instrument.strings[string].answer,
        )

    @property
    def heaviness(self) -> float:
        """Return (Z/Z_g)^½, and how readily it answers: heavier and readier strings are bowed further out."""
        return float((self.impedance / self.mean_impedance) ** 0.5 * 10 ** (self.answer / 20))

    @property
    def furthest(self) -> float:
        """Return β_hi, the furthest place before the fingerboard [1]."""
        return min(self.gap / self.length, FURTHEST)

    @property
    def lane_step(self) -> float:
        """Return one lane as a difference of ln β."""
        return math.log(self.furthest / CLOSEST) / LANES

    def stiffness(self, contact: float) -> float:
        """Return the spring under the hair, T_s (1/d + 1/(ℓ − d)) [N/m], at a distance d from the bridge [m]."""
        return self.tension * (1 / contact + 1 / (self.length - contact))

    def lane_middle(self, lane: int) -> float:
        """Return the middle of a lane as a distance from the bridge [m]."""
        edges = self.lane_edges()
        return float((edges[lane - 1] * edges[lane]) ** 0.5) * self.length

    def lane_edges(self) -> FloatArray:
        """Return the seven borders of the six lanes as β, from the fingerboard to the bridge; shape (7,)."""
        return np.exp(np.linspace(np.log(self.furthest), np.log(CLOSEST), LANES + 1))


@dataclass(frozen=True, slots=True)
class ForceWindow:
    """Both limits of the bow force, of one shape; where ``lower >= upper`` no force works."""

    lower: FloatArray  # below it the string slips more than once a period [N]
    upper: FloatArray  # above it the tone turns raucous [N]

    def place(self, force: Floats) -> FloatArray:
        """Return q: 0 at the lower limit, 1 at the upper, on a log scale; shape of the window."""
        return np.asarray(np.log(force / self.lower) / np.log(self.upper / self.lower))

    def force(self, place: Floats) -> FloatArray:
        """Return the force [N] at a place q in the window."""
        return np.asarray(self.lower * (self.upper / self.lower) ** place)


class WindowedString(Protocol):
    """What the force window asks of a string, or of many at once as arrays of shape S."""

    @property
    def impedance(self) -> Any: ...  # noqa: D102
    @property
    def loss_resistance(self) -> Any: ...  # noqa: D102
    @property
    def stopped(self) -> Any: ...  # noqa: D102
    @property
    def loops(self) -> Any: ...  # noqa: D102


@dataclass(frozen=True)
class StringRow:
    """Many sounding strings as one, for the array forms of the physics; arrays of one shape."""

    impedance: FloatArray
    loss_resistance: FloatArray
    length: FloatArray
    heaviness: FloatArray
    furthest: FloatArray
    stopped: NDArray[np.bool_]
    loops: FloatArray

    @classmethod
    def of(cls, strings: Sequence[SoundingString]) -> "StringRow":
        """Return them in a row."""
        columns = np.array(
            [(s.impedance, s.loss_resistance, s.length, s.heaviness, s.furthest, s.stopped, s.loops) for s in strings]
        ).reshape(-1, 7)
        impedance, loss_resistance, length, heaviness, furthest, stopped, loops = columns.T
        return cls(impedance, loss_resistance, length, heaviness, furthest, stopped > 0, loops)

    def shaped(self, shape: Callable[[Any], Any]) -> "StringRow":
        """Return them with every array given another shape."""
        return StringRow(*(shape(getattr(self, field.name)) for field in fields(self)))


def force_window(speed: Floats, beta: Floats, string: WindowedString) -> ForceWindow:
    """Return the least and greatest force for a clean tone.

    Args:
        speed: v, bow speed [m/s]; shape S; 0 < speed < MAX_SPEED.
        beta: β, bow–bridge distance over sounding length [1]; broadcasts with S; 0 < beta < 0.5.
        string: the bowed string as it sounds, or many with fields of shape S; a harmonic counts by its loop.

    Raises:
        OutOfRange: names the field and its first bad value; NaN is bad.

    Source:
        Raw forms Schelleng, J. Acoust. Soc. Am. 53 (1973) 26-41; measured limits Schoonderwaldt, Guettler
        & Askenfelt, Acta Acustica 94 (2008); factors fitted to a time-domain simulation of our own.
    """
    v, b = np.asarray(speed, dtype=float), np.asarray(beta, dtype=float)
    _require("bow speed", v, MAX_SPEED, "m/s")
    _require("bow place β", b, 0.5, "of the string")
    b = np.minimum(b * string.loops, WIDEST_LOOP)
    z = string.impedance
    upper = 2 * z / FRICTION_DROP * (0.96 * v / b + 0.10)
    lower = 1.6 * (1 - b) * z**2 * v / (2 * string.loss_resistance * FRICTION_DROP * b**2)
    return ForceWindow(lower=lower * np.where(string.stopped, _STOPPED, 1.0), upper=upper)


def _require(field: str, values: FloatArray, below: float, unit: str) -> None:
    bad = values[~((values > 0) & (values < below))]
    if bad.size:
        raise OutOfRange(field, float(bad.flat[0]), 0, below, unit)


def swing(speed: Floats, beta: Floats, pitch: Floats) -> Floats:
    """Return how far a cleanly bowed string swings to each side at its middle, v/(8βf) [m].

    Under the bow it moves v(1 − β)/f from one side to the other, on a parabola of which that place has 4β(1 − β).

    Args:
        speed: v, of the bow [m/s].
        beta: β, bow–bridge distance over sounding length [1].
        pitch: f [Hz].

    Source:
        Two straight pieces of string about a running corner: Cremer, The Physics of the Violin (1984).
    """
    return speed / (8 * beta * pitch)


def drive(speed: Floats, beta: Floats, string: SoundingString) -> FloatArray:
    """Return D = (v/β)(Z/Z_g)^½ [m/s], what loudness follows; the exponent ½ is our choice."""
    return np.asarray(speed / beta * string.heaviness)


def drive_for(level_db: Floats, drive_mf: float) -> FloatArray:
    """Return the drive [m/s] that sounds some dB over a plain mezzo-forte."""
    return np.asarray(drive_mf * 10 ** (level_db / 20))


def level_db(drive_value: Floats, drive_mf: float) -> FloatArray:
    """Return the level of a drive against a plain mezzo-forte [dB]."""
    return np.asarray(20 * np.log10(drive_value / drive_mf))


def brightness_octaves(force: Floats, upper: Floats, plain_share: Floats) -> FloatArray:
    """Return 0.3 log₂ of F/F_max against its value at a plain mezzo-forte [octaves]."""
    return np.asarray(0.3 * np.log2(force / upper / plain_share))


def lane_step(furthest: Floats) -> FloatArray:
    """Return one lane as a difference of ln β, on strings whose furthest place is given as β."""
    return np.asarray(np.log(furthest / CLOSEST) / LANES)


def lane_of(beta: Floats, furthest: Floats) -> NDArray[np.int64]:
    """Return the lane of a place, 1 at the fingerboard, 6 at the bridge: equal steps of ln β."""
    share = np.log(furthest / beta) / np.log(furthest / CLOSEST)
    lanes: NDArray[np.int64] = np.clip(np.floor(share * LANES) + 1, 1, LANES).astype(np.int64)
    return lanes


PLAIN_SPEED = 0.27  # of a plain mezzo-forte [m/s]


def plain_place(instrument: Instrument, string: int) -> float:
    """Return β of a plain mezzo-forte on an open string [1]."""
    open_string = SoundingString.of(instrument, string, 0)
    wanted = PLAIN_SPEED * open_string.heaviness / instrument.drive_mf
    return min(max(wanted, CLOSEST), open_string.furthest)
