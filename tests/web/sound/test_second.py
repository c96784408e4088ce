"""Another part of the same score, in time with the piece."""

import io
import re
import wave

import numpy as np
import pytest
from fastapi.testclient import TestClient

from pathway.core.rig.instrument import frequency
from tests.helpers import document
from tests.web.asking import HTMX, version_of

UPPER = document("[mf] d4:4 e4 f#4 g4 | a4:2 b4:2", title="Two Together", tempo="90").decode()
LOWER = document("[mf] d3:2 a3:2 | d3:1", "cello").decode()


def _two_parts() -> bytes:
    """Return a violin part with a cello part under it; only the violin's has the tempo."""
    lower = re.search(r"<part id=.*</part>", LOWER, re.S)
    assert lower is not None
    quiet = re.sub(r"<direction[ >].*?</direction>", "", lower[0].replace('id="P1"', 'id="P2"'), flags=re.S)
    head = '<score-part id="P2"><part-name>Violoncello</part-name></score-part></part-list>'
    both = UPPER.replace("</part-list>", head).replace("</score-partwise>", f"{quiet}</score-partwise>")
    return both.encode()


@pytest.fixture
def duet(client: TestClient) -> TestClient:
    """A shelf with the violin part of two."""
    asked = client.post("/imports", files={"file": ("two.musicxml", _two_parts())}, headers=HTMX).text
    token = re.search(r'hx-post="/imports/([^"/]+)"', asked)
    assert token is not None
    assert client.post(f"/imports/{token[1]}", data={"part": 1, "rig": "violin"}, headers=HTMX).status_code == 200
    return client


def _second(client: TestClient, begin: float, end: float, **asked: object) -> tuple[np.ndarray, float]:
    answer = client.get("/pieces/1/second.wav", params={"part": 2, "begin": begin, "end": end, **asked})
    assert answer.status_code == 200, answer.text
    with wave.open(io.BytesIO(answer.content)) as file:
        samples = np.frombuffer(file.readframes(file.getnframes()), "<i2").astype(float)
    return samples, float(answer.headers["Begins"])


def _strength(samples: np.ndarray, begins: float, time: float, midi: float) -> float:
    """Return how strong a pitch is about a time [s]."""
    some = samples[int((time - begins) * 48_000) :][:16_384]
    spectrum = np.abs(np.fft.rfft(some * np.hanning(len(some))))
    at = round(frequency(midi) * len(some) / 48_000)
    return float(spectrum[at - 1 : at + 2].max())


def test_the_menu_offers_the_other_parts_only(duet: TestClient) -> None:
    """A piece of one part offers none."""
    menu = duet.get("/pieces/1/sound", headers=HTMX).text
    assert '<option value="2">Violoncello</option>' in menu
    assert ">Violin<" not in menu


@pytest.mark.parametrize("plain", [False, True])
def test_it_sounds_in_time_with_the_piece_at_any_tempo(duet: TestClient, plain: bool) -> None:
    """Its second note comes on the third beat: also when the piece is slowed, though its own page has no tempo."""
    for tempo in (90, 60):
        duet.post("/pieces/1/tempo", data={"tempo": tempo, "version": version_of(duet, 1)}, headers=HTMX)
        third = duet.get("/pieces/1/beats.json").json()["beats"][2][0]
        assert third == pytest.approx(2 * 60 / tempo)
        samples, begins = _second(duet, -0.01, third + 0.01, plain=plain)
        before, after = (_strength(samples, begins, time, 57) for time in (third - 0.5, third + 0.25))
        assert after > 5 * before


def test_what_cannot_be_played_along_is_said(duet: TestClient) -> None:
    """No such part, nothing there."""
    missing = duet.get("/pieces/1/second.wav", params={"part": 7, "begin": 0, "end": 5}, headers=HTMX)
    assert (missing.status_code, "no part" in missing.text) == (404, True)
    long = duet.get("/pieces/1/second.wav", params={"part": 2, "begin": 0, "end": 5000}, headers=HTMX)
    assert (long.status_code, "at once" in long.text) == (422, True)
    nothing = duet.get("/pieces/1/second.wav", params={"part": 2, "begin": 500, "end": 505}, headers=HTMX)
    assert (nothing.status_code, "nothing to play" in nothing.text) == (422, True)


def test_a_piece_of_one_part_offers_none(demo: TestClient) -> None:
    """The field is left out."""
    assert "Second part" not in demo.get("/pieces/2/sound", headers=HTMX).text
