"""The plan summed up: hair, lowest tempo, balance of directions and strings."""

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.planning.columns import NoteColumns
from pathway.core.planning.draft import Draft
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.plan import Totals


def total_up(draft: Draft, problem: PathProblem, path: Path, columns: NoteColumns) -> Totals:
    """Return the sums of a plan."""
    off, weights, strings, downs = columns.off, columns.sounding, columns.string, columns.grows
    numbers = draft.bar_numbers
    hair = np.bincount(draft.bar_of, columns.hair, len(numbers)).tolist()
    net = np.bincount(draft.bar_of, columns.way, len(numbers)).tolist()
    return Totals(
        hair=float(path.lengths @ problem.bows),
        per_measure=tuple(zip(numbers, hair, net, strict=True)),
        lowest_tempo_bpm=float(np.add.reduceat(draft.lowest_tempi, draft.heads[:-1]).max()),
        down_minus_up_db=_mean(off, weights * downs) - _mean(off, weights * ~downs),
        by_string_db={int(s): _mean(off, weights * (strings == s)) for s in np.unique(strings)},
        spread_db=float(np.sqrt(np.average((off - _mean(off, weights)) ** 2, weights=weights))),
    )


def _mean(values: FloatArray, weights: FloatArray) -> float:
    total = float(weights.sum())
    return float(values @ weights) / total if total else 0.0
