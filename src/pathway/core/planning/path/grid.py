"""The hair path on a grid: dynamic programming over direction, end and length of every stroke.

How even a stroke is depends on the stroke before it, so a state is direction, end and length: on the grid the result is
exact. There are N places on the hair; a stroke is 1 to M = N − 1 steps long.
"""

import numpy as np

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.planning.path.grid_loop import cheapest
from pathway.core.planning.path.problem import Path, PathProblem, outside
from pathway.core.planning.path.weights import HOME, KEEP, KEEP_UNIT, LIMITS, SPEED, START, ZONE, ZONE_UNIT

FINE, COARSE = 0.025, 0.04  # steps of the grid, to plan and to have a look [m]
TOO_FAST = 1.25  # times the greatest speed: longer strokes are not tried
_FREE = -1  # of a place that is not pinned


class Impasse(ValueError):
    """The locks leave no way; tells which stroke cannot follow the one before."""

    def __init__(self, stroke: int) -> None:
        super().__init__(f"no way to stroke {stroke}")
        self.stroke = stroke


class _Grid:
    """N places on the hair."""

    def __init__(self, low: float, high: float, step: float) -> None:
        self.count = max(3, round((high - low) / step) + 1)
        self.places = np.linspace(low, high, self.count)
        self.step = float(self.places[1] - self.places[0])
        self.most = self.count - 1
        self.log_lengths = np.log(np.arange(1, self.count) * self.step)  # (M,)

    def nearest(self, place: float) -> int:
        """Return the index nearest to a place on the hair [m]."""
        return int(np.argmin(np.abs(self.places - place)))


def grid_path(problem: PathProblem, step: float = FINE) -> Path:
    """Return the best path of K strokes on a grid of some step [m].

    Raises:
        Impasse: pinned places, shut directions and shut links contradict each other.
    """
    grid = _Grid(problem.low, problem.high, step)
    log_speed = grid.log_lengths - np.log(problem.each)[:, None]
    by_length, by_middle = _length_table(problem, log_speed), _middle_table(problem, grid)
    most, direction = _most_steps(problem, grid), problem.direction_costs.copy()
    pins = _pins(problem, grid, by_length, by_middle, most, direction)
    found = cheapest(
        by_length,
        by_middle,
        _retake_table(problem, grid),
        _keep_table(problem, grid),
        direction,
        problem.change,
        problem.hook,
        _start_table(problem, grid),
        np.rint(problem.shift / grid.step).astype(np.int64),
        problem.speeding,
        problem.slowing,
        log_speed,
        problem.wanted_step,
        most,
        problem.returns.astype(np.int8),
        *pins,
    )
    if isinstance(found, int):
        raise Impasse(found)
    ways, starts, ends, links = found
    from_, to = (
        np.where(np.isnan(pinned), grid.places[at], pinned)
        for pinned, at in ((problem.pinned_start, starts), (problem.pinned_end, ends))
    )
    return _rejoin(Path(1 - 2 * ways, from_, to, links), problem)


def _pins(
    problem: PathProblem,
    grid: _Grid,
    by_length: FloatArray,
    by_middle: FloatArray,
    most: IntArray,
    direction: FloatArray,
) -> tuple[IntArray, IntArray]:
    """Return the indices of pinned starts and ends. A stroke pinned at both has one way, one length, and no cost."""
    starts, ends = np.full((2, len(problem)), _FREE, dtype=np.int64)
    pinned_start, pinned_end = problem.pinned_start, problem.pinned_end
    for k in np.flatnonzero(~(np.isnan(pinned_start) & np.isnan(pinned_end))):
        if not np.isnan(pinned_start[k]):
            left, at = (pinned_start, starts) if problem.returns[k - 1] else (pinned_end, ends)
            meets = k > 0 and pinned_start[k] == left[k - 1] + problem.shift[k]
            starts[k] = at[k - 1] + round(problem.shift[k] / grid.step) if meets else grid.nearest(pinned_start[k])
        if not np.isnan(pinned_end[k]):
            ends[k] = grid.nearest(pinned_end[k])
        if _FREE in (starts[k], ends[k]):
            continue
        way = 1 if pinned_end[k] > pinned_start[k] else -1
        length = max(way * int(ends[k] - starts[k]), 1)
        if not 0 <= starts[k] + way * length < grid.count:
            starts[k] -= way
        ends[k] = starts[k] + way * length
        most[k] = max(most[k], length)
        by_length[k], by_middle[k] = 0.0, 0.0
        direction[k, 1 if way > 0 else 0] = np.inf
    return starts, ends


def _most_steps(problem: PathProblem, grid: _Grid) -> IntArray:
    """Return the longest a stroke may be, in steps: a little more than its greatest speed allows."""
    steps = np.ceil(TOO_FAST * problem.fastest * problem.each / grid.step).astype(np.int64) + 1
    clipped: IntArray = np.clip(steps, 2, grid.most)
    return clipped


def _start_table(problem: PathProblem, grid: _Grid) -> FloatArray:
    """Cost of each place to begin at, by way; shape (K, 2, N)."""
    bands = problem.start_bands[:, :, None]
    table: FloatArray = START * (outside(grid.places, bands[..., 0], bands[..., 1]) / ZONE_UNIT) ** 2
    return table


def _keep_table(problem: PathProblem, grid: _Grid) -> FloatArray:
    """Cost of each number of steps of hair left ahead at a stroke's end; shape (K, N)."""
    ahead = np.arange(grid.count) * grid.step
    table: FloatArray = KEEP * (np.maximum(0.0, problem.keep[:, None] - ahead) / KEEP_UNIT) ** 2
    return table


def _length_table(problem: PathProblem, log_speed: FloatArray) -> FloatArray:
    """Cost of each length of 1 to M steps; shape (K, M)."""
    low, high = np.log(problem.slowest)[:, None], np.log(problem.fastest)[:, None]
    table: FloatArray = SPEED * (log_speed - np.log(problem.preferred)[:, None]) ** 2
    return table + LIMITS * outside(log_speed, low, high) ** 2


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
    return problem.cost.retakes(ways)


def _rejoin(path: Path, problem: PathProblem) -> Path:
    """Let joined strokes meet again where a pinned place or a shift lies between grid lines."""
    apart = np.flatnonzero(path.joined & (path.starts != problem.joins(path)))
    starts, ends, shift, returns = (a.tolist() for a in (path.starts, path.ends, problem.shift, problem.returns))
    free_start, free_end = (np.isnan(pinned).tolist() for pinned in (problem.pinned_start, problem.pinned_end))
    for k in apart.tolist():
        left, free = (starts, free_start) if returns[k - 1] else (ends, free_end)
        if free_start[k]:
            starts[k] = min(max(left[k - 1] + shift[k], problem.low), problem.high)
        if free[k - 1]:
            left[k - 1] = starts[k] - shift[k]
    return Path(path.directions, np.array(starts), np.array(ends), path.links)
