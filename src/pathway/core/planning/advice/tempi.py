"""At which tempi a plan's bows are long enough, stroke by stroke and in their chain."""

from dataclasses import dataclass
from typing import Annotated

import numpy as np

from pathway.core.arrays import BoolArray
from pathway.core.planning.path.chains import starving
from pathway.core.planning.plan import Plan
from pathway.core.planning.strokes.fitting import TURNING_ROOM
from pathway.core.says import BPM, Says

_SLOWEST, _FASTEST, _STEP = 0.3, 1.7, 0.02  # of the plan's own tempo


@dataclass(frozen=True, slots=True)
class TempoRange:
    """Where a piece's bows fit; in the part's own beats a minute."""

    lowest: Annotated[float, Says(BPM)]  # every stroke as written fits alone
    comfortable: Annotated[float, Says(BPM)]  # and in their chain, and none needs to be saved
    in_context: Annotated[float | None, Says(BPM)]  # and in these directions, one after the other; None: at none
    first_to_fail: tuple[str, ...]  # strokes that fail just below


def tempo_range(plan: Plan) -> TempoRange:
    """Return the tempi at which a plan's strokes fit, tried over a grid: what fits need not fit at all faster ones."""
    problem = plan.problem
    low, high = plan.rig.usable
    room = high - low - TURNING_ROOM
    factors = np.arange(_SLOWEST, _FASTEST, _STEP)
    failing = np.stack([starving(problem, plan.path, faster) for faster in factors.tolist()], axis=1)
    fits: BoolArray = np.logical_not(np.logical_or.reduce(failing, axis=0))
    lowest, context = plan.totals.lowest_tempo_bpm, None
    first: tuple[str, ...] = ()
    if fits.any():
        at = _lowest_run(fits)
        context = lowest
        if at > 0:
            context = max(lowest, float(factors[at]) * plan.draft.tempo_bpm)
            first = tuple(plan.strokes[k].id for k in np.flatnonzero(failing[:, at - 1]).tolist())
    alone = plan.draft.tempo_bpm * float((problem.each * problem.calm).max()) / room
    return TempoRange(
        lowest=lowest,
        comfortable=max(alone, context or 0.0),
        in_context=context,
        first_to_fail=first,
    )


def _lowest_run(fits: BoolArray) -> int:
    """Return where the fitting tempi that reach up to the plan's own, or the first above it, begin."""
    here = round((1.0 - _SLOWEST) / _STEP)
    at = here + int(np.argmax(fits[here:])) if fits[here:].any() else int(np.flatnonzero(fits)[-1])
    while at > 0 and fits[at - 1]:
        at -= 1
    return at
