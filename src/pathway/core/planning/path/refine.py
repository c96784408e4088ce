"""From the grid to true places: damped Gauss–Newton on the logarithms of the speeds.

Joined strokes share the place where they meet; after a retake a stroke has a start of its own. So every residual
touches at most four neighbouring unknowns and the normal equations have three bands below the diagonal.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.planning.path.cost_loop import LEAST_LENGTH, downhill
from pathway.core.planning.path.problem import TOUCH, Path, PathProblem
from pathway.core.planning.wishes import Link

_ROUNDS, _HALVINGS = 30, 6
_ENOUGH, ROUGH = 1e-5, 0.1  # relative gain at which the search stops, and a first look
SHORTEN = 0.35  # most of a neighbouring stroke that one step may take


@dataclass(frozen=True)
class _Unknowns:
    """Where the start and end of every stroke stand among the unknown places."""

    start: IntArray
    end: IntArray
    fixed: BoolArray
    offset: FloatArray  # of a start from the unknown it shares: the bow rolls over strings [m]
    reach: FloatArray  # of an end from it, where a stroke returns and keeps its length [m]
    count: int

    @classmethod
    def of(cls, path: Path, problem: PathProblem) -> "_Unknowns":
        own_start = (path.links == Link.FIRST) | (path.links == Link.RETAKE)
        own_start[0] = True
        turns = ~problem.returns
        end = np.cumsum(own_start.astype(np.int64) + turns) - 1
        start = np.where(own_start, end - turns, np.append(0, end[:-1]))
        count = int(end[-1]) + 1
        fixed = np.zeros(count, dtype=bool)
        fixed[start[~np.isnan(problem.pinned_start)]] = True
        fixed[end[~np.isnan(problem.pinned_end)]] = True
        offset = np.where(own_start, 0.0, problem.shift)
        for k in np.flatnonzero(problem.returns[:-1] & ~own_start[1:]):
            offset[k + 1] += offset[k]  # the one after a stroke that returns shares its start
        reach = np.where(turns, 0.0, path.ends - path.starts + offset)
        return cls(start, end, fixed, offset, reach, count)

    def gather(self, path: Path) -> FloatArray:
        places = np.zeros(self.count)
        places[self.start] = path.starts - self.offset
        places[self.end] = path.ends - self.reach
        return places

    def spread(self, places: FloatArray, path: Path) -> Path:
        return Path(path.directions, places[self.start] + self.offset, places[self.end] + self.reach, path.links)


def refine(problem: PathProblem, path: Path, enough: float = _ENOUGH) -> Path:
    """Return the path with its places moved downhill; directions and links stay.

    Args:
        problem: K strokes.
        path: a path of K strokes whose joined strokes meet.
        enough: relative gain at which to stop.
    """
    path = _preferred_returns(problem, path)
    unknowns = _Unknowns.of(path, problem)
    places = unknowns.gather(path)
    cost = problem.total(path)
    for _ in range(_ROUNDS):
        equations = problem.cost.equations(path, unknowns.start, unknowns.end, unknowns.count)
        step = downhill(*equations, unknowns.fixed)
        stuck_low = (places <= problem.low) & (step < 0)
        stuck_high = (places >= problem.high) & (step > 0)
        if (stuck_low | stuck_high).any():
            step = downhill(*equations, unknowns.fixed | stuck_low | stuck_high)
        found = _better(problem, path, cost, unknowns, places, (_keep_lengths(step, path, unknowns), step))
        if found is None:
            break
        gain = cost - found[2]
        path, places, cost = found
        if gain < enough * cost:
            break
    return path


def _better(
    problem: PathProblem, path: Path, cost: float, unknowns: _Unknowns, places: FloatArray, steps: Sequence[FloatArray]
) -> tuple[Path, FloatArray, float] | None:
    """Return the first path that costs less along some steps, each halved till it does, with its places and cost."""
    for step in steps:
        for halved in range(_HALVINGS):
            moved = np.clip(places + step / 2**halved, problem.low, problem.high)
            trial = unknowns.spread(moved, path)
            if not (_long_enough(trial, path) and _on_hair(trial, problem)):
                continue
            trial_cost = problem.total(trial)
            if trial_cost < cost:
                return trial, moved, trial_cost
    return None


def _preferred_returns(problem: PathProblem, path: Path) -> Path:
    """Return the path whose returning strokes, the lengths of which are not moved, are as long as they like to be."""
    free = problem.returns & np.isnan(problem.pinned_end)
    if not free.any():
        return path
    ends = np.clip(path.starts + path.directions * problem.preferred * problem.each, problem.low, problem.high)
    trial = replace(path, ends=np.where(free, ends, path.ends))
    better = problem.total(trial) < problem.total(path) and _long_enough(trial, path)
    return trial if better else path


def _long_enough(trial: Path, before: Path) -> bool:
    lengths = trial.directions * (trial.ends - trial.starts)
    return bool(np.all(lengths >= np.minimum(LEAST_LENGTH, before.lengths)))


def _on_hair(trial: Path, problem: PathProblem) -> bool:
    """Whether places that are shifted from the unknown they share still lie on the hair."""
    least, most = min(trial.starts.min(), trial.ends.min()), max(trial.starts.max(), trial.ends.max())
    return bool(least >= problem.low - TOUCH and most <= problem.high + TOUCH)


def _keep_lengths(step: FloatArray, path: Path, unknowns: _Unknowns) -> FloatArray:
    most = np.full(unknowns.count, np.inf)
    changes = unknowns.start != unknowns.end
    for places in (unknowns.start[changes], unknowns.end[changes]):
        np.minimum.at(most, places, SHORTEN * path.lengths[changes])
    return np.clip(step, -most, most)
