"""Helps that hold: each was planned in the whole piece before anyone is told of it."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from pathway.core.planning.advice.excerpt import Trial
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.advice.fixes import judged, trials
from pathway.core.planning.plan import Code, Finding, Plan
from pathway.core.planning.planner import plan_part, replan
from pathway.errors import PathwayError


@dataclass(frozen=True, slots=True)
class Helped:
    """A plan with a help in it, and what the help does to it."""

    fix: Fix
    plan: Plan


def helps(plan: Plan, finding: Finding) -> Iterator[Helped | None]:
    """Yield what becomes of every change that is tried, None where it does not help in the whole piece.

    An excerpt chooses before; what it promises is planned in the whole, and what that brings is told.
    """
    for fix in trials(plan, finding):
        yield None  # between two trials a caller can do other things, or stop
        if fix is None:
            continue
        try:
            whole = with_fix(plan, fix)
        except PathwayError:
            continue
        if finding.code is Code.OUTSIDE:  # tried on the whole already
            told: Fix | None = fix
        else:
            told = judged(plan, finding, fix, Trial(whole.findings, frozenset(plan.note)))
        if told is not None:
            yield Helped(told, whole)


def with_fix(plan: Plan, fix: Fix) -> Plan:
    """Return the plan with a fix taken.

    Raises:
        PlanError, OutOfRange: what was tried on some strokes cannot be in the whole.
    """
    locks = {note: lock for note, lock in plan.locks.items() if note != fix.frees}
    locks |= {lock.note: lock for lock in fix.locks}
    settings = plan.draft.settings
    if not fix.passage and not fix.tempo_bpm and not fix.tuning:
        return replan(plan, locks.values())
    passages = (*settings.passages, fix.passage) if fix.passage else settings.passages
    settings = replace(
        settings,
        passages=passages,
        tempo_bpm=fix.tempo_bpm or settings.tempo_bpm,
        tuning=fix.tuning or settings.tuning,
    )
    return plan_part(plan.part, plan.rig, settings, locks.values())
