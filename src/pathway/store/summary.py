"""What the shelf shows of a plan without planning again."""

from collections import Counter
from itertools import islice

import numpy as np
from pydantic import BaseModel, ConfigDict, ValidationError

from pathway.core.planning import Plan

_BARS, _LINES = 12, 160  # of a stroke type that are told; about so many strokes are shown


class PlanSummary(BaseModel):
    """A plan in a few values."""

    model_config = ConfigDict(frozen=True)

    strokes: tuple[tuple[float, float, float, float], ...] = ()  # begin, finish in time; start, end on the hair; 0 to 1
    findings: dict[str, int] = {}  # of each severity
    measures: int = 0
    tempo: int = 0
    kinds: dict[str, tuple[str, ...]] = {}  # the first bars in which each stroke type is played
    locked: int = 0  # strokes


def summary_from(kept: object) -> PlanSummary:
    """Return a summary as it was kept, an empty one where it cannot be read: the next change makes it anew."""
    try:
        return PlanSummary.model_validate(kept)
    except ValidationError:
        return PlanSummary()


def summary_of(plan: Plan) -> PlanSummary:
    """Return a plan in a few values."""
    strokes, notes, hair = plan.draft.columns, plan.columns, plan.rig.bow.hair
    lasts = strokes.firsts + strokes.notes - 1
    finish = notes.onset[lasts] + notes.sounding[lasts]
    scaled = (strokes.begin / finish.max(), finish / finish.max(), plan.path.starts / hair, plan.path.ends / hair)
    return PlanSummary(
        strokes=np.stack(scaled, axis=1)[:: max(1, len(finish) // _LINES)].round(4).tolist(),
        findings=dict(Counter(finding.severity.value for finding in plan.findings)),
        measures=len(plan.part.measures),
        tempo=round(plan.draft.tempo_bpm),
        kinds=_bars_by_kind(plan),
        locked=sum(lock.direction is not None for lock in plan.locks.values()),
    )


def _bars_by_kind(plan: Plan) -> dict[str, tuple[str, ...]]:
    """Return the first bars in which each stroke type is played."""
    strokes, bars = plan.draft.columns, plan.part.measures
    kinds, firsts = np.unique(strokes.kind, return_index=True)
    found = {}
    for first, kind in sorted(zip(firsts.tolist(), kinds.tolist(), strict=True)):
        played = dict.fromkeys(strokes.measure[strokes.kind == kind].tolist())
        numbers = dict.fromkeys(bars[measure].number for measure in played)
        found[plan.draft.strokes[first].kind.key] = tuple(islice(numbers, _BARS))
    return found
