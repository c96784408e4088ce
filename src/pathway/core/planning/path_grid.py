"""The hair path on a grid: dynamic programming over direction and end of every stroke.

How even a stroke is depends on the stroke before it, which the state does not hold. The first pass takes the
speed of the best way into each state; later passes take the neighbours' speeds from the path found before.

There are N places and two ways along them, so tables of states have the shape (2, N). Steps count along the way: from
the frog for down-bows (way 0), from the tip for up-bows (way 1). So every stroke goes from a lower to a higher step,
its length in steps, 1 to M, is the last axis of every larger table, and the same place in the other direction is the
same table turned by half a circle.
"""

from dataclasses import dataclass

import numpy as np
from numpy.lib.stride_tricks import as_strided

from pathway.core.physics.string import FloatArray
from pathway.core.planning.path_problem import (
    HOME,
    KEEP,
    KEEP_UNIT,
    LIMITS,
    SPEED,
    ZONE,
    ZONE_UNIT,
    IntArray,
    Link,
    Path,
    PathProblem,
    outside,
)

STEP = 0.02  # of the grid [m]
TOO_FAST = 1.25  # times the greatest speed: longer strokes are not tried


class Impasse(ValueError):
    """The locks leave no way; tells which stroke cannot follow the one before."""

    def __init__(self, stroke: int) -> None:
        super().__init__(f"no way to stroke {stroke}")
        self.stroke = stroke


class _Grid:
    """N places on the hair."""

    def __init__(self, low: float, high: float) -> None:
        self.count = max(3, round((high - low) / STEP) + 1)
        self.places = np.linspace(low, high, self.count)
        self.step = float(self.places[1] - self.places[0])
        self.most = self.count - 1
        self.log_lengths = np.log(np.arange(1, self.count) * self.step)  # (M,)
        self.here = np.arange(self.count)
        self.left = (self.most - self.here) * self.step  # hair ahead of each step, along either way [m]

    def step_of(self, way: int, place: float) -> int:
        """Return the step nearest to a place on the hair [m], counted along a way."""
        i = int(np.argmin(np.abs(self.places - place)))
        return i if way == 0 else self.count - 1 - i

    def place(self, way: IntArray, step: IntArray) -> FloatArray:
        """Return where steps lie on the hair [m]."""
        return self.places[np.where(way == 0, step, self.count - 1 - step)]


class _Starts:
    """A table of states seen by end and length: entry (way, e, l) is the state l + 1 steps before e."""

    def __init__(self, grid: _Grid, beyond: float) -> None:
        n, m = grid.count, grid.most
        self._table = np.full((2, m + n), beyond)
        row, one = self._table.strides
        self.by_length = as_strided(self._table[:, m - 1 :], (2, n, m), (row, one, -one), writeable=False)
        self._inner = self._table[:, m:]

    def set(self, states: FloatArray) -> None:
        """Take over a table of states, shape (2, N)."""
        self._inner[...] = states


class _Middles:
    """Costs by the sum of start and end step, seen by end and length; the second way counts from the tip."""

    def __init__(self, grid: _Grid) -> None:
        n, m = grid.count, grid.most
        self._table = np.zeros((2, m + 2 * n - 1))
        row, one = self._table.strides
        self.by_length = as_strided(self._table[:, m - 1 :], (2, n, m), (row, 2 * one, -one), writeable=False)
        self._inner = self._table[:, m:]

    def set(self, by_sum: FloatArray) -> None:
        """Take over costs by the sum of start and end index from the frog, shape (2N − 1,)."""
        self._inner[0] = by_sum
        self._inner[1] = by_sum[::-1]


class _Ways:
    """Costs by distance, seen by place and place."""

    def __init__(self, grid: _Grid) -> None:
        n = grid.count
        self._table = np.zeros(2 * n - 1)
        one = self._table.strides[0]
        self.by_place = as_strided(self._table[n - 1 :], (n, n), (one, -one), writeable=False)
        self._there, self._back = self._table[n - 1 :], self._table[n - 1 :: -1]

    def set(self, by_steps: FloatArray) -> None:
        """Take over costs by number of steps, shape (N,)."""
        self._there[...] = by_steps
        self._back[...] = by_steps


@dataclass(slots=True)
class _Opening:
    """The cheapest way to be at each place, ready to go in each direction."""

    cost: FloatArray  # (2, N)
    change: FloatArray  # (2, N) if the bow turns
    retake: FloatArray  # (N,) by place, from the frog
    source: IntArray  # (N,) where the stroke before ended if retaken


