"""Chords: what they are made of, where they begin, and which cannot be."""

import math

import pytest

from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.wishes import Link, Lock, Passage, Settings
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.core.technique.chords import REST, Form, bow_chord, can_press_three, force_to_reach, start_band
from pathway.core.technique.voicings import WhyHard, lies_on_neighbours, trouble_with
from tests.helpers import plan_of

VIOLIN, CELLO, BASS = preset("violin"), preset("cello"), preset("bass")
FOUR = "[f] g3+e4+b4+g5:4 r g3+d4+b4+g5 r"


def _chord(plan_note: NotePlan) -> list[tuple[tuple[int, ...], bool]]:
    assert plan_note.chord is not None
    return [(piece.strings, piece.turn) for piece in plan_note.chord.pieces]


@pytest.mark.parametrize("form", list(Form))
@pytest.mark.parametrize("strings", [(0, 1, 2), (0, 1, 2, 3)])
@pytest.mark.parametrize("time", [0.12, 0.4, 2.0])
def test_the_pieces_add_up_to_the_chord(form: Form, strings: tuple[int, ...], time: float) -> None:
    """In hair and in time, however short it is; every string sounds, none for no time."""
    chord = bow_chord(strings, [55 + 7 * s for s in strings], 0.3, time, 0.05, form, VIOLIN)
    assert sum(piece.hair for piece in chord.pieces) == pytest.approx(0.3)
    assert sum(piece.time for piece in chord.pieces) == pytest.approx(time)
    assert {s for piece in chord.pieces for s in piece.strings} == set(strings)
    assert min(piece.time for piece in chord.pieces) > 0


def test_the_first_pair_gets_its_time_to_speak_and_the_last_the_rest() -> None:
    """Ten periods of the lowest string, at least 35 ms; the turn is lighter and faster."""
    low = bow_chord((0, 1, 2, 3), (55, 64, 71, 79), 0.4, 1.5, 0.05, Form.PAIRS, VIOLIN).pieces
    assert low[0].time == pytest.approx(10 / (440 * 2 ** ((55 - 69) / 12)), rel=1e-6)
    assert low[-1].time > 0.8 * 1.5
    assert low[1].turn
    assert low[1].hair / low[1].time == pytest.approx(1.25 * low[0].hair / low[0].time)
    cello = bow_chord((0, 1, 2), (36, 43, 52), 0.4, 1.5, 0.05, Form.PAIRS, CELLO).pieces
    assert cello[0].time > 0.12  # low strings take long


@pytest.mark.parametrize("strings", [(0, 1, 2), (0, 1, 2, 3)])
@pytest.mark.parametrize("place", [0.05, 0.60])
def test_the_turn_is_a_turn_at_the_tip_too(strings: tuple[int, ...], place: float) -> None:
    """What the bow turns by leaves the low string and reaches the high one; the arm is set for the last pair."""
    chord = bow_chord(strings, [55 + 7 * s for s in strings], 0.45, 1.2, place, Form.PAIRS, VIOLIN)
    (turn,) = [piece for piece in chord.pieces if piece.turn]
    assert 0.030 <= turn.time <= 0.12
    assert turn.hair < 0.06
    assert chord.pieces[-1].time > 0.75 * 1.2


def test_three_strings_together_where_the_force_allows() -> None:
    """About 1.5 N on the middle string of a violin and 2.7 on the cello; not on the bass."""
    assert force_to_reach(VIOLIN.instrument, 1, 0.17 * VIOLIN.instrument.length) == pytest.approx(1.5, abs=0.1)
    assert force_to_reach(CELLO.instrument, 1, 0.17 * CELLO.instrument.length) == pytest.approx(2.7, abs=0.15)
    assert can_press_three((0, 1, 2), VIOLIN)
    assert not can_press_three((0, 1, 2), BASS)
    assert not can_press_three((0, 1, 2, 3), VIOLIN)
    together = bow_chord((0, 1, 2), (55, 62, 71), 0.2, 1.0, 0.1, Form.TOGETHER, VIOLIN)
    assert len(together.pieces) == 1
    assert len(bow_chord((0, 1, 2), (28, 33, 40), 0.2, 1.0, 0.1, Form.TOGETHER, BASS).pieces) == 3


