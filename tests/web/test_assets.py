"""What pages are dressed in: kept by the browser for good, and never older than the page."""

import re
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from pathway.web.shared.assets import address


@pytest.mark.parametrize("path", ["/", "/pieces/2", "/pieces/2/print", "/nothing-here"])
def test_everything_a_page_asks_for_is_kept_for_good(demo: TestClient, path: str) -> None:
    """Styles, scripts and the icon, on every kind of page."""
    asked = re.findall(r'(?:src|href)="(/static/[^"]+)"', demo.get(path).text)
    assert len(asked) > 5
    for one in asked:
        answer = demo.get(one)
        assert answer.status_code == 200, one
        assert "immutable" in answer.headers["cache-control"]


def test_what_an_earlier_version_was_dressed_in_is_not_found(demo: TestClient) -> None:
    """It is no answer to be kept."""
    answer = demo.get("/static/0123456789ab/css/app.css")
    assert answer.status_code == 404
    assert "immutable" not in answer.headers.get("cache-control", "")


def test_the_address_changes_with_what_is_there(tmp_path: Path) -> None:
    """With what is in a file, and with its name."""
    told = []
    for name, text in (("a.js", "one"), ("a.js", "two"), ("b.js", "two")):
        folder = tmp_path / f"{len(told)}"
        folder.mkdir()
        (folder / name).write_text(text)
        told.append(address(folder))
    assert len({*told}) == 3
