"""One part bowed after another, and all of a score planned side by side."""

from dataclasses import replace

import pytest

from pathway.core.planning import Settings, plan_part
from pathway.core.planning.after import after, bowed_after
from pathway.core.planning.matched import by_rhythm, matched, wishes_on
from pathway.core.planning.section import Desked, plan_section
from pathway.core.planning.taken import differing_bars, with_bars_of
from pathway.core.planning.wishes import Link, Lock, Passage, TempoChange
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from tests.helpers import part_of, plan_of

FIRST = "d5:4 e5 f#5 g5 | (a5:8 g5) f#5:4 e5:2 | d5:1"
SECOND = "b4:4 c5 d5 e5 | f#5:8 e5 d5:4 c5:2 | b4:2 g4"
UP, DOWN = Direction.UP, Direction.DOWN


def test_where_rhythm_and_slurs_agree_the_bowing_is_taken() -> None:
    """Not under another slur, nor on another value: these are listed."""
    leader = plan_of(FIRST, locks=[Lock("n1", direction=UP), Lock("n3", link=Link.HOOK, start=0.3, force=1.0)])
    found = bowed_after(leader, part_of(SECOND))
    assert found.notes == {f"n{n}": f"n{n}" for n in (1, 2, 3, 4, 5, 7, 8)}
    assert [place.split(",")[0] for place in found.left] == ["bar 3", "bar 2"]
    locks = {lock.note: lock for lock in after(leader, found, [Lock("n2", direction=DOWN, string=2)])}
    plan = plan_part(part_of(SECOND), preset("violin"), Settings(), list(locks.values()))
    assert plan.stroke["n1"].direction is UP
    assert locks["n3"].link is Link.HOOK
    assert (locks["n3"].start, locks["n3"].force) == (None, None)
    assert locks["n2"] == Lock("n2", direction=DOWN, string=2)


@pytest.mark.parametrize("unify", [False, True])
def test_parts_are_planned_side_by_side(unify: bool) -> None:
    """Each as by itself, or the second after the first; on rigs of their own."""
    rigs = ("violin", "viola")
    parts = [
        Desked(part_of(FIRST), preset("violin")),
        Desked(part_of(SECOND.replace("5", "4"), "viola"), preset("viola")),
    ]
    found = {one.number: one for one in plan_section(parts, Settings(tempo_bpm=70), unify=unify)}
    assert set(found) == {0, 1}
    assert [found[n].plan.rig.key for n in (0, 1)] == list(rigs)
    assert all(one.plan.draft.tempo_bpm == 70 for one in found.values())
    alone = plan_part(parts[1].part, parts[1].rig, Settings(tempo_bpm=70))
    if unify:
        assert found[1].found is not None
        both = [note for note, mine in found[1].found.notes.items() if mine in found[1].plan.stroke]
        first = found[0].plan.stroke
        assert all(first[note].direction is found[1].plan.stroke[note].direction for note in both if note in first)
    else:
        assert found[1].found is None
        assert [s.direction for s in found[1].plan.strokes] == [s.direction for s in alone.strokes]


def test_notes_are_found_again_behind_a_bar_that_was_put_in() -> None:
    """By beat, value and pitch; what is left over is told by its place."""
    old = part_of("d4:4 e4 f4 g4 | a4:2 b4 | c5:1")
    new = part_of("d4:4 e4 f4 g4 | e4:1 | a4:2 c5 | c5:1")
    found = matched(old, new)
    assert found.notes == {"n1": "n1", "n2": "n2", "n3": "n3", "n4": "n4", "n5": "n6", "n7": "n8"}
    assert found.left == ("bar 2, beat 3, B4",)
    assert found.share == pytest.approx(6 / 7)
    assert matched(old, old).share == 1
    assert matched(old, new, by_rhythm).notes["n6"] == "n7"


def test_wishes_follow_their_notes() -> None:
    """A passage shrinks to what is there; what has no note is counted as lost."""
    part = part_of("d4:4 e4 f4 g4 | a4:2 b4 | c5:1")
    settings = Settings(passages=(Passage("n5", "n6"), Passage("n7", "n7")), tempi=(TempoChange("n7", 70),))
    carried = wishes_on(settings, [Lock("n5", string=1), Lock("n6", string=2)], {"n5": "n9"}, part)
    (passage,) = carried.settings.passages
    assert (passage.start, passage.end) == ("n9", "n9")
    assert carried.locks == (Lock("n9", string=1),)
    assert carried.settings.tempi == ()
    assert carried.lost == 3


def test_bars_of_another_plan_are_taken_and_no_others() -> None:
    """Directions, changes, slurs and ends; wishes elsewhere stay."""
    plan = plan_of("d5:4 e5 f#5 g5 | a5:4 g5 f#5 e5 | d5:1", locks=[Lock("n1", string=2)])
    other = plan_of(
        "d5:4 e5 f#5 g5 | a5:4 g5 f#5 e5 | d5:1", locks=[Lock("n5", direction=DOWN), Lock("n6", link=Link.HOOK)]
    )
    assert "2" in differing_bars(plan, other)
    assert differing_bars(plan, plan) == []
    locks = with_bars_of(plan, other, ["2"])
    taken = plan_part(plan.part, plan.rig, Settings(), list(locks.values()))
    for stroke in other.strokes:
        if other.note[stroke.id].measure == "2":
            assert taken.stroke[stroke.id].direction is stroke.direction
            assert taken.stroke[stroke.id].entry is stroke.entry or stroke.entry is Link.FIRST
            assert taken.stroke[stroke.id].end == pytest.approx(stroke.end, abs=0.002)
    assert locks["n1"].string == 2
    assert set(locks) - {"n1"} == {"n5", "n6", "n7", "n8"}
    assert replace(locks["n1"], string=None) == Lock("n1")
