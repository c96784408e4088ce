"""What every request passes, and what every answer carries."""

import re
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient

from pathway.errors import DataError
from pathway.store import Pieces
from pathway.web.app import ROOMS, create_app
from pathway.web.config import AppSettings
from pathway.web.shared.headers import HEADERS
from tests.web.asking import AT, HTMX


def test_only_files_with_sound_may_be_large(shelf: TestClient) -> None:
    """Forty megabytes are refused before they are read, but where a backup, a take or a piece with takes comes in."""
    size = {"Content-Length": str(40_000_000)}
    for path in ("/pieces/1/edition", "/rigs/import", "/settings", "/pieces/1/takes/pieces"):
        assert shelf.post(path, content=b"", headers=size).status_code == 413
    for path in ("/settings/restore", "/pieces/1/takes", "/imports"):
        assert shelf.post(path, content=b"", headers=size).status_code != 413
    size = {"Content-Length": str(900_000_000)}
    answer = shelf.post("/settings/restore", content=b"", headers=size)
    assert answer.status_code == 413
    assert "up to 500" in answer.text


def test_a_body_that_does_not_say_how_long_it_is_is_refused_with_the_reason(shelf: TestClient) -> None:
    """Whoever reads it: as a form, as a file or by itself."""

    def endless(head: bytes) -> Iterator[bytes]:
        yield head
        for _ in range(40):
            yield b"x" * 1_000_000

    file = b'--b\r\nContent-Disposition: form-data; name="file"; filename="a.xml"\r\n\r\n'
    kinds = {"/rigs/import": "multipart/form-data; boundary=b", "/settings": "application/x-www-form-urlencoded"}
    for path, kind in {**kinds, "/pieces/1/takes/pieces?token=a-recording&offset=0": "audio/x"}.items():
        answer = shelf.post(path, content=endless(file), headers={**HTMX, "Content-Type": kind})
        assert (path, answer.status_code) == (path, 413)
        assert "Pathway takes up to" in answer.text


@pytest.fixture(scope="module")
def stranger(tmp_path_factory: pytest.TempPathFactory) -> TestClient:
    """Someone who asks without a page of the app."""
    return TestClient(create_app(AppSettings(tmp_path_factory.mktemp("door"), demo=True)), base_url=AT)


@pytest.mark.parametrize(
    ("headers", "passes"),
    [
        ({"Origin": AT}, True),
        ({"Origin": AT, "Sec-Fetch-Site": "same-origin"}, True),
        ({"Referer": f"{AT}/pieces/1"}, True),
        ({"Sec-Fetch-Site": "none"}, True),
        ({"HX-Request": "true"}, True),
        ({}, False),
        ({"Origin": "http://localhost:8000"}, False),
        ({"Origin": "http://example.org"}, False),
        ({"Origin": "null"}, False),
        ({"Origin": "http://example.org", "HX-Request": "true"}, False),
        ({"Origin": "http://example.org", "Sec-Fetch-Site": "same-origin"}, False),
        ({"Referer": "http://example.org/localhost"}, False),
        ({"Origin": AT, "Sec-Fetch-Site": "cross-site"}, False),
        ({"Origin": AT, "Sec-Fetch-Site": "same-site"}, False),
    ],
)
def test_only_pages_of_the_app_change_something(stranger: TestClient, headers: dict[str, str], passes: bool) -> None:
    """Whatever the browser tells of where a change comes from; looking is free."""
    before = stranger.get("/pieces/1").text
    answer = stranger.post("/pieces/1/here", data={"note": "n5"}, headers=headers)
    assert answer.status_code == (204 if passes else 403)
    assert passes or "another site" in answer.text
    assert passes or stranger.get("/pieces/1").text == before


