"""The helps against the findings of open pieces: tried once, then kept while the plan stays as it is."""

import threading
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from pathway.core.planning import CATALOGUE, Plan
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.finding import Finding
from pathway.core.planning.hand_ways import MOST_WAYS, HandWay, hand_ways
from pathway.core.planning.helped import Helped, helps, with_fix
from pathway.desk.kept import Kept

KEPT_FINDINGS, KEPT_PLANS = 200, 12  # findings whose helps are kept; plans with a help in them


@dataclass(frozen=True, slots=True)
class Help:
    """A finding with the changes that help."""

    finding: Finding
    fixes: tuple[Fix, ...]

    @property
    def strains(self) -> bool:
        """Whether a caution belongs to it."""
        return CATALOGUE[self.finding.code].strains


@dataclass(frozen=True, slots=True)
class Tried:
    """A plan as a fix would make it, and the fix in words."""

    plan: Plan
    text: str


HANDS = "hand"  # begins the code by which other ways of the left hand are asked for, before their two ends


class _Trying:
    """The helps against one finding, tried as far as someone has asked."""

    def __init__(self, plan: Plan, finding: Finding, keep: Callable[[Helped], object]) -> None:
        self._left, self._found, self._keep = helps(plan, finding), list[Fix](), keep
        self._done, self._lock = False, threading.Lock()

    def each(self, goes_on: Callable[[], bool]) -> Iterator[Fix]:
        """Yield the helps; between two trials the caller says whether to go on."""
        told, tried = 0, False
        while True:
            while told < len(self._found):
                told += 1
                yield self._found[told - 1]
            if self._done or (tried and not goes_on()):
                return
            self._try_another(told)
            tried = True

    def _try_another(self, told: int) -> None:
        with self._lock:
            if told < len(self._found) or self._done:  # someone else has tried meanwhile
                return
            try:
                if (helped := next(self._left)) is not None:
                    self._found.append(helped.fix)
                    self._keep(helped)
            except StopIteration:
                self._done = True


class Helps:
    """What helps, finding by finding; a plan is known by its piece and version."""

    def __init__(self) -> None:
        self._trying: Kept[_Trying] = Kept(KEPT_FINDINGS)
        self._plans: Kept[Tried] = Kept(KEPT_PLANS)
        self._hands: Kept[list[HandWay]] = Kept(KEPT_PLANS // MOST_WAYS)

    def against(
        self, state: tuple[int, ...], plan: Plan, finding: Finding, goes_on: Callable[[], bool] = lambda: True
    ) -> Iterator[Fix]:
        """Yield the helps against a finding of a plan.

        Args:
            state: piece and version of the plan.
            plan: in which the finding stands.
            finding: one of the plan's.
            goes_on: asked between two trials; as soon as it says no, no more are tried.
        """
        key = (*state, finding.code, finding.notes)

        def keep(helped: Helped) -> Tried:
            return self._plans.get_or_make((*key, helped.fix.id), lambda: Tried(helped.plan, helped.fix.text()))

        return self._trying.get_or_make(key, lambda: _Trying(plan, finding, keep)).each(goes_on)

    def taken(self, state: tuple[int, ...], plan: Plan, finding: Finding, id_: str) -> Tried | None:
        """Return a plan with a help in it; None if it is not offered."""
        fix = next((fix for fix in self.against(state, plan, finding) if fix.id == id_), None)
        if fix is None:
            return None
        return self._plans.get_or_make(
            (*state, finding.code, finding.notes, id_), lambda: Tried(with_fix(plan, fix), fix.text())
        )

    def hands(self, state: tuple[int, ...], plan: Plan, first: str, last: str) -> list[HandWay]:
        """Return other ways for the left hand through the notes of a plan from one to another."""
        return self._hands.get_or_make((*state, first, last), lambda: hand_ways(plan, first, last))

    def hand_taken(self, state: tuple[int, ...], plan: Plan, code: str, id_: str) -> Tried | None:
        """Return a plan with another way of the hand in it, by the code that names its ends; None if there is none."""
        _, first, last = code.split(":")
        way = next((way for way in self.hands(state, plan, first, last) if way.fix.id == id_), None)
        return Tried(way.plan, way.fix.text()) if way else None

    def forget(self) -> None:
        """Let go of all helps."""
        self._trying.clear()
        self._hands.clear()
        self._plans.clear()
