"""The ways from string to string of a plan: each by itself, and quantity by quantity for rules that look at all."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.planning.columns import with_rows
from pathway.core.technique.crossings import CrossingManner, Mover, Sense


@dataclass(frozen=True, slots=True)
class Crossing:
    """The way from one string to another between two notes."""

    from_note: str
    to_note: str
    from_string: int
    to_string: int
    angle: float
    travel: float  # of the hand [m]
    time: float  # [s]
    limb: Mover
    sense: Sense
    skips: int
    how: CrossingManner = CrossingManner.CHANGE
    turn: float = 0.0  # of the stick, seen from above
    drift: float = 0.0  # of the contact over the new note, if the stick kept its old direction [m]
    shift: float = 0.0  # of the contact along the hair, in a roll; positive towards the tip [m]
    dip: float = 0.0  # speed of the bow over the silent strings, in a roll: slower, but no halt [m/s]
    over: float = 0.0  # time it takes to roll over them, at least [s]
    falls: bool = False  # to the new string by the bow's own weight
    rings: float = 0.0  # how long the string left rings on [s]

    @property
    def speed(self) -> float:
        """Return the speed of the hand [m/s]."""
        return self.travel / max(self.time, 1e-3)


@dataclass(frozen=True, slots=True)
class CrossingColumns:
    """Arrays of shape (N,) over the bowed notes: the way to each from the one before; nothing where there is none."""

    speed: FloatArray  # of the hand [m/s]; else 0
    time: FloatArray  # [s]; else infinite
    skips: IntArray  # strings between
    drift: FloatArray  # of the contact, if the stick kept its old direction [m]
    hard: BoolArray  # it goes the hard way round

    @classmethod
    def of(cls, ways: Sequence[Crossing | None]) -> "CrossingColumns":
        """Return the columns of the ways to some notes."""
        return cls(*map(np.array, zip(*map(_row, ways), strict=True)))

    def but(self, ways: Mapping[int, Crossing | None]) -> "CrossingColumns":
        """Return other columns in which the ways to some notes are others."""
        return with_rows(self, list(ways), map(_row, ways.values()))


def _row(way: Crossing | None) -> tuple[float, ...]:
    if way is None:
        return 0.0, math.inf, 0, 0.0, False
    return way.speed, way.time, way.skips, way.drift, way.sense is Sense.HARD


@dataclass(frozen=True)
class Crossings:
    """The way to each of N bowed notes from the one before; none where they share a string."""

    to: tuple[Crossing | None, ...]
    columns: CrossingColumns

    @classmethod
    def of(cls, to: Sequence[Crossing | None]) -> "Crossings":
        """Return the ways to some notes, with their columns."""
        return cls(tuple(to), CrossingColumns.of(to))

    def but(self, ways: Mapping[int, Crossing | None]) -> "Crossings":
        """Return other ways to some of the notes, by their index."""
        if not ways:
            return self
        to = list(self.to)
        for i, way in ways.items():
            to[i] = way
        return Crossings(tuple(to), self.columns.but(ways))

    def at(self, notes: Sequence[int]) -> list[Crossing]:
        """Return the ways to some notes that have one."""
        return [way for i in notes if (way := self.to[i]) is not None]

    @cached_property
    def all(self) -> tuple[Crossing, ...]:
        """Return every way from string to string, in order."""
        return tuple(way for way in self.to if way is not None)