@pytest.mark.parametrize(
    ("headers", "passes"),
    [
        ({}, True),
        ({"Sec-Fetch-Site": "none", "Sec-Fetch-Mode": "navigate"}, True),
        ({"Sec-Fetch-Site": "same-origin", "Sec-Fetch-Mode": "no-cors"}, True),
        ({"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "navigate", "Sec-Fetch-Dest": "document"}, True),
        ({"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "navigate", "Sec-Fetch-Dest": "iframe"}, False),
        ({"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "no-cors"}, False),
        ({"Sec-Fetch-Site": "same-site", "Sec-Fetch-Mode": "cors", "Sec-Fetch-Dest": "document"}, False),
    ],
)
def test_no_other_site_makes_the_app_compute(stranger: TestClient, headers: dict[str, str], passes: bool) -> None:
    """Pictures, frames and scripts of a page elsewhere ask in vain for plans and sound; a link leads here."""
    answer = stranger.get("/pieces/1/tone", headers=headers)
    assert answer.status_code == (200 if passes else 403)
    assert passes or "another site" in answer.text


@pytest.mark.parametrize("host", ["example.org", "testserver", "192.168.1.4", "localhost.example.org"])
def test_the_app_answers_to_its_own_names_only(stranger: TestClient, host: str) -> None:
    """A name that someone else pointed at this computer is none."""
    assert stranger.get("/", headers={"Host": host}).status_code == 400


ASKED = (
    "drill=angle..2&note=n5&heard=scratch&numbers=0&tempo=90&bpm=90&first=0&last=1&start=n1&end=n4&place=20&each=2"
    "&version=0"
)


ENDLESS = {"/pieces/{key}/live"}  # goes on for as long as somebody listens


def _pages() -> list[str]:
    """Return the address of every page and fragment there is."""
    routes = [route for room in ROOMS for router in room.routers for route in router.routes]
    places = [route.path for route in routes if isinstance(route, APIRoute) and "GET" in route.methods]
    ending = [path for path in places if path not in ENDLESS]
    filled = [path.replace("{note}", "n5").replace("{id_}", "1").replace("{kind}", "martele") for path in ending]
    return [
        path.replace("{key}", "1" if path.startswith(("/pieces", "/practise")) else "violin") + f"?{ASKED}"
        for path in filled
    ]


def test_looking_changes_nothing(shelf: TestClient, tmp_path: Path) -> None:
    """Every page there is, asked for from anywhere: not one row of the data is another one."""

    def rows() -> list[str]:
        with closing(sqlite3.connect(tmp_path / "pathway.sqlite")) as connection:
            return list(connection.iterdump())

    shelf.post("/pieces/1/variants", data={"name": "One"}, headers=HTMX)
    shelf.post("/pieces/1/takes/simulate", data={"seed": 1}, headers=HTMX)
    before = rows()
    answers = {path: shelf.get(path, headers={"Origin": "http://example.org"}).status_code for path in _pages()}
    failed = {path: status for path, status in answers.items() if status != 200}
    assert len(answers) > 30
    assert len(failed) < 0.2 * len(answers), failed
    assert max(answers.values()) < 500
    assert rows() == before


def test_a_fault_of_ours_is_an_answer_in_words(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """With a number that is in the log, the headers of every answer, and nothing of how the app is made."""
    app = create_app(AppSettings(tmp_path, demo=True))
    client = TestClient(app, base_url=AT, headers={"Origin": AT}, raise_server_exceptions=False)

    def break_down(*_: object) -> None:
        raise RuntimeError("secret detail")

    monkeypatch.setattr(Pieces, "shelf", break_down)
    logged: list[str] = []
    monkeypatch.setattr("pathway.web.errors.log.error", lambda text, number, *_, **__: logged.append(number))
    for headers in ({}, HTMX):
        answer = client.get("/", headers=headers)
        assert answer.status_code == 500
        assert f"fault {logged[-1]}, in the log" in answer.text
        assert "secret" not in answer.text
        assert {name: answer.headers[name] for name in HEADERS} == HEADERS


def test_what_cannot_be_kept_is_said_and_the_rest_stays(shelf: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    """A full disk: 503 in words in the place of messages."""

    def full(*_: object) -> None:
        raise DataError("This could not be kept: the disk is full", advice="Make room, then try again.")

    monkeypatch.setattr(Pieces, "edit", full)
    data = {"note": "n1", "notes": "n1", "version": 0, "what": "direction", "value": "up"}
    answer = shelf.post("/pieces/1/edit", data=data, headers=HTMX)
    assert (answer.status_code, answer.headers["HX-Retarget"]) == (503, "#message")
    assert "the disk is full. Make room" in answer.text


NASTY = "<img src=x onerror=alert(1)>\"'<script>alert(2)</script>"
_WRITTEN = NASTY.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace('"', "&quot;")
_MEI = f"""<?xml version="1.0"?><mei xmlns="http://www.music-encoding.org/ns/mei"><meiHead><fileDesc><titleStmt>
<title>{_WRITTEN}</title></titleStmt><pubStmt/></fileDesc></meiHead><music><body><mdiv><score><scoreDef><staffGrp>
<staffDef n="1" lines="5" clef.shape="G" clef.line="2" meter.count="4" meter.unit="4">
<label>{_WRITTEN}</label></staffDef>
</staffGrp></scoreDef><section><measure n="{_WRITTEN}"><staff n="1"><layer n="1"><note xml:id="a1" pname="a" oct="4"
dur="4"/><note xml:id="a2" pname="b" oct="4" dur="4"/><note xml:id="a3" pname="a" oct="4" dur="2"/></layer></staff>
<dir startid="#a1">{_WRITTEN}</dir><tempo tstamp="1" mm="90">{_WRITTEN}</tempo></measure></section></score>
</mdiv></body></music></mei>"""


def test_texts_of_a_score_and_of_the_player_stay_texts(shelf: TestClient) -> None:
    """Title, part, bar number, words, names and reasons, on every page of the piece and in its pictures."""
    asked = shelf.post("/imports", files={"file": (f"{NASTY}.mei", _MEI.encode())}, headers=HTMX).text
    token = re.search(r'hx-post="/imports/([^"/]+)"', asked)
    assert token is not None
    shelf.post(f"/imports/{token[1]}", data={"part": 1, "rig": "violin"}, headers=HTMX)
    own = "/pieces/9"
    passage = {"version": 0, "start": "a1", "end": "a3", "character": NASTY[:80]}
    assert shelf.post(f"{own}/music/passages", data=passage, headers=HTMX).status_code == 200
    shelf.post(f"{own}/variants", data={"name": NASTY}, headers=HTMX)
    shelf.post(f"{own}/aside", data={"code": "unused", "note": "a1", "reason": NASTY}, headers=HTMX)
    tempo = {"version": 1, "note": "a2", "tempo": 70}
    shelf.post(f"{own}/music/tempo", data=tempo, headers=HTMX)
    pages = [
        "",
        "/music",
        "/tone",
        "/rig",
        "/history",
        "/variants",
        "/notes/a1",
        "/lines?numbers=0",
        "/preview?tempo=70",
    ]
    texts = [asked, shelf.get("/").text, *(shelf.get(own + page).text for page in pages)]
    assert all("&lt;img" in text for text in texts[:3]), "it is shown at all"
    assert not [text for text in texts if re.search("<img|<script>alert", text)]
