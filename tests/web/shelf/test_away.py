"""One place for all that was put away: back again, or gone for good once that was asked."""

import re

import pytest
from fastapi.testclient import TestClient

from tests.web.asking import HTMX, version_of


def _listed(shelf: TestClient) -> list[str]:
    """Return what lies there, as kind and number."""
    return re.findall(r'hx-post="/put-away/([a-z]+/[\w-]+)/back"', shelf.get("/put-away").text)


@pytest.fixture
def full(shelf: TestClient) -> TestClient:
    """A shelf with a piece, a take, a variant and a recording put away."""
    made = shelf.post("/pieces/2/takes/simulate", data={"seed": 1}, headers=HTMX).headers["HX-Redirect"]
    shelf.post(f"{made}/put-away", headers=HTMX)
    shelf.post("/pieces/2/variants", data={"name": "Slow", "version": version_of(shelf, 2)}, headers=HTMX)
    shelf.post("/pieces/2/variants/1/forget", headers=HTMX)
    shelf.post("/pieces/2/takes/pieces?token=a-recording&offset=0", content=b"12" * 48_000, headers=HTMX)
    shelf.post("/pieces/2/takes/unfinished/a-recording/put-away", headers=HTMX)
    shelf.post("/pieces/3/remove", headers=HTMX)
    return shelf


def test_what_was_put_away_is_found_after_a_reload_and_brought_back(full: TestClient) -> None:
    """Each to where it was, its sound too."""
    assert sorted(_listed(full)) == ["piece/3", "recording/a-recording", "take/1", "variant/1"]
    assert "kept until" in full.get("/put-away").text
    for one in _listed(full):
        assert full.post(f"/put-away/{one}/back", headers=HTMX).headers["HX-Redirect"] == "/put-away"
    assert _listed(full) == []
    assert 'href="/pieces/3"' in full.get("/").text
    assert full.get("/pieces/2/takes/1/sound.flac").status_code == 200
    assert "was not finished" in full.get("/pieces/2/takes").text


def test_nothing_is_gone_at_one_press(full: TestClient) -> None:
    """It is asked once; then it is gone, with its sound."""
    for one in _listed(full):
        asked = full.post(f"/put-away/{one}/gone", headers=HTMX)
        assert "for good?" in asked.text
    assert len(_listed(full)) == 4
    for one in _listed(full):
        full.post(f"/put-away/{one}/gone", data={"sure": "true"}, headers=HTMX)
    assert _listed(full) == []
    folder = full.app.state.config.data / "takes"  # type: ignore[attr-defined]
    assert list(folder.rglob("*.*")) == []
    assert full.get("/pieces/3").status_code == 404


@pytest.mark.parametrize("thing", ["piece/1", "take/99", "rig/7", "set/x", "recording/nothing-here", f"piece/{9**30}"])
def test_what_is_not_put_away_is_left_alone(shelf: TestClient, thing: str) -> None:
    """Said in words."""
    assert shelf.post(f"/put-away/{thing}/back", headers=HTMX).status_code == 404
    assert shelf.post(f"/put-away/{thing}/gone", data={"sure": "true"}, headers=HTMX).status_code in {200, 404}
    assert shelf.get("/pieces/1").status_code == 200
