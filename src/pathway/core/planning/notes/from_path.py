"""From the hair path to strokes and notes; what a known plan says of untouched ones is kept."""

from collections.abc import Mapping
from itertools import pairwise

import numpy as np

from pathway.core.physics.geometry import contact_shift
from pathway.core.planning.columns import NoteColumns, with_rows
from pathway.core.planning.draft import Draft
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.notes.notes import NoteTable
from pathway.core.planning.notes.rows import Rows
from pathway.core.planning.notes.sharing import hair_of
from pathway.core.planning.notes.strokes import StrokeTable
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.plan import Known, StrokePlan
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.placement import nearest_strings
from pathway.core.planning.views import Views
from pathway.core.planning.wishes import Lock
from pathway.core.rig.instrument import Rig


def strokes_and_notes(
    draft: Draft, problem: PathProblem, path: Path, locks: Mapping[str, Lock], known: Known | None = None
) -> tuple[Views[StrokePlan], Views[NotePlan], NoteColumns]:
    """Return the strokes and the bowed notes that a hair path makes of a draft; what is carried over is kept.

    They are put together when someone looks at them.
    """
    anew = known[1].anew if known else list(range(len(draft.strokes)))
    if known and not anew:
        return known[0].strokes, known[0].bowed, known[0].columns
    asked = draft.asked.at(anew) if known else draft.asked
    rolled = _rolled(asked, draft.rig)
    hair = hair_of(asked, path.starts[anew], path.ends[anew], problem.times(path)[anew], rolled)
    rows = Rows(draft, path, anew, asked, hair, locks)
    notes = NoteTable.of(rows)
    strokes = StrokeTable.of(rows, problem, notes.sounds.at(rows.lasts))
    if known is None:
        return Views(len(anew), strokes.stroke), Views(len(rows.at), notes.note), notes.columns
    before, carried = known
    return (
        before.strokes.but({k: n for n, k in enumerate(anew)}, strokes.stroke, carried.index.tolist()),
        before.bowed.but({i: n for n, i in enumerate(rows.at)}, notes.note),
        with_rows(before.columns, rows.at, notes.columns),
    )


def _rolled(asked: StrokesAsked, rig: Rig) -> dict[int, list[float]]:
    """Return how far the contact moves before inner notes, where strokes roll over strings [m], by stroke."""
    found = {}
    for k in np.flatnonzero(asked.columns.slurred).tolist():
        ways = (nearest_strings(before, after) for before, after in pairwise(asked.strokes[k].placements))
        shifts = [contact_shift(rig.instrument, *way) if way else 0.0 for way in ways]
        if any(shifts):
            found[k] = shifts
    return found
