"""Ladders: from slow to the tempo of the piece; every rung a plan of its own, at its own tempo."""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import pairwise
from math import ceil
from statistics import median

from pathway.core.planning.finding import Severity
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan
from pathway.core.planning.planner import plan_part
from pathway.core.planning.wishes import Break, Lock
from pathway.core.practice.drill import Drill, Keeps, PlannedWork, Rung, Work
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import NotHere, OutOfRange, PlanError, ScoreError

SHARES = (0.5, 0.6, 0.7, 0.8, 0.9, 1.0)  # of the piece's tempo, our choice
TWICE = 2.0
_SLOWEST = 12.0  # quarters a minute that a rung is planned at


def tempo_rungs(
    work: Work,
    shares: Sequence[float] = SHARES,
    keeps: Keeps | None = None,
    name: str = "",
    whole: Plan | None = None,
) -> list[Rung]:
    """Return rungs at shares of a work's own tempo.

    Args:
        work: at the tempo that is aimed for.
        shares: of it, the slowest first.
        keeps: what slower rungs keep of the plan.
        name: told before the tempo.
        whole: the plan of the piece, where its speed is kept.
    """
    aim = work.quarters_per_minute
    shares = [share for share in shares if aim * share >= _SLOWEST]
    found = []
    for share in shares:
        played = work.at_tempo(aim * share)
        if keeps is Keeps.SPEED and whole is not None and share < 1:
            played = replace(played, path=None, locks=_parted(played, whole, share))
        told = "as in the piece" if share == 1 else f"{round(100 * share)} % of the tempo"
        found.append(Rung(f"{name}, {told}" if name else told, played, keeps if share < 1 else None))
    return found


def _parted(work: Work, whole: Plan, share: float) -> tuple[Lock, ...]:
    """Return the wishes with the bows parted that would need more hair than there is, at the speed they have."""
    low, high = whole.rig.usable
    locks = {lock.note: lock for lock in work.locks}
    for stroke in whole.strokes:
        notes = [whole.note[id_] for id_ in stroke.notes if id_ in work.part.event]
        count = ceil(stroke.length / share / (high - low) - 1e-6)
        begin, end = stroke.begin, stroke.finish
        edges = [begin + (end - begin) * k / count for k in range(1, count)]
        for edge in edges:
            nearest = min(notes[1:], key=lambda note: abs(note.onset - edge), default=None)
            if nearest is not None and not work.part.event[nearest.id].tied:
                locks[nearest.id] = replace(locks.get(nearest.id, Lock(nearest.id)), divide=Break.SPLIT)
    return tuple(locks.values())


def rates_to(goal: float, least: float = 0.0, steps: int = 5) -> list[float]:
    """Return notes a second from about half of a goal to it, none slower than a type can be."""
    begins = max(goal / TWICE, least)
    return [round(begins * (goal / begins) ** (i / (steps - 1)), 2) for i in range(steps)]


def planned(drill: Drill, whole: Plan | None = None) -> tuple[PlannedWork, ...]:
    """Return the rungs that can be bowed, each with its plan.

    Args:
        drill: made for its rig.
        whole: the plan of the piece that its bars come from.

    Raises:
        NotHere: none of them can.
    """
    found = tuple(one for rung in drill.rungs if (one := _planned(drill, rung, whole)) is not None)
    if not found:
        raise NotHere("On this rig no rung of this drill can be bowed", advice="Take another drill.")
    return found


def _planned(drill: Drill, rung: Rung, whole: Plan | None) -> PlannedWork | None:
    """Return a rung with its plan; None where it cannot be bowed."""
    try:
        plan = _bowed(drill, rung)
        replaced = dict(_outside_limits(plan)) if rung.work.bars is not None else {}
        if replaced:
            plan = _instead(drill, rung.work, plan, replaced)
    except (PlanError, ScoreError, OutOfRange):
        return None
    high = {finding.code.value for finding in plan.findings if finding.severity is Severity.HIGH}
    if drill.strict and high - drill.known:
        return None
    return _compared(rung, plan, whole, tuple(sorted(replaced.items())))


def _bowed(drill: Drill, rung: Rung) -> Plan:
    """Plan a rung; hair that cannot be kept is searched anew."""
    work = rung.work
    try:
        return plan_part(work.part, drill.rig, work.settings, work.locks, work.path)
    except PlanError:
        if work.path is None:
            raise
        return plan_part(work.part, drill.rig, work.settings, work.locks)


def _outside_limits(plan: Plan) -> Iterator[tuple[str, str]]:
    """Yield the stroke types that are too fast or too slow here, and their neighbours."""
    fastest: dict[str, float] = {}
    for note in plan.bowed:
        key = plan.stroke[note.stroke or ""].kind
        fastest[key] = max(fastest.get(key, 0.0), note.bows / max(note.duration, 1e-6))
    for key, rate in fastest.items():
        kind = STROKE_TYPES[key]
        if kind.most_per_second is not None and rate > kind.most_per_second and kind.faster:
            yield key, kind.faster
        elif rate < kind.least_per_second:
            yield key, slower_neighbour(key)


def slower_neighbour(key: str) -> str:
    """Return the stroke type that gives way to another one when it gets faster; its gentler neighbour without one."""
    before = [kind.key for kind in STROKE_TYPES.values() if kind.faster == key and kind.key != key]
    return before[0] if before else STROKE_TYPES[key].softer or "detache"


def _instead(drill: Drill, work: Work, plan: Plan, replaced: Mapping[str, str]) -> Plan:
    """Plan a rung with some stroke types replaced by their neighbours."""
    locks = {lock.note: lock for lock in work.locks}
    for stroke in plan.strokes:
        if stroke.kind in replaced:
            first = stroke.notes[0]
            locks[first] = replace(locks.get(first, Lock(first)), kind=replaced[stroke.kind])
    return plan_part(work.part, drill.rig, work.settings, locks.values())


def _compared(rung: Rung, plan: Plan, whole: Plan | None, replaced: tuple[tuple[str, str], ...]) -> PlannedWork:
    if whole is None or rung.work.bars is None:
        return PlannedWork(rung, plan, rate_of(plan), replaced=replaced)
    there = {note.stroke for note in whole.bowed if note.id in plan.note}
    ways = {id_: whole.stroke[id_].direction for id_ in there if id_ is not None}
    here = {stroke.id: stroke.direction for stroke in plan.strokes}
    inner = {id_ for id_ in ways if id_ in plan.note}
    holds = not replaced and all(here.get(id_) == ways[id_] for id_ in inner)
    lanes = median(note.lane for note in plan.bowed) - median(whole.note[note.id].lane for note in plan.bowed)
    return PlannedWork(rung, plan, rate_of(plan), max(len(plan.strokes) - len(there), 0), lanes, replaced, holds)


def rate_of(plan: Plan) -> float:
    """Return the notes a second of a plan: by the commonest time from one to the next."""
    notes = [note for note in plan.bowed if note.duration > 0]
    apart = [(after.onset - note.onset) / note.bows for note, after in pairwise(notes)]
    lengths = Counter(round(time, 3) for time in apart or [note.duration for note in notes])
    return 1 / max(lengths, key=lambda length: (lengths[length], -length)) if lengths else 0.0


def typical(plan: Plan) -> NotePlan:
    """Return the note that stands for the others: in the middle of those as long as most."""
    lengths = Counter(round(note.duration, 3) for note in plan.bowed)
    usual = max(lengths, key=lambda length: (lengths[length], -length))
    alike = [note for note in plan.bowed if round(note.duration, 3) == usual]
    return alike[len(alike) // 2]
