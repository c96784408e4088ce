"""What an edit leaves as it was: told once, and true."""

import math
import random
from dataclasses import replace

import pytest
from msgspec import Struct
from msgspec.structs import astuple

from pathway.benchmark import generated_part
from pathway.core.planning import Lock, Passage, Plan, Settings, plan_part, replan
from pathway.core.planning.carried import Carried
from pathway.core.planning.edits import Edit, What, edited_locks
from pathway.core.rig import preset
from pathway.errors import PathwayError
from pathway.formats.score import ScoreFile
from tests.helpers import part_of, segments

EDITS = [
    (What.DIRECTION, "up", None), (What.END, None, 3.0), (What.LINK, "hook", None), (What.SLUR, "split", None),
    (What.SLUR, "join", None), (What.TYPE, "martele", None), (What.LANE, None, 1.0), (What.STRING, "2", None),
    (What.EXIT, "stopped", None), (What.ALL, None, None),
]  # fmt: skip
OF_THE_HAND = [
    (What.STRING, "2", None), (What.STRING, "1", None), (What.LEAD, "upper", None), (What.LEAD, "lower", None),
    (What.VIBRATO, "wide", None), (What.VIBRATO, "none", None), (What.OCTAVE, "1", None), (What.OCTAVE, "-1", None),
    (What.TYPE, "legato", None), (What.TYPE, "spiccato", None), (What.SLUR, "join", None), (What.ALL, None, None),
]  # fmt: skip


def test_shared_strokes_are_told_by_identity() -> None:
    """At both ends, never twice where everything is shared, and new ones have a stand-in."""
    one, two, three = segments(part_of("d4:4 e4 f4"))
    other = segments(part_of("g4:2 a4:4"))[0]
    assert Carried.between([one, two, three], [one, two, three]) == Carried.everything(3)
    changed = Carried.between([one, two, three], [one, other, three])
    assert (changed.before, changed.after, changed.new) == (1, 1, slice(1, 2))
    assert changed.index.tolist() == [0, 1, 2]
    shorter = Carried.between([one, two, three], [other, three])
    assert (shorter.index.tolist(), shorter.shared.tolist(), shorter.anew) == ([0, 2], [1], [0, 1])
    assert Carried.everything(5).but({3}).anew == [2, 3, 4]
    assert Carried.everything(5).anew == []


@pytest.mark.parametrize("seed", range(3))
def test_what_an_edit_carries_over_is_what_a_whole_plan_would_say(seed: int) -> None:
    """After any edit: strokes said to be carried are the very ones, and all equals the plan made whole on that path."""
    chance = random.Random(seed)
    plan = plan_part(ScoreFile(generated_part(90, seed), "g.musicxml").part().part, preset("violin"))
    kept = edits = 0
    for what, value, step in chance.choices(EDITS, k=12):
        edit = Edit(what, (chance.choice(plan.bowed).id,), value, step)
        try:
            after = replan(plan, edited_locks(plan, edit).values())
        except PathwayError:
            continue
        fresh = set(after.carried.anew)
        for k in set(range(len(after.strokes))) - fresh:
            assert after.strokes[k] is plan.strokes[int(after.carried.index[k])]
        kept, edits = kept + len(after.strokes) - len(fresh), edits + 1
        _assert_same(after, plan_part(plan.part, plan.rig, plan.draft.settings, after.locks.values(), after.path))
        plan = after
    assert kept > 10 * edits > 60  # most of the piece stays as it was


@pytest.mark.parametrize("rig", ["viola", "cello", "bass"])
def test_where_the_hand_lies_is_carried_over_as_a_whole_plan_would_have_it(rig: str) -> None:
    """Double stops, chords, high notes and long ones that are shaken: the line is looked at only where it changed."""
    chance = random.Random(rig)
    text = "(c3:4 e3) g3+e3:4 c4:4d c4:8 | (a3:8 b3 c4 d4) g2+e3+c4:2 | b3:1 | (f3:16 g3 a3 b3) c4:4. c4. c4:4"
    plan = plan_part(part_of(f"{text} | {text}", rig), preset(rig))
    looked = 0
    for what, value, step in chance.choices(OF_THE_HAND, k=16):
        edit = Edit(what, (chance.choice(plan.bowed).id,), value, step)
        try:
            after = replan(plan, edited_locks(plan, edit).values())
        except PathwayError:
            continue
        looked += after.draft is not plan.draft
        _assert_same(after, plan_part(plan.part, plan.rig, plan.draft.settings, after.locks.values(), after.path))
        plan = after
    assert looked > 5


