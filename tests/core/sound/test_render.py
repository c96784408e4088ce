"""A plan as sound: every manner of playing sounds, nothing clicks, and it is the same to the byte."""

import re
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from msgspec import structs

from pathway.core.arrays import FloatArray
from pathway.core.planning import Plan, Settings, plan_part
from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.note_plan import Tone
from pathway.core.rig import preset
from pathway.core.rig.instrument import frequency
from pathway.core.sound import Manner, Sound, playable
from pathway.core.sound import render as played
from pathway.core.sound.otherwise import as_it_should, pushed, sounds_otherwise, with_symptom
from pathway.core.sound.slips import heard_in
from pathway.core.sound.spans import Scope, span_around, spans_of
from pathway.core.sound.starts import start_for
from pathway.core.sound.strings import SAMPLES
from pathway.errors import NotFound, PlanError
from tests.helpers import part_of, plan_of

PLAIN = Manner(vibrato=0.0, wet=0.0)
SLOW = "[mf] d4:2 a4:2 | e5:2 g4:2 | (d4:4 a4:4) f#4:2"


@pytest.fixture(scope="module")
def slow() -> Plan:
    """Long notes on the violin."""
    return plan_of(SLOW, tempo=60)


def render(plan: Plan, begin: float = 0.0, end: float = 1e6, manner: Manner | None = None) -> Sound:
    """Return a plan, or a stretch of it, as sound."""
    return played(playable(plan), begin, end, manner)


def _part(sound: Sound, begin: float, end: float) -> FloatArray:
    at = [int((time - sound.begin) * SAMPLES) for time in (begin, end)]
    return sound.samples[at[0] : at[1]]


def _level(sound: Sound, begin: float, end: float) -> float:
    return float(20 * np.log10(np.sqrt(np.mean(_part(sound, begin, end) ** 2)) + 1e-9))


def _pitch(samples: FloatArray, wanted: float) -> float:
    """Return the pitch near a wanted one [Hz], by how the sound repeats."""
    spectrum = np.abs(np.fft.rfft(samples * np.hanning(len(samples)), 1 << 18))
    pitches = np.fft.rfftfreq(1 << 18, 1 / SAMPLES)
    near = (pitches > wanted * 0.94) & (pitches < wanted * 1.06)
    return float(pitches[near][np.argmax(spectrum[near])])


def test_every_note_sounds_at_its_pitch(slow: Plan) -> None:
    """In time, and in tune with the page."""
    sound = render(slow, manner=PLAIN)
    for note in slow.bowed:
        pitch = frequency(note.voices[0].midi)
        found = _pitch(_part(sound, note.onset + 0.35, note.onset + note.duration - 0.1), pitch)
        assert abs(1200 * np.log2(found / pitch)) < 8, note.id


def test_the_same_call_gives_the_same_bytes(slow: Plan) -> None:
    """Nothing is random that is not fixed."""
    assert render(slow).samples.tobytes() == render(slow).samples.tobytes()


def test_a_stretch_of_a_plan_sounds_as_in_the_whole(slow: Plan) -> None:
    """It begins at a bow; its notes are as loud as they are in the whole."""
    whole, (begin, end) = render(slow, manner=PLAIN), spans_of(slow)[1]
    part = render(slow, begin, end, PLAIN)
    assert part.begin < begin
    assert [sounded.note.id for sounded in part.curves.notes] == [n.id for n in slow.bowed if begin <= n.onset < end]
    first = part.curves.notes[0].note
    at = (first.onset + 0.4, first.onset + 0.9)
    assert _level(part, *at) == pytest.approx(_level(whole, *at), abs=1.0)


def test_stretches_hold_every_note_once_and_the_first_is_short(slow: Plan) -> None:
    """So that the first sound is soon there."""
    spans = spans_of(slow)
    assert spans[0][1] - spans[0][0] <= 2.1
    assert all(one[1] == other[0] for one, other in pairwise(spans))
    held = [note.id for begin, end in spans for note in slow.notes if begin <= note.onset < end]
    assert held == [note.id for note in slow.notes]


def test_what_is_heard_around_a_note(slow: Plan) -> None:
    """The note, its bow, its bar."""
    note = slow.notes[4]
    alone, bow, bar = (span_around(slow, [note.id], scope) for scope in Scope)
    assert alone[0] < note.onset < alone[1] < note.onset + 0.01
    assert bow[1] == pytest.approx(slow.notes[5].onset, abs=0.01)
    assert bar[1] == pytest.approx(slow.notes[6].onset, abs=0.01)
    with pytest.raises(NotFound):
        span_around(slow, ["n99"], Scope.NOTE)
    with pytest.raises(PlanError, match="nothing to play"):
        render(slow, 500, 501)


