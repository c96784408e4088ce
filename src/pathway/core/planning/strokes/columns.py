"""What is known of all strokes to be, quantity by quantity: for rules that look at the whole part at once."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields
from typing import Any

import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.planning.strokes.segments import HALF_BAR, Segment
from pathway.core.technique.stroke_types import STROKE_TYPES, StrokeType

RUN, LIKE_RATE = 3, 0.12  # strokes in a row that make a rate; how far their rates may differ [1]
_KINDS = {key: n for n, key in enumerate(STROKE_TYPES)}


def of_kinds(tell: Callable[[StrokeType], float]) -> NDArray[Any]:
    """Return what is to be told of each manner, in the order of their table: to be looked up by a column of them."""
    return np.array([tell(kind) for kind in STROKE_TYPES.values()])


_STOPS_INSIDE = of_kinds(lambda kind: kind.stops_inside)


@dataclass(frozen=True, slots=True)
class StrokeColumns:
    """Arrays of shape (K,) over strokes to be."""

    begin: FloatArray  # [s]
    end: FloatArray  # as written [s]
    moving: FloatArray  # how long the bow moves [s]
    bows: FloatArray  # strokes to and fro
    rest: FloatArray  # silence before it [s]
    notes: IntArray  # how many
    measure: IntArray  # in which it begins, counted from 0
    kind: IntArray  # manner, in the order of their table
    level: FloatArray  # mean [dB]
    strength: FloatArray  # metrical, 0 to 1
    accented: BoolArray
    sung: BoolArray  # neither bounces nor is caught
    proposed: BoolArray  # begins with a bow change that the page does not have
    rate: FloatArray  # separate notes that it carries a second

    @classmethod
    def of(cls, strokes: Sequence[Segment]) -> "StrokeColumns":
        """Return the columns of some strokes."""
        return cls(*map(np.array, zip(*map(_row, strokes), strict=True)))

    def around(self, before: int, middle: "StrokeColumns", after: int) -> "StrokeColumns":
        """Return other columns with so many of these strokes before and after them."""
        end = len(self.begin) - after
        named = [(getattr(self, field.name), getattr(middle, field.name)) for field in fields(self)]
        return StrokeColumns(*(np.concatenate([own[:before], other, own[end:]]) for own, other in named))

    @property
    def slurred(self) -> BoolArray:
        """Return which have several notes."""
        several: BoolArray = self.notes > 1
        return several

    @property
    def weak(self) -> BoolArray:
        """Return which carry no weight of their own."""
        light: BoolArray = (self.strength < HALF_BAR) & ~self.accented
        return light


def _row(stroke: Segment) -> tuple[float, ...]:
    return (
        stroke.begin,
        stroke.end,
        stroke.moving,
        float(stroke.bows),
        stroke.rest_before,
        len(stroke.notes),
        stroke.notes[0].event.measure,
        _KINDS[stroke.kind.key],
        stroke.level_db,
        stroke.strength,
        stroke.accented,
        stroke.kind.hair_a_note is None,
        stroke.proposed,
        stroke.rate,
    )


def rates_of(columns: StrokeColumns) -> FloatArray:
    """Return the rate of every stroke's notes [1/s]; 0 where too few follow each other to make one."""
    by_itself = (columns.bows > 1) | (_STOPS_INSIDE[columns.kind] & columns.slurred)
    found: FloatArray = np.where(by_itself, columns.rate, 0.0)
    alone, rates, kinds = columns.notes == 1, columns.rate.tolist(), columns.kind.tolist()
    goes_on, start = (alone & (columns.rest == 0)).tolist(), 0
    for k in range(1, len(rates) + 1):
        like = k < len(rates) and goes_on[k] and kinds[k] == kinds[start]
        if like and abs(rates[k] - rates[start]) < LIKE_RATE * rates[start]:
            continue
        if k - start >= RUN and alone[start]:
            found[start:k] = rates[start:k]
        start = k
    return found
