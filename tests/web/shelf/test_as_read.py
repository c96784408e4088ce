"""How the page was read: told at the import and under About; what the file contradicts is asked."""

import re

from fastapi.testclient import TestClient

from tests.helpers import document
from tests.web.asking import HTMX


def _brought(client: TestClient, data: bytes, **more: str) -> tuple[str, str]:
    """Return the question at the import, and the answer to it."""
    asked = client.post("/imports", files={"file": ("Walk.musicxml", data)}, headers=HTMX).text
    token = re.search(r'hx-post="/imports/([^"/]+)"', asked)
    assert token is not None
    answer = client.post(f"/imports/{token[1]}", data={"part": "1", "rig": "violin", **more}, headers=HTMX)
    return asked, answer.headers.get("HX-Redirect", "") or answer.text


def test_what_nothing_listens_to_is_listed_once_the_part_is_planned(client: TestClient) -> None:
    """With its bars, before the sheet; the same list is under About."""
    words = "<direction><direction-type><words>con anima &amp; cuore</words></direction-type></direction>"
    data = document("[mf] a4:4 b4 c5 d5 | a4:4 b4 c5 d5").decode().replace("<note>", f"{words}<note>", 1)
    _, read = _brought(client, data.encode())
    for page in (read, client.get("/pieces/1/about").text):
        assert "“con anima &amp; cuore”" in page
        assert "bar 1" in page
        assert "Nothing was left out" not in page
    assert 'href="/pieces/1"' in read


def test_where_nothing_was_left_out_the_sheet_opens_at_once(client: TestClient) -> None:
    """And About says so, with what had to be decided."""
    _, answer = _brought(client, document("[mf] a4:4 b4 c5 d5"))
    assert answer == "/pieces/1"
    assert "Nothing was left out." in client.get("/pieces/1/about").text


def test_a_tempo_that_contradicts_its_word_is_asked_about(client: TestClient) -> None:
    """The word holds where nothing is answered, the answer where there is one."""
    sound = '<direction><direction-type><words>Allegro molto</words></direction-type><sound tempo="60"/></direction>'
    metronome = rb"<direction[^>]*>(?:(?!</direction>).)*<metronome.*?</direction>"
    data = re.sub(metronome, sound.encode(), document("[mf] a4:4 b4 c5 d5"), count=1, flags=re.DOTALL)
    asked, _ = _brought(client, data)
    assert "“Allegro molto” means about 144, the file is played at 60" in asked
    assert 'value="144"' in client.get("/pieces/1").text
    assert "the file is played at 60" in client.get("/pieces/1/about").text
    _brought(client, data, tempo="66")
    assert 'value="66"' in client.get("/pieces/2").text
