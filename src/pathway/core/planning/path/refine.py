"""From the grid to true places: damped Gauss–Newton on the logarithms of the speeds.

Joined strokes share the place where they meet; after a retake a stroke has a start of its own. So every residual
touches at most four neighbouring unknowns and the normal equations have three bands below the diagonal.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.planning.path.banded import solve_banded
from pathway.core.planning.path.problem import LEAST_LENGTH, Path, PathProblem, outside
from pathway.core.planning.path.weights import (
    HOME,
    KEEP,
    KEEP_UNIT,
    LIMITS,
    RETAKE_PER_METRE,
    SPEED,
    START,
    ZONE,
    ZONE_UNIT,
)
from pathway.core.planning.wishes import Link

BANDS = 3
ROUNDS, HALVINGS = 30, 6
ENOUGH, ROUGH = 1e-5, 0.1  # relative gain at which the search stops, and a first look
TOUCH = 1e-9  # [m]
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


class _Pattern:
    """Where residuals of one kind, with unknowns ``columns``, each of shape (K,), add to the banded equations."""

    def __init__(self, columns: list[IntArray], count: int) -> None:
        self.count = count
        self.columns = np.concatenate(columns)
        pairs = [(i, j) for i in range(len(columns)) for j in range(len(columns))]
        self.one = np.array([i for i, _ in pairs])
        self.other = np.array([j for _, j in pairs])
        place = np.stack([(columns[i] - columns[j]) * count + columns[j] for i, j in pairs])
        self.below = np.stack([columns[i] >= columns[j] for i, j in pairs])
        self.place = np.where(self.below, place, 0).ravel()

    def added(self, residuals: FloatArray, factors: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return what R residuals of each stroke add to the gradient and to the bands, one band after the other.

        Args:
            residuals: shape (R, K).
            factors: their derivatives by the unknowns, shape (R, unknowns, K).
        """
        weights = (factors * residuals[:, None]).sum(axis=0)
        products = np.where(self.below, (factors[:, self.one] * factors[:, self.other]).sum(axis=0), 0.0)
        slope = np.bincount(self.columns, weights.ravel(), self.count).astype(np.float64)
        return slope, np.bincount(self.place, products.ravel(), (BANDS + 1) * self.count).astype(np.float64)


class _Patterns:
    """The three patterns of a path's residuals: of a stroke alone, of two neighbours, of a retake's way."""

    def __init__(self, unknowns: _Unknowns, lifted: IntArray) -> None:
        start, end = unknowns.start, unknowns.end
        self.lifted = lifted
        self.alone = _Pattern([start, end], unknowns.count)
        self.pair = _Pattern([start[:-1], end[:-1], start[1:], end[1:]], unknowns.count)
        self.way = _Pattern([end[lifted - 1], start[lifted]], unknowns.count)


def refine(problem: PathProblem, path: Path, enough: float = ENOUGH) -> Path:
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
    patterns = _Patterns(unknowns, np.flatnonzero(path.links == Link.RETAKE))
    for _ in range(ROUNDS):
        equations = _equations(problem, path, unknowns, patterns)
        step = _solved(*equations, unknowns.fixed)
        stuck_low = (places <= problem.low) & (step < 0)
        stuck_high = (places >= problem.high) & (step > 0)
        if (stuck_low | stuck_high).any():
            step = _solved(*equations, unknowns.fixed | stuck_low | stuck_high)
        found = _downhill(problem, path, cost, unknowns, places, (_keep_lengths(step, path, unknowns), step))
        if found is None:
            break
        gain = cost - found[2]
        path, places, cost = found
        if gain < enough * cost:
            break
    return path


def _downhill(
    problem: PathProblem, path: Path, cost: float, unknowns: _Unknowns, places: FloatArray, steps: Sequence[FloatArray]
) -> tuple[Path, FloatArray, float] | None:
    """Return the first path that costs less along some steps, each halved till it does, with its places and cost."""
    for step in steps:
        for halved in range(HALVINGS):
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


def _equations(
    problem: PathProblem, path: Path, unknowns: _Unknowns, patterns: _Patterns
) -> tuple[FloatArray, FloatArray]:
    """Return gradient and bands of the normal equations at a path."""
    lengths = np.maximum(path.lengths, LEAST_LENGTH)
    log_speed = np.log(lengths * problem.bows / problem.times(path))
    to_end = path.directions / lengths  # ∂ ln v/∂ end; by the start it is the opposite

    off = log_speed - problem.log_preferred
    over = outside(log_speed, *problem.log_limits)
    beyond = problem.beyond_zone((path.starts + path.ends) / 2)
    limit = np.where(over != 0, np.sqrt(LIMITS), 0.0)
    short = problem.short_of_keep(path)
    keep = np.where(short > 0, np.sqrt(KEEP) / KEEP_UNIT, 0.0)
    zone = np.where(beyond != 0, np.sqrt(ZONE) / ZONE_UNIT, 0.0)
    home = np.full(len(lengths), np.sqrt(HOME) / ZONE_UNIT)
    off_start = problem.beyond_start(path)
    start = np.where(off_start != 0, np.sqrt(START) / ZONE_UNIT, 0.0)
    none = np.zeros(len(lengths))
    residuals = [off, limit * over, zone * beyond, home * problem.from_home(path), start * off_start, keep * short]
    by_start = [-SPEED * to_end, -limit * to_end, zone / 2, home / 2, start, none]
    by_end = [SPEED * to_end, limit * to_end, zone / 2, home / 2, none, keep * path.directions]
    slope, bands = patterns.alone.added(np.array(residuals), np.array([by_start, by_end]).swapaxes(0, 1))

    even = log_speed[1:] - log_speed[:-1] - problem.wanted_step[1:]
    weight = np.sqrt(np.where(even > 0, problem.speeding[1:], problem.slowing[1:]))
    here, before = weight * to_end[1:], weight * to_end[:-1]
    more = patterns.pair.added((weight * even)[None], np.array([[before, -before, -here, here]]))
    slope, bands = slope + more[0], bands + more[1]

    lifted = patterns.lifted
    if lifted.size:
        way = path.starts[lifted] - problem.left_at(path)[lifted - 1]
        pull = np.sqrt(RETAKE_PER_METRE / (2 * np.maximum(np.abs(way), 0.01)))
        more = patterns.way.added((pull * way)[None], np.array([[-pull, pull]]))
        slope, bands = slope + more[0], bands + more[1]
    return slope, bands.reshape(BANDS + 1, unknowns.count)


def _solved(slope: FloatArray, bands: FloatArray, fixed: BoolArray) -> FloatArray:
    """Return the step that solves the normal equations; fixed unknowns stay."""
    count = len(slope)
    bands = bands.copy()
    for offset in range(1, BANDS + 1):
        touched = fixed[: count - offset] | fixed[offset:]
        bands[offset, : count - offset][touched] = 0.0
    bands[0] = np.where(fixed, 1.0, bands[0] * (1 + 1e-6) + 1e-9)
    return -solve_banded(bands, np.where(fixed, 0.0, slope))
