"""The bow and the hand that holds it. SI units."""

from dataclasses import dataclass
from enum import IntEnum


class Direction(IntEnum):
    """Travel of the bow; the value is the sign of the movement along the hair, frog = 0."""

    DOWN = 1
    UP = -1

    @property
    def word(self) -> str:
        """Return the name used in documents."""
        return self.name.lower()

    @property
    def other(self) -> "Direction":
        """Return the opposite direction."""
        return Direction(-self)


@dataclass(frozen=True, slots=True)
class Bow:
    """A bow as weighed and measured."""

    name: str
    mass: float  # m [kg]
    hair: float  # L, from the frog's ferrule to the tip [m]
    stick: float  # ℓ_b [m]
    centre: float  # x_c, centre of mass ahead of the ferrule [m]
    pivot: float  # a, where the hold turns, behind the ferrule [m]
    tension: float  # T_h, of the hair [N]
    ribbon: float  # width of the hair [m]
    clearance: float  # stick above the hair [m]


@dataclass(frozen=True, slots=True)
class Hold:
    """A hold of the bow: the levers of the index and the little finger about the pivot."""

    name: str
    index_lever: float  # [m]

    @property
    def little_lever(self) -> float:
        """Return the little finger's lever [m]; 1.6 times the index finger's (our estimate)."""
        return 1.6 * self.index_lever
