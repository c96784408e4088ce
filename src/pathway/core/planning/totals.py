"""The plan summed up: hair, lowest tempo, balance of directions and strings."""

from collections import defaultdict
from collections.abc import Sequence

import numpy as np

from pathway.core.physics.string import FloatArray
from pathway.core.planning.draft import Draft
from pathway.core.planning.plan import NotePlan, StrokePlan, Totals


def total_up(draft: Draft, strokes: Sequence[StrokePlan], notes: Sequence[NotePlan]) -> Totals:
    """Return the sums of a plan."""
    hair: dict[str, float] = defaultdict(float)
    net: dict[str, float] = defaultdict(float)
    columns = []
    for note in notes:
        way = note.end - note.start
        hair[note.measure] += abs(way)
        net[note.measure] += way
        columns.append((note.level_db - note.target_db, note.sounding, way, note.lead.string))
    off, weights, ways, strings = np.array(columns).T
    downs = ways > 0
    numbers = dict.fromkeys(m.number for m in draft.part.measures)
    return Totals(
        hair=float(sum(stroke.length for stroke in strokes)),
        per_measure=tuple((number, hair[number], net[number]) for number in numbers),
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
