"""The shelf: import, choice, refusals that leave it as it was."""

import re

import pytest
from fastapi.testclient import TestClient

from pathway.demo.loader import DEMO_PIECES, load_demo
from pathway.store import Pieces
from tests.helpers import document
from tests.web.asking import HTMX


def _drop(client: TestClient, data: bytes, name: str = "part.musicxml") -> str:
    """Drop a file on the shelf; return the token of the choice."""
    answer = client.post("/imports", files={"file": (name, data)}, headers=HTMX)
    assert answer.status_code == 200, answer.text
    found = re.search(r'hx-post="/imports/([^"/]+)"', answer.text)
    assert found is not None
    return found[1]


def test_an_empty_shelf_teaches(client: TestClient) -> None:
    """One sentence and one button."""
    page = client.get("/").text
    assert "The shelf is empty" in page
    assert "Bring in a part" in page


def test_a_dropped_score_is_chosen_planned_and_opened(client: TestClient) -> None:
    """Part and rig are suggested; then the sheet opens, and the shelf shows the card."""
    token = _drop(client, document("d2:4 e2 f2 g2", "cello", title="Low Road"))
    answer = client.post(f"/imports/{token}", data={"part": 1, "rig": "cello"}, headers=HTMX)
    assert answer.headers["HX-Redirect"] == "/pieces/1"
    assert "played on the cello" in client.get("/pieces/1").text
    shelf = client.get("/").text
    assert "Low Road" in shelf
    assert "nothing in the way" in shelf
    assert client.post(f"/imports/{token}", data={"part": 1, "rig": "cello"}).status_code == 404


def test_the_rig_is_suggested_from_the_part(client: TestClient) -> None:
    """A part called Viola preselects the viola."""
    answer = client.post("/imports", files={"file": ("a.musicxml", document("d4:1", "viola"))}, headers=HTMX)
    assert re.search(r'<option value="viola"\s+selected>', answer.text)


def test_without_scripts_the_form_redirects(client: TestClient) -> None:
    """A plain post ends on the sheet too."""
    token = _drop(client, document("d4:1"))
    answer = client.post(f"/imports/{token}", data={"part": 1, "rig": "violin"}, follow_redirects=False)
    assert (answer.status_code, answer.headers["location"]) == (303, "/pieces/1")


def test_not_now_forgets_the_score(client: TestClient) -> None:
    """Nothing reaches the shelf."""
    token = _drop(client, document("d4:1"))
    assert client.post(f"/imports/{token}/forget").text == ""
    assert client.post(f"/imports/{token}", data={"part": 1, "rig": "violin"}).status_code == 404


@pytest.mark.parametrize(
    ("data", "name", "status", "said"),
    [
        (b"hello", "notes.txt", 422, "does not read .txt"),
        (b"<broken", "a.musicxml", 422, "line 1"),
        (document("r:1"), "a.musicxml", 422, "empty"),
        (b"x" * 30_000_000, "a.xml", 413, "20"),
    ],
)
def test_refused_files_leave_the_shelf_as_it_was(
    client: TestClient, data: bytes, name: str, status: int, said: str
) -> None:
    """A message with the place, never a trace."""
    answer = client.post("/imports", files={"file": (name, data)}, headers=HTMX)
    assert answer.status_code == status
    assert said in answer.text
    assert "Traceback" not in answer.text
    assert "The shelf is empty" in client.get("/").text


def test_a_part_that_cannot_be_planned_is_refused_with_its_place(client: TestClient) -> None:
    """Too low for the violin: bar, beat and pitch; the choice can be made again."""
    token = _drop(client, document("d4:4 e3 c3 f3"))
    answer = client.post(f"/imports/{token}", data={"part": 1, "rig": "violin"}, headers=HTMX)
    assert answer.status_code == 422
    assert "bar 1, beat 2, E3" in answer.text
    assert answer.headers["HX-Retarget"] == "#message"
    assert "The shelf is empty" in client.get("/").text
    assert client.post(f"/imports/{token}", data={"part": 1, "rig": "viola"}, headers=HTMX).status_code == 200


def test_demo_pieces_come_once_and_stay_as_the_player_left_them(pieces: Pieces) -> None:
    """Loading again adds nothing."""
    assert len(load_demo(pieces)) == len(DEMO_PIECES)
    assert load_demo(pieces) == {}
    assert len(pieces.shelf()) == len(DEMO_PIECES)


def test_the_demo_shows_what_it_is_meant_to(pieces: Pieces) -> None:
    """In the viola piece the bow runs out; in the bass line a short note has to give back what a long one took."""
    load_demo(pieces)
    found = {entry.title: entry.summary.findings for entry in pieces.shelf() if entry.summary}
    assert found["Slack Water"]["medium"] >= 1
    assert found["The Ferry's Ledger"]["low"] >= 1


def test_a_tempo_is_asked_for_where_none_is_printed(client: TestClient) -> None:
    """It is told over the sheet until one is set, with some to take by one press; the answer of the form is kept."""
    silent = document("d4:4 e4 f4 g4", title="Silent").decode()
    silent = re.sub(r"<direction[^>]*>(?:(?!</direction>).)*<metronome.*?</direction>", "", silent, flags=re.DOTALL)
    asked = client.post("/imports", files={"file": ("s.musicxml", silent)}, headers=HTMX)
    assert "No tempo is printed" in asked.text
    page = client.get(_planned(client, asked.text)).text
    assert "No tempo is printed; 80 is assumed until you set one." in page
    assert page.count("data-tempo-at=") >= 4
    assert "As first planned. No tempo is printed" in client.get("/pieces/1/history").text
    client.post("/pieces/1/tempo", data={"tempo": 66, "version": 0}, headers=HTMX)
    assert "data-tempo-at=" not in client.get("/pieces/1").text
    again = client.post("/imports", files={"file": ("s.musicxml", silent)}, headers=HTMX)
    assert 'value="54"' in client.get(_planned(client, again.text, tempo="54")).text
    printed = client.post("/imports", files={"file": ("p.musicxml", document("d4:4 e4 f4 g4"))}, headers=HTMX)
    assert "No tempo is printed" not in printed.text


def test_a_word_is_taken_for_a_number_that_is_not_there(client: TestClient) -> None:
    """And its usual range offered."""
    adagio = re.sub(r"<metronome.*?</metronome>", "<words>Adagio</words>", document("d4:4 e4 f4 g4").decode())
    adagio = re.sub(r'<sound tempo="[^"]*"/>', "", adagio)
    page = client.get(
        _planned(client, client.post("/imports", files={"file": ("a.musicxml", adagio)}, headers=HTMX).text)
    ).text
    assert "No number is printed: “Adagio” is taken as 58." in page
    assert re.findall(r'data-tempo-at="(\d+)"', page) == ["50", "58", "61", "72"]


def _planned(client: TestClient, choice: str, **more: str) -> str:
    """Plan the part that an import offers first; return the page it opens."""
    token = re.search(r"/imports/([^\"/]+)\"", choice)
    assert token is not None
    data = {"part": "1", "rig": "violin", **more}
    return str(client.post(f"/imports/{token[1]}", data=data, headers=HTMX).headers["hx-redirect"])
