"""The plan summed up: hair, lowest tempo, balance of directions and strings."""

from collections.abc import Sequence

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.planning.draft import Draft
from pathway.core.planning.plan import NotePlan, StrokePlan, Totals


def total_up(draft: Draft, strokes: Sequence[StrokePlan], notes: Sequence[NotePlan]) -> Totals:
    """Return the sums of a plan."""
    off = np.array([note.level_db - note.target_db for note in notes])
    weights = np.array([note.sounding for note in notes])
    ways = np.array([note.left_at - note.start for note in notes])
    lengths = np.array([note.length * note.bows for note in notes])
    strings = np.array([note.lead.string for note in notes])
    downs = np.array([note.end > note.start for note in notes])
    numbers = draft.bar_numbers
    hair = np.bincount(draft.bar_of, lengths, len(numbers)).tolist()
    net = np.bincount(draft.bar_of, ways, len(numbers)).tolist()
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
