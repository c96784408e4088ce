"""What is known of all bowed notes, quantity by quantity: for rules and sums that look at the whole plan at once."""

from collections.abc import Sequence
from dataclasses import dataclass, fields
from typing import Any, TypeVar

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray

_Columns = TypeVar("_Columns", bound=Any)  # a dataclass of arrays


def with_rows(columns: _Columns, at: Sequence[int], rows: _Columns) -> _Columns:
    """Return other columns in which some rows are others.

    Args:
        columns: a value of arrays of shape (N,).
        at: which rows, at least one; M of them.
        rows: the same of arrays of shape (M,).
    """
    changed = {}
    for field in fields(columns):
        changed[field.name] = getattr(columns, field.name).copy()
        changed[field.name][at] = getattr(rows, field.name)
    found: _Columns = type(columns)(**changed)
    return found


@dataclass(frozen=True, slots=True)
class NoteColumns:
    """Arrays of shape (N,) over the bowed notes."""

    onset: FloatArray  # [s]
    sounding: FloatArray  # [s]
    start: FloatArray  # along the hair [m]
    end: FloatArray  # [m]
    bows: FloatArray  # to and fro, each over the whole length
    speed: FloatArray  # mean [m/s]
    target: FloatArray  # wanted level [dB]
    off: FloatArray  # level from the wanted one [dB]
    core: BoolArray  # neither airy nor pressed
    wood: BoolArray  # the stick touches the string
    string: IntArray  # of the lead, and its pitch and vibrating length [m]
    midi: IntArray
    vibrating: FloatArray
    voices: IntArray  # strings that sound
    contact: FloatArray  # bridge to hair [m]
    lane: IntArray
    position: IntArray  # of the left hand
    torque: FloatArray  # of the hand, steady, whichever way [N m]
    late: BoolArray  # it is over before its tone stands
    accent: BoolArray  # it begins with one
    let_go: FloatArray  # weight loaded before it over its own; infinite without a load

    @property
    def left_at(self) -> FloatArray:
        """Return where on the hair the bow is after each [m]: an even number of bows comes back."""
        return np.where(self.bows % 2, self.end, self.start)

    @property
    def way(self) -> FloatArray:
        """Return the way along the hair from where each finds the bow to where it leaves it [m]."""
        return self.left_at - self.start

    @property
    def hair(self) -> FloatArray:
        """Return the hair of all bows of each [m]."""
        return np.abs(self.end - self.start) * self.bows

    @property
    def grows(self) -> BoolArray:
        """Return whose first bow goes towards the tip."""
        towards: BoolArray = self.end > self.start
        return towards
