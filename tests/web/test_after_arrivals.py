"""What was taken in never breaks a page: after everything that is accepted, every page is opened."""

import json
import re
from collections.abc import Callable, Iterator
from datetime import date, timedelta
from pathlib import Path

import pytest
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient

from pathway.web.app import ROOMS
from pathway.web.config import AppSettings
from tests.web.asking import HTMX, player

NEVER_ENDS = {"/pieces/{key}/live"}
SLOW = re.compile(r"\.(wav|pdf)$")
PAGES = 30  # that there are at least without asking for anything


def _pages() -> Iterator[tuple[str, bool]]:
    """Yield the addresses that need no more than a piece, and whether they need one."""
    for route in (route for room in ROOMS for router in room.routers for route in router.routes):
        if isinstance(route, APIRoute) and "GET" in route.methods and route.path not in NEVER_ENDS:
            named = set(re.findall(r"{(\w+)[:}]", route.path))
            of_piece = named == {"key"} and route.path.startswith("/pieces/")
            if (of_piece or not named) and not SLOW.search(route.path):
                yield route.path, of_piece


def _backup(from_: TestClient, to: TestClient) -> None:
    data = from_.get("/settings/backup?takes=true").content
    asked = to.post("/settings/restore", files={"file": ("b.zip", data)}, headers=HTMX).text
    (yes,) = re.findall(r"/settings/copies/[^\"/]+/return", asked)
    assert to.post(yes, headers=HTMX).status_code == 200


def _piece(from_: TestClient, to: TestClient) -> None:
    data = from_.get("/pieces/2/piece.pathway?log=true&takes=true&history=true").content
    asked = to.post("/imports", files={"file": ("p.pathway", data)}, headers=HTMX).text
    (new,) = re.findall(r"/imports/[^/\"]+/new", asked)
    assert "HX-Redirect" in to.post(new, headers=HTMX).headers


def _log(from_: TestClient, to: TestClient) -> None:
    """The extremes that are taken: the first and the last year, no tries and all, a drill that is gone."""
    one = json.loads(from_.get("/practise/log.json").content)["sets"][0]
    sets = [
        {**one, "id": "first", "when": "1900-01-01T00:00:00+14:00"},
        {**one, "id": "last", "when": "2200-12-31T23:59:59-12:00", "tries": []},
        {**one, "id": "gone", "drill": "juggling", "tries": ["clean"] * 500, "seconds": 14400, "rung": 100},
        {**one, "id": "=1+1", "piece": "<b>", "bars": "=2", "rung_name": "x" * 200, "note": "\u202e" * 1000},
    ]
    data = json.dumps({"format": "pathway-log", "version": 1, "sets": sets}).encode()
    assert "4 sets were added" in to.post("/practise/log", files={"file": ("l.json", data)}, headers=HTMX).text


@pytest.mark.parametrize("bring", [_backup, _piece, _log])
def test_every_page_opens_after_what_was_taken_in(
    demo: TestClient, tmp_path: Path, bring: Callable[[TestClient, TestClient], None], monkeypatch: pytest.MonkeyPatch
) -> None:
    """In a zone far from where it was made, too."""
    monkeypatch.setenv("TZ", "Asia/Tokyo")
    with player(AppSettings(data=tmp_path, demo=bring is _log)) as client:
        bring(demo, client)
        keys = re.findall(r'href="/pieces/(\d+)"', client.get("/").text)
        assert keys
        opened = []
        for path, of_piece in _pages():
            for key in keys[:2] if of_piece else [""]:
                answer = client.get(path.replace("{key}", key))
                assert answer.status_code < 500, (path, key, answer.text[:300])
                opened.append(answer.status_code)
        assert opened.count(200) > PAGES


@pytest.mark.parametrize("year", ["0001-01-01T00:00:00Z", "9999-12-31T23:00:00Z"])
def test_a_set_of_no_year_of_ours_is_refused(client: TestClient, year: str) -> None:
    """With the set that it is."""
    one = {"id": "odd", "when": year, "drill": "arrive..6"}
    data = json.dumps({"sets": [one]}).encode()
    refused = client.post("/practise/log", files={"file": ("l.json", data)}, headers=HTMX)
    assert refused.status_code == 422
    assert "(odd)" in refused.text


def test_a_piece_cannot_be_ready_in_a_far_year(shelf: TestClient) -> None:
    """The calendar of the way there would fill the memory."""
    for day, status in ((date.today() + timedelta(days=700), 200), (date(9999, 12, 31), 422)):
        answer = shelf.post("/pieces/1/practise/ready", data={"day": day.isoformat()}, headers=HTMX)
        assert answer.status_code == status
    assert len(shelf.get("/practise/days.ics").content) < 100_000
