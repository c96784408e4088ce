"""What the makers of helps have in common: a fix to be tried, its locks, the strokes it is about."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import fields, replace
from typing import TypeAlias

from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.finding import Finding
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import Break, Lock

Maker: TypeAlias = Callable[[Plan, Finding, Sequence[StrokePlan]], Iterator[Fix]]


def joined(plan: Plan, lock: Lock) -> Lock:
    """Return a lock with what the player had set there before; a note taken into another bow keeps nothing."""
    kept = plan.locks.get(lock.note)
    if kept is None or lock.divide is Break.JOIN:
        return lock
    wishes = {one.name: getattr(lock, one.name) for one in fields(Lock)}
    return replace(kept, **{name: wish for name, wish in wishes.items() if wish is not None})


def strokes_of(plan: Plan, notes: Sequence[str]) -> list[StrokePlan]:
    """Return the strokes that carry some notes, each once, in order."""
    ids = dict.fromkeys(stroke for id_ in notes if (stroke := plan.note[id_].stroke))
    return [plan.stroke[id_] for id_ in ids]


def before(plan: Plan, stroke: StrokePlan) -> StrokePlan | None:
    """Return the stroke before one; None for the first."""
    k = plan.stroke_index[stroke.id]
    return plan.strokes[k - 1] if k else None
