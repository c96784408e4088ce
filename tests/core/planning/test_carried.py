"""What an edit leaves as it was: told once, and true."""

import random
from dataclasses import asdict

import pytest

from pathway.benchmark import generated_part
from pathway.core.planning import Plan, plan_part, replan
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


def _assert_same(one: Plan, other: Plan) -> None:
    assert [s.id for s in one.strokes] == [s.id for s in other.strokes]
    for mine, theirs in zip(
        (*one.strokes, *one.notes, *one.crossings), (*other.strokes, *other.notes, *other.crossings), strict=True
    ):
        _assert_near(asdict(mine), asdict(theirs), f"{mine}")
    assert [(f.code, f.notes) for f in one.findings] == [(f.code, f.notes) for f in other.findings]


def _assert_near(one: object, other: object, where: str) -> None:
    if isinstance(one, float) and isinstance(other, float):
        assert one == pytest.approx(other, rel=1e-9, abs=1e-12), where
    elif isinstance(one, dict) and isinstance(other, dict):
        for name in one:
            _assert_near(one[name], other[name], f"{where}: {name}")
    elif isinstance(one, (list, tuple)) and isinstance(other, (list, tuple)):
        assert len(one) == len(other), where
        for mine, theirs in zip(one, other, strict=True):
            _assert_near(mine, theirs, where)
    else:
        assert one == other, where
