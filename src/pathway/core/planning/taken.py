"""Bows of another plan taken over: all of them, or those of some bars, as wishes on the notes that begin them."""

from collections.abc import Collection, Iterator, Mapping
from dataclasses import replace

from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import Break, Link, Lock

_NEAR = 0.01  # ends of a bow that lie so near are the same [m]


def differing_bars(plan: Plan, other: Plan) -> list[str]:
    """Return the bars in which the bows of two plans of one part differ."""
    theirs = other.stroke
    here = [plan.note[s.id].measure for s in plan.strokes if s.id not in theirs or _differs(s, theirs[s.id])]
    there = [other.note[s.id].measure for s in other.strokes if s.id not in plan.stroke]
    order = {measure.number: n for n, measure in enumerate(plan.part.measures)}
    return sorted(dict.fromkeys([*here, *there]), key=lambda bar: order.get(bar, 0))


def _differs(one: StrokePlan, other: StrokePlan) -> bool:
    return one.direction is not other.direction or one.kind != other.kind or abs(one.end - other.end) > _NEAR


def bows_as_locks(plan: Plan) -> tuple[Lock, ...]:
    """Return the bows of a plan as wishes: direction and change of each, beside what was wished already."""
    return tuple(_locked(plan, stroke) for stroke in plan.strokes)


def with_bars_of(plan: Plan, other: Plan, bars: Collection[str]) -> dict[str, Lock]:
    """Return the wishes of a plan with the bows of another one in some bars, as that one has them."""
    locks = {note: lock for note, lock in plan.locks.items() if plan.any_note(note).measure not in bars}
    locks |= {note: lock for note, lock in other.locks.items() if other.any_note(note).measure in bars}
    starts = {stroke.id for stroke in other.strokes}
    for note, divide in _divisions(plan, starts, bars):
        locks[note] = replace(locks.get(note, Lock(note)), divide=divide)
    for stroke in other.strokes:
        if other.note[stroke.id].measure in bars:
            mine = _locked(other, stroke)
            locks[stroke.id] = replace(
                locks.get(stroke.id, Lock(stroke.id)),
                direction=mine.direction,
                link=mine.link,
                start=stroke.start,
                end=stroke.end,
                kind=stroke.kind if stroke.id in plan.stroke and plan.stroke[stroke.id].kind != stroke.kind else None,
            )
    return locks


def _divisions(plan: Plan, starts: Collection[str], bars: Collection[str]) -> Iterator[tuple[str, Break]]:
    """Yield where bows begin in the other plan only, or in this one only."""
    here: Mapping[str, StrokePlan] = plan.stroke
    for note in plan.bowed:
        if note.measure in bars and (note.id in starts) != (note.id in here):
            yield note.id, Break.SPLIT if note.id in starts else Break.JOIN


def _locked(plan: Plan, stroke: StrokePlan) -> Lock:
    link = stroke.entry if stroke.entry in {Link.HOOK, Link.RETAKE, Link.CHANGE} else None
    return replace(plan.locks.get(stroke.id, Lock(stroke.id)), direction=stroke.direction, link=link)