def test_the_lead_below_comes_back_to_the_low_pair() -> None:
    """Up and back; the arm is set for where the bow stays."""
    chord = bow_chord((0, 1, 2, 3), (55, 64, 71, 79), 0.4, 1.5, 0.05, Form.BELOW, VIOLIN)
    assert chord.pieces[0].strings == chord.pieces[-1].strings == (0, 1)
    assert chord.arm_level == pytest.approx(VIOLIN.instrument.level(0.5))


def test_chords_begin_near_the_hand_on_a_down_bow_and_near_the_tip_on_an_up_bow() -> None:
    """Loud ones right at the end, soft ones further in."""
    low, high = VIOLIN.usable
    assert start_band(Direction.DOWN, 4.0, VIOLIN) == pytest.approx((low + 0.02, low + 0.07))
    assert start_band(Direction.UP, 4.0, VIOLIN) == pytest.approx((high - 0.04, high))
    assert start_band(Direction.DOWN, -9.0, VIOLIN)[0] == pytest.approx(low + 0.02 + 0.09)


def test_loud_chords_are_retaken_near_the_frog_with_time_to_rest() -> None:
    """Rests between them: every one a down-bow from the frog's end; the hair lies still before it moves."""
    plan = plan_of(FOUR)
    assert [stroke.direction for stroke in plan.strokes] == [Direction.DOWN, Direction.DOWN]
    assert plan.strokes[1].entry is Link.RETAKE
    assert all(stroke.start < 0.12 for stroke in plan.strokes)
    assert plan.problem.settle[1] == REST
    assert _chord(plan.notes[0]) == [((0, 1), False), ((1, 2), True), ((2, 3), False)]


def test_a_chord_presses_with_its_last_pair() -> None:
    """The force of a chord is that of the strings that sound together, not of all four."""
    note = plan_of(FOUR).notes[0]
    assert len(note.voices) == 4
    assert note.force < sum(voice.force for voice in note.voices)
    assert note.level == pytest.approx(VIOLIN.instrument.level(2.5))


def test_form_and_lead_are_the_players_choice() -> None:
    """By lock for one chord, by passage for many; before the beat by setting."""
    plan = plan_of(FOUR, locks=[Lock("n1", chord=Form.ARPEGGIO)])
    assert [strings for strings, _ in _chord(plan.notes[0])] == [(0,), (1,), (2,), (3,)]
    from pathway.core.planning import plan_part

    passage = Passage("n1", "n6", chords=Form.BELOW)
    settings = Settings(passages=(passage,), chords_before_beat=True)
    below = plan_part(plan.part, plan.rig, settings)
    chord = below.notes[0].chord
    assert chord is not None
    assert chord.form is Form.BELOW
    assert chord.before_beat > 0.03


@pytest.mark.parametrize(
    ("pitches", "why"),
    [((55, 57, 59), WhyHard.ONE_STRING), ((50, 62, 69), WhyHard.TOO_LOW), ((55, 62, 69, 76, 83), WhyHard.TOO_MANY)],
)
def test_what_cannot_be_played_is_named(pitches: tuple[int, ...], why: WhyHard) -> None:
    """Two notes on one string, below the lowest, too many."""
    assert not lies_on_neighbours(pitches, VIOLIN.instrument)
    assert trouble_with(pitches, VIOLIN.instrument).why is why


def test_an_easier_voicing_can_be_played_and_says_what_is_lost() -> None:
    """The finding names the chord, the voicing offered lies under the bow."""
    plan = plan_of("[mf] g3+a3+e4:2 d4")
    found = next(finding for finding in plan.findings if finding.code == "chord-out-of-reach")
    assert "G3 and A3 on one string" in found.text()
    assert "lost" in found.text() or "octave" in found.text()
    assert math.isclose(found.numbers["notes"], 3)
