"""What bow and fingers do in time, for each manner of playing."""

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from msgspec import structs

from pathway.core.arrays import FloatArray
from pathway.core.planning import Lock, Plan, Settings, plan_part
from pathway.core.planning.note_plan import Load, NotePlan
from pathway.core.rig import preset
from pathway.core.rig.instrument import frequency
from pathway.core.sound import RATE, Curves, gestures_of, playable
from pathway.core.technique.chords import Form
from pathway.core.technique.endings import Exit
from tests.helpers import part_of, plan_of


def _curves(plan: Plan) -> Curves:
    return gestures_of(playable(plan), vibrato=0.0)


def _all(kind: str, count: int) -> list[Lock]:
    """Return wishes for the first notes to be of a type."""
    return [Lock(f"n{i}", kind=kind) for i in range(1, count + 1)]


def _span(curves: Curves, begin: float, end: float) -> slice:
    """Return the controls between two times of the plan [s]."""
    return slice(round((begin - curves.begin) * RATE), round((end - curves.begin) * RATE))


def _force(curves: Curves, string: int) -> FloatArray:
    return next(one.force for one in curves.strings if one.string == string)


def _middle(curves: Curves, note: NotePlan) -> slice:
    return _span(curves, note.onset + 0.4 * note.sounding, note.onset + 0.6 * note.sounding)


def test_the_bow_goes_the_way_the_plan_says_at_the_speed_it_says() -> None:
    """Down is positive; between two bows it passes through rest."""
    plan = plan_of("[mf] d4:2 a4:2", tempo=60)
    curves = _curves(plan)
    for note in plan.bowed:
        way = plan.stroke[note.stroke or ""].direction
        assert np.mean(curves.speed[_middle(curves, note)]) == pytest.approx(way * note.speed, rel=0.05)
    turn = plan.bowed[1].onset
    assert np.abs(curves.speed[_span(curves, turn - 0.01, turn + 0.01)]).min() < 0.02


def test_a_slur_over_strings_hands_the_weight_over() -> None:
    """Without a halt; the string that is left has none soon, the other all of it."""
    plan = plan_of("[mf] (d4:4 e5 d4 e5)", tempo=60)
    curves = _curves(plan)
    first, second = plan.bowed[:2]
    change = _span(curves, second.onset - 0.02, second.onset + 0.05)
    assert np.abs(curves.speed[change]).min() > 0.5 * first.speed
    left, new = (_force(curves, note.voices[0].string) for note in (first, second))
    at = _middle(curves, second)
    assert left[at].max() == 0
    assert new[at].mean() == pytest.approx(second.force, rel=0.1)
    assert left[_middle(curves, first)].mean() == pytest.approx(first.force, rel=0.1)


@pytest.mark.parametrize("form", [Form.PAIRS, Form.ARPEGGIO, Form.BELOW])
def test_a_chord_is_bowed_in_its_pieces(form: Form) -> None:
    """Each string has weight in its pieces and in no others, one after the other."""
    part = part_of("[f] g3+d4+b4+g5:1")
    plan = plan_part(part, preset("violin"), Settings(60), [Lock("n1", chord=form)])
    note, curves = plan.bowed[0], _curves(plan)
    assert note.chord is not None
    at, scale = note.onset - note.chord.before_beat, 1.0
    scale = (note.sounding + note.chord.before_beat) / sum(piece.time for piece in note.chord.pieces)
    for piece in note.chord.pieces:
        middle = _span(curves, at + 0.4 * piece.time * scale, at + 0.6 * piece.time * scale)
        at += piece.time * scale
        bowed = {one.string for one in curves.strings if one.force[middle].size and one.force[middle].min() > 0}
        assert bowed == set(piece.strings)


def test_a_chord_that_is_stopped_rests_on_its_last_strings_only() -> None:
    """Those that it has left are bare, and ring on."""
    plan = plan_of("[f] g3+d4+b4+g5:4 d4:4 r:2", tempo=100)
    once = plan.bowed[0]
    stopped = structs.replace(plan.stroke[once.stroke or ""], exit=Exit.STOPPED)
    played = replace(playable(plan), strokes=(stopped, *plan.strokes[1:]))
    curves = gestures_of(played, once.onset - 0.01, once.onset + 0.01, vibrato=0.0)
    assert once.chord is not None
    rest = _span(curves, once.onset + once.sounding + 0.01, once.onset + once.sounding + 0.05)
    resting = {one.string for one in curves.strings if one.force[rest].max() > 0}
    assert resting == set(once.chord.pieces[-1].strings)


def test_a_catch_takes_no_note_its_pitch() -> None:
    """Where the note before still sounds on the string there is no time to load, and it keeps its pitch to the end."""
    plan = plan_of("[f] d4:2 e4:2", tempo=60)
    first, second = plan.bowed
    load = Load((2.0, 3.0), 0.3, 0.02, 0.05)
    caught = replace(playable(plan), notes=(first, structs.replace(second, load=load)))
    curves = gestures_of(caught, vibrato=0.0)
    one = next(s for s in curves.strings if s.string == first.voices[0].string)
    last = _span(curves, second.onset - 0.25, second.onset - 0.02)
    assert np.allclose(one.pitch[last], frequency(first.voices[0].midi))
    assert one.force[last].max() < 1.5


