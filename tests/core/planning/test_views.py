"""Strokes and notes are made when someone looks at them, once, and not again in the plan after an edit."""

import pickle

import pytest

from pathway.core.planning import Lock, replan
from pathway.core.planning.notes.notes import NoteTable
from pathway.core.planning.views import Named, Views
from tests.helpers import broken_rules_of, plan_of


def test_a_value_is_made_when_it_is_looked_at_and_once() -> None:
    """By number, from the end, in a slice, or one after the other."""
    asked: list[int] = []
    views = Views(4, lambda i: asked.append(i) or 10 * i)  # type: ignore[func-returns-value]
    assert (len(views), asked) == (4, [])
    assert (views[2], views[2], views[-1], views[1:3]) == (20, 20, 30, (10, 20))
    assert asked == [2, 3, 1]
    assert list(views) == [0, 10, 20, 30]
    assert asked == [2, 3, 1, 0]
    assert (views == (0, 10, 20, 30), views == [0]) == (True, False)


def test_what_is_carried_over_is_made_once_for_both() -> None:
    """Whichever of the two is looked at first; fresh values stand in their places, an absent one too."""
    views: Views[list[int] | None] = Views(4, lambda i: [i])
    after = views.but({1: 9, 3: 0}, lambda row: [row] if row else None, [0, 1, 2, 2, 3])
    assert list(after) == [[0], [9], [2], None, [3]]
    assert after[0] is views[0]
    assert views[3] is after[4]
    assert list(views) == [[0], [1], [2], [3]]
    assert after.but({}, lambda _: None) is after


def test_the_next_edit_makes_what_is_left_of_the_one_before() -> None:
    """And nothing else; afterwards the one before is not asked again."""
    asked: list[str] = []
    views = Views(5, lambda i: asked.append(f"first {i}") or i)  # type: ignore[func-returns-value]
    once = views.but({1: 0, 2: 1}, lambda row: asked.append(f"second {row}") or 10 + row)  # type: ignore[func-returns-value]
    assert (once[2], asked) == (11, ["second 1"])
    twice = once.but({1: 0}, lambda row: 20 + row, [4, 3, 2, 1])
    assert asked == ["second 1", "second 0"]
    assert list(twice) == [4, 20, 11, 10]
    assert [one for one in asked if one.startswith("second")] == ["second 1", "second 0"]


def test_values_go_to_another_process_and_have_names() -> None:
    """All of them are made on the way."""
    views = Views(3, "abc".__getitem__)
    assert pickle.loads(pickle.dumps(views.but({1: 0}, "xyz".__getitem__))) == ("a", "x", "c")
    asked: list[int] = []
    unseen = Named(Views(2, asked.append), {"one": 0, "two": 1})
    assert ("two" in unseen, "six" in unseen, asked) == (True, False, [])
    named = Named(views, {"one": 0, "two": 1})
    assert (named["two"], list(named), len(named)) == ("b", ["one", "two"], 2)
    assert (named.after("two"), Named(views, {"three": 2}).after("three")) == ("c", None)


def test_a_plan_makes_the_notes_that_someone_asks_for(monkeypatch: pytest.MonkeyPatch) -> None:
    """None to be planned where nothing is to be told; an edit keeps those that it does not touch."""
    made: list[int] = []
    make = NoteTable.note
    monkeypatch.setattr(NoteTable, "note", lambda table, i: made.append(i) or make(table, i))
    plan = plan_of("[mf] " + " | ".join(["d4:4 e4 f#4 g4"] * 8), tempo=72)
    assert made == []
    last = plan.note[plan.draft.bowed[-1].id]
    assert made == [len(plan.bowed) - 1]
    changed = replan(plan, [Lock("n3", force=0.5)])
    assert changed.bowed[-1] is last
    assert changed.bowed[2].force != plan.bowed[2].force
    assert broken_rules_of(changed) == []


def test_plucked_notes_stand_among_the_others() -> None:
    """In the order of the part, by number and by name."""
    plan = plan_of("[mf] d4:4 e4 f4 g4 | {pizz.} d4 e4 f4 g4 | {arco} d4 e4 f4 g4")
    ids = [event.id for event in plan.part.events]
    assert [note.id for note in plan.notes] == ids == list(plan.note)
    assert [note.stroke is None for note in plan.notes] == [False] * 4 + [True] * 4 + [False] * 4
    assert all(plan.note[id_] is note for id_, note in zip(ids, plan.notes, strict=True))
