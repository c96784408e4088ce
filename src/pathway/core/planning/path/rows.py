"""A run of like bars is one figure: looked for once in its steady state, then laid into the whole run.

Bar by bar the hair would drift, until a hook or a lift brings it back: each bar is bowed well, and the row is not. In
a row the short way back after a long bow may be quick and light, so evenness weighs less there; what a candidate costs
is told on a few bars of the row by themselves, so that what one bar takes the next has to bring back.
"""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.planning.path.grid import COARSE, Impasse, grid_path
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.path.weights import EVEN, ROW_EVEN, ROW_LEFT
from pathway.core.planning.wishes import Link

LEAST_ROW = 3  # bars
LOOKED_AT_BY = 1.5 * COARSE  # places that a figure is looked for at [m]
DRIFT = 0.04  # between the inner bars of a row: more than this has to be brought back some time [m]
TRIED, FROM_PLACES = 3, 5  # bars on which a candidate is looked at; places on the hair from which it is
FOUND = 3  # ways of a first look that are tried

Way = tuple[tuple[int, int], ...]  # of each stroke of a bar: its direction, and its link: a turn, a hook or a retake


@dataclass(frozen=True, slots=True)
class Row:
    """Bars that follow each other and are alike, each by its strokes."""

    bars: tuple[tuple[int, ...], ...]

    @property
    def span(self) -> slice:
        """Return its strokes."""
        return slice(self.bars[0][0], self.bars[-1][-1] + 1)

    def ways(self, path: Path) -> list[Way]:
        """Return how its bars are bowed on a path, turned so that each begins down."""
        links = np.where(path.links == Link.FIRST, Link.CHANGE, path.links)
        found = []
        for bar in self.bars:
            sign = int(np.sign(path.directions[bar[0]]))
            found.append(tuple((sign * int(np.sign(path.directions[k])), int(links[k])) for k in bar))
        return found

    def strays(self, path: Path) -> int:
        """Return how many of its inner bars are bowed otherwise than most."""
        inner = self._told(path)[1:-1]
        return len(inner) - max(Counter(inner).values(), default=0)

    def own(self, path: Path) -> tuple[Way, bool]:
        """Return how most of its bars are bowed on a path, and whether the next one is bowed the other way round."""
        (way, _), *_ = Counter(self.ways(path)).most_common(1)
        return way, _turns(way)

    def drifts(self, path: Path) -> bool:
        """Whether its inner bars begin further and further along the hair on a path."""
        starts = path.starts[[bar[0] for bar in self.bars[1:-1]]]
        return bool(min(np.ptp(starts), np.ptp(starts[::2])) > DRIFT)

    def _told(self, path: Path) -> list[tuple[int, Way]]:
        """Return the ways of its bars with the direction that each begins in; where bars turn, as if they did not."""
        ways, begins = self.ways(path), [int(np.sign(path.directions[bar[0]])) for bar in self.bars]
        turning = Counter(a != b for a, b in pairwise(begins))
        turns = turning[True] > turning[False]
        return [(begin * (-1) ** (i * turns), way) for i, (begin, way) in enumerate(zip(begins, ways, strict=True))]


def rows_of(bars: Sequence[Sequence[int]], figures: Sequence[bytes]) -> list[Row]:
    """Return the runs of like bars of several strokes.

    Args:
        bars: their strokes.
        figures: what each bar is, alike where they are alike.
    """
    runs: list[list[tuple[int, ...]]] = []
    before: bytes | None = None
    for bar, figure in zip(bars, figures, strict=True):
        if figure == before and len(bar) > 1:
            runs[-1].append(tuple(bar))
        else:
            runs.append([tuple(bar)])
        before = figure
    return [Row(tuple(run)) for run in runs if len(run) >= LEAST_ROW]


def laid_in(problem: PathProblem, rows: Sequence[Row], first: Path, window: slice = slice(None)) -> PathProblem:
    """Return the problem in which every row that a first look bows unlike keeps its figure.

    Args:
        problem: of all strokes.
        rows: of it.
        first: what a first look found of all.
        window: the strokes that are looked for; rows that lie outside are left alone.
    """
    begins, ends, _ = window.indices(len(problem))
    for row in rows:
        if row.span.start < ends and row.span.stop > begins and (row.strays(first) or row.drifts(first)):
            problem = _with_figure(problem, row, first)
    return problem


