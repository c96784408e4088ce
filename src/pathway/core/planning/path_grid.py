"""The hair path on a grid: dynamic programming over direction and end of every stroke.

How even a stroke is depends on the stroke before it, which the state does not hold. The first pass takes the
speed of the best way into each state; later passes take the neighbours' speeds from the path found before.

There are N places and two ways along them; a state is numbered way · N + step. Steps count along the way: from the
frog for down-bows (way 0), from the tip for up-bows (way 1), so that every stroke goes from a lower to a higher step
and its length in steps, 1 to M, is the last axis of every table.
"""

from dataclasses import dataclass

import numpy as np

from pathway.core.physics.string import FloatArray
from pathway.core.planning.path_problem import (
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
TOO_FAST = 1.5  # times the greatest speed: longer strokes are not tried
_CHANGE, _HOOK, _RETAKE = int(Link.CHANGE), int(Link.HOOK), int(Link.RETAKE)


class _Grid:
    """N places on the hair and the tables that depend on them alone."""

    def __init__(self, low: float, high: float) -> None:
        self.count = n = max(3, round((high - low) / STEP) + 1)
        self.places = np.linspace(low, high, n)
        self.step = float(self.places[1] - self.places[0])
        i, lengths = np.arange(n), np.arange(1, n)
        self.log_lengths = np.log(lengths * self.step)  # (N − 1,)
        self.states = np.arange(2 * n)
        self.way, self.at = np.divmod(self.states, n)
        self.opposite = (1 - self.way) * n + (n - 1 - self.at)  # the same place in the other direction
        self.steps_between = np.abs(i[:, None] - i[None, :])
        start = self.at[:, None] - lengths  # (2N, N − 1)
        self.shut = np.where(start < 0, np.inf, 0.0)
        self.start_state = np.where(start < 0, 0, self.way[:, None] * n + start)
        middle = 2 * self.at[:, None] - lengths
        self.middle = np.where(self.way[:, None] == 0, middle, 2 * (n - 1) - middle) % (2 * n - 1)

    def state(self, way: int, place: float) -> int:
        """Return the state nearest to a place on the hair [m], on one way."""
        i = int(np.argmin(np.abs(self.places - place)))
        return way * self.count + (i if way == 0 else self.count - 1 - i)

    def place(self, state: IntArray) -> FloatArray:
        """Return where states lie on the hair [m]."""
        way, at = np.divmod(state, self.count)
        return self.places[np.where(way == 0, at, self.count - 1 - at)]


@dataclass(slots=True)
class _Opening:
    """The cheapest way to be at each place, ready to go in each direction; arrays of shape (2N,)."""

    cost: FloatArray
    state_before: IntArray
    link: IntArray


def grid_path(problem: PathProblem, around: Path | None = None) -> Path:
    """Return the best path on the grid.

    Args:
        problem: K strokes.
        around: a path whose speeds stand in for the neighbours' in the evenness; None in the first pass.
    """
    grid = _Grid(problem.low, problem.high)
    by_length, by_middle = _length_table(problem, grid, around), _middle_table(problem, grid)
    by_way = _retake_table(problem, grid)
    most = _most_steps(problem, grid)
    directions = np.repeat(problem.direction_costs, grid.count, axis=1)
    log_time = np.log(problem.moving)
    wanted = log_time + problem.wanted_step
    pinned = ~(np.isnan(problem.pinned_start) & np.isnan(problem.pinned_end))
    greedy = (problem.speeding > 0) | (problem.slowing > 0) if around is None else np.zeros(len(problem), bool)
    starts, befores, links = (np.zeros((len(problem), 2 * grid.count), dtype=np.int64) for _ in range(3))
    opening = _Opening(np.zeros(2 * grid.count), grid.states, np.full(2 * grid.count, int(Link.FIRST)))
    best, log_speed = np.zeros(2 * grid.count), np.zeros(2 * grid.count)
    for k in range(len(problem)):
        if k:
            opening = _open(best, problem.hook[k], by_way[k][grid.steps_between], grid)
        m = most[k]
        reach = opening.cost[grid.start_state[:, :m]] + by_length[k, :m]
        reach += by_middle[k][grid.middle[:, :m]]
        reach += grid.shut[:, :m]
        if greedy[k]:
            before = log_speed[opening.state_before] + wanted[k]
            even = grid.log_lengths[:m] - before[grid.start_state[:, :m]]
            reach += np.where(even > 0, problem.speeding[k], problem.slowing[k]) * even * even
        if pinned[k]:
            reach = _pinned(problem, grid, k, reach, opening)
        length = reach.argmin(axis=1)
        best = reach[grid.states, length] + directions[k]
        log_speed = grid.log_lengths[length] - log_time[k]
        starts[k] = grid.start_state[grid.states, length]
        befores[k], links[k] = opening.state_before, opening.link
    return _trace(problem, grid, best, starts, befores, links)


def _most_steps(problem: PathProblem, grid: _Grid) -> IntArray:
    """The longest a stroke may be, in steps: a little more than its greatest speed allows; shape (K,)."""
    steps = np.ceil(TOO_FAST * problem.fastest * problem.moving / grid.step).astype(np.int64) + 1
    return np.clip(steps, 2, grid.count - 1)


def _open(best: FloatArray, hook_cost: float, retake_costs: FloatArray, grid: _Grid) -> _Opening:
    """Return the cheapest link from any state of the stroke before to each place and direction."""
    n = grid.count
    down, up = best[:n], best[: n - 1 : -1]  # by place
    lifted = np.minimum(down, up) + retake_costs
    source = lifted.argmin(axis=1)
    retake = lifted[grid.states[:n], source]
    source = np.where(up[source] < down[source], 2 * n - 1 - source, source)
    change, hook = best[grid.opposite], best + hook_cost
    hooked = hook < change
    cost = np.where(hooked, hook, change)
    both = np.concatenate([retake, retake[::-1]])
    retaken = both < cost
    before = np.where(hooked, grid.states, grid.opposite)
    return _Opening(
        np.where(retaken, both, cost),
        np.where(retaken, np.concatenate([source, source[::-1]]), before),
        np.where(retaken, _RETAKE, np.where(hooked, _HOOK, _CHANGE)),
    )


def _pinned(problem: PathProblem, grid: _Grid, k: int, reach: FloatArray, opening: _Opening) -> FloatArray:
    """Return the table with every start and end shut but the pinned ones."""
    start, end = problem.pinned_start[k], problem.pinned_end[k]
    shut = np.full(reach.shape, np.inf)
    if not (np.isnan(start) or np.isnan(end)):  # its cost is a constant; it may be shorter than a step
        way = 0 if end > start else 1
        first, last = grid.state(way, start), grid.state(way, end)
        last = min(max(last, first + 1), way * grid.count + grid.count - 1)
        shut[last, 0] = opening.cost[min(first, last - 1)]
        return shut
    for way in (0, 1):
        if np.isnan(end):
            there = grid.start_state[:, : reach.shape[1]] == grid.state(way, start)
        else:
            there = np.zeros(reach.shape, dtype=bool)
            there[grid.state(way, end)] = True
        shut[there] = reach[there]
    return shut


def _length_table(problem: PathProblem, grid: _Grid, around: Path | None) -> FloatArray:
    """Cost of each length of 1 to N − 1 steps; shape (K, N − 1)."""
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
    table: FloatArray = ZONE * (beyond / ZONE_UNIT) ** 2
    return table


def _retake_table(problem: PathProblem, grid: _Grid) -> FloatArray:
    """Cost of a retake over each number of grid steps; shape (K, N)."""
    ways = grid.places - grid.places[0]
    return np.stack([problem.retake_costs(np.full(len(problem), way)) for way in ways], axis=1)


def _trace(
    problem: PathProblem, grid: _Grid, best: FloatArray, starts: IntArray, befores: IntArray, links: IntArray
) -> Path:
    count = len(problem)
    state = int(np.argmin(best))
    ended, began = np.zeros(count, dtype=np.int64), np.zeros(count, dtype=np.int64)
    for k in range(count - 1, -1, -1):
        ended[k], began[k] = state, starts[k, state]
        state = int(befores[k, began[k]])
    directions = 1 - 2 * (ended // grid.count)
    link = links[np.arange(count), began]
    path_starts = np.where(np.isnan(problem.pinned_start), grid.place(began), problem.pinned_start)
    path_ends = np.where(np.isnan(problem.pinned_end), grid.place(ended), problem.pinned_end)
    return _rejoin(Path(directions, path_starts, path_ends, link), problem.pinned_start)


def _rejoin(path: Path, pinned_start: FloatArray) -> Path:
    """Let joined strokes meet again where a pinned place lies between grid lines."""
    starts, ends = path.starts.copy(), path.ends.copy()
    joined = np.append(False, np.isin(path.links[1:], (_CHANGE, _HOOK)))
    for k in np.flatnonzero(joined & (starts != np.append(starts[0], ends[:-1]))):
        if np.isnan(pinned_start[k]):
            starts[k] = ends[k - 1]
        else:
            ends[k - 1] = starts[k]
    return Path(path.directions, starts, ends, path.links)
