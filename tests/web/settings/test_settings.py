"""Choices, units, backup and restore."""

from pathlib import Path

from fastapi.testclient import TestClient

from pathway.store import Choices, Lengths, Weights
from pathway.web.app import create_app
from pathway.web.config import AppSettings
from pathway.web.shared.reading import Reading
from tests.web.asking import HTMX, version_of


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


def test_lengths_and_weights_are_told_in_other_units() -> None:
    """By hand: 12.7 cm are 5 in, 100 g are 0.98 N; other numbers and words stay."""
    reads = Reading(Choices(lengths=Lengths.INCH, weights=Weights.NEWTON))
    assert (
        reads.told("12.7 cm further, 254 cm/s, 100 g; 3 gaps, 5 dB")
        == "5.0 in further, 100.0 in/s, 0.98 N; 3 gaps, 5 dB"
    )
    assert reads.pair("−2.54", "cm") == ("−1.0", "in")
    assert Reading(Choices()).told("12.7 cm and 100 g") == "12.7 cm and 100 g"


def test_backup_wipe_restore_gives_identical_plans(shelf: TestClient, tmp_path: Path) -> None:
    """Everything in one file, into an empty app, and every plan document is the same."""
    shelf.post("/pieces/1/tempo", data={"tempo": 90, "version": version_of(shelf, 1)}, headers=HTMX)
    saved = shelf.get("/settings/backup").content
    empty = TestClient(create_app(AppSettings(tmp_path / "empty")))
    answer = empty.post("/settings/restore", files={"file": ("b.zip", saved)}, headers=HTMX)
    assert "Everything is back: 8 pieces" in answer.text
    for key in range(1, 9):
        assert empty.get(f"/pieces/{key}/plan.json").content == shelf.get(f"/pieces/{key}/plan.json").content
