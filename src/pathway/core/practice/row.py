"""What is known of a family of drills; its words are in the guide."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from pathway.core.planning.plan import Plan
from pathway.core.practice.drill import Aim, Quantity, Rung, Stage, Strain, Varies
from pathway.core.practice.ground import Ground

S = Stage
TONE_STAGES = (S.OPEN, S.PITCH)


@dataclass(frozen=True, slots=True)
class Passes:
    """By what a rung is passed: a number with its unit, our choice, or one that the plan says."""

    quantity: Quantity
    limit: float | Callable[[Plan], float] = 0.0
    unit: str = ""

    def at(self, plan: Plan) -> float:
        """Return the limit on a planned rung."""
        return self.limit(plan) if callable(self.limit) else self.limit


OWN_MEASURE = Passes(Quantity.OWN)
LEVEL = Passes(Quantity.LEVEL, 1.5, "dB")
EVENNESS = Passes(Quantity.EVENNESS, 8.0, "%")
STILL_LEVEL, STILL_LANE, STILL_SPEED = (Quantity.LEVEL, 1.5), (Quantity.LANE, 0.5), (Quantity.SPEED, 0.10)
TWO_WAYS = ("down", "up")


@dataclass(frozen=True, slots=True)
class FamilyRow:
    """One family."""

    varies: Varies
    stages: tuple[Stage, ...]
    make: Callable[[Ground], Sequence[Rung]]
    members: tuple[str, ...] = ("",)
    load: Strain = Strain.NORMAL
    aim: Aim = Aim.HAIR
    still: tuple[tuple[Quantity, float], ...] = (STILL_LANE, STILL_LEVEL)
    passes: Passes = OWN_MEASURE
    strict: bool = True  # a rung with a high finding is not offered
    minutes: float = 4.0  # that one visit takes, our choice


def begins(ground: Ground, members: Sequence[str] = TWO_WAYS) -> bool:
    """Whether the first of a pair is asked for, such as a down-bow."""
    return ground.one_of(members) == members[0]
