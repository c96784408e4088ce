"""Choices, units, backup and restore."""

import re
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from pathway.web.config import AppSettings
from tests.web.asking import HTMX, player, version_of


def test_choices_change_what_is_told(shelf: TestClient) -> None:
    """Inches, newtons, the other school and name; the plan itself stays."""
    plain = shelf.get("/pieces/2").text
    assert "No more tips" in plain
    form = {"rig": "viola", "school": "arm", "lengths": "inch", "weights": "N", "sharp_name": "marcato"}
    assert shelf.post("/settings", data=form, headers=HTMX).status_code == 200
    told = shelf.get("/pieces/2").text
    assert " in/s" in told
    assert " in/s" not in plain
    assert "No more tips" not in told
    assert "let the arm sink" in told.lower() or "from the arm" in told.lower()
    assert "marcato" in shelf.get("/strokes/martele").text
    assert "Three steps to begin" not in shelf.get("/").text
    assert shelf.post("/settings", data=form | {"rig": "lute"}, headers=HTMX).status_code == 404


TOLD = re.compile(r"\d (cm|cm/s|g)\b")


@pytest.mark.parametrize("page", [
    "/pieces/2", "/pieces/2/notes/n1/helps", "/pieces/2/notes/n1/hear?heard=audible+join", "/pieces/5/tone",
    "/strokes?one=spiccato&other=sautille",
    "/strokes/spiccato", "/bench/figures?rig=viola", "/bench?piece=4&note=n1", "/rigs/viola/reach", "/pieces/2/tempi",
])  # fmt: skip
def test_every_page_tells_lengths_and_weights_in_the_units_chosen(units: list[TestClient], page: str) -> None:
    """In centimetres and grams, or nowhere, but for the weight in the other unit beside the card's: pictures too."""
    metric, other = (client.get(page, headers=HTMX).text for client in units)
    other = re.sub(r"· \d+ g</span>", "", other)
    assert TOLD.search(other) is None
    if page not in {"/pieces/2/notes/n1/helps", "/pieces/2/tempi"}:  # which may have nothing to tell
        assert TOLD.search(metric)


@pytest.fixture(scope="module")
def units(tmp_path_factory: pytest.TempPathFactory) -> list[TestClient]:
    """The app as it comes, and for a player who reads inches and newtons."""
    clients = [player(AppSettings(tmp_path_factory.mktemp("units"), demo=True)) for _ in range(2)]
    form = {"rig": "viola", "school": "arm", "lengths": "inch", "weights": "N", "sharp_name": "marcato"}
    clients[1].post("/settings", data=form, headers=HTMX)
    return clients


def test_backup_wipe_restore_gives_identical_plans(shelf: TestClient, tmp_path: Path) -> None:
    """Everything in one file, into an empty app, and every plan document is the same."""
    shelf.post("/pieces/1/tempo", data={"tempo": 90, "version": version_of(shelf, 1)}, headers=HTMX)
    saved = shelf.get("/settings/backup").content
    empty = player(AppSettings(tmp_path / "empty"))
    answer = empty.post("/settings/restore", files={"file": ("b.zip", saved)}, headers=HTMX)
    asked = re.search(r'hx-post="(/settings/copies/[^"]+/return)"', answer.text)
    assert asked is not None
    assert re.search(r"pieces on the shelf</th>\s*<td[^>]*>0</td>\s*<td[^>]*>8</td>", answer.text)
    assert empty.get("/pieces/1").status_code == 404
    assert "Everything is back: 8 pieces" in empty.post(asked[1], headers=HTMX).text
    assert "before going back to another" in empty.get("/settings").text
    for key in range(1, 9):
        assert empty.get(f"/pieces/{key}/plan.json").content == shelf.get(f"/pieces/{key}/plan.json").content


@pytest.mark.parametrize(("code", "said"), [(0, "is open in the file manager"), (1, "no file manager")])
def test_the_folder_of_the_data_is_opened(
    shelf: TestClient, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, code: int, said: str
) -> None:
    """By the system's own program; where there is none its path is told. Its size stands beside it."""
    asked: list[str] = []
    monkeypatch.setattr("typer.launch", lambda path: asked.append(path) or code)
    assert said in shelf.post("/settings/folder", headers=HTMX).text
    assert asked == [str(tmp_path.resolve())]
    page = shelf.get("/settings").text
    found = re.search(r"([\d.]+) MB with its copies", page)
    assert found is not None
    assert 0 < float(found[1]) < 20
