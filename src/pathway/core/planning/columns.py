"""What is known of all bowed notes, quantity by quantity: for rules and sums that look at the whole plan at once."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, fields
from typing import Any, TypeVar

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.planning.note_plan import NotePlan, Tone

_Columns = TypeVar("_Columns", bound=Any)  # a dataclass of arrays
_CORE = Tone.CORE  # looked up once: an enumeration looks its members up by name


def with_rows(columns: _Columns, at: Sequence[int], rows: Iterable[tuple[float, ...]]) -> _Columns:
    """Return other columns in which some rows are others.

    Args:
        columns: a value of arrays of shape (N,).
        at: which rows, at least one.
        rows: a value for every column, row by row.
    """
    arrays = [getattr(columns, field.name).copy() for field in fields(columns)]
    for array, values in zip(arrays, zip(*rows, strict=True), strict=True):
        array[at] = values
    changed: _Columns = type(columns)(*arrays)
    return changed


@dataclass(frozen=True, slots=True)
class NoteColumns:
    """Arrays of shape (N,) over the bowed notes."""

    off: FloatArray  # from its wanted level [dB]
    sounding: FloatArray  # [s]
    way: FloatArray  # along the hair, from where it finds the bow to where it leaves it [m]
    hair: FloatArray  # of all its bows [m]
    grows: BoolArray  # its first bow goes towards the tip
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

    @classmethod
    def of(
        cls, notes: Sequence[NotePlan], before: "tuple[NoteColumns, Sequence[NotePlan]] | None" = None
    ) -> "NoteColumns":
        """Return the columns of some notes; those of the notes that stood in a plan before are taken over."""
        if before is None:
            return cls(*map(np.array, zip(*map(_row, notes), strict=True)))
        known, old = before
        fresh = {i: note for i, (note, other) in enumerate(zip(notes, old, strict=True)) if note is not other}
        return with_rows(known, list(fresh), map(_row, fresh.values())) if fresh else known


def _row(note: NotePlan) -> tuple[float, ...]:
    lead, way, onset, force = note.lead, note.end - note.start, note.onset_of_tone, note.force_at
    return (
        note.level_db - note.target_db,
        note.sounding,
        way if note.bows % 2 else 0.0,
        abs(way) * note.bows,
        way > 0,
        note.tone is _CORE,
        note.wood,
        lead.string,
        lead.midi,
        lead.vibrating,
        len(note.voices),
        note.contact,
        note.lane,
        note.position,
        abs(note.torque_at[1]),
        onset is not None and onset.speak > note.sounding,
        onset is not None and note.pulse_db > 0,
        force[0] / force[1] if note.load else math.inf,
    )
