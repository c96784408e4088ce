"""What every request passes, and what every answer carries."""

import sqlite3
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


def test_only_a_backup_may_be_large(shelf: TestClient) -> None:
    """A score of forty megabytes is refused before it is read; the way back for a backup is open further."""
    size = {"Content-Length": str(40_000_000)}
    assert shelf.post("/imports", content=b"", headers=size).status_code == 413
    assert shelf.post("/settings/restore", content=b"", headers=size).status_code != 413
    size = {"Content-Length": str(900_000_000)}
    answer = shelf.post("/settings/restore", content=b"", headers=size)
    assert answer.status_code == 413
    assert "up to 500" in answer.text


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


@pytest.mark.parametrize("host", ["example.org", "testserver", "192.168.1.4", "localhost.example.org"])
def test_the_app_answers_to_its_own_names_only(stranger: TestClient, host: str) -> None:
    """A name that someone else pointed at this computer is none."""
    assert stranger.get("/", headers={"Host": host}).status_code == 400


ASKED = "note=n5&heard=scratch&numbers=0&tempo=90&bpm=90&first=0&last=1&start=n1&end=n4&place=20&each=2&version=0"


def _pages() -> list[str]:
    """Return the address of every page and fragment there is."""
    routes = [route for room in ROOMS for router in room.routers for route in router.routes]
    places = [route.path for route in routes if isinstance(route, APIRoute) and "GET" in route.methods]
    filled = [path.replace("{note}", "n5").replace("{id_}", "1") for path in places]
    return [path.replace("{key}", "1" if path.startswith("/pieces") else "violin") + f"?{ASKED}" for path in filled]


def test_looking_changes_nothing(shelf: TestClient, tmp_path: Path) -> None:
    """Every page there is, asked for from anywhere: not one row of the data is another one."""

    def rows() -> list[str]:
        with closing(sqlite3.connect(tmp_path / "pathway.sqlite")) as connection:
            return list(connection.iterdump())

    shelf.post("/pieces/1/variants", data={"name": "One"}, headers=HTMX)
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
