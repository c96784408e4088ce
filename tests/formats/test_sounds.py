"""Plans as sound and MIDI files, and plan documents that are played."""

import io
import wave

import numpy as np
import pytest
from mido import MidiFile

from pathway.core.planning import Plan
from pathway.core.sound import playable, render
from pathway.formats.midi import midi
from pathway.formats.plan_document import PlanDocument, read_plan_document
from pathway.formats.plan_exchange import document_of
from pathway.formats.plan_reading import playable_of
from pathway.formats.wav import wav
from tests.helpers import plan_of

VARIED = "[mf] d4:8. e4. f#4. g4. (a4:4 d4) | g3+d4+b4+g5:2 a4:4> {pizz.} d4:4 | {arco} (d4:8. e4. f#4. g4.) a4:2^"


@pytest.fixture(scope="module")
def varied() -> Plan:
    """Notes off the string and on it, a chord, accents, a plucked note."""
    return plan_of(VARIED, tempo=72)


def _through_json(plan: Plan) -> PlanDocument:
    return read_plan_document(document_of(plan).to_json().encode())


def test_a_plan_document_is_played_as_its_plan(varied: Plan) -> None:
    """All that the sound needs is in it: to the rounding of its numbers the bow does the same."""
    here, there = render(playable(varied)), render(playable_of(_through_json(varied)))
    assert len(here.samples) == len(there.samples)
    assert np.abs(here.curves.speed - there.curves.speed).max() < 2e-3
    for one, other in zip(here.curves.strings, there.curves.strings, strict=True):
        assert one.string == other.string
        assert np.abs(one.force - other.force).max() < 5e-3
        assert np.abs(one.pull - other.pull).max() < 5e-3
        assert np.abs(one.beta - other.beta).max() < 1e-3
        assert np.abs(1200 * np.log2(one.pitch / other.pitch)).max() < 0.5


def test_the_document_says_what_the_sound_needs(varied: Plan) -> None:
    """What is plucked and where, how a note is started, when the hand crosses."""
    document = document_of(varied)
    (plucked,) = [note for note in document.notes if note.plucked]
    assert [(one.midi, one.string) for one in plucked.plucked] == [(62, 1)]
    assert all(c.end_s - c.begin_s == pytest.approx(c.time_s, abs=1e-4) for c in document.crossings)
    low = document_of(plan_of("[f] g2:8 a2 b2 c3 d3 e3 f3 g3", "bass", tempo=120))
    started = [note for note in low.notes if note.start]
    assert started
    assert all(note.start and note.start.weight_n > note.voices[0].force_n for note in started)


def test_a_mute_is_in_the_document() -> None:
    """From the word on until it is taken off."""
    plan = plan_of("[mf] d4:1 | {sord.} d4:1 | {senza_sord.} d4:1", tempo=60)
    (span,) = document_of(plan).muted
    assert (span.begin_s, span.end_s) == (4.0, 8.0)
    assert playable_of(_through_json(plan)).muted == ((4.0, 8.0),)


def test_wav_files_hold_what_they_are_given() -> None:
    """Sixteen bits; what is over full scale is cut off, not turned over."""
    data = wav(np.array([0.0, 0.5, -0.5, 2.0, -2.0]), 8000)
    with wave.open(io.BytesIO(data)) as file:
        assert (file.getframerate(), file.getnframes()) == (8000, 5)
        assert np.frombuffer(file.readframes(5), "<i2").tolist() == [0, 16384, -16384, 32767, -32767]


def test_midi_files_have_the_notes_at_their_times(varied: Plan) -> None:
    """Louder is a greater velocity; chords at once; plucked notes on a channel of their own."""
    file = MidiFile(file=io.BytesIO(midi(playable(varied))))
    at, on = 0.0, []
    for message in file:
        at += message.time
        if message.type == "note_on":
            on.append((round(at, 2), message.note, message.channel, message.velocity))
    planned = [(round(n.onset, 2), v.midi) for n in varied.bowed for v in n.voices]
    assert sorted((time, note) for time, note, channel, _ in on if channel == 0) == sorted(planned)
    assert [note for _, note, channel, _ in on if channel == 1] == [62]
    soft, loud = (midi(playable(plan_of(f"[{level}] d4:1"))) for level in ("pp", "ff"))
    velocities = [next(m.velocity for m in MidiFile(file=io.BytesIO(d)) if m.type == "note_on") for d in (soft, loud)]
    assert velocities[0] < velocities[1] - 20
    bar = MidiFile(file=io.BytesIO(midi(playable(varied), varied.notes[6].onset - 0.01, varied.notes[7].onset)))
    assert sum(message.type == "note_on" for message in bar) == len(varied.notes[6].voices)