@pytest.mark.parametrize(
    "text",
    [
        "[mf] d4:8 e4 f#4 g4 a4 b4 c#5 d5",
        "[mf] (d4:8 a4 e5 a4) (d4 a4 e5 a4)",
        "[f] d4+a4:2 g4+d5:2",
        "[f] g3+d4+b4+g5:2 r:2",
        "[f] d4:4> e4:4> f#4:4> g4:4>",
        "[mf] d4:4. e4. f#4. g4.",
        "[p] (d4:8. e4. f#4. g4.) (a4:8. b4. c#5. d5.)",
        "[pp] d4:1 | e4:1",
    ],
)
@pytest.mark.parametrize("key", ["violin", "cello", "bass-viol"])
def test_every_manner_sounds_and_nothing_clicks(text: str, key: str) -> None:
    """It begins and ends in silence, is nowhere louder than full scale, and no note is lost."""
    written = text if key == "violin" else re.sub(r"(?<=[a-g#])\d", lambda octave: str(int(octave[0]) - 1), text)
    part = part_of(written, "violin" if key == "violin" else "cello")
    plan = plan_part(part, preset(key), Settings(80))
    sound = render(plan, manner=PLAIN)
    assert np.isfinite(sound.samples).all()
    assert 0.003 < np.abs(sound.samples).max() < 1
    quiet = sound.samples[: int(0.05 * SAMPLES)]
    assert np.abs(quiet).max() < 1e-3, "it begins in silence"
    ends = sound.samples[-int(0.02 * SAMPLES) :]
    assert np.abs(ends).max() < 0.1 * np.abs(sound.samples).max(), "and ends in what rings on"
    for note in plan.bowed:
        assert _level(sound, note.onset, note.onset + note.duration) > -75, note.id


def test_plucked_notes_sound_and_die_away() -> None:
    """Begun by a finger, not by the bow."""
    plan = plan_of("[f] {pizz.} d4:2 a4:2 | {arco} d4:1", tempo=60)
    plucked = [note for note in plan.notes if not note.stroke]
    sound = render(plan, manner=PLAIN)
    assert len(plucked) == 2
    for note in plucked:
        assert _level(sound, note.onset, note.onset + 0.1) > _level(sound, note.onset + 0.7, note.onset + 0.9) + 6


def test_a_loud_plan_is_louder_than_a_soft_one() -> None:
    """By about as much as it is planned to be."""
    soft, loud = (plan_of(f"[{level}] d4:1", tempo=60) for level in ("p", "f"))
    planned = loud.bowed[0].level_db - soft.bowed[0].level_db
    heard = _level(render(loud, manner=PLAIN), 0.8, 3.5) - _level(render(soft, manner=PLAIN), 0.8, 3.5)
    assert heard == pytest.approx(planned, abs=2.0)


def _tone_of(plan: Plan, note: str) -> Tone:
    sound = render(plan, manner=PLAIN)
    sounded = next(s for s in sound.curves.notes if s.note.id == note)
    voice = plan.note[note].voices[0]
    string = next(one for one in sound.strings if one.string == voice.string)
    pitch, speed = frequency(voice.midi), plan.note[note].speed
    heard = heard_in(string, sounded.on, sounded.off - 0.05, pitch, speed)
    assert heard is not None
    return heard.tone


@pytest.mark.parametrize(("place", "tone"), [(-0.3, Tone.AIRY), (0.5, Tone.CORE), (1.25, Tone.PRESSED)])
def test_a_note_off_the_window_is_heard_to_be(slow: Plan, place: float, tone: Tone) -> None:
    """Though a competent hand plays: what is planned airy or pressed gets no help."""
    assert _tone_of(pushed(slow, place), "n1") is tone


def test_as_it_should_mends_what_is_off(slow: Plan) -> None:
    """Its weight goes to the middle of the window; what was well stays."""
    bad = pushed(slow, 1.25)
    assert _tone_of(as_it_should(bad, ["n1"]), "n1") is Tone.CORE
    same = as_it_should(slow, ["n1"]).note["n1"]
    assert same.voices[0].place == slow.note["n1"].voices[0].place


