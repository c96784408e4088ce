"""At which tempi a plan's bows are long enough, stroke by stroke and in their chain."""

from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray
from pathway.core.planning.plan import Plan
from pathway.core.planning.strokes.fitting import STARVED, TURNING_ROOM
from pathway.core.planning.wishes import Link

SLOWEST, FASTEST, STEP = 0.3, 1.7, 0.02  # of the plan's own tempo
SAVED, EASY = 0.6, 1.2  # of the preferred speed; of the slowest: slower is not comfortable


@dataclass(frozen=True, slots=True)
class TempoRange:
    """Where a piece's bows fit; in the part's own beats a minute."""

    lowest: float  # every stroke as written fits alone
    comfortable: float  # and in their chain, and none needs to be saved
    in_context: float | None  # and with these directions, one after the other; None: at none tried
    first_to_fail: tuple[str, ...]  # strokes that fail just below


def tempo_range(plan: Plan) -> TempoRange:
    """Return the tempi at which a plan's strokes fit, tried over a grid: what fits need not fit at all faster ones."""
    problem = plan.problem
    low, high = plan.rig.usable
    room = high - low - TURNING_ROOM
    calm = np.maximum(SAVED * problem.preferred, EASY * problem.slowest)
    factors = np.arange(SLOWEST, FASTEST, STEP)
    failing = _failing(plan, factors)
    fits: BoolArray = np.logical_not(np.logical_or.reduce(failing, axis=0))
    lowest, context = plan.totals.lowest_tempo_bpm, None
    first: tuple[str, ...] = ()
    if fits.any():
        at = _lowest_run(fits)
        context = lowest
        if at > 0:
            context = max(lowest, float(factors[at]) * plan.draft.tempo_bpm)
            first = tuple(plan.strokes[k].id for k in np.flatnonzero(failing[:, at - 1]))
    alone = plan.draft.tempo_bpm * float((problem.each * calm).max()) / room
    return TempoRange(
        lowest=lowest,
        comfortable=max(alone, context or 0.0),
        in_context=context,
        first_to_fail=first,
    )


def _lowest_run(fits: BoolArray) -> int:
    """Return where the fitting tempi that reach up to the plan's own, or the first above it, begin."""
    here = round((1.0 - SLOWEST) / STEP)
    at = here + int(np.argmax(fits[here:])) if fits[here:].any() else int(np.flatnonzero(fits)[-1])
    while at > 0 and fits[at - 1]:
        at -= 1
    return at


def _failing(plan: Plan, factors: FloatArray) -> BoolArray:
    """Propagate the reachable places at every tempo; shape (K, tempi), true where none is left."""
    problem, path = plan.problem, plan.path
    low, high = plan.rig.usable
    nearest, furthest = np.full(len(factors), low), np.full(len(factors), high)
    failing = np.zeros((len(problem), len(factors)), dtype=bool)
    least = STARVED * problem.slowest * problem.each
    most = problem.fastest * problem.each
    free = np.isin(path.links, (Link.FIRST, Link.RETAKE))
    for k, way in enumerate(path.directions.tolist()):
        if free[k]:
            nearest, furthest = np.full(len(factors), low), np.full(len(factors), high)
        if problem.returns[k]:
            continue  # it ends where it began
        if way > 0:
            nearest, furthest = nearest + least[k] / factors, np.minimum(furthest + most[k] / factors, high)
        else:
            nearest, furthest = np.maximum(nearest - most[k] / factors, low), furthest - least[k] / factors
        empty = nearest > furthest
        failing[k] = empty
        nearest, furthest = np.where(empty, low, nearest), np.where(empty, high, furthest)
    return failing
