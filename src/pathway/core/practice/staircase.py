"""Up and down the ladder by what the tries were like. The numbers are our choice."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum

WINDOW = 3  # tries that are looked at
DOWN_AT = 2  # of them not yet
STUCK_AT = 2  # falls from one rung
BIG_STEP = 2  # rungs, when the first try was clean


class Verdict(StrEnum):
    """What a try was like, by the player or by the microphone."""

    CLEAN = "clean"
    NEARLY = "nearly"
    NOT_YET = "not yet"


@dataclass(frozen=True, slots=True)
class Climb:
    """Where a player stands on a ladder."""

    rung: int = 0
    tries: tuple[Verdict, ...] = ()  # on this rung, since it was reached
    falls: Mapping[int, int] = field(default_factory=dict)  # from each rung
    passed: bool = False  # the last rung
    stuck: bool = False  # it is no more pushed

    @property
    def last(self) -> tuple[Verdict, ...]:
        """Return the tries that are looked at."""
        return self.tries[-WINDOW:]


def after(climb: Climb, verdict: Verdict, top: int) -> Climb:
    """Return where a try leads.

    Args:
        climb: before it.
        verdict: of the try.
        top: the last rung.
    """
    tries = (*climb.tries, verdict)
    last = tries[-WINDOW:]
    rung = min(climb.rung, top)
    if len(last) == WINDOW and all(one is Verdict.CLEAN for one in last):
        if rung == top:
            return replace(climb, rung=rung, tries=tries, passed=True, stuck=False)
        step = BIG_STEP if tries[0] is Verdict.CLEAN and len(tries) == WINDOW else 1
        return replace(climb, rung=min(rung + step, top), tries=(), stuck=False)
    if sum(one is Verdict.NOT_YET for one in last) >= DOWN_AT:
        falls = {**climb.falls, rung: climb.falls.get(rung, 0) + 1}
        return replace(climb, rung=max(rung - 1, 0), tries=(), falls=falls, stuck=falls[rung] >= STUCK_AT)
    return replace(climb, rung=rung, tries=tries)
