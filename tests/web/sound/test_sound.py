"""Any bars of a piece, or of what it would be otherwise, as sound."""

import io
import re
import wave

import numpy as np
import pytest
from fastapi.testclient import TestClient

from pathway.core.planning.advice.symptoms import Heard
from tests.web.asking import HTMX, version_of


def _sound(client: TestClient, **asked: object) -> tuple[np.ndarray, float]:
    answer = client.get("/pieces/2/sound.wav", params=asked)
    assert answer.status_code == 200, answer.text
    assert answer.headers["content-type"] == "audio/wav"
    with wave.open(io.BytesIO(answer.content)) as file:
        assert (file.getnchannels(), file.getframerate(), file.getsampwidth()) == (1, 48_000, 2)
        return np.frombuffer(file.readframes(file.getnframes()), "<i2"), float(answer.headers["Begins"])


def test_a_stretch_sounds_and_says_where_it_begins(demo: TestClient) -> None:
    """A little before its first note, so that the line can follow it."""
    beats = demo.get("/pieces/2/beats.json").json()
    begin, end = beats["spans"][1]
    samples, begins = _sound(demo, begin=begin, end=end)
    assert begin - 0.2 < begins < begin
    assert np.abs(samples).max() > 300
    assert beats["version"] == version_of(demo, 2)
    again = demo.get("/pieces/2/sound.wav", params={"begin": begin, "end": end})
    assert again.content[44:] == samples.tobytes()
    assert "max-age" in again.headers["cache-control"]


def test_a_note_its_bow_and_its_bar_are_heard(demo: TestClient) -> None:
    """Each longer than the one before."""
    lengths = [len(_sound(demo, scope=scope, note="n4")[0]) for scope in ("note", "stroke", "bars")]
    assert lengths[0] <= lengths[1] < lengths[2]


def test_without_the_hands_help_it_is_another_sound(demo: TestClient) -> None:
    """The switch reaches the strings."""
    helped, alone = (_sound(demo, scope="bars", note="n4", alone=alone)[0] for alone in (False, True))
    assert not np.array_equal(helped, alone)


def test_a_finding_is_heard_as_planned_and_with_its_helps(demo: TestClient) -> None:
    """The help is planned before it is heard; the finding's own notes tell what is played."""
    page = demo.get("/pieces/2").text
    note = re.findall(r'data-goto="([^"]+)"', page)[0]
    helps = demo.get(f"/pieces/2/notes/{note}/helps", headers=HTMX).text
    code, fix = re.findall(r'data-fix="([^"]+)"\s+data-code="([^"]+)"', helps)[0][::-1]
    planned = _sound(demo, scope="bars", note=note, code=code)[0]
    assert not np.array_equal(planned, _sound(demo, scope="bars", note=note, code=code, fix=fix)[0])
    assert f'data-fix-heard="{fix}"' in helps


@pytest.mark.parametrize("heard", [Heard.BREATHY, Heard.GRATING, Heard.BURIED])
def test_a_symptom_is_heard_on_the_players_own_note(demo: TestClient, heard: Heard) -> None:
    """The page of its causes has it to be compared."""
    planned = _sound(demo, scope="bars", note="n4")[0]
    assert not np.array_equal(planned, _sound(demo, scope="bars", note="n4", heard=heard.value)[0])
    causes = demo.get("/pieces/2/notes/n4/hear", params={"heard": heard.value}, headers=HTMX).text
    assert f'data-heard="{heard.value}"' in causes


def test_a_variant_and_the_plan_made_anew_are_heard(shelf: TestClient) -> None:
    """By the number of the variant; an edited piece sounds otherwise than the kept one."""
    shelf.post("/pieces/2/variants", data={"name": "before"}, headers=HTMX)
    before = _sound(shelf, scope="note", note="n4")[0]
    edit = {"notes": "n4", "version": version_of(shelf, 2), "what": "lane", "value": "1"}
    assert shelf.post("/pieces/2/edit", data=edit, headers=HTMX).status_code == 200
    after = _sound(shelf, scope="note", note="n4", version=9)[0]
    kept = _sound(shelf, scope="note", note="n4", variant=1)[0]
    assert np.array_equal(before, kept)
    assert not np.array_equal(before, after)
    assert len(_sound(shelf, scope="note", note="n4", anew=True)[0]) == len(after)


@pytest.mark.parametrize(
    ("asked", "status", "said"),
    [
        ({"begin": 5, "end": 1}, 422, "at once"),
        ({"begin": 0, "end": 1000}, 422, "at once"),
        ({"begin": 5000, "end": 5001}, 422, "nothing to play"),
        ({"begin": "nan", "end": 1}, 422, "begin"),
        ({"scope": "note", "note": "n999"}, 404, "no such note"),
        ({"scope": "tune"}, 422, "scope"),
        ({"scope": "bars", "note": "n4", "heard": "a dragon"}, 422, "heard"),
        ({"scope": "bars", "note": "n4", "variant": 7}, 404, "variant"),
        ({"scope": "bars", "note": "n4", "code": "airy", "fix": "no"}, 404, "not offered"),
    ],
)
def test_what_cannot_be_heard_is_said_in_words(
    demo: TestClient, asked: dict[str, object], status: int, said: str
) -> None:
    """What, where and what to do."""
    answer = demo.get("/pieces/2/sound.wav", params=asked, headers=HTMX)
    assert answer.status_code == status
    assert said in answer.text


def test_what_sounds_is_chosen_in_the_menu(demo: TestClient) -> None:
    """With what is heard in words, a word on hearing, and drones from the lowest string on."""
    menu = demo.get("/pieces/2/sound", headers=HTMX).text
    assert "competent hand" in menu
    assert "harms the ear" in menu
    assert '<option value="130.813">C3</option>' in menu
    assert menu.count("<option") == 13