def test_what_would_sound_no_otherwise_is_not_offered() -> None:
    """A note whose tone is clear and whose level is as asked is as it should be; one that is off in either is not."""
    plan = plan_of("[mf] d4:2 a4:2", tempo=60)
    assert not sounds_otherwise(plan, ["n1", "n2"])
    assert sounds_otherwise(pushed(plan, 1.25), ["n1"])
    second = structs.replace(plan.bowed[1], level_db=plan.bowed[1].target_db - 3)
    soft = replace(plan, bowed=plan.bowed.but({1: 0}, lambda _: second))
    assert sounds_otherwise(soft, ["n2"])


@pytest.mark.parametrize("heard", Heard)
def test_every_symptom_changes_the_sound_of_its_note(heard: Heard) -> None:
    """And, but for a bad join, of no other bow."""
    plan = plan_of("[mf] d4:4> a4:4 d4+a4:4> e4:4", tempo=60)
    sound, other = (render(one, manner=PLAIN) for one in (plan, with_symptom(plan, "n3", heard)))
    at = plan.note["n3"].onset
    before = at - (1.2 if heard is Heard.JOIN else 0.1)
    n = int((before - sound.begin) * SAMPLES)
    assert np.allclose(sound.samples[:n], other.samples[:n], atol=1e-9)
    size = min(len(sound.samples), len(other.samples))
    changed = sound.samples[:size] - other.samples[:size]
    assert np.abs(changed).max() > 0.02 * np.abs(sound.samples).max()


def test_a_mute_start_is_heard_as_a_late_one() -> None:
    """Nothing sounds at first; then the note does, to its end. A short note keeps most of itself."""
    plan = plan_of("[mf] f4:4 r:4 b4:2 | e5:16 r:16 r:8 r:2d", tempo=60)
    late = with_symptom(plan, "n3", Heard.MUTE)
    sound, planned = render(late, manner=PLAIN), render(plan, manner=PLAIN)
    note = plan.note["n3"]
    assert _level(sound, note.onset, note.onset + 0.1) < _level(planned, note.onset, note.onset + 0.1) - 20
    assert _level(sound, note.onset + 0.8, note.onset + 1.5) == pytest.approx(
        _level(planned, note.onset + 0.8, note.onset + 1.5), abs=1
    )
    short = plan.bowed[2]
    assert with_symptom(plan, short.id, Heard.MUTE).note[short.id].sounding >= 0.6 * short.sounding - 1e-9


def test_a_competent_hand_starts_with_more_weight_where_the_bow_gathers_speed_quickly() -> None:
    """A slow start needs none; the weight stays under the greatest force and is held for some periods."""
    quick = start_for(0.5, 0.4, 0.03, 0.1, 300, 0.3, 2.0)
    assert quick is not None
    assert 0.5 < quick.weight <= 1.5
    assert quick.hold > 1.6 / (0.1 * 300)
    assert start_for(0.5, 0.4, 0.5, 0.1, 300, 0.3, 2.0) is None
    strong = start_for(0.5, 2.0, 0.02, 0.1, 300, 0.3, 0.7)
    assert strong is not None
    assert strong.weight == pytest.approx(0.8 * 0.7)


def test_without_help_the_hand_neither_sets_a_weight_nor_listens() -> None:
    """Quick notes on a low string get more weight at their start, if it helps."""
    quick = plan_of("[f] g2:8 a2 b2 c3 d3 e3 f3 g3", "bass", tempo=120)
    bare, helped = render(quick, manner=replace(PLAIN, helped=False)), render(quick, manner=PLAIN)
    assert not any(string.listens.any() for string in bare.curves.strings)
    assert any(string.listens.any() for string in helped.curves.strings)
    assert sum(s.force.sum() for s in helped.curves.strings) > 1.02 * sum(s.force.sum() for s in bare.curves.strings)


def test_no_border_of_notes_bows_or_controls_clicks(slow: Plan) -> None:
    """Above what a bowed string has there, nothing is louder at a border than between two."""
    sound = render(slow, manner=PLAIN)
    high = np.abs(np.diff(sound.samples, 3))
    at = [int((note.onset + edge - sound.begin) * SAMPLES) for note in slow.bowed for edge in (0.0, note.duration)]
    borders = max(high[max(i - 240, 0) : i + 240].max() for i in at)
    assert borders < 1.5 * np.quantile(high, 0.9999)


def test_a_mute_makes_it_softer_and_darker() -> None:
    """From the word on, until it is taken off."""
    open_, mute = (plan_of(f"{words}[mf] d4:1", tempo=60) for words in ("", "{sord.} "))
    plain, muted = render(open_, manner=PLAIN), render(mute, manner=PLAIN)
    assert _level(muted, 1, 3) < _level(plain, 1, 3) - 2
