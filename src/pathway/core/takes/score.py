"""What of a plan listening needs: its notes in time, each with its pitches."""

from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.planning.note_plan import NotePlan
from pathway.core.rig.bow import Direction
from pathway.core.sound import Playable


def bowed_in(plan: Playable, begin: float, end: float) -> tuple[NotePlan, ...]:
    """Return the bowed notes that begin in a span of a plan [s]."""
    return tuple(n for n in plan.notes if n.stroke and n.voices and begin <= n.onset < end and n.duration > 0)


@dataclass(frozen=True)
class PlannedNotes:
    """The bowed notes of a plan, or of some bars of it; arrays of shape (N,)."""

    notes: tuple[NotePlan, ...]
    onsets: FloatArray  # [s]
    durations: FloatArray  # [s]
    sounding: FloatArray  # [s]
    bars: tuple[str, ...]  # in which each stands
    pitches: tuple[tuple[int, ...], ...]
    lowest: IntArray  # MIDI
    levels: FloatArray  # [dB]
    directions: tuple[Direction, ...]
    strings: tuple[int, ...]
    kinds: tuple[str, ...]

    @classmethod
    def of(cls, plan: Playable, begin: float = 0.0, end: float = np.inf) -> "PlannedNotes":
        """Return the bowed notes that begin in a span of a plan [s]."""
        notes = bowed_in(plan, begin, end)
        by_id = {stroke.id: stroke for stroke in plan.strokes}
        strokes = [by_id[note.stroke or ""] for note in notes]
        pitches = tuple(tuple(sorted(voice.midi for voice in note.voices)) for note in notes)
        return cls(
            notes,
            np.array([note.onset for note in notes]),
            np.array([note.duration for note in notes]),
            np.array([note.sounding for note in notes]),
            tuple(note.measure for note in notes),
            pitches,
            np.array([min(p) for p in pitches], dtype=np.int64),
            np.array([note.level_db for note in notes]),
            tuple(stroke.direction for stroke in strokes),
            tuple(note.lead.string for note in notes),
            tuple(stroke.kind for stroke in strokes),
        )

    def __len__(self) -> int:
        return len(self.notes)
