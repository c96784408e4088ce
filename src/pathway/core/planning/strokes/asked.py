"""Strokes to be, on their strings, with all that is known of them and their notes, quantity by quantity."""

from collections.abc import Sequence
from dataclasses import dataclass, fields
from typing import Any, TypeVar

import numpy as np

from pathway.core.arrays import IntArray
from pathway.core.planning.strokes.columns import NotesAsked, StrokeColumns
from pathway.core.planning.strokes.stroke import Stroke

_Columns = TypeVar("_Columns", bound=Any)  # a dataclass of arrays


@dataclass(frozen=True)
class StrokesAsked:
    """K strokes and the columns of them and their N notes."""

    strokes: Sequence[Stroke]
    columns: StrokeColumns
    notes: NotesAsked

    @classmethod
    def of(cls, strokes: Sequence[Stroke]) -> "StrokesAsked":
        """Return some strokes with their columns."""
        notes = NotesAsked.of(strokes)
        return cls(strokes, StrokeColumns.of(strokes, notes), notes)

    def at(self, some: Sequence[int]) -> "StrokesAsked":
        """Return some of the strokes, in order."""
        index, counts = np.array(some), self.columns.notes
        ends = counts[index].cumsum()
        rows = np.arange(ends[-1]) + (self.columns.firsts[index] - ends + counts[index]).repeat(counts[index])
        return StrokesAsked([self.strokes[k] for k in some], _at(self.columns, index), _at(self.notes, rows))

    def around(self, strokes: Sequence[Stroke], before: int, middle: "StrokesAsked", after: int) -> "StrokesAsked":
        """Return other strokes: so many of these before and after those in the middle."""
        last = len(self.strokes) - after
        first, end = (int(self.columns.notes[:k].sum()) for k in (before, last))
        columns = _around(self.columns, before, middle.columns, last)
        return StrokesAsked(strokes, columns, _around(self.notes, first, middle.notes, end))


def _at(columns: _Columns, rows: IntArray) -> _Columns:
    found: _Columns = type(columns)(**{field.name: getattr(columns, field.name)[rows] for field in fields(columns)})
    return found


def _around(columns: _Columns, before: int, middle: _Columns, last: int) -> _Columns:
    named = ((one.name, getattr(columns, one.name), getattr(middle, one.name)) for one in fields(columns))
    joined = {name: np.concatenate([own[:before], other, own[last:]]) for name, own, other in named}
    spliced: _Columns = type(columns)(**joined)
    return spliced