def kept_in(problem: PathProblem, rows: Sequence[Row], path: Path, span: slice = slice(None)) -> PathProblem:
    """Return the problem in which rows that a path bows alike are bowed as they are.

    Args:
        problem: of all strokes, or of some.
        rows: of all.
        path: of all.
        span: which strokes the problem is of.
    """
    begins, ends, _ = span.indices(len(path.links))
    for row in rows:
        at = slice(max(row.span.start, begins), min(row.span.stop, ends))
        if at.start < at.stop and not row.strays(path):
            inside = slice(at.start - begins, at.stop - begins)
            bowed = _bowed(problem, inside, path.directions[at], path.links[at], float(ROW_LEFT))
            problem = _eased(bowed, inside)
    return problem


def held_in(problem: PathProblem, rows: Sequence[Row], known: Path, changed: slice) -> PathProblem:
    """Return the problem in which the bars of alike rows begin where they did, but for those beside an edit."""
    pinned = problem.pinned_start.copy()
    for row in rows:
        reach = len(row.bars[0])
        for bar in row.bars[1:] if not row.strays(known) else ():
            k = bar[0]
            beside = changed.start - reach < k < changed.stop + reach
            if not beside and np.isnan(pinned[k]) and np.isnan(problem.pinned_end[k - 1]):
                pinned[k] = known.starts[k]
    return replace(problem, pinned_start=pinned)


def _with_figure(problem: PathProblem, row: Row, first: Path) -> PathProblem:
    eased = _eased(problem, row.span)
    candidates = _candidates(row, first) if row.strays(first) else [row.own(first)]
    found = [_steady(eased, row, way, turns) for way, turns in candidates]
    best = min((one for one in found if one is not None), key=lambda figure: figure.cost, default=None)
    return problem if best is None else _laid(eased, row, best)


@dataclass(frozen=True, slots=True)
class _Figure:
    """A way of bowing a bar over and over, each time, or every second time, from one place on the hair."""

    way: Way
    turns: bool  # the next bar is bowed the other way round
    begins: int  # direction of the first bar
    place: float  # where it begins [m]
    cost: float  # of a bar

    def directions(self, bars: int) -> IntArray:
        """Return those of the strokes of so many bars."""
        one = np.array([way for way, _ in self.way])
        return self.begins * np.concatenate([one * (-1) ** (i * self.turns) for i in range(bars)])

    def links(self, bars: int) -> IntArray:
        """Return those of the strokes of so many bars."""
        return np.tile([link for _, link in self.way], bars)

    @property
    def period(self) -> int:
        """Return after how many bars the bow is where it was."""
        return 2 if self.turns else 1


def _candidates(row: Row, first: Path) -> Iterator[tuple[Way, bool]]:
    """Yield ways of bowing one bar, and whether the next one is bowed the other way round."""
    count = len(row.bars[0])
    plain: Way = tuple(((-1) ** i, int(Link.CHANGE)) for i in range(count))
    found = [way for way, _ in Counter(row.ways(first)).most_common(FOUND)]
    if count % 2:  # it comes round where each bar goes on from the last, or lifts
        found += [((1, int(link)), *plain[1:]) for link in (Link.HOOK, Link.RETAKE)]
    for way in dict.fromkeys([plain, *found]):
        yield way, _turns(way)


def _turns(way: Way) -> bool:
    """Whether the bar after one that is bowed in a way begins the other way round."""
    turned = way[-1][0] == way[0][0]  # the bow has come to the end of a bar as it began
    return turned == (way[0][1] == Link.CHANGE)


def _steady(problem: PathProblem, row: Row, way: Way, turns: bool) -> _Figure | None:
    """Return the best figure of a way, each bar beginning where it began before; None where the hair has no room."""
    bars = min(len(row.bars), TRIED)
    inside = problem.part(slice(row.bars[0][0], row.bars[bars - 1][-1] + 1))
    plain = _Figure(way, turns, 1, 0.0, 0.0)
    plain = replace(plain, begins=_begins(inside, plain.directions(bars)))
    places = np.linspace(problem.low, problem.high, FROM_PLACES)
    costs = np.array([_cost(inside, replace(plain, place=float(place)), bars) for place in places])
    least = int(costs.argmin())
    if not np.isfinite(costs[least]):
        return None
    return replace(plain, place=_lowest(places, costs, least), cost=float(costs[least]))


