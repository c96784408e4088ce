"""The two axes of every picture of the force window: force upwards, place on the string towards the bridge."""

import math
from dataclasses import dataclass

from pathway.core.physics.string import CLOSEST


@dataclass(frozen=True, slots=True)
class ForceAxis:
    """Force on a logarithmic scale, from the bottom up; what lies beyond its ends is shown at them."""

    least: float  # [N]
    most: float
    top: float  # [px]
    bottom: float

    def y(self, force: float) -> float:
        """Return where a force [N] lies."""
        share = math.log(min(max(force, self.least), self.most) / self.least) / math.log(self.most / self.least)
        return self.bottom - share * (self.bottom - self.top)


@dataclass(frozen=True, slots=True)
class PlaceAxis:
    """Place on the string as a share of its length, on a logarithmic scale: furthest from the bridge at the left."""

    furthest: float  # [1]
    left: float  # [px]
    right: float

    def x(self, beta: float) -> float:
        """Return where a place lies."""
        share = math.log(self.furthest / beta) / math.log(self.furthest / CLOSEST)
        return self.left + share * (self.right - self.left)

    def places(self, steps: int) -> list[float]:
        """Return places so that their points lie evenly along the axis."""
        return [self.furthest * (CLOSEST / self.furthest) ** (i / steps) for i in range(steps + 1)]
