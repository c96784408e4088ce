"""What the hand does to a plan: every kind of edit is kept, the rest follows, and it can be left to the plan again."""

import math
from dataclasses import fields

import numpy as np
import pytest

from pathway.core.planning import Plan, replan
from pathway.core.planning.draft import Draft
from pathway.core.planning.edits import Edit, What, edited_locks, label_of
from pathway.core.planning.path.problem import PathProblem
from pathway.core.planning.wishes import Link
from pathway.errors import NotFound, PlanError
from tests.helpers import broken_rules_of, plan_of

TEXT = "[mf] (d4:4 e4) f#4 g4 | a4 b4 c5 d5 | (e5:4 d5 c5 b4) | d4+a4:2 g4"


@pytest.fixture(scope="module")
def plan() -> Plan:
    """Slurs, separate notes and a double stop."""
    return plan_of(TEXT)


def _after(plan: Plan, what: str, note: str, value: str | None = None, step: float | None = None) -> Plan:
    edit = Edit(What(what), (note,), value, step)
    changed = replan(plan, edited_locks(plan, edit).values())
    assert broken_rules_of(changed) == []
    return changed


def test_directions_links_and_ends_are_kept(plan: Plan) -> None:
    """Of the stroke that carries the note, whichever of its notes was chosen."""
    turned = _after(plan, "direction", "n2", "up" if plan.strokes[0].direction > 0 else "down")
    assert turned.strokes[0].direction is not plan.strokes[0].direction
    hooked = _after(plan, "link", "n4", "hook")
    assert hooked.stroke["n4"].entry is Link.HOOK
    ended = _after(plan, "end", "n1", "50")
    assert ended.strokes[0].end == pytest.approx(0.50)
    further = _after(ended, "end", "n1", step=-1)
    assert further.strokes[0].end == pytest.approx(0.49)
    assert "end" in further.strokes[0].locks


def test_an_end_stays_on_the_hair_and_ahead_of_the_start(plan: Plan) -> None:
    """Dragged beyond the tip or behind the start it stops there."""
    stroke = plan.strokes[0]
    beyond = _after(plan, "end", "n1", "90" if stroke.direction > 0 else "-20")
    low, high = plan.rig.usable
    assert beyond.strokes[0].end == pytest.approx(high if stroke.direction > 0 else low)
    behind = edited_locks(plan, Edit(What.END, ("n1",), "0" if stroke.direction > 0 else "60"))["n1"].end
    assert behind is not None
    assert (behind - stroke.start) * stroke.direction > 0


def test_a_bow_and_every_value_can_be_kept_as_they_are(plan: Plan) -> None:
    """Locked where the plan has them: nothing moves then, nor when a neighbour is turned; the history says so."""
    hold = Edit(What.HOLD, ("n4", "n5"))
    held = replan(plan, edited_locks(plan, hold).values())
    assert broken_rules_of(held) == []
    assert np.allclose(held.path.starts, plan.path.starts, atol=2e-3)
    assert [held.stroke[id_].locks for id_ in ("n4", "n5")] == [("direction", "start", "end")] * 2
    assert label_of(plan, hold) == "Bars 1–2: bow kept as it is"
    turned = _after(held, "end", "n3", step=3)
    for id_ in ("n4", "n5"):
        assert turned.stroke[id_].end == pytest.approx(plan.stroke[id_].end, abs=1e-6)
    for what, at in (("lane", "lane"), ("weight", "force"), ("tilt", "tilt"), ("end", "end")):
        kept = _after(plan, what, "n4", step=0)
        assert getattr(kept.note["n4"], at) == pytest.approx(getattr(plan.note["n4"], at), rel=1e-3, abs=1e-6)
        assert {*kept.locks["n4"].names} == {what}
    assert label_of(plan, Edit(What.LANE, ("n4",), step=0)) == "Bar 1: lane kept as it is"


