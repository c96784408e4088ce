"""How lengths, weights and names are told to one player. What comes in is SI."""

from dataclasses import dataclass, replace
from enum import StrEnum

from pathway.core.physics.lever import GRAVITY
from pathway.core.technique.stroke_types import STROKE_TYPES

INCH = 0.0254  # [m]
GRAMS_PER_NEWTON = 1000 / GRAVITY
_NAMED = "martele"  # the stroke whose name is a player's own


class Lengths(StrEnum):
    """In what lengths are told."""

    CM = "cm"
    INCH = "inch"


class Weights(StrEnum):
    """In what the bow's weight is told."""

    GRAMS = "g"
    NEWTON = "N"


@dataclass(frozen=True, slots=True)
class Amount:
    """A number and its unit, as they are told."""

    number: str
    unit: str

    def __str__(self) -> str:
        return f"{self.number} {self.unit}"


@dataclass(frozen=True, slots=True)
class Speech:
    """A player's units, and the name of the stroke with a hard start."""

    lengths: Lengths = Lengths.CM
    weights: Weights = Weights.GRAMS
    sharp_name: str = STROKE_TYPES[_NAMED].name

    def length(self, metres: float, digits: int = 0) -> Amount:
        """Return a length [m], in centimetres with so many digits or in inches with one."""
        if self.lengths is Lengths.INCH:
            return Amount(f"{metres / INCH:.1f}", "in")
        return Amount(f"{100 * metres:.{digits}f}", "cm")

    @property
    def names_lengths(self) -> str:
        """Return the unit of lengths in full, for a screen reader."""
        return "inches" if self.lengths is Lengths.INCH else "centimetres"

    def unit(self, metric: str) -> str:
        """Return the player's unit in place of cm or cm/s; others are the same for all."""
        return metric.replace("cm", "in") if self.lengths is Lengths.INCH else metric

    def shown(self, value: float, metric: str) -> float:
        """Return a number in cm or cm/s as the player is shown it."""
        return value * 0.01 / INCH if self.unit(metric) != metric else value

    def meant(self, value: float, metric: str) -> float:
        """Return a number that the player has written, in cm or cm/s."""
        return value * INCH / 0.01 if self.unit(metric) != metric else value

    def speed(self, metres_a_second: float) -> Amount:
        """Return a speed of the bow [m/s]."""
        told = self.length(metres_a_second)
        return Amount(told.number, f"{told.unit}/s")

    def weight(self, newtons: float, digits: int = 0) -> Amount:
        """Return a force of the bow [N], in grams with so many digits or in newtons with two."""
        if self.weights is Weights.NEWTON:
            return Amount(f"{newtons:.2f}", "N")
        return Amount(f"{newtons * GRAMS_PER_NEWTON:.{digits}f}", "g")

    def other_weight(self, newtons: float) -> Amount:
        """Return a force of the bow [N] in the unit that is not the player's, to stand beside it."""
        other = Weights.GRAMS if self.weights is Weights.NEWTON else Weights.NEWTON
        return replace(self, weights=other).weight(newtons)

    def manner(self, key: str) -> str:
        """Return the name of a stroke type by its key."""
        kind = STROKE_TYPES[key]
        return kind.name.replace(STROKE_TYPES[_NAMED].name, self.sharp_name)


PLAIN = Speech()
