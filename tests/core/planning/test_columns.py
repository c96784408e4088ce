"""The columns of a plan say what its notes say, also where most of them were taken over from the plan before."""

from dataclasses import fields

import numpy as np
import pytest

from pathway.core.planning import Lock, Plan, replan
from pathway.core.planning.columns import NoteColumns
from pathway.core.rig.bow import Direction
from tests.helpers import plan_of

TUNE = "[mf] d4:4> e4 (f#4 g4) | [p] a4+c5:4 (b4:8 a4) g4:2 | [f] f#4:2. e4:4 | d4:1"
EDITS = [Lock("n3", direction=Direction.UP), Lock("n3", force=0.4), Lock("n5", lane=5), Lock("n1", end=0.3)]


def _same(plan: Plan) -> None:
    fresh = NoteColumns.of(plan.bowed)
    for field in fields(NoteColumns):
        mine, theirs = getattr(plan.columns, field.name), getattr(fresh, field.name)
        assert mine.dtype == theirs.dtype
        np.testing.assert_array_equal(mine, theirs)


@pytest.mark.parametrize("edit", EDITS)
def test_what_is_taken_over_is_what_would_be_made(edit: Lock) -> None:
    """After an edit, and after it is taken back; the plan before keeps its own."""
    plan = plan_of(TUNE)
    before = plan.columns.off.copy()
    changed = replan(plan, [edit])
    _same(changed)
    _same(replan(changed, ()))
    np.testing.assert_array_equal(plan.columns.off, before)


def test_each_quantity_is_that_of_its_note() -> None:
    """A double stop has two voices and the lead's string; a note is as far off as it sounds and is asked."""
    plan = plan_of(TUNE)
    stop = next(i for i, note in enumerate(plan.bowed) if len(note.voices) > 1)
    columns, note = plan.columns, plan.bowed[stop]
    assert (columns.voices[stop], columns.voices.sum()) == (2, len(plan.bowed) + 1)
    assert (columns.string[stop], columns.midi[stop]) == (note.lead.string, note.lead.midi)
    assert columns.off[stop] == note.level_db - note.target_db
    assert columns.grows.tolist() == [n.end > n.start for n in plan.bowed]
    assert columns.hair.sum() == pytest.approx(plan.totals.hair)
