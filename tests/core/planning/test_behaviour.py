"""What a fine player does without thinking must come out of the plan."""

import numpy as np
import pytest

from pathway.core.planning import Lock, plan_part, replan, revisit
from pathway.core.planning.note_plan import Tone
from pathway.core.planning.plan import Plan
from pathway.core.planning.wishes import Link
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from tests.helpers import broken_rules_of, directions, part_of, plan_of


def test_even_quarters_start_strong_and_stay_even() -> None:
    """Down on the first beat of every bar, no hook, the same hair for all."""
    plan = plan_of("[mf] d4:4 e4 f4 g4 | a4 g4 f4 e4 | d4 e4 f4 g4 | a4 g4 f4 e4")
    assert directions(plan) == "nv" * 8
    assert np.ptp([stroke.length for stroke in plan.strokes]) < 0.03


def test_an_upbeat_is_played_up() -> None:
    """A weak note before the bar returns to the frog."""
    assert directions(plan_of("r:2d d4:4 | g4:2 b4:2"))[:2] == "vn"


def test_a_growing_note_likes_an_up_bow_when_free() -> None:
    """After a long rest, off the beat, the hairpin decides."""
    plan = plan_of("r:2 r:4 [p] [<] d4:4~ | d4:2~ d4:4 [*] [f] r | d4:1")
    assert plan.strokes[0].direction is Direction.UP


def test_slurs_and_single_notes_bring_the_remainder_back() -> None:
    """Seven slurred eighths and one alone, over and over: the bow neither leaves nor gets stuck."""
    plan = plan_of("[mf] " + " | ".join(["(d4:8 e4 f4 g4 a4 g4 f4) e4"] * 8))
    singles = [s for s in plan.strokes if len(s.notes) == 1]
    slurs = [s for s in plan.strokes if len(s.notes) > 1]
    shares = [single.length / slur.length for single, slur in zip(singles, slurs, strict=True)]
    hooked = sum(s.entry is Link.HOOK for s in singles)
    assert hooked or min(shares) > 1 / 7


def test_loud_is_faster_or_closer_and_heavier_than_soft() -> None:
    """The same whole note at forte and at piano."""
    loud, soft = (plan_of(f"[{level}] d4:1 | e4:1").notes[0] for level in ("f", "p"))
    assert loud.contact < soft.contact
    assert loud.force > soft.force
    assert loud.speed > soft.speed


def test_levels_come_out_as_written() -> None:
    """Where the bow has room, predicted and written level agree."""
    plan = plan_of("[p] d4:4 e4 f4 g4 | [f] a4 g4 f4 e4")
    assert [note.level_db for note in plan.notes] == pytest.approx([note.target_db for note in plan.notes], abs=0.5)


def test_equal_accents_down_and_up_sound_equal() -> None:
    """Near the frog the hand takes weight off, near the tip it adds; the levels stay within 2 dB."""
    plan = plan_of("[f] d4:2> e4:2> | f4:2> g4:2>")
    assert np.ptp([note.level_db for note in plan.notes]) < 2
    torques = [note.torque_end for note in plan.notes if plan.stroke[note.stroke or ""].direction is Direction.DOWN]
    starts = [note.torque_at[0] for note in plan.notes if plan.stroke[note.stroke or ""].direction is Direction.DOWN]
    assert all(end > start for start, end in zip(starts, torques, strict=True))


def test_high_on_the_lowest_string_lies_closer_in_proportion() -> None:
    """The bow follows the shorter string towards the bridge."""
    low, high = plan_of("[mf] g3:2 a3:2").notes[0], plan_of("[mf] c6:2 d6:2").notes[0]
    assert high.contact < low.contact
    assert 0.5 < high.lead.beta / low.lead.beta < 2


def test_accents_travel_down_from_the_frog_side_when_free() -> None:
    """After a rest, on the beat."""
    plan = plan_of("r:2 r:2 | [f] d4:2> r:2 | e4:2> r:2")
    assert directions(plan) == "nn"
    assert all(stroke.start < 0.3 for stroke in plan.strokes)


def test_what_runs_out_is_said_with_its_numbers() -> None:
    """Six slow bars at forte in one bow: not even at half the slowest speed."""
    plan = plan_of("[f] " + " | ".join(["d4:1~"] * 5) + " | d4:1", tempo=40)
    finding = plan.findings[0]
    assert (finding.code, finding.severity.value) == ("runs-out", "high")
    assert "lasts 36.0 s; no bow is that long" in finding.text()
    assert any(stroke.proposed for stroke in plan.strokes)
    assert plan.totals.lowest_tempo_bpm > 40


def test_lowest_tempo_is_where_the_longest_bow_just_fits() -> None:
    """Planned a little above it, nothing runs out for good; a little below, it does."""
    text = "[mf] " + " | ".join(["d4:1~"] * 3) + " | d4:1"
    lowest = plan_of(text).totals.lowest_tempo_bpm
    high = [any(f.severity.value == "high" for f in plan_of(text, tempo=lowest * k).findings) for k in (0.97, 1.03)]
    assert high == [True, False]


def test_plucked_bars_free_the_bow() -> None:
    """No stroke for plucked notes; the bow sets anew where it likes."""
    plan = plan_of("[mf] d4:4 e4 f4 g4 | {pizz.} d4 e4 f4 g4 | {arco} d4 e4 f4 g4")
    assert [note.stroke is None for note in plan.notes] == [False] * 4 + [True] * 4 + [False] * 4
    assert plan.strokes[4].direction is Direction.DOWN


