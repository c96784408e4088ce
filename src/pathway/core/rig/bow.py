"""The bow and the hand that holds it. SI units."""

from dataclasses import dataclass
from enum import IntEnum
from typing import Annotated, Literal, TypeAlias

from pathway.core.says import CM, G_M2, GRAMS, MM, N, Says

TIGHTER, WIDER = 0.12, 0.0008  # what a turn of the screw adds: to the tension [1], and to the clearance [m]; estimates
ROD_SHARE = 0.9  # of a uniform rod's inertia: a stick is heavier near the hand [1]
HoldName: TypeAlias = Literal["shallow", "deep", "early", "underhand"]
LEVERS: dict[HoldName, float] = {  # of the index finger about the pivot [m]
    "shallow": 0.030, "deep": 0.038, "early": 0.040, "underhand": 0.050,
}  # fmt: skip

EARLY_HOLDS = {"early", "underhand"}  # of bows that rebound by themselves


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

    name: Annotated[str, Says(within=(1, 80))]
    mass: Annotated[float, Says(GRAMS, (0.020, 0.250))]  # m [kg]
    hair: Annotated[float, Says(CM, (0.20, 0.90))]  # L, from the frog's ferrule to the tip [m]
    stick: Annotated[float, Says(CM, (0.20, 1.00))]  # ℓ_b [m]
    centre: Annotated[float, Says(CM, (0.03, 0.50))]  # x_c, centre of mass ahead of the ferrule [m]
    pivot: Annotated[float, Says(CM, (0.0, 0.10))]  # a, where the hold turns, behind the ferrule [m]
    tension: Annotated[float, Says(N, (10, 150))]  # T_h, of the hair as it is usually tightened [N]
    ribbon: Annotated[float, Says(MM, (0.002, 0.030))]  # width of the hair [m]
    clearance: Annotated[float, Says(MM, (0.002, 0.040))]  # stick above the hair, likewise [m]
    turns: Annotated[float, Says(within=(-3, 3), note="of the screw, tighter than usual")] = 0.0  # negative: looser
    measured_inertia: Annotated[  # [kg m²]
        float | None,
        Says(
            G_M2, (0.0002, 0.060), key="inertia_g_m2",
            note="about the hold's pivot, where it was measured; else estimated",
        ),
    ] = None  # fmt: skip

    @property
    def tightness(self) -> float:
        """Return the tension of the hair as the screw stands [N]."""
        return self.tension * (1 + TIGHTER * self.turns)

    @property
    def headroom(self) -> float:
        """Return how far the stick is above the hair as the screw stands [m]."""
        return self.clearance + WIDER * self.turns

    @property
    def inertia(self) -> float:
        """Return the moment of inertia about the hold's pivot [kg m²]: nine tenths of a rod's, our estimate."""
        if self.measured_inertia is not None:
            return self.measured_inertia
        return self.mass * (ROD_SHARE * self.stick**2 / 12 + (self.centre + self.pivot) ** 2)


@dataclass(frozen=True, slots=True)
class Hold:
    """A hold of the bow: the levers of the index and the little finger about the pivot."""

    name: Annotated[HoldName, Says(key="hold")]
    index_lever: Annotated[float, Says(CM, (0.01, 0.15))]  # [m]

    @classmethod
    def of(cls, name: HoldName, longer: float = 0.0) -> "Hold":
        """Return a hold by its traditional name; larger bows lengthen its lever by some metres."""
        return cls(name, LEVERS[name] + longer)

    @property
    def underhand(self) -> bool:
        """Whether the palm looks up, and the strokes are called pull and push."""
        return self.name == "underhand"

    @property
    def little_lever(self) -> float:
        """Return the little finger's lever [m]; 1.6 times the index finger's (our estimate)."""
        return 1.6 * self.index_lever
