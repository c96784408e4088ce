"""The exact second-order programme on a grid: states are direction, end and length of every stroke, all links.

It knows rolls, chord bands and strokes that return; pinned places it does not judge.
"""

import numpy as np

from pathway.core.planning.path.problem import Path, PathProblem, outside
from pathway.core.planning.path.weights import HOME, KEEP, KEEP_UNIT, LIMITS, SPEED, START, ZONE, ZONE_UNIT
from pathway.core.planning.wishes import Link

SIGNS = (1, -1)
Opened = tuple[np.ndarray, np.ndarray, np.ndarray]
_Back = tuple[list[Opened], list[np.ndarray], np.ndarray]


def exact_path(problem: PathProblem, step: float) -> Path:
    """Return the best path among all on a grid of some step [m]."""
    count = round((problem.high - problem.low) / step) + 1
    places = np.linspace(problem.low, problem.high, count)
    logs = np.log(np.arange(1, count) * (places[1] - places[0]))
    table, backs = _own(problem, 0, places, logs), []
    for k in range(1, len(problem)):
        left = _left(table) if problem.returns[k - 1] else table
        opened = [_opened(problem, k, left, way, places) for way in (0, 1)]
        log_step = (logs - np.log(problem.each[k]))[None] - (logs - np.log(problem.each[k - 1]))[:, None]
        off = log_step - problem.wanted_step[k]
        even = np.where(off > 0, problem.speeding[k], problem.slowing[k]) * off**2
        fresh, chosen = _own(problem, k, places, logs), []
        for way, (costs, _, _) in enumerate(opened):
            sums = costs[:, :, None] + even[None]  # start, length before, length
            chosen.append(sums.argmin(axis=1))
            least = sums.min(axis=1)
            for m in range(count - 1):
                ends = _ends(way, m + 1, count)
                fresh[way, ends, m] += least[ends - SIGNS[way] * (m + 1), m]
        backs.append((opened, chosen, left))
        table = fresh
    return _traced(problem, places, table, backs)


def _left(table: np.ndarray) -> np.ndarray:
    """A stroke that returns is left at its start, the other way round."""
    left, count = np.full_like(table, np.inf), table.shape[1]
    for m in range(count - 1):
        left[1, : count - m - 1, m] = table[0, m + 1 :, m]
        left[0, m + 1 :, m] = table[1, : count - m - 1, m]
    return left


def _steps(problem: PathProblem, k: int, places: np.ndarray) -> int:
    """By how many steps the bow rolls on before a stroke."""
    return round(problem.shift[k] / (places[1] - places[0]))


def _ends(way: int, length: int, count: int) -> np.ndarray:
    return np.arange(length, count) if way == 0 else np.arange(0, count - length)


def _own(problem: PathProblem, k: int, places: np.ndarray, logs: np.ndarray) -> np.ndarray:
    """What a stroke costs by itself; shape (way, end, length)."""
    count = len(places)
    table = np.full((2, count, count - 1), np.inf)
    speed = logs - np.log(problem.each[k])
    low, high = np.log(problem.slowest[k]), np.log(problem.fastest[k])
    alone = SPEED * (speed - np.log(problem.preferred[k])) ** 2 + LIMITS * outside(speed, low, high) ** 2
    for way, sign in enumerate(SIGNS):
        ahead = problem.high - places if way == 0 else places - problem.low
        kept = KEEP * (np.maximum(0, problem.keep[k] - ahead) / KEEP_UNIT) ** 2
        for m in range(count - 1):
            ends = _ends(way, m + 1, count)
            middle = (places[ends] + places[ends - sign * (m + 1)]) / 2
            beyond = outside(middle, problem.zone_low[k], problem.zone_high[k])
            home = middle - (problem.zone_low[k] + problem.zone_high[k]) / 2
            begun = outside(places[ends - sign * (m + 1)], *problem.start_bands[k, way])
            own = ZONE * beyond**2 + HOME * home**2 + START * begun**2
            table[way, ends, m] = alone[m] + own / ZONE_UNIT**2 + kept[ends]
    return table + problem.direction_costs[k][:, None, None]


def _opened(problem: PathProblem, k: int, table: np.ndarray, way: int, places: np.ndarray) -> Opened:
    """The cheapest link into each start with each length before, which link it is, and where a retake comes from."""
    ways = np.abs(places[:, None] - places[None])
    lift = problem.part(slice(k - 1, k + 1))
    costs = np.array([lift.cost.retakes(row)[1] for row in ways])
    both = table.min(axis=0)  # the stroke before may have gone either way
    retakes = costs[:, :, None] + both[None]  # start, end before, length before
    rolled = np.full_like(table, np.inf)  # by where the bow comes to, where it rolls over strings
    steps = _steps(problem, k, places)
    inside = slice(max(steps, 0), len(places) + min(steps, 0))
    rolled[:, inside] = table[:, max(-steps, 0) : len(places) - max(steps, 0)]
    options = np.stack([rolled[1 - way] + problem.change[k], rolled[way] + problem.hook[k], retakes.min(axis=1)])
    return options.min(axis=0), options.argmin(axis=0), retakes.argmin(axis=1)


def _traced(problem: PathProblem, places: np.ndarray, table: np.ndarray, backs: list[_Back]) -> Path:
    way, end, m = (int(i) for i in np.unravel_index(int(table.argmin()), table.shape))
    strokes = []
    for k, (opened, chosen, before) in zip(range(len(problem) - 1, 0, -1), reversed(backs), strict=True):
        start = end - SIGNS[way] * (m + 1)
        length = int(chosen[way][start, m])
        link = (Link.CHANGE, Link.HOOK, Link.RETAKE)[int(opened[way][1][start, length])]
        strokes.append((SIGNS[way], places[start], places[end], int(link)))
        lifted = link is Link.RETAKE
        end = int(opened[way][2][start, length]) if lifted else start - _steps(problem, k, places)
        way = {Link.CHANGE: 1 - way, Link.HOOK: way}.get(link, int(before[:, end, length].argmin()))
        m = length
        if problem.returns[k - 1]:
            way = 1 - way
            end += SIGNS[way] * (m + 1)
    strokes.append((SIGNS[way], places[end - SIGNS[way] * (m + 1)], places[end], int(Link.FIRST)))
    directions, starts, ends, links = (np.array(column) for column in zip(*reversed(strokes), strict=True))
    for k in range(1, len(links)):  # the bow rolls over no whole number of steps
        if links[k] != Link.RETAKE:
            starts[k] = (starts if problem.returns[k - 1] else ends)[k - 1] + problem.shift[k]
    return Path(directions, starts, ends, links)
