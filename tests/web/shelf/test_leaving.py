"""Pieces that leave the shelf and return, and the first steps."""

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
