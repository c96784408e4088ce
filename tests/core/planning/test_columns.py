"""The columns of a plan say what its notes say, also where most of them were taken over from the plan before."""

from dataclasses import fields

import numpy as np
import pytest

from pathway.core.planning import Lock, Plan, replan
from pathway.core.planning.columns import NoteColumns
from pathway.core.planning.note_plan import NotePlan, Tone
from pathway.core.rig.bow import Direction
from pathway.core.technique.crossings import Sense
from tests.helpers import plan_of

TUNES = [
    "[mf] d4:4> e4 (f#4 g4) | [p] a4+c5:4 (b4:8 a4) g4:2 | [f] f#4:2. e4:4 | d4:1",
    "[f] d4:8. e5. d4. e5. g3:4. b5:4. | (d4:16. e4. f#4. g4.) a4:8> e5 g3:4 r | [pp] g3:16 e5 g3 e5 g3+d4+b4+g5:2",
]
EDITS = [Lock("n3", direction=Direction.UP), Lock("n3", force=0.4), Lock("n5", lane=5), Lock("n1", end=0.3)]


def _row(note: NotePlan) -> dict[str, float]:
    """What a note says of itself, by the names of the columns."""
    onset = note.onset_of_tone
    return {
        "onset": note.onset,
        "sounding": note.sounding,
        "start": note.start,
        "end": note.end,
        "bows": note.bows,
        "speed": note.speed,
        "target": note.target_db,
        "off": note.level_db - note.target_db,
        "core": note.tone is Tone.CORE,
        "wood": note.wood,
        "string": note.lead.string,
        "midi": note.lead.midi,
        "vibrating": note.lead.vibrating,
        "voices": len(note.voices),
        "contact": note.contact,
        "lane": note.lane,
        "position": note.position,
        "torque": abs(note.torque_at[1]),
        "late": onset is not None and onset.speak > note.sounding,
        "accent": onset is not None and note.pulse_db > 0,
        "let_go": note.force_at[0] / note.force_at[1] if note.load else np.inf,
    }


def _says_the_same(plan: Plan) -> None:
    rows = [_row(note) for note in plan.bowed]
    assert {field.name for field in fields(NoteColumns)} == rows[0].keys()
    for name in rows[0]:
        assert getattr(plan.columns, name).tolist() == [row[name] for row in rows], name
    ways = plan.crossed.columns
    for i, note in enumerate(plan.bowed):
        way = plan.crossing_to.get(note.id)
        assert bool(ways.there[i]) == (way is not None)
        if way is not None:
            told = (ways.source[i], ways.target[i], ways.time[i], ways.skips[i], ways.drift[i], ways.speed[i])
            assert told == (way.from_string, way.to_string, way.time, way.skips, way.drift, way.speed)
            assert bool(ways.hard[i]) == (way.sense is Sense.HARD)


@pytest.mark.parametrize("edit", EDITS)
@pytest.mark.parametrize("tune", TUNES)
def test_columns_say_what_notes_and_crossings_say(tune: str, edit: Lock) -> None:
    """Of a whole plan, after an edit, and after it is taken back; the plan before keeps its own."""
    plan = plan_of(tune)
    _says_the_same(plan)
    before = plan.columns.off.copy()
    changed = replan(plan, [edit])
    _says_the_same(changed)
    _says_the_same(replan(changed, ()))
    np.testing.assert_array_equal(plan.columns.off, before)


def test_each_quantity_is_that_of_its_note() -> None:
    """A double stop has two voices and the lead's string; a note is as far off as it sounds and is asked."""
    plan = plan_of(TUNES[0])
    stop = next(i for i, note in enumerate(plan.bowed) if len(note.voices) > 1)
    columns, note = plan.columns, plan.bowed[stop]
    assert (columns.voices[stop], columns.voices.sum()) == (2, len(plan.bowed) + 1)
    assert (columns.string[stop], columns.midi[stop]) == (note.lead.string, note.lead.midi)
    assert columns.off[stop] == note.level_db - note.target_db
    assert columns.grows.tolist() == [n.end > n.start for n in plan.bowed]
    assert columns.hair.sum() == pytest.approx(plan.totals.hair)
