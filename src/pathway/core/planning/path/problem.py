"""What a good hair path is: one continuous cost over directions, places and links of all strokes.

The same terms, in ``cost_loop``, judge the search on the grid, its refinement and every test oracle. Places x run along
the hair from the frog [m]; column 0 of a direction table is the down-bow, column 1 the up-bow.
"""

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from functools import cached_property

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.planning.path.cost_loop import PathCost
from pathway.core.planning.wishes import Link

SAVED = 0.6  # of the preferred speed: a slower stroke saves hair [1]
EASY = 1.2  # times the slowest speed: slower is not at ease [1]
TOUCH = 1e-9  # [m]


@dataclass(frozen=True)
class Path:
    """Directions, places and links of K strokes; arrays of shape (K,)."""

    directions: IntArray  # +1 down, −1 up
    starts: FloatArray  # [m]
    ends: FloatArray  # [m]
    links: IntArray

    @property
    def lengths(self) -> FloatArray:
        """Return the hair of every stroke [m]."""
        return np.abs(self.ends - self.starts)

    @property
    def joined(self) -> BoolArray:
        """Return which strokes begin where the one before leaves the hair: by a change or a hook."""
        found: BoolArray = (self.links == Link.CHANGE) | (self.links == Link.HOOK)
        return found

    def part(self, span: slice) -> "Path":
        """Return the path of some strokes."""
        return Path(self.directions[span], self.starts[span], self.ends[span], self.links[span])

    def at(self, index: IntArray) -> "Path":
        """Return the path of the strokes at some indices."""
        return Path(self.directions[index], self.starts[index], self.ends[index], self.links[index])

    def with_part(self, span: slice, inner: "Path") -> "Path":
        """Return the path with some strokes replaced."""
        arrays = {field.name: getattr(self, field.name).copy() for field in fields(self)}
        for name, array in arrays.items():
            array[span] = getattr(inner, name)
        return Path(**arrays)


@dataclass(frozen=True)
class PathProblem:
    """All that the cost needs to know of K strokes; arrays of shape (K,) unless said otherwise."""

    moving: FloatArray  # time the bow moves [s]
    bows: FloatArray  # strokes to and fro that each is made of: 1, more in a tremolo; lengths and places are of one
    preferred: FloatArray  # speed [m/s]
    slowest: FloatArray  # v_lo [m/s]
    fastest: FloatArray  # v_hi [m/s]
    zone_low: FloatArray  # for the stroke's middle [m]
    zone_high: FloatArray
    direction_costs: FloatArray  # shape (K, 2); inf where locked to the other
    start_bands: FloatArray  # where it begins at best, shape (K, 2 ways, 2): from and to [m]; infinite where it is free
    rest: FloatArray  # silence before the stroke [s]
    settle: FloatArray  # time the hair lies still before it, after a retake [s]
    shift: FloatArray  # from where the stroke before ended to its start, if the bow stays on: it rolls over strings [m]
    change: FloatArray  # cost of turning: none, or inf where another link is locked
    hook: FloatArray  # cost of going on in the same direction
    retake: FloatArray  # cost of lifting, without the way
    speeding: FloatArray  # weight of a stroke faster than the one before
    slowing: FloatArray  # weight of a slower one
    wanted_step: FloatArray  # ln of the wanted speed ratio to the stroke before
    keep: FloatArray  # hair wanted ahead at the end [m]; 0 where nobody asks
    pinned_start: FloatArray  # fixed places [m]; NaN where free
    pinned_end: FloatArray
    low: float  # usable hair [m]
    high: float

    def __len__(self) -> int:
        return len(self.moving)

    def part(self, span: slice) -> "PathProblem":
        """Return the problem of some neighbouring strokes."""
        arrays = {f.name: getattr(self, f.name) for f in fields(self) if f.name not in {"low", "high"}}
        return replace(self, **{name: array[span] for name, array in arrays.items()})

    def held(self, path: Path, span: slice) -> "PathProblem":
        """Return the problem, of some strokes of a path, whose outermost stay where that path has them."""
        start, end = self.pinned_start.copy(), self.pinned_end.copy()
        if span.start > 0:
            start[0], end[0] = path.starts[span.start], path.ends[span.start]
        if span.stop < len(path.links):
            start[-1], end[-1] = path.starts[span.stop - 1], path.ends[span.stop - 1]
        return replace(self, pinned_start=start, pinned_end=end)

    @cached_property
    def returns(self) -> BoolArray:
        """Return which strokes end where and as they began: after an even number of bows."""
        back: BoolArray = self.bows % 2 == 0
        return back

    @cached_property
    def calm(self) -> FloatArray:
        """Return the least speed at which every stroke is at ease: neither saved nor at the edge of its tone [m/s]."""
        return np.maximum(SAVED * self.preferred, EASY * self.slowest)

    @cached_property
    def each(self) -> FloatArray:
        """Return the time of one bow of every stroke [s]."""
        return self.moving / self.bows

    def left_at(self, path: Path) -> FloatArray:
        """Return where the bow is after every stroke [m]."""
        return np.where(self.returns, path.starts, path.ends)

    def ways(self, path: Path) -> FloatArray:
        """Return the way [m] from where the bow was left to each stroke's start; 0 for the first."""
        ways = np.zeros(len(path.starts))
        np.abs(path.starts[1:] - self.left_at(path)[:-1], out=ways[1:])
        return ways

    def speeds(self, path: Path) -> FloatArray:
        """Return the mean speed of every stroke [m/s]."""
        return path.lengths * self.bows / self.times(path)

    @cached_property
    def moving_before(self) -> FloatArray:
        """Return the moving time of the stroke before each one [s]; 1 for the first."""
        return np.concatenate([[1.0], self.moving[:-1]])

    def __getstate__(self) -> dict[str, object]:
        """Return what goes along to another process: compiled views do not, and are made there again."""
        return {name: value for name, value in self.__dict__.items() if name != "cost"}

    @cached_property
    def cost(self) -> PathCost:
        """Return what judges paths."""
        return PathCost(self)

    def times(self, path: Path) -> FloatArray:
        """Return the time the bow really moves in each stroke [s]: a retake may shorten the one before."""
        return self.cost.times(path)

    def total(self, path: Path) -> float:
        """Return the whole cost of a path."""
        return float(self.cost.of(path).sum())

    def joins(self, path: Path) -> FloatArray:
        """Return the place [m] that every stroke would start at if the bow stayed on; the first where it does."""
        return np.append(path.starts[:1], self.left_at(path)[:-1] + self.shift[1:])

    def beyond_zone(self, middle: FloatArray) -> FloatArray:
        """Return how far a stroke's middle lies outside its zone, with sign [m]."""
        return middle - np.clip(middle, self.zone_low, self.zone_high)


def joined(parts: Sequence[PathProblem]) -> PathProblem:
    """Return the problem of strokes that follow each other in several parts."""
    names = {field.name for field in fields(PathProblem)} - {"low", "high"}
    arrays = {name: np.concatenate([getattr(part, name) for part in parts]) for name in names}
    return replace(parts[0], **arrays)  # type: ignore[arg-type]


def outside(value: FloatArray, low: FloatArray, high: FloatArray) -> FloatArray:
    """Return how far a value lies outside its limits, with sign."""
    excess: FloatArray = value - np.clip(value, low, high)
    return excess
