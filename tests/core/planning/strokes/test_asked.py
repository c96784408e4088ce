"""What is known of strokes and their notes in columns is what each of them says; some of them, or others between."""

from dataclasses import fields

import numpy as np
import pytest

from pathway.core.planning import Passage, Plan, Settings, plan_part
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.rig import preset
from pathway.core.technique.notation import place_range
from tests.helpers import part_of

TUNE = "[p] d4:4 (e4:8 f4 g4) a4:8> | [f] g3+d4+b4:4 {sul_pont.} d4:16. e4. f4. g4. r:4 a4:4~ | a4:2 (b4:4. c5.) | d5:1"


def _plan() -> Plan:
    part = part_of(TUNE)
    first, last = part.events[0].id, part.events[6].id
    return plan_part(part, preset("violin"), Settings(passages=(Passage(first, last, offset_db=2.0),)))


def _same(one: StrokesAsked, other: StrokesAsked) -> None:
    assert list(one.strokes) == list(other.strokes)
    for mine, theirs in ((one.columns, other.columns), (one.notes, other.notes)):
        for field in fields(mine):
            np.testing.assert_array_equal(getattr(mine, field.name), getattr(theirs, field.name), field.name)


def test_columns_say_what_strokes_say() -> None:
    """Every quantity that a stroke can be asked for by itself."""
    asked = _plan().draft.asked
    for k, stroke in enumerate(asked.strokes):
        told = {
            name: getattr(stroke, own)
            for name, own in {
                "begin": "begin", "end": "end", "bows": "bows", "rest": "rest_before", "strength": "strength",
                "first_of_bar": "first_of_bar", "upbeat": "upbeat", "grows": "grows", "proposed": "proposed",
                "early": "early", "chord": "is_chord",
            }.items()
        }  # fmt: skip
        notes, moving = stroke.notes, sum(note.sounding for note in stroke.notes)
        told |= {
            "notes": len(notes),
            "measure": notes[0].event.measure,
            "moving": moving,
            "level": sum(note.level_db * note.sounding for note in notes) / moving,
            "rate": sum(not note.event.tied for note in notes) / (notes[-1].end - notes[0].begin),
            "accented": notes[0].pulse_db > 0,
            "keep_back": notes[-1].ask.keep_back or 0.0,
            "halved": False,
        }
        assert {name: getattr(asked.columns, name)[k] for name in told} == pytest.approx(told)
        assert asked.columns.sung[k] == (stroke.kind.hair_a_note is None)


def test_columns_say_what_notes_say() -> None:
    """What is asked of each, and where it lies."""
    asked = _plan().draft.asked
    pairs = [pair for stroke in asked.strokes for pair in zip(stroke.notes, stroke.placements, strict=True)]
    assert {len(placed.strings) for _, placed in pairs} == {1, 3}
    notes = asked.notes
    for i, (note, placed) in enumerate(pairs):
        assert (notes.begin[i], notes.end[i], notes.sounding[i]) == (note.begin, note.end, note.sounding)
        assert (notes.opening[i], notes.level[i], notes.closing[i]) == (
            note.level_ends[0], note.level_db, note.level_ends[1],
        )  # fmt: skip
        assert (notes.beta_from[i], notes.beta_to[i]) == place_range(note.ask.where, placed.lead.furthest)
        assert (notes.string[i], notes.voices[i]) == (placed.lead_string, len(placed.strings))
        assert (notes.tied[i], notes.accent[i]) == (note.event.tied, note.pulse_db > 0)
        assert notes.strings.heaviness[i] == placed.lead.heaviness


def test_some_strokes_and_others_between_them() -> None:
    """Picked out, or put around others, they are as if made anew."""
    asked = _plan().draft.asked
    some = [0, 1, 3, 4]
    _same(asked.at(some), StrokesAsked.of([asked.strokes[k] for k in some]))
    strokes = [*asked.strokes[:1], *asked.strokes[2:4], *asked.strokes[-2:]]
    _same(asked.around(strokes, 1, StrokesAsked.of(asked.strokes[2:4]), 2), StrokesAsked.of(strokes))
    _same(asked.around(asked.strokes, 0, asked, 0), asked)