def test_slurs_are_divided_and_joined(plan: Plan) -> None:
    """A split begins a bow with the note; a join takes the next stroke in; both can be taken back."""
    split = _after(plan, "slur", "n11", "split")
    assert len(split.strokes) == len(plan.strokes) + 1
    assert "n11" in split.stroke
    whole = _after(split, "slur", "n11")
    assert len(whole.strokes) == len(plan.strokes)
    joined = _after(plan, "slur", "n3", "join")
    assert joined.note["n4"].stroke == "n3"
    with pytest.raises(PlanError, match="begins with this note"):
        edited_locks(plan, Edit(What.SLUR, ("n3",), "split"))


def test_place_weight_and_tilt_belong_to_the_note(plan: Plan) -> None:
    """Its neighbours in the same bow keep theirs; the path stays where it is."""
    lane = _after(plan, "lane", "n10", "2")
    assert lane.note["n10"].lane == 2
    assert lane.note["n9"].lane == plan.note["n9"].lane
    heavy = _after(plan, "weight", "n3", step=0.3)
    assert heavy.note["n3"].force == pytest.approx(plan.note["n3"].force + 0.3, abs=1e-3)
    assert heavy.note["n3"].lead.place > plan.note["n3"].lead.place
    tilted = _after(plan, "tilt", "n3", "30")
    assert math.degrees(tilted.note["n3"].tilt) == pytest.approx(30)
    for changed in (lane, heavy, tilted):
        assert (changed.path.ends == plan.path.ends).all()


def test_a_point_of_the_tone_map_is_one_edit(plan: Plan) -> None:
    """Lane and weight are set together and left together."""
    edit = Edit(What.POINT, ("n3",), "5 0.9")
    after = replan(plan, edited_locks(plan, edit).values())
    assert after.note["n3"].lane == 5
    assert after.note["n3"].force == pytest.approx(0.9)
    assert label_of(plan, edit) == "Bar 1: place and weight 5 0.9"
    assert edited_locks(after, Edit(What.POINT, ("n3",))) == {}


def test_weight_on_a_double_stop_is_shared(plan: Plan) -> None:
    """Both strings together carry what was set."""
    note = plan.notes[-2]
    heavy = _after(plan, "weight", note.id, "1.5")
    assert heavy.note[note.id].force == pytest.approx(1.5)
    assert len(heavy.note[note.id].voices) == 2


def test_manner_ending_string_and_lead_shape_the_stroke(plan: Plan) -> None:
    """Martelé is martelé, a stopped end leaves silence, another string sounds, the other voice leads."""
    assert _after(plan, "type", "n5", "martele").stroke["n5"].kind == "martele"
    stopped = _after(plan, "exit", "n5", "stopped")
    assert stopped.stroke["n5"].exit == "stopped"
    assert stopped.note["n5"].sounding < plan.note["n5"].sounding
    string = plan.note["n6"].lead.string
    assert _after(plan, "string", "n6", str(string - 1)).note["n6"].lead.string == string - 1
    double = plan.notes[-2]
    assert _after(plan, "lead", double.id, "bottom").note[double.id].lead.string != double.lead.string


def test_another_lead_or_string_is_searched_for_anew_around_it() -> None:
    """Only the tone's strings change, yet the path near it is the one found under the new speeds."""
    long = plan_of("[f] " + " | ".join(["(g3+e5:2d g3+d5:4)", "g3+e5:1"] * 4))
    changed = replan(long, edited_locks(long, Edit(What.LEAD, ("n9",), "bottom")).values())
    assert changed.note["n9"].lead.string != long.note["n9"].lead.string
    assert broken_rules_of(changed) == []
    kept = changed.problem.total(long.path)
    assert changed.problem.total(changed.path) <= kept + 0.05