def test_notes_that_come_and_go_are_carried_over_as_a_whole_plan_would_have_them() -> None:
    """Left out below the instrument, an octave up and under the bow again, one after the other and two at once."""
    chance = random.Random(3)
    bars = "c4:4 d4 e3 f4 | g4:8 a4 b4 c5 d5:4 e2:4 | c4:4. d4. e4:2 | (c4:4 d4 e4) e3:4 | f4:4 g4 a4 b4"
    part = part_of(f"{bars} | {bars}")
    plan = plan_part(part, preset("violin"))
    counts = {len(plan.bowed)}
    for _ in range(40):
        locks = dict(plan.locks)
        for event in chance.sample(part.events, 2):
            locks.pop(event.id, None)
            if chance.random() < 0.7:
                locks[event.id] = Lock(event.id, octave=chance.choice([1, -1, 2]))
        after = replan(plan, locks.values())
        _assert_same(after, plan_part(part, plan.rig, plan.draft.settings, after.locks.values(), after.path))
        counts.add(len(after.bowed))
        plan = after
    assert len(plan.draft.left_out) > 0
    assert len(counts) > 3


def test_the_stroke_before_a_note_that_goes_is_read_again() -> None:
    """It is the upbeat then; and none any more when the note comes back."""
    part = part_of("c4:2 d4:4 g4:8 e3:8 | c4:2 d4:2")
    low = part.events[3].id
    raised = plan_part(part, preset("violin"), None, [Lock(low, octave=1)])
    assert not raised.draft.strokes[2].upbeat
    gone = replan(raised, ())
    assert gone.draft.strokes[2].upbeat
    assert not replan(gone, [Lock(low, octave=1)]).draft.strokes[2].upbeat


def _passage(plan: Plan, chance: random.Random, number: int, longest: int) -> Passage:
    first = chance.randrange(len(plan.bowed) - longest)
    last = first + chance.randrange(longest)
    ends = plan.bowed[first].id, plan.bowed[last].id
    return Passage(*ends, offset_db=chance.choice([-4.0, 3.0]), kind=chance.choice([None, "porte"]), id=number)


@pytest.mark.parametrize("seed", range(3))
def test_a_passage_leaves_the_rest_as_it_was(seed: int) -> None:
    """Laid, changed and taken away again: what is carried over is what a whole plan on that path would say."""
    chance = random.Random(seed)
    plan = plan_part(ScoreFile(generated_part(160, seed), "g.musicxml").part().part, preset("violin"))
    asked = [_passage(plan, chance, 1, 20)]
    for passages in (asked, [replace(asked[0], offset_db=6.0)], [*asked, _passage(plan, chance, 2, 2)], []):
        try:
            after = replan(plan, (), Settings(passages=tuple(passages)))
        except PathwayError:
            continue  # passages that meet
        assert after.draft.settings.passages == tuple(passages)
        assert len(after.carried.anew) < len(after.strokes) / 2
        for k in set(range(len(after.strokes))) - set(after.carried.anew):
            assert after.strokes[k] is plan.strokes[int(after.carried.index[k])]
        _assert_same(after, plan_part(plan.part, plan.rig, after.draft.settings, (), after.path))
        plan = after


def test_what_asks_for_most_of_a_piece_otherwise_is_planned_whole() -> None:
    """As is another tempo: nothing is kept for its own sake."""
    plan = plan_part(ScoreFile(generated_part(90, 4), "g.musicxml").part().part, preset("violin"))
    ends = plan.bowed[5].id, plan.bowed[-1].id
    for settings in (Settings(passages=(Passage(*ends, offset_db=-5.0),)), Settings(tempo_bpm=60.0)):
        _assert_same(replan(plan, (), settings), plan_part(plan.part, plan.rig, settings))


def _assert_same(one: Plan, other: Plan) -> None:
    assert [s.id for s in one.strokes] == [s.id for s in other.strokes]
    for mine, theirs in zip(
        (*one.strokes, *one.notes, *one.crossings), (*other.strokes, *other.notes, *other.crossings), strict=True
    ):
        if mine != theirs:
            _assert_near(mine, theirs, f"{mine}")
    assert [(f.code, f.notes) for f in one.findings] == [(f.code, f.notes) for f in other.findings]


def _assert_near(one: object, other: object, where: str) -> None:
    if isinstance(one, float) and isinstance(other, float):
        assert math.isclose(one, other, rel_tol=1e-9, abs_tol=1e-12), where
    elif isinstance(one, Struct) and isinstance(other, Struct):
        _assert_near(astuple(one), astuple(other), where)
    elif isinstance(one, tuple) and isinstance(other, tuple):
        for mine, theirs in zip(one, other, strict=True):
            _assert_near(mine, theirs, where)
    else:
        assert one == other, where