def _begins(inside: PathProblem, directions: IntArray) -> int:
    """Return in which of the two directions a row begins better, by what speaks for each of its strokes."""
    own = inside.direction_costs
    down, up = (np.where(sign * directions > 0, own[:, 0], own[:, 1]).sum() for sign in (1, -1))
    return 1 if down <= up else -1


def _lowest(places: FloatArray, costs: FloatArray, at: int) -> float:
    """Return where a parabola through the least of some costs and those beside it is lowest."""
    if not 0 < at < len(places) - 1 or not np.isfinite(costs[at - 1 : at + 2]).all():
        return float(places[at])
    before, least, after = costs[at - 1 : at + 2]
    bend = before - 2 * least + after
    return float(places[at] + (places[1] - places[0]) * (0.5 * (before - after) / bend if bend > 0 else 0.0))


def _cost(inside: PathProblem, figure: _Figure, bars: int) -> float:
    """Return what an inner bar of some costs in a figure; infinite where it cannot be."""
    whole = slice(0, len(inside))
    bowed = _bowed(inside, whole, figure.directions(bars), figure.links(bars), np.inf)
    asked = _pinned(bowed, whole, figure, bars)
    try:
        path = grid_path(asked, LOOKED_AT_BY)
    except Impasse:
        return np.inf
    costs = asked.cost.of(path).reshape(bars, -1).sum(axis=1)
    inner = costs[1 : 1 + (bars - 2) // figure.period * figure.period] if bars > LEAST_ROW else costs[1:]
    return float(inner.mean())


def _eased(problem: PathProblem, span: slice) -> PathProblem:
    """Return the problem in which evenness weighs less in a row."""
    speeding, slowing = problem.speeding.copy(), problem.slowing.copy()
    speeding[span] = np.minimum(speeding[span], ROW_EVEN)
    slowing[span] *= float(ROW_EVEN) / float(EVEN)
    return replace(problem, speeding=speeding, slowing=slowing)


def _laid(problem: PathProblem, row: Row, figure: _Figure) -> PathProblem:
    """Return the problem with a figure laid into its row; where the player has wishes in it, its places are free."""
    bars = len(row.bars)
    bowed = _bowed(problem, row.span, figure.directions(bars), figure.links(bars), float(ROW_LEFT))
    inside = problem.part(row.span)
    wished = not (np.isnan(inside.pinned_start) & np.isnan(inside.pinned_end)).all()
    wished |= any(
        np.isinf(costs).any() for costs in (inside.direction_costs, inside.hook, inside.change, inside.retake)
    )
    return bowed if wished else _pinned(bowed, row.span, figure, bars)


def _pinned(problem: PathProblem, span: slice, figure: _Figure, bars: int) -> PathProblem:
    """Return the problem in which the bars of a row but the first begin where the figure does."""
    pinned, count = problem.pinned_start.copy(), (span.stop - span.start) // bars
    for i in range(figure.period, bars, figure.period):
        k = span.start + i * count
        pinned[k] = figure.place
    return replace(problem, pinned_start=pinned)


def _bowed(problem: PathProblem, span: slice, directions: IntArray, links: IntArray, price: float) -> PathProblem:
    """Return the problem in which other directions and links than those given for some strokes have a price."""
    costs = problem.direction_costs.copy()
    at = np.arange(span.start, span.stop)
    costs[at, np.where(directions > 0, 1, 0)] += price
    prices = {}
    for name, link in (("change", Link.CHANGE), ("hook", Link.HOOK), ("retake", Link.RETAKE)):
        prices[name] = getattr(problem, name).copy()
        prices[name][at[1:]] += np.where(links[1:] == link, 0.0, price)  # how a row begins is its neighbours' matter
    return replace(problem, direction_costs=costs, **prices)
