"""The plan summed up: hair, lowest tempo, balance of directions and strings."""

from collections.abc import Sequence

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.planning.columns import NoteColumns
from pathway.core.planning.draft import Draft
from pathway.core.planning.plan import StrokePlan, Totals


def total_up(draft: Draft, strokes: Sequence[StrokePlan], columns: NoteColumns) -> Totals:
    """Return the sums of a plan."""
    off, weights, strings, downs = columns.off, columns.sounding, columns.string, columns.grows
    numbers = draft.bar_numbers
    hair = np.bincount(draft.bar_of, columns.hair, len(numbers)).tolist()
    net = np.bincount(draft.bar_of, columns.way, len(numbers)).tolist()
    return Totals(
        hair=float(sum(stroke.length * stroke.bows for stroke in strokes)),
        per_measure=tuple(zip(numbers, hair, net, strict=True)),
        lowest_tempo_bpm=_lowest_tempo(strokes),
        down_minus_up_db=_mean(off, weights * downs) - _mean(off, weights * ~downs),
        by_string_db={int(s): _mean(off, weights * (strings == s)) for s in np.unique(strings)},
        spread_db=float(np.sqrt(np.average((off - _mean(off, weights)) ** 2, weights=weights))),
    )


def _lowest_tempo(strokes: Sequence[StrokePlan]) -> float:
    """Return where the longest stroke as written just fits; pieces of a divided one count together."""
    lowest = together = 0.0
    for stroke in strokes:
        together = stroke.lowest_tempo + (together if stroke.proposed else 0.0)
        lowest = max(lowest, together)
    return lowest


def _mean(values: FloatArray, weights: FloatArray) -> float:
    total = float(weights.sum())
    return float(values @ weights) / total if total else 0.0
