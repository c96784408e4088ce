"""A piece whose lines take long: the page says so, and what is drawn stays readable meanwhile."""

import threading
from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from pathway.desk import drawing
from pathway.desk.stored import engraved
from pathway.errors import ScoreError
from pathway.formats.staves import System
from pathway.web.shared import room
from tests.web.asking import HTMX


class Slow:
    """Engraves when it is let."""

    def __init__(self) -> None:
        self.let, self.begun, self.fails = threading.Event(), 0, False

    def __call__(self, mei: str, width: int) -> tuple[System, ...]:
        """Wait, then draw, or fail."""
        self.begun += 1
        assert self.let.wait(20)
        if self.fails:
            raise ScoreError("This score could not be engraved in 25 s")
        return engraved(mei, width)


@pytest.fixture
def slow(monkeypatch: pytest.MonkeyPatch, shelf: TestClient) -> Iterator[Slow]:
    """The engraver from now on; piece 2 is drawn already."""
    assert shelf.get("/pieces/2").status_code == 200
    hand = Slow()
    monkeypatch.setattr(drawing, "engraved", hand)
    monkeypatch.setattr(room, "AT_ONCE", 0.05)
    yield hand
    hand.let.set()


def test_a_page_says_that_its_lines_are_being_engraved_and_opens_when_they_are(shelf: TestClient, slow: Slow) -> None:
    """With how long it has taken and may take; another piece, drawn before, opens meanwhile."""
    page = shelf.get("/pieces/1")
    assert page.status_code == 503
    assert "Still engraving" in page.text
    assert 'hx-get="/pieces/1/engraving"' in page.text
    bar = shelf.get("/pieces/1/engraving", headers=HTMX)
    assert "s so far, 1" in bar.text
    assert "HX-Refresh" not in bar.headers
    assert shelf.get("/pieces/2").status_code == 200
    assert shelf.get("/pieces/1/music").status_code == 503
    slow.let.set()
    shelf.get("/pieces/1/lines?numbers=0", headers={"Room": "wide"})  # a part of a page waits
    assert shelf.get("/pieces/1/engraving", headers=HTMX).headers["HX-Refresh"] == "true"
    assert shelf.get("/pieces/1").status_code == 200
    assert slow.begun == 1


def test_what_came_to_nothing_is_told_once_and_begun_anew_when_asked_again(shelf: TestClient, slow: Slow) -> None:
    """The page does not turn in a circle."""
    slow.fails = True
    assert shelf.get("/pieces/1").status_code == 503
    slow.let.set()
    failed = shelf.get("/pieces/1", headers=HTMX)
    assert (failed.status_code, slow.begun) == (422, 1)
    assert "could not be engraved" in failed.text
    slow.fails = False
    assert shelf.get("/pieces/1", headers=HTMX).status_code == 200
    assert slow.begun == 2


@pytest.mark.parametrize("address", ["/pieces/1/engraving/stop", "/imports/stop"])
def test_a_player_need_not_wait(shelf: TestClient, monkeypatch: pytest.MonkeyPatch, address: str) -> None:
    """Both where a piece opens and where one is brought in."""
    stopped: list[int] = []
    monkeypatch.setattr("pathway.formats.engraver.Engraver.stop", lambda _: stopped.append(1))
    assert shelf.post(address, headers=HTMX).status_code in {200, 204}
    assert len(stopped) == 1