def test_a_double_stop_has_each_strings_own_weight() -> None:
    """Both at once, as they are shared."""
    plan = plan_of("[mf] d4+a4:1", tempo=60)
    note, curves = plan.bowed[0], _curves(plan)
    for voice in note.voices:
        assert _force(curves, voice.string)[_middle(curves, note)].mean() == pytest.approx(voice.force, rel=0.1)


def test_a_caught_start_is_loaded_before_the_bow_moves_and_let_go_with_it() -> None:
    """More weight rests on the still string than the note has."""
    plan = plan_part(part_of("[f] d4:4 a4:4 d4:4 a4:4"), preset("violin"), Settings(80), _all("martele", 4))
    note, curves = plan.note["n2"], _curves(plan)
    assert note.load is not None
    before = _span(curves, note.onset - 0.7 * note.load.time, note.onset - 0.01)
    force = _force(curves, note.voices[0].string)
    assert force[before].min() > 1.2 * note.force
    assert np.abs(curves.speed[before]).max() < 0.05
    assert force[_middle(curves, note)].mean() == pytest.approx(note.force, rel=0.15)


def test_a_bouncing_note_touches_and_leaves() -> None:
    """For as long as its landing says; between two the string is bare and rings on."""
    plan = plan_part(part_of("[mf] d4:8 d4 d4 d4 r:2"), preset("violin"), Settings(150), _all("spiccato", 4))
    note, curves = plan.bowed[1], _curves(plan)
    assert note.landing is not None
    force = _force(curves, note.voices[0].string)[_span(curves, note.onset, note.onset + note.duration)]
    touched = np.count_nonzero(force) / RATE
    assert 0.02 < touched < 0.7 * note.duration
    assert force[0] < 0.3 * force.max()
    assert force[-1] == 0


def test_a_staccato_in_one_bow_halts_between_its_notes_on_the_string() -> None:
    """One direction throughout, the speed gone at each end, the weight not."""
    plan = plan_of("[mf] (d4:8. e4. f#4. g4.) r:2", tempo=70)
    curves, notes = _curves(plan), plan.bowed
    assert len({note.stroke for note in notes}) == 1
    for one, other in pairwise(notes):
        halt = _span(curves, one.onset + one.sounding, other.onset)
        assert np.abs(curves.speed[_middle(curves, one)]).mean() > 0.05
        if halt.stop > halt.start + 3:
            assert np.abs(curves.speed[halt]).min() < 0.01
            assert _force(curves, one.voices[0].string)[halt].max() > 0


def test_a_tremolo_goes_to_and_fro() -> None:
    """As often as the plan says."""
    once = plan_of("[mf] d4:1", tempo=60)
    trembling = structs.replace(once.bowed[0], bows=9)
    plan = replace(once, bowed=once.bowed.but({0: 0}, lambda _: trembling))
    note, curves = plan.bowed[0], _curves(plan)
    speed = curves.speed[_span(curves, note.onset, note.onset + note.sounding)]
    moving = speed[np.abs(speed) > 0.01]
    turns = np.count_nonzero(np.diff(np.sign(moving)))
    assert abs(turns - (note.bows - 1)) <= 1


def test_a_string_rings_on_open_longer_than_stopped() -> None:
    """Where the bow has left it: the loss a period is that of its own ring, or of a finger."""
    plan = plan_of("[mf] d4:4 r:4 e4:4 r:4", tempo=60)
    curves = _curves(plan)
    nut = next(one.nut for one in curves.strings if one.string == plan.bowed[0].voices[0].string)
    open_, stopped = (nut[_span(curves, n.onset + 1.2, n.onset + 1.6)].mean() for n in plan.bowed)
    assert 0.985 < open_ < 1
    assert stopped == pytest.approx(0.985, abs=1e-6)


def test_the_finger_is_there_with_the_note_and_vibrato_is_about_it() -> None:
    """The pitch of each note; with vibrato as wide as asked, only on stopped notes."""
    plan = plan_of("[mf] d4:2 e4:2", tempo=60)
    plain, shaken = _curves(plan), gestures_of(playable(plan), vibrato=20.0)
    for note in plan.bowed:
        pitch = frequency(note.voices[0].midi)
        at = _span(plain, note.onset + 0.6, note.onset + 1.6)
        one = next(s for s in plain.strings if s.string == note.voices[0].string)
        other = next(s for s in shaken.strings if s.string == note.voices[0].string)
        assert np.allclose(one.pitch[at], pitch)
        width = 1200 * np.log2(other.pitch[at] / pitch)
        assert np.ptp(width) == pytest.approx(40 if note.voices[0].midi == 64 else 0, abs=1)