def grid_path(problem: PathProblem, around: Path | None = None) -> Path:
    """Return the best path on the grid.

    Args:
        problem: K strokes.
        around: a path whose speeds stand in for the neighbours' in the evenness; None in the first pass.

    Raises:
        Impasse: pinned places, shut directions and shut links contradict each other.
    """
    grid = _Grid(problem.low, problem.high)
    count, shape = len(problem), (2, grid.count)
    by_length, by_middle = _length_table(problem, grid, around), _middle_table(problem, grid)
    by_way, most = _retake_table(problem, grid), _most_steps(problem, grid)
    log_time = np.log(problem.moving)
    pinned = ~(np.isnan(problem.pinned_start) & np.isnan(problem.pinned_end))
    even = (problem.speeding > 0) | (problem.slowing > 0) if around is None else np.zeros(count, dtype=bool)
    costs, speeds, middles, ways = _Starts(grid, np.inf), _Starts(grid, 0.0), _Middles(grid), _Ways(grid)
    bests, lengths = np.zeros((count, *shape)), np.zeros((count, *shape), dtype=np.int64)
    sources = np.zeros((count, grid.count), dtype=np.int64)
    rows = np.arange(2 * grid.count)
    opening = _Opening(np.zeros(shape), np.zeros(shape), np.full(grid.count, np.inf), sources[0])
    log_speed = np.zeros(shape)
    for k in range(count):
        if k:
            ways.set(by_way[k])
            opening = _open(bests[k - 1], problem.change[k], problem.hook[k], ways.by_place, grid)
            sources[k] = opening.source
        m = most[k]
        costs.set(opening.cost)
        middles.set(by_middle[k])
        reach = costs.by_length[:, :, :m] + middles.by_length[:, :, :m]
        reach += by_length[k, :m]
        if even[k]:
            speeds.set(_speed_before(bests[k - 1], log_speed, opening))
            off = (grid.log_lengths[:m] - (log_time[k] + problem.wanted_step[k])) - speeds.by_length[:, :, :m]
            reach += np.where(off > 0, problem.speeding[k], problem.slowing[k]) * off * off
        if pinned[k]:
            reach = _pinned(problem, grid, k, reach, opening.cost)
        length = reach.argmin(axis=2)
        lengths[k] = length
        bests[k] = reach.reshape(-1, reach.shape[2])[rows, length.ravel()].reshape(shape)
        bests[k] += problem.direction_costs[k][:, None]
        if not np.isfinite(bests[k].min()):
            raise Impasse(k)
        if problem.keep[k] > 0:
            bests[k] += KEEP * (np.maximum(0.0, problem.keep[k] - grid.left) / KEEP_UNIT) ** 2
        log_speed = grid.log_lengths[length] - log_time[k]
    return _trace(problem, grid, bests, lengths, sources, by_way)


def _most_steps(problem: PathProblem, grid: _Grid) -> list[int]:
    """Return the longest a stroke may be, in steps: a little more than its greatest speed allows."""
    steps = np.ceil(TOO_FAST * problem.fastest * problem.moving / grid.step).astype(np.int64) + 1
    return [int(m) for m in np.clip(steps, 2, grid.most)]


def _open(best: FloatArray, change_cost: float, hook_cost: float, retake_costs: FloatArray, grid: _Grid) -> _Opening:
    """Return the cheapest link from any state of the stroke before to each place and direction."""
    lifted = np.minimum(best[0], best[1, ::-1]) + retake_costs
    source = lifted.argmin(axis=1)
    retake = lifted[grid.here, source]
    change = best[::-1, ::-1] + change_cost
    cost = np.minimum(change, best + hook_cost)
    np.minimum(cost[0], retake, out=cost[0])
    np.minimum(cost[1], retake[::-1], out=cost[1])
    return _Opening(cost, change, retake, source)


def _speed_before(best: FloatArray, log_speed: FloatArray, opening: _Opening) -> FloatArray:
    """Return ln of the speed with which the cheapest way came to each opened state; shape (2, N)."""
    speed = np.where(opening.cost == opening.change, log_speed[::-1, ::-1], log_speed)
    lifted = np.where(best[0] <= best[1, ::-1], log_speed[0], log_speed[1, ::-1])[opening.source]
    retaken = np.stack([opening.retake, opening.retake[::-1]]) == opening.cost
    result: FloatArray = np.where(retaken, np.stack([lifted, lifted[::-1]]), speed)
    return result


def _pinned(problem: PathProblem, grid: _Grid, k: int, reach: FloatArray, opened: FloatArray) -> FloatArray:
    """Return the table (2, N, M) with every start and end shut but the pinned ones."""
    start, end = problem.pinned_start[k], problem.pinned_end[k]
    shut = np.full(reach.shape, np.inf)
    if not (np.isnan(start) or np.isnan(end)):  # its cost is a constant; it may be shorter than a step
        way = 0 if end > start else 1
        first = min(grid.step_of(way, start), grid.most - 1)
        last = max(grid.step_of(way, end), first + 1)
        last = min(last, first + reach.shape[2])
        shut[way, last, last - first - 1] = opened[way, first]
        return shut
    for way in (0, 1):
        if np.isnan(end):
            first = grid.step_of(way, start)
            for length in range(1, min(reach.shape[2], grid.most - first) + 1):
                shut[way, first + length, length - 1] = reach[way, first + length, length - 1]
        else:
            last = grid.step_of(way, end)
            shut[way, last] = reach[way, last]
    return shut