def test_printed_signs_win_over_everything() -> None:
    """An up-bow on the first beat, if the part says so."""
    plan = plan_of("[mf] vd4:4 e4 f4 g4 | d4 e4 f4 g4")
    assert plan.strokes[0].direction is Direction.UP
    assert plan.strokes[0].printed


def test_the_players_lock_wins_over_the_print() -> None:
    """And the plan says who set it."""
    plan = plan_of("[mf] vd4:4 e4 f4 g4")
    turned = replan(plan, [Lock(plan.strokes[0].id, Direction.DOWN)])
    assert turned.strokes[0].direction is Direction.DOWN
    assert (turned.strokes[0].locked, turned.strokes[0].printed) == (True, False)


def test_tempo_stretches_the_speed_not_the_music() -> None:
    """Slower means slower bows; the notes stay the same."""
    quick, slow = (plan_of("[mf] d4:4 e4 f4 g4 | d4:1", tempo=t) for t in (120, 60))
    assert [n.id for n in quick.notes] == [n.id for n in slow.notes]
    assert slow.notes[0].duration == pytest.approx(2 * quick.notes[0].duration)


def test_double_stops_share_place_speed_and_weight() -> None:
    """One bow on two strings: the same place, forces that add up."""
    note = plan_of("[mf] c5+e4:2 d4").notes[0]
    assert len(note.voices) == 2
    assert all(v.beta * v.vibrating == pytest.approx(note.contact) for v in note.voices)
    assert note.force == pytest.approx(sum(v.force for v in note.voices))


def _edit_and_back(plan: Plan, k: int) -> tuple[Plan, Plan]:
    stroke = plan.strokes[k]
    turned = replan(plan, [Lock(stroke.id, stroke.direction.other)])
    return turned, replan(turned, [])


@pytest.mark.parametrize("k", [0, 2, 5])
def test_replanning_keeps_every_rule(small_plan: Plan, k: int) -> None:
    """After a lock and after its release; what is kept from the old plan fits what is new."""
    for plan in _edit_and_back(small_plan, k):
        assert broken_rules_of(plan) == []
        assert revisit(small_plan, tuple(plan.locks.values()), plan.path).notes == plan.notes
        fresh = plan_part(plan.part, plan.rig, plan.draft.settings, tuple(plan.locks.values()), plan.path)
        assert fresh.notes == plan.notes
        assert fresh.strokes == plan.strokes
        assert fresh.crossings == plan.crossings
        assert fresh.findings == plan.findings


@pytest.mark.parametrize("rig", ["violin", "viola", "cello", "bass"])
def test_every_rig_plans_a_plain_line(rig: str) -> None:
    """A few bars in the middle of each instrument are core tone throughout."""
    octave = {"violin": 4, "viola": 4, "cello": 3, "bass": 3}[rig]
    plan = plan_of(f"[mf] d{octave}:4 e{octave} f{octave} g{octave} | (d{octave}:2 e{octave}:2)", rig)
    assert {note.tone for note in plan.notes} == {Tone.CORE}
    assert plan.rig is preset(rig)


def test_a_double_bass_sounds_an_octave_lower_unless_the_file_says_so() -> None:
    """With the file's own transposition nothing is done twice; without it the reader says what it did."""
    said = part_of("d3:4 e3 f3 g3", "bass")
    silent = part_of("d3:4 e3 f3 g3", "bass", octave="as written")
    assert [e.top.midi for e in said.events] == [e.top.midi for e in silent.events] == [38, 40, 41, 43]
    assert any("octave" in notice for notice in silent.notices)
    assert not said.notices


def test_a_long_loud_note_is_heavier_near_the_hand() -> None:
    """Force, moment and level at three points: capped by the hand where the hair is, not by its outermost place."""
    whole = plan_of("[ff] d4:1 | e4:1 | f4:1", tempo=90).notes[0]
    quarter = plan_of("[ff] d4:4 e4 f4 g4", tempo=90).notes[0]
    start, steady, end = whole.force_at
    assert start >= steady > end
    assert steady == pytest.approx(whole.force)
    assert steady > 0.9 * quarter.force
    limit = preset("violin").torque_limit
    assert max(whole.torque_at) <= limit + 1e-9
    assert whole.torque_at[2] == pytest.approx(limit)
    soft = plan_of("[p] d4:1 | e4:1 | f4:1", tempo=90).notes[0]
    assert soft.force_at == pytest.approx((soft.force,) * 3)


def test_an_accent_weighs_at_its_start_and_a_hairpin_grows_to_its_end() -> None:
    """The start holds the pulse; levels at both ends follow the speed."""
    plain, accented = plan_of("[mf] d4:2 e4").notes[0], plan_of("[mf] d4:2> e4").notes[0]
    assert plain.force_at[0] == pytest.approx(plain.force)
    assert accented.force_at[0] > 1.2 * accented.force_at[1]
    assert accented.force_at[1] == pytest.approx(accented.force)
    grown = plan_of("[p] [<] d4:1 | [*] [f] e4:1").notes[0]
    assert grown.level_at[0] < grown.level_at[1] < grown.level_at[2]
