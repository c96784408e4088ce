"""The ways from string to string of a plan: each by itself, and quantity by quantity for rules that look at all."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, cast

import numpy as np
from msgspec import Struct

from pathway.core.arrays import BoolArray, FloatArray, Floats, IntArray
from pathway.core.planning.views import Named, Views
from pathway.core.says import CM, CM_S, DEG, S, Says
from pathway.core.technique.crossings import CrossingManner, Mover, Sense


def speed_of(travel: Floats, time: Floats) -> FloatArray:
    """Return the speed of the hand [m/s] that travels [m] in a time [s]."""
    return np.asarray(travel / np.maximum(time, 1e-3))


class Crossing(Struct, frozen=True):
    """The way from one string to another between two notes."""

    from_note: Annotated[str, Says(key="from")]
    to_note: Annotated[str, Says(key="to")]
    from_string: int
    to_string: int
    angle: Annotated[float, Says(DEG)]
    travel: Annotated[float, Says(CM, key="hand_travel_cm")]  # of the hand [m]
    time: Annotated[float, Says(S)]  # [s]
    limb: Mover
    sense: Sense
    skips: int
    how: CrossingManner = CrossingManner.CHANGE
    turn: Annotated[float, Says(DEG)] = 0.0  # of the stick, seen from above
    drift: Annotated[float, Says(CM)] = 0.0  # of the contact over the new note, if the stick kept its direction [m]
    shift: Annotated[float, Says(CM)] = 0.0  # of the contact along the hair, in a roll; positive to the tip [m]
    dip: Annotated[float, Says(CM_S)] = 0.0  # speed of the bow over the silent strings, in a roll: no halt [m/s]
    over: Annotated[float, Says(S)] = 0.0  # time it takes to roll over them, at least [s]
    falls: bool = False  # to the new string by the bow's own weight
    rings: Annotated[float, Says(S)] = 0.0  # how long the string left rings on [s]

    @property
    def speed(self) -> float:
        """Return the speed of the hand [m/s]."""
        return float(speed_of(self.travel, self.time))


@dataclass(frozen=True, slots=True)
class CrossingColumns:
    """Arrays of shape (N,) over the bowed notes: the way to each from the one before; nothing where there is none."""

    source: IntArray  # the string from which, and to which; both the same where there is no way
    target: IntArray
    interval: FloatArray  # from onset to onset [s]
    time: FloatArray  # for the way [s]; else infinite
    travel: FloatArray  # of the hand [m]
    turn: FloatArray  # of the stick, seen from above [rad]
    drift: FloatArray  # of the contact, if the stick kept its old direction [m]
    shift: FloatArray  # of the contact along the hair, in a roll [m]
    rolls: BoolArray  # over strings between
    slurred: BoolArray
    sense: IntArray  # 1 the hard way round, −1 the easy one, 0 neither

    @property
    def there(self) -> BoolArray:
        """Return to which notes there is a way."""
        found: BoolArray = self.source != self.target
        return found

    @property
    def skips(self) -> IntArray:
        """Return how many strings lie between."""
        between: IntArray = np.abs(self.target - self.source) - 1
        return np.maximum(between, 0)

    @property
    def speed(self) -> FloatArray:
        """Return the speed of the hand [m/s]; 0 where there is no way."""
        return speed_of(self.travel, self.time)

    @property
    def hard(self) -> BoolArray:
        """Return which go the hard way round."""
        return self.sense > 0


@dataclass(frozen=True)
class Crossings:
    """The way to each of N bowed notes from the one before; none where they share a string."""

    to: Views[Crossing | None]
    columns: CrossingColumns

    def at(self, notes: Sequence[int]) -> list[Crossing]:
        """Return the ways to some notes that have one."""
        return [way for i in notes if (way := self.to[i]) is not None]

    def by_note(self, ids: Sequence[str]) -> Mapping[str, Crossing]:
        """Return the ways by the note that each leads to, given the ids of all notes."""
        there = np.flatnonzero(self.columns.there).tolist()
        return Named(cast(Views[Crossing], self.to), {ids[i]: i for i in there})

    @cached_property
    def all(self) -> tuple[Crossing, ...]:
        """Return every way from string to string, in order."""
        return tuple(self.at(np.flatnonzero(self.columns.there).tolist()))
