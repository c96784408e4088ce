"""What belongs to no bar is heard too: stroke types, the double stop on the bench, a point on the tone map."""

import io
import wave

import numpy as np
import pytest
from fastapi.testclient import TestClient

from pathway.core.rig import PRESETS, preset
from pathway.core.sound import playable, render
from pathway.core.sound.otherwise import at_point
from pathway.core.technique.stroke_types import STROKE_TYPES, StrokeType
from pathway.errors import NotFound, OutOfRange
from pathway.formats.samples import SAMPLE_NOTES, type_sample
from tests.helpers import plan_of


def _heard(client: TestClient, address: str, **asked: object) -> np.ndarray:
    answer = client.get(address, params=asked)
    assert answer.status_code == 200, answer.text
    with wave.open(io.BytesIO(answer.content)) as file:
        return np.frombuffer(file.readframes(file.getnframes()), "<i2").astype(float)


@pytest.mark.parametrize("kind", STROKE_TYPES.values(), ids=lambda kind: kind.key)
def test_every_stroke_type_has_a_sample_that_is_played_so(kind: StrokeType) -> None:
    """Eight notes of that type and no other, and each of them sounds: on a high rig and a low one."""
    for rig in (preset("violin"), preset("bass")):
        plan = type_sample(kind, rig)
        assert len(plan.bowed) == SAMPLE_NOTES
        assert {stroke.kind for stroke in plan.strokes} == {kind.key}
        sound = render(playable(plan))
        for note in plan.bowed:
            a, b = (int((time - sound.begin) * 48_000) for time in (note.onset, note.onset + note.duration))
            assert np.abs(sound.samples[a:b]).max() > 0.005, note.id


@pytest.mark.parametrize("rig", PRESETS)
def test_a_sample_lies_on_every_rig(rig: str) -> None:
    """With as many strings as it has, tuned as they are."""
    assert len(type_sample(STROKE_TYPES["detache"], preset(rig)).bowed) == SAMPLE_NOTES


def test_the_page_of_a_stroke_type_sounds_on_the_players_rig(shelf: TestClient) -> None:
    """Another rig, another sound."""
    assert 'data-clip="/strokes/spiccato/sound.wav"' in shelf.get("/strokes/spiccato").text
    violin = _heard(shelf, "/strokes/spiccato/sound.wav")
    form = {"rig": "cello", "school": "hand", "lengths": "cm", "weights": "g", "sharp_name": "martelé"}
    shelf.post("/settings", data=form)
    assert not np.array_equal(violin, _heard(shelf, "/strokes/spiccato/sound.wav"))
    assert shelf.get("/strokes/hopping/sound.wav").status_code == 404


def _share(sound: np.ndarray, pitch: float) -> float:
    """Return how strong a pitch is in a sound."""
    middle = sound[24_000:72_000]
    spectrum = np.abs(np.fft.rfft(middle * np.hanning(len(middle))))
    at = round(pitch * len(middle) / 48_000)
    return float(spectrum[at - 3 : at + 4].max())


def test_the_double_stop_on_the_bench_is_heard_with_either_lead(demo: TestClient) -> None:
    """More of the weight on a string gives more of it against the other; both are there."""
    ask = {"rig": "violin", "lower": 1, "speed": 25, "hair": 30, "place": 3.0}
    low, high = 293.66, 440.0
    ratios = []
    for share in (20, 80):
        sound = _heard(demo, "/bench/sound.wav", lead="lower", share=share, **ask)
        ratios.append(_share(sound, low) / _share(sound, high))
        assert min(_share(sound, low), _share(sound, high)) > 1e4
    assert ratios[1] != pytest.approx(ratios[0], rel=0.05)
    one, other = (_heard(demo, "/bench/sound.wav", lead=lead, rig="viola", lower=0) for lead in ("lower", "higher"))
    assert not np.array_equal(one, other)
    assert demo.get("/bench/sound.wav", params={"rig": "violin", "lower": 6}).status_code == 422


def test_a_point_on_the_tone_map_is_heard_before_it_is_set(demo: TestClient) -> None:
    """Nearer the bridge at the same speed is louder; nothing is kept by listening."""
    before = demo.get("/pieces/2/plan.json").content
    far, near = (
        _heard(demo, "/pieces/2/sound.wav", scope="note", note="n1", lane=lane, force=force)
        for lane, force in ((1, 0.4), (4.5, 1.6))
    )
    assert np.sqrt(np.mean(near**2)) > 1.3 * np.sqrt(np.mean(far**2))
    assert demo.get("/pieces/2/plan.json").content == before
    assert (
        demo.get("/pieces/2/sound.wav", params={"scope": "note", "note": "n1", "lane": 9, "force": 1}).status_code
        == 422
    )


def test_a_point_is_a_place_and_a_weight() -> None:
    """The window is that of the place; the weight of other strings goes with that of the lead."""
    plan = plan_of("[mf] d4+a4:1 e4:1")
    note = plan.note["n1"]
    moved = at_point(plan, "n1", 5.0, 2 * note.lead.force).note["n1"]
    assert moved.contact < note.contact
    assert moved.lead.beta == pytest.approx(moved.contact / moved.lead.vibrating)
    assert [voice.force for voice in moved.voices] == pytest.approx([2 * voice.force for voice in note.voices])
    assert moved.lead.window[1] > note.lead.window[1]
    assert [at_point(plan, "n1", 3.0, force).note["n1"].tone.value for force in (0.02, 0.4, 20)] == [
        "airy",
        "core",
        "pressed",
    ]
    with pytest.raises(OutOfRange, match="lane"):
        at_point(plan, "n1", 7, 1)
    with pytest.raises(OutOfRange, match="weight"):
        at_point(plan, "n1", 3, 100)
    with pytest.raises(NotFound):
        at_point(plan, "n9", 3, 1)