def test_everything_can_be_left_to_the_plan_again(plan: Plan) -> None:
    """One thing, or all that was set on the notes and their strokes."""
    locked = _after(_after(plan, "direction", "n5", "up"), "weight", "n5", "0.9")
    one = edited_locks(locked, Edit(What.WEIGHT, ("n5",)))
    assert one["n5"].force is None
    assert one["n5"].direction is not None
    assert edited_locks(locked, Edit(What.ALL, ("n5",))) == {}


@pytest.mark.parametrize(
    ("what", "value"),
    [("slur", "split"), ("type", "martele"), ("exit", "stopped"), ("string", "1"), ("profile", "save")],
)
def test_what_shapes_strokes_changes_only_what_lies_near(what: str, value: str) -> None:
    """The draft made from the old one is the one made anew, number by number; far away the plan is the same object."""
    long = plan_of("[mf] " + " | ".join(["(d4:4 e4) f#4 g4", "a4:8 b4 c5 d5 (e5 d5 c5 b4)"] * 14))
    note = long.strokes[30].notes[-1] if what == "slur" else long.strokes[30].id
    edit = Edit(What(what), (note,), value)
    if what == "slur":
        edit = Edit(What.SLUR, (next(s.notes[1] for s in long.strokes[30:] if len(s.notes) > 1),), value)
    locks = edited_locks(long, edit)
    changed = replan(long, locks.values())
    anew = Draft.of(long.part, long.rig, long.draft.settings, locks)
    assert changed.draft.strokes == anew.strokes
    for field in fields(PathProblem):
        one, other = getattr(changed.problem, field.name), getattr(anew.problem, field.name)
        assert np.array_equal(one, other, equal_nan=True), field.name
    assert changed.strokes[0] is long.strokes[0]
    assert changed.notes[-1] is long.notes[-1]
    back = replan(changed, [])
    assert back.draft.strokes == long.draft.strokes
    assert broken_rules_of(back) == []


def test_several_notes_at_once(plan: Plan) -> None:
    """A selection over strokes: every stroke once, every note itself."""
    notes = ("n3", "n4", "n5")
    assert set(edited_locks(plan, Edit(What.TYPE, notes, "martele"))) == set(notes)
    assert set(edited_locks(plan, Edit(What.DIRECTION, ("n1", "n2"), "down"))) == {"n1"}
    assert label_of(plan, Edit(What.LANE, ("n3", "n6"), "3")) == "Bars 1–2: lane 3"


@pytest.mark.parametrize(
    ("what", "value", "said"),
    [
        ("type", "sneeze", "is no type"),
        ("end", "soon", "not a number"),
        ("lane", "nan", "not a number"),
        ("weight", "inf", "not a number"),
        ("string", "9", "no string"),
        ("point", "3", "no point"),
    ],
)
def test_what_cannot_be_meant_is_refused(plan: Plan, what: str, value: str, said: str) -> None:
    """With the place, and the plan as it was."""
    with pytest.raises(PlanError, match=said):
        edited_locks(plan, Edit(What(what), ("n3",), value))
    with pytest.raises(NotFound, match="no bowed note"):
        edited_locks(plan, Edit(What(what), ("zz",), value))


@pytest.mark.parametrize(("note", "direction"), [("n1", 1), ("n2", -1)])
def test_a_start_never_passes_the_end_that_is_set(note: str, direction: int) -> None:
    """Set too far it stops half a centimetre short of it; stepped, it moves; the stroke begins there."""
    plan = plan_of("[mf] d4:4 e4 f4 g4")
    locks = edited_locks(plan, Edit(What.END, (note,), "30"))
    held = replan(plan, locks.values())
    too_far = edited_locks(held, Edit(What.START, (note,), "60" if direction > 0 else "2"))
    assert too_far[note].start == pytest.approx(0.30 - direction * 0.005)
    stepped = edited_locks(held, Edit(What.START, (note,), step=1.0 * direction))
    assert stepped[note].start == pytest.approx(held.stroke[note].start + 0.01 * direction)
    assert replan(held, stepped.values()).stroke[note].start == pytest.approx(stepped[note].start)
