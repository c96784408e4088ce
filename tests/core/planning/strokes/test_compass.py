"""Notes outside an instrument: left out, moved by octaves, or reached by another tuning."""

from dataclasses import replace

import pytest

from pathway.core.music import Event
from pathway.core.planning import Lock, Plan, Settings, plan_part, replan
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.helped import fixes_for
from pathway.core.planning.strokes.compass import octave_within
from pathway.core.rig import preset
from pathway.errors import PlanError, ScoreError
from tests.helpers import broken_rules_of, part_of, plan_of

LOW = "[mf] g3:4 f3 c3 d4 | b3:4 g3+d3:4 r d4 | d4 e4 f4 g4"


def _left_out(plan: Plan) -> dict[str, str]:
    """The findings about notes outside, by their first note."""
    return {finding.notes[0]: finding.text() for finding in plan.findings if finding.code == "outside"}


def _helps(plan: Plan, note: str) -> dict[str, Fix]:
    finding = next(f for f in plan.findings if f.code == "outside" and note in f.notes)
    return {fix.id: fix for fix in fixes_for(plan, finding)}


def test_notes_outside_are_left_out_and_told() -> None:
    """Two notes in a row are one finding; of a double stop the rest is played."""
    plan = plan_of(LOW)
    assert [note.id for note in plan.notes if note.stroke is None] == ["n2", "n3"]
    assert [voice.midi for voice in plan.note["n6"].voices] == [55]
    told = _left_out(plan)
    assert list(told) == ["n2", "n6"]
    assert "F3 lies below the violin" in told["n2"]
    assert "D3 of this chord lies below" in told["n6"]
    assert all(f.severity.value == "high" for f in plan.findings if f.code == "outside")
    assert not broken_rules_of(plan)


@pytest.mark.parametrize(
    ("rig", "inside", "outside", "side"),
    [
        ("violin", "g3:4 d4 a4 e5", "f#3", "below"),
        ("viola", "c3:4 g3 d4 a4", "b2", "below"),
        ("cello", "c2:4 g2 d3 a3", "b1", "below"),
        ("bass", "e2:4 a2 d3 g3", "c2", "below"),  # written an octave up
        ("cello", "c2:4 g2 d3 a3", "f6", "above"),
    ],
)
def test_the_compass_is_the_instruments_own(rig: str, inside: str, outside: str, side: str) -> None:
    """The lowest open string is inside, what lies beyond on both ends is not."""
    assert not _left_out(plan_of(f"{inside} | {inside}", rig))
    (told,) = _left_out(plan_of(f"{inside} | {outside}:1", rig)).values()
    assert side in told


def test_another_octave_brings_them_in_and_stays_a_wish() -> None:
    """Of a double stop only the voice that is outside moves; taken back, it is left out again."""
    plan = plan_of(LOW)
    fix = _helps(plan, "n2")["octave"]
    assert [(lock.note, lock.octave) for lock in fix.locks] == [("n2", 1), ("n3", 1)]
    moved = replan(plan, [*fix.locks, *_helps(plan, "n6")["octave"].locks])
    assert not _left_out(moved)
    assert [moved.note[id_].voices[0].midi for id_ in ("n2", "n3")] == [65, 60]
    assert sorted(voice.midi for voice in moved.note["n6"].voices) == [55, 62]
    assert not broken_rules_of(moved)
    again = replan(moved, [])
    assert _left_out(again) == _left_out(plan)


def test_a_wish_for_another_octave_moves_a_note_that_lies_well() -> None:
    """All heads of it, where none is outside."""
    plan = plan_of("d4:4 d4+b4 e4 f4", locks=[Lock("n2", octave=1)])
    assert sorted(voice.midi for voice in plan.note["n2"].voices) == [74, 83]
    assert replan(plan, []).note["n2"].lead.midi == 71
    with pytest.raises(PlanError, match="The octave cannot be 4"):
        plan_of("d4:4 e4 f4 g4", locks=[Lock("n1", octave=4)])


def test_a_string_tuned_down_reaches_them() -> None:
    """The lowest string to the lowest of them, its tension with the square; the level on the others stays."""
    plan = plan_of("[mf] g3:4 f3 g3 d4 | g3:1")
    tuning = _helps(plan, "n2")["tuning"].tuning
    assert tuning == (53, 62, 69, 76)
    tuned = plan_part(plan.part, plan.rig, Settings(tuning=tuning))
    assert not _left_out(tuned)
    low, before = tuned.rig.instrument.strings[0], plan.rig.instrument.strings[0]
    assert low.name == "F3"
    assert low.tension == pytest.approx(before.tension * 2 ** (-2 / 6))
    assert tuned.note["n2"].lead.vibrating == plan.rig.instrument.length
    assert tuned.rig.instrument.strings[1:] == plan.rig.instrument.strings[1:]


def test_strings_are_not_tuned_beyond_what_they_bear() -> None:
    """More than a fifth is not offered, nor taken; nor another number of strings, nor strings that cross."""
    deep = plan_of("g3:4 b2 g3 d4")
    assert set(_helps(deep, "n2")) == {"octave"}
    part = part_of("g3:4 a3 g3 d4")
    for tuning in ((47, 62, 69, 76), (55, 62, 69), (62, 61, 69, 76)):
        with pytest.raises(PlanError, match="cannot be tuned"):
            plan_part(part, preset("violin"), Settings(tuning=tuning))


def test_most_notes_outside_are_another_instruments_part() -> None:
    """A cello's part on a violin is refused with the first place."""
    with pytest.raises(ScoreError, match=r"C2 is below the lowest note of the violin.*bar 1"):
        plan_of("c2:4 d2 e2 g3")
    assert len(_left_out(plan_of("g3:4 d3 g3 d4"))) == 1


def test_a_slur_goes_on_over_a_note_left_out() -> None:
    """What follows it is one bow still."""
    plan = plan_of("(g3:4 d3 a3 b3) | g3:1")
    assert [stroke.notes for stroke in plan.strokes] == [("n1",), ("n3", "n4"), ("n5",)]


def test_the_fewest_octaves_are_taken() -> None:
    """Two where one is not enough; none where no octave has all heads that are outside."""
    violin = preset("violin").instrument
    event: Event = part_of("g3:1").events[0]

    def moved(*pitches: int) -> int | None:
        heads = tuple(replace(event.top, id=f"h{midi}", midi=midi) for midi in pitches)
        return octave_within(replace(event, heads=heads), violin)

    assert [moved(54), moved(42), moved(120), moved(20, 120)] == [1, 2, -2, None]
