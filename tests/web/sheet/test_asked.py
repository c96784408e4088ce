"""What is asked of a plan beside the sheet: what is heard, the beat, other tempi."""

import re

from fastapi.testclient import TestClient

from tests.web.asking import HTMX, version_of


def test_what_is_heard_is_diagnosed(demo: TestClient) -> None:
    """Causes in the order of the margins, each with a test; asking writes nothing; no such note or symptom: refused."""
    answer = demo.get("/pieces/1/notes/n3/hear?heard=grating", headers=HTMX)
    assert answer.text.count("<li") >= 2
    assert "Try:" in answer.text
    assert "% of room" in answer.text
    assert "Written down" not in answer.text
    assert demo.get("/pieces/1/notes/zz/hear?heard=grating", headers=HTMX).status_code == 404
    assert demo.get("/pieces/1/notes/n3/hear?heard=sneeze", headers=HTMX).status_code == 422


def test_the_cause_that_was_chosen_is_kept_counted_and_mended(shelf: TestClient) -> None:
    """Twice the same: counted; what helps is pressed, and joins the history."""
    force = {"notes": "n3", "what": "weight", "value": "2.2", "version": version_of(shelf, 1)}
    shelf.post("/pieces/1/edit", data=force, headers=HTMX)
    for times in ("1 time.", "2 times."):
        data = {"heard": "grating", "cause": "heavy"}
        answer = shelf.post("/pieces/1/notes/n3/hear", data=data, headers=HTMX).text
        assert f"heavy {times}" in answer
        assert "To practise:" in answer
    fix = re.search(r'data-relief="([^"]+)"', answer)
    assert fix is not None
    taken = {"note": "n3", "heard": "grating", "cause": "heavy", "fix": fix[1], "version": version_of(shelf, 1)}
    assert shelf.post("/pieces/1/relief", data=taken, headers=HTMX).status_code == 200
    assert version_of(shelf, 1) == 2
    wrong = {"heard": "grating", "cause": "moon"}
    assert shelf.post("/pieces/1/notes/n3/hear", data=wrong, headers=HTMX).status_code == 404
    gone = {**taken, "fix": "moon", "version": 2}
    assert shelf.post("/pieces/1/relief", data=gone, headers=HTMX).status_code == 404


def test_beats_tell_where_the_bow_is(demo: TestClient) -> None:
    """Three beats a bar of the waltz-like line, the first marked; notes in time with places on the hair."""
    beats = demo.get("/pieces/1/beats.json").json()
    assert [first for _, first in beats["beats"][:6]] == [True, False, False] * 2
    onsets = [note[1] for note in beats["notes"]]
    assert onsets == sorted(onsets)
    assert all(0 <= note[3] <= beats["hair"] for note in beats["notes"])


def test_another_tempo_is_shown_without_being_kept(demo: TestClient) -> None:
    """While the slider moves."""
    before = version_of(demo, 1)
    shown = demo.get("/pieces/1/preview?tempo=40", headers=HTMX)
    assert "hx-partial" in shown.text
    assert version_of(demo, 1) == before
    assert demo.get("/pieces/1/preview?tempo=4000", headers=HTMX).status_code == 422
    assert '<path class="low"' in demo.get("/pieces/6").text
    assert 'class="ease"' in demo.get("/pieces/1/tempi", headers=HTMX).text
    part = demo.get("/pieces/1/preview?tempo=40&first=1&last=2", headers=HTMX).text
    assert re.findall(r"#tracks-(\d+)", part) == ["1", "2"]
    assert "findings in these lines" in part
    assert "hair used" not in part
    rested = demo.get("/pieces/1/preview?tempo=40&first=1&last=2&whole=true", headers=HTMX).text
    assert re.findall(r"#tracks-(\d+)", rested) == ["1", "2"]
    assert "in these lines" not in rested
    assert "hair used" in rested
