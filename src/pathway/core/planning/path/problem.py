"""What a good hair path is: one continuous cost over directions, places and links of all strokes.

The same terms judge the search on the grid, its refinement and every test oracle. Places x run along the
hair from the frog [m]; column 0 of a direction table is the down-bow, column 1 the up-bow.
"""

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from functools import cached_property

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.planning.path.weights import (
    GIVING,
    HOME,
    KEEP,
    KEEP_UNIT,
    LIMITS,
    NO_TIME,
    RETAKE_PER_METRE,
    SPEED,
    START,
    ZONE,
    ZONE_UNIT,
)
from pathway.core.planning.wishes import Link

RETAKE_START, CARRY_SPEED = 0.12, 1.2  # time to lift and set [s]; speed of the hand in the air [m/s]
LEAST_LENGTH = 0.0005  # of a stroke [m]


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
    def log_preferred(self) -> FloatArray:
        """Return ln of the preferred speeds."""
        return np.log(self.preferred)

    @cached_property
    def log_limits(self) -> tuple[FloatArray, FloatArray]:
        """Return ln of the slowest and fastest speeds."""
        return np.log(self.slowest), np.log(self.fastest)

    @cached_property
    def returns(self) -> BoolArray:
        """Return which strokes end where and as they began: after an even number of bows."""
        back: BoolArray = self.bows % 2 == 0
        return back

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

    def time_short(self, way: FloatArray) -> FloatArray:
        """Return what a retake over a way [m] takes from the note before [s]; shapes broadcast on the last axis."""
        short: FloatArray = np.maximum(0.0, RETAKE_START + self.settle + way / CARRY_SPEED - self.rest)
        return short

    def retake_costs(self, way: FloatArray) -> FloatArray:
        """Return the cost of a retake over a way [m] before every stroke."""
        before = self.moving_before
        given = np.maximum(0.0, self.time_short(way) - np.minimum(0.12 * before, 0.15))
        beyond = np.maximum(0.0, given - np.minimum(0.5 * before, 0.4))
        costs: FloatArray = self.retake + RETAKE_PER_METRE * way + (GIVING * given + NO_TIME * beyond) / before
        return costs

    def times(self, path: Path) -> FloatArray:
        """Return the time the bow really moves in each stroke [s]: a retake may shorten the one before."""
        taken = np.where(path.links == Link.RETAKE, self.time_short(self.ways(path)), 0.0)
        times: FloatArray = np.maximum(self.moving - np.append(taken[1:], 0.0), 0.3 * self.moving)
        return times

    def terms(self, path: Path) -> dict[str, FloatArray]:
        """Return every term of the cost for every stroke, by name; arrays of shape (K,)."""
        log_speed = np.log(np.maximum(path.lengths, LEAST_LENGTH) * self.bows / self.times(path))
        even = np.append(0.0, log_speed[1:] - log_speed[:-1]) - self.wanted_step
        links = path.links
        return {
            "speed": SPEED * (log_speed - self.log_preferred) ** 2,
            "limits": LIMITS * outside(log_speed, *self.log_limits) ** 2,
            "zone": ZONE * (self.beyond_zone((path.starts + path.ends) / 2) / ZONE_UNIT) ** 2,
            "home": HOME * (self.from_home(path) / ZONE_UNIT) ** 2,
            "start": START * (self.beyond_start(path) / ZONE_UNIT) ** 2,
            "evenness": np.where(even > 0, self.speeding, self.slowing) * even**2,
            "direction": np.where(path.directions > 0, self.direction_costs[:, 0], self.direction_costs[:, 1]),
            "keep": KEEP * (self.short_of_keep(path) / KEEP_UNIT) ** 2,
            "change": np.where(links == Link.CHANGE, self.change, 0.0),
            "hook": np.where(links == Link.HOOK, self.hook, 0.0),
            "retake": np.where(links == Link.RETAKE, self.retake_costs(self.ways(path)), 0.0),
        }

    def total(self, path: Path) -> float:
        """Return the whole cost of a path."""
        return float(np.sum(sum(self.terms(path).values())))

    def short_of_keep(self, path: Path) -> FloatArray:
        """Return how much hair is lacking ahead of a stroke's end against what should be kept back [m]."""
        ahead = np.where(path.directions > 0, self.high - path.ends, path.ends - self.low)
        short: FloatArray = np.where(self.keep > 0, np.maximum(0.0, self.keep - ahead), 0.0)
        return short

    def from_home(self, path: Path) -> FloatArray:
        """Return how far every stroke's middle lies from the middle of its zone, with sign [m]."""
        home: FloatArray = (path.starts + path.ends - self.zone_low - self.zone_high) / 2
        return home

    def beyond_start(self, path: Path) -> FloatArray:
        """Return how far every stroke begins outside the band that it asks for, with sign [m]."""
        bands = self.start_bands[np.arange(len(self)), np.where(path.directions > 0, 0, 1)]
        return outside(path.starts, bands[:, 0], bands[:, 1])

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
