"""Pieces that leave the shelf and return, and the first steps."""

import re
import sqlite3
from contextlib import closing
from pathlib import Path

from fastapi.testclient import TestClient

from tests.web.asking import HTMX


def test_a_piece_leaves_the_shelf_and_returns(shelf: TestClient) -> None:
    """Its place says how to put it back."""
    gone = shelf.post("/pieces/3/remove", headers=HTMX).text
    assert "Lamp in the Window is off the shelf" in gone
    assert "Lamp in the Window" not in shelf.get("/").text
    shelf.post("/pieces/3/put-back", headers=HTMX)
    assert "Lamp in the Window" in shelf.get("/").text


def test_steps_to_begin_go_with_the_first_change(shelf: TestClient) -> None:
    """There on the first day, done once a piece was worked on."""
    assert "Three steps to begin" in shelf.get("/").text
    shelf.post("/pieces/1/tempo", data={"tempo": 70, "version": 0}, headers=HTMX)
    assert "Three steps to begin" not in shelf.get("/").text


def test_a_piece_goes_home_with_its_history_and_comes_back_beside_itself(shelf: TestClient) -> None:
    """By the same door as a score; its name is safe on every disk."""
    shelf.post("/pieces/3/tempo", data={"tempo": 70, "version": 0}, headers=HTMX)
    taken = shelf.get("/pieces/3/piece.pathway?history=true")
    assert taken.headers["content-disposition"] == 'attachment; filename="lamp-in-the-window-violin.pathway"'
    inside = shelf.post("/imports", files={"file": ("lamp.pathway", taken.content)}, headers=HTMX).text
    assert "every state of the plan" in inside
    (new,) = re.findall(r"/imports/[^/]+/new", inside)
    assert shelf.post(new, headers=HTMX).headers["HX-Redirect"] == "/pieces/9"
    assert "Tempo 70" in shelf.get("/pieces/9/history").text
    assert shelf.get("/").text.count("Lamp in the Window</h2>") == 2
    everything = shelf.get("/settings/backup").content
    refused = shelf.post("/imports", files={"file": ("all.zip", everything)}, headers=HTMX)
    assert refused.status_code == 422
    assert "9 pieces; everything is taken back in the settings" in refused.text


def test_a_piece_that_cannot_be_read_is_mended_on_its_card(shelf: TestClient, tmp_path: Path) -> None:
    """The card says what is wrong; its score can be taken home; the others are as they were."""
    with closing(sqlite3.connect(tmp_path / "pathway.sqlite")) as database:
        database.execute("UPDATE revision SET path = '{}' WHERE piece_id = 3")
        database.execute("UPDATE piece SET version = 1 WHERE id = 3")
        database.commit()
    page = shelf.get("/").text
    assert page.count("cannot be read") == 1
    assert page.count('class="thumb"') == 7
    assert b"<score-partwise" in shelf.get("/pieces/3/score").content
    assert shelf.get("/pieces/3").status_code == 503
    assert shelf.post("/pieces/3/mend", headers=HTMX).headers["HX-Redirect"] == "/pieces/3"
    assert shelf.get("/pieces/3").status_code == 200
    assert "cannot be read" not in shelf.get("/").text
