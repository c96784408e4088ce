"""A long piece: its page comes with the lines near the selected note, the others follow."""

import re
from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from pathway.benchmark import generated_part
from pathway.formats.plan_document import read_plan_document
from pathway.web.config import AppSettings
from tests.web.asking import HTMX, player


@pytest.fixture(scope="module")
def shelf(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """A shelf with one long piece."""
    with player(AppSettings(tmp_path_factory.mktemp("long"))) as client:
        drop = client.post("/imports", files={"file": ("long.musicxml", generated_part(500))}, headers=HTMX)
        token = re.search(r'hx-post="/imports/([^"/]+)"', drop.text)[1]  # type: ignore[index]
        client.post(f"/imports/{token}", data={"part": 1, "rig": "violin"}, headers=HTMX)
        yield client


def _lines(page: str) -> list[tuple[list[str], bool]]:
    """Return the notes of every line of a page, and whether it is there."""
    sections = re.findall(r'<section class="system.*?data-notes="([^"]*)".*?>(.*?)</section>', page, re.DOTALL)
    return [(notes.split(), "to-come" not in inside) for notes, inside in sections]


def _targets(answer: str) -> set[int]:
    return {int(number) for number in re.findall(r'hx-target="#tracks-(\d+)"', answer)}


def test_a_page_comes_with_the_lines_around_the_selected_note(shelf: TestClient) -> None:
    """Every line has its place and tells its notes and bars; only a few are drawn."""
    lines = _lines(shelf.get("/pieces/1").text)
    plan = read_plan_document(shelf.get("/pieces/1/plan.json").content)
    assert [id_ for notes, _ in lines for id_ in notes] == [note.id for note in plan.notes]
    assert [there for _, there in lines] == [i <= 3 for i in range(len(lines))]
    middle = len(lines) // 2
    page = shelf.get(f"/pieces/1?note={lines[middle][0][0]}").text
    assert [there for _, there in _lines(page)] == [abs(i - middle) <= 3 for i in range(len(lines))]
    assert re.search(rf'data-notes="{lines[middle][0][0]} [^"]*"\s+data-bars="{lines[middle][0][0]}:\d+', page)


def test_lines_come_when_they_are_asked_for(shelf: TestClient) -> None:
    """Whole, each once, in their places; numbers that are no lines are passed over."""
    answer = shelf.get("/pieces/1/lines", params={"numbers": "5 4 5 999 -1 x"}, headers=HTMX).text
    assert re.findall(r'hx-target="#system-(\d+)"', answer) == ["4", "5"]
    assert answer.count('class="tracks"') == 2
    assert answer.count("definition-scale") == 2
    assert shelf.get("/pieces/1/lines", params={"numbers": ""}, headers=HTMX).text.strip() == ""
    assert shelf.get("/pieces/99/lines", params={"numbers": "1"}, headers=HTMX).status_code == 404


def test_what_is_drawn_anew_comes_for_the_lines_that_are_there(shelf: TestClient) -> None:
    """A page tells which it has; the others will come as they are then."""
    at = "/pieces/1/preview?tempo=50"
    assert _targets(shelf.get(f"{at}&first=2&last=5", headers=HTMX).text) == {2, 3, 4, 5}
    assert _targets(shelf.get(f"{at}&first=2&last=5", headers={**HTMX, "Lines": "0 1 2 3"}).text) == {2, 3}
    version = re.search(r'data-version="(\d+)"', shelf.get("/pieces/1").text)[1]  # type: ignore[index]
    slower = {"tempo": 50, "version": version}
    answer = shelf.post("/pieces/1/tempo", data=slower, headers={**HTMX, "Lines": "1 6"}).text
    assert _targets(answer) == {1, 6}


def test_findings_are_sent_again_only_where_they_differ(shelf: TestClient) -> None:
    """A lane kept as it is leaves the list as it is; after a glance it is always told again."""
    page = shelf.get("/pieces/1").text
    version = int(re.search(r'data-version="(\d+)"', page)[1])  # type: ignore[index]
    tempo = re.search(r'name="tempo"[^>]*value="(\d+)"', page)[1]  # type: ignore[index]
    again = shelf.post("/pieces/1/tempo", data={"tempo": tempo, "version": version}, headers=HTMX).text
    assert 'hx-target="#findings"' in again
    kept = {"notes": "n40", "note": "n40", "what": "lane", "step": "0", "version": version + 1}
    answer = shelf.post("/pieces/1/edit", data=kept, headers=HTMX).text
    assert "lane is set by you" in answer.lower()
    assert 'hx-target="#findings"' not in answer