def _length_table(problem: PathProblem, grid: _Grid, around: Path | None) -> FloatArray:
    """Cost of each length of 1 to M steps; shape (K, M)."""
    log_speed = grid.log_lengths - np.log(problem.moving)[:, None]
    low, high = np.log(problem.slowest)[:, None], np.log(problem.fastest)[:, None]
    table: FloatArray = SPEED * (log_speed - np.log(problem.preferred)[:, None]) ** 2
    table += LIMITS * outside(log_speed, low, high) ** 2
    if around is None or len(problem) < 2:
        return table
    found = np.log(around.lengths / problem.times(around))
    step = problem.wanted_step[1:, None]
    up, down = problem.speeding[1:, None], problem.slowing[1:, None]
    from_before = log_speed[1:] - found[:-1, None] - step
    to_next = found[1:, None] - log_speed[:-1] - step
    table[1:] += np.where(from_before > 0, up, down) * from_before**2
    table[:-1] += np.where(to_next > 0, up, down) * to_next**2
    return table


def _middle_table(problem: PathProblem, grid: _Grid) -> FloatArray:
    """Cost of each middle by the sum of start and end index; shape (K, 2N − 1)."""
    middles = np.linspace(problem.low, problem.high, 2 * grid.count - 1)
    beyond = outside(middles, problem.zone_low[:, None], problem.zone_high[:, None])
    home = middles - ((problem.zone_low + problem.zone_high) / 2)[:, None]
    table: FloatArray = (ZONE * beyond**2 + HOME * home**2) / ZONE_UNIT**2
    return table


def _retake_table(problem: PathProblem, grid: _Grid) -> FloatArray:
    """Cost of a retake over each number of grid steps; shape (K, N)."""
    ways = grid.places - grid.places[0]
    return np.stack([problem.retake_costs(np.full(len(problem), way)) for way in ways], axis=1)


def _trace(
    problem: PathProblem,
    grid: _Grid,
    bests: FloatArray,
    lengths: IntArray,
    sources: IntArray,
    by_way: FloatArray,
) -> Path:
    count = len(problem)
    way, end = (int(i) for i in np.unravel_index(int(np.argmin(bests[-1])), bests[-1].shape))
    came_way, came_end, came_start, links = (np.zeros(count, dtype=np.int64) for _ in range(4))
    for k in range(count - 1, -1, -1):
        start = end - int(lengths[k, way, end]) - 1
        came_way[k], came_end[k], came_start[k] = way, end, start
        if k == 0:
            break
        best, hook = bests[k - 1], problem.hook[k]
        turned = grid.count - 1 - start
        place = start if way == 0 else turned
        source = int(sources[k, place])
        before = best[0, source], best[1, grid.count - 1 - source]
        retake = min(before) + by_way[k, abs(source - place)]
        costs = {
            Link.CHANGE: best[1 - way, turned] + problem.change[k],
            Link.HOOK: best[way, start] + hook,
            Link.RETAKE: retake,
        }
        link = min(costs, key=lambda name: costs[name])
        links[k] = link
        if link is Link.CHANGE:
            way, end = 1 - way, turned
        elif link is Link.HOOK:
            end = start
        else:
            way = 0 if before[0] <= before[1] else 1
            end = source if way == 0 else grid.count - 1 - source
    starts, ends = grid.place(came_way, came_start), grid.place(came_way, came_end)
    starts = np.where(np.isnan(problem.pinned_start), starts, problem.pinned_start)
    ends = np.where(np.isnan(problem.pinned_end), ends, problem.pinned_end)
    return _rejoin(Path(1 - 2 * came_way, starts, ends, links), problem.pinned_start)


def _rejoin(path: Path, pinned_start: FloatArray) -> Path:
    """Let joined strokes meet again where a pinned place lies between grid lines."""
    starts, ends = path.starts.copy(), path.ends.copy()
    joined = np.append(False, np.isin(path.links[1:], (Link.CHANGE, Link.HOOK)))
    for k in np.flatnonzero(joined & (starts != np.append(starts[0], ends[:-1]))):
        if np.isnan(pinned_start[k]):
            starts[k] = ends[k - 1]
        else:
            ends[k - 1] = starts[k]
    return Path(path.directions, starts, ends, path.links)
