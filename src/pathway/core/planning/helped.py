"""Helps that hold: each is planned in the whole piece before anyone is told of it."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.advice.fixes import everywhere, ways
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.findings.catalogue import CATALOGUE
from pathway.core.planning.plan import Plan
from pathway.core.planning.planner import glance, replan
from pathway.core.planning.wishes import identified
from pathway.errors import PathwayError

_MOST = 3  # helps against one finding
_WEIGHT = {Severity.HIGH: 9, Severity.MEDIUM: 3, Severity.LOW: 1}


@dataclass(frozen=True, slots=True)
class Helped:
    """A plan with a help in it, and what the help does to it."""

    fix: Fix
    plan: Plan


def helps(plan: Plan, finding: Finding) -> Iterator[Helped | None]:
    """Yield what becomes of every change that is tried, None where it does not help in the whole piece.

    What helps at the first place of a figure is tried at all its places, and taken there if it helps there. A trial
    takes some hundredths of a second: between two of them a caller can do other things, or stop.
    """
    told: set[tuple[str, str, str]] = set()  # of each way only the gentlest that helps
    for fix in ways(plan, finding):
        kind = fix.way, fix.facts.get("type", ""), fix.facts.get("string", "")
        helped = None if kind in told else _tried(plan, finding, fix, finding.place)
        yield None
        if helped is None:
            continue
        wide = everywhere(plan, finding, fix)
        yield (_tried(plan, finding, wide, finding.notes) if wide else None) or helped
        told.add(kind)
        if len(told) == _MOST:
            return


def fixes_for(plan: Plan, finding: Finding) -> tuple[Fix, ...]:
    """Return up to three changes that remove or lower a finding in the whole piece, the likeliest first."""
    return tuple(helped.fix for helped in helps(plan, finding) if helped)


def _tried(plan: Plan, finding: Finding, fix: Fix, notes: Sequence[str]) -> Helped | None:
    """Return what a fix makes of the whole piece, and says; None if it does not help, or brings more than it takes.

    A tempo changes the whole piece: it is planned only if it helps at a glance.
    """
    try:
        if fix.tempo_bpm and _as_bad(finding, _left(glance(plan, fix.tempo_bpm, notes), finding, notes)):
            return None
        whole = with_fix(plan, fix)
    except PathwayError:
        return None
    left = _left(whole, finding, notes)
    if _as_bad(finding, left):
        return None
    before, after = _codes(plan), _codes(whole)
    if after.total() > before.total():
        return None
    fresh = sorted(code for code in after if after[code] > before[code] and code is not finding.code)
    return Helped(replace(fix, lowers=bool(left), brings=tuple(fresh)), whole)


def _left(plan: Plan, finding: Finding, notes: Sequence[str]) -> list[Finding]:
    """Return what another plan says of the same trouble at the same place."""
    return [f for f in plan.findings if f.code is finding.code and _speaks_of(f, notes, finding.code)]


def _as_bad(finding: Finding, left: Sequence[Finding]) -> bool:
    return any(_WEIGHT[f.severity] >= _WEIGHT[finding.severity] for f in left)


def _speaks_of(finding: Finding, notes: Sequence[str], code: Code) -> bool:
    """Whether a finding speaks of a place: of one of its notes, or of the way between the two it names."""
    if not CATALOGUE[code].between:
        return not {*notes}.isdisjoint(finding.notes)
    ways_ = {*pairwise(notes)}
    return any(way in ways_ for place in finding.places for way in pairwise(place))


def weigh(plan: Plan) -> int:
    """Return how much the findings of a plan weigh together; those that concern a whole piece are left out."""
    return _codes(plan).total()


def _codes(plan: Plan) -> Counter[Code]:
    """Weigh the findings of a plan by code; what concerns a whole piece is left out."""
    weights: Counter[Code] = Counter()
    for finding in plan.findings:
        if not CATALOGUE[finding.code].whole_piece:
            weights[finding.code] += _WEIGHT[finding.severity]
    return weights


def with_fix(plan: Plan, fix: Fix) -> Plan:
    """Return the plan with a fix taken.

    Raises:
        PlanError, OutOfRange: what was tried on some strokes cannot be in the whole.
    """
    locks = {note: lock for note, lock in plan.locks.items() if note not in fix.frees}
    locks |= {lock.note: lock for lock in fix.locks}
    settings = plan.draft.settings
    passages = identified(settings.passages) if fix.passage else settings.passages
    if fix.passage:
        passages = (*(passage for passage in passages if passage.id != fix.passage.id), fix.passage)
    settings = replace(
        settings,
        passages=passages,
        tempo_bpm=fix.tempo_bpm or settings.tempo_bpm,
        tuning=fix.tuning or settings.tuning,
    )
    return replan(plan, locks.values(), settings)
