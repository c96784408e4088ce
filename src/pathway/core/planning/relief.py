"""What can be pressed against a cause of what is heard: changes that were planned, and leave it more room."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from pathway.core.planning.advice.change import joined, strokes_of
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.advice.fixes import MAKERS
from pathway.core.planning.advice.symptoms import TABLE, Cause, Heard, margin_of
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.findings.catalogue import Maker
from pathway.core.planning.helped import weigh, with_fix
from pathway.core.planning.plan import Plan
from pathway.errors import PathwayError

_MOST = 2  # changes offered against one cause
MORE_ROOM = 0.06  # least gain of margin
_AS = {
    Heard.BREATHY: Code.AIRY, Heard.GRATING: Code.PRESSED, Heard.MUTE: Code.CHOKED, Heard.SQUEAL: Code.AIRY,
    Heard.STICKS_OUT: Code.SPEED_SPIKE, Heard.BURIED: Code.BURIED_NOTE, Heard.NOWHERE: Code.RUNS_OUT,
    Heard.ACCENT: Code.UNEVEN_ACCENTS, Heard.VOICE: Code.VOICE_LOST, Heard.BOUNCE: Code.BOUNCE_HEIGHT,
    Heard.WOOD: Code.WOOD_CONTACT, Heard.JOIN: Code.JOIN_HEARD,
}  # fmt: skip  # the finding that says of a plan what is heard of a note


@dataclass(frozen=True, slots=True)
class Relief:
    """A change, the plan with it, and how far the note is then from the cause."""

    fix: Fix
    plan: Plan
    before: float
    after: float


def reliefs(plan: Plan, note: str, cause: Cause) -> Iterator[Relief]:
    """Yield up to two changes that leave a note more room from a cause, and bring no finding; each was planned.

    Raises:
        NotFound: there is no bowed note there.
    """
    found, seen = 0, set[str]()
    before = margin_of(plan, note, cause)
    for fix in _ways(plan, note, cause):
        if fix.way in seen:
            continue
        try:
            whole = with_fix(plan, fix)
            after = margin_of(whole, note, cause)
        except PathwayError:
            continue
        if after < before + MORE_ROOM or weigh(whole) > weigh(plan):
            continue
        yield Relief(fix, whole, before, after)
        seen.add(fix.way)
        found += 1
        if found == _MOST:
            return


def _ways(plan: Plan, note: str, cause: Cause) -> Iterator[Fix]:
    """Yield what may help, made as it is against the finding of the same kind."""
    bar = plan.note[note].measure
    about = Finding(_AS[cause.heard], Severity.MEDIUM, (note,), bar)
    strokes = strokes_of(plan, about.notes)
    for name in TABLE[cause.heard][cause.key].makers:
        if name is Maker.ENDING and (arrival := plan.crossing_to.get(note)):
            about = replace(about, notes=(arrival.from_note, note))
        for fix in MAKERS[name](plan, about, strokes):
            yield replace(fix, locks=tuple(joined(plan, lock) for lock in fix.locks))
