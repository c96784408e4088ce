"""The plan summed up: hair, lowest tempo, balance of directions and strings."""

from collections import defaultdict
from collections.abc import Sequence

import numpy as np

from pathway.core.physics.string import FloatArray
from pathway.core.planning.draft import Draft
from pathway.core.planning.path_problem import PathProblem
from pathway.core.planning.plan import NotePlan, StrokePlan, Totals

TURNING_ROOM = 0.02  # hair kept for the turn of a stroke that takes all of it [m]


def total_up(draft: Draft, problem: PathProblem, strokes: Sequence[StrokePlan], notes: Sequence[NotePlan]) -> Totals:
    """Return the sums of a plan."""
    direction = {id_: stroke.direction for stroke in strokes for id_ in stroke.notes}
    hair: dict[str, float] = defaultdict(float)
    net: dict[str, float] = defaultdict(float)
    for note in notes:
        hair[note.measure] += note.length
        net[note.measure] += note.end - note.start
    off = np.array([note.level_db - note.target_db for note in notes])
    weights = np.array([note.sounding for note in notes])
    downs = np.array([direction[note.id] > 0 for note in notes])
    strings = np.array([note.lead.string for note in notes])
    low, high = draft.rig.usable
    floor = problem.moving * problem.slowest / 2 / (high - low - TURNING_ROOM)
    numbers = dict.fromkeys(m.number for m in draft.part.measures)
    return Totals(
        hair=float(sum(stroke.length for stroke in strokes)),
        per_measure=tuple((number, hair[number], net[number]) for number in numbers),
        lowest_tempo_bpm=draft.tempo_bpm * float(floor.max()),
        down_minus_up_db=_mean(off, weights * downs) - _mean(off, weights * ~downs),
        by_string_db={int(s): _mean(off, weights * (strings == s)) for s in np.unique(strings)},
        spread_db=float(np.sqrt(np.average((off - _mean(off, weights)) ** 2, weights=weights))),
    )


def _mean(values: FloatArray, weights: FloatArray) -> float:
    total = float(weights.sum())
    return float(values @ weights) / total if total else 0.0
