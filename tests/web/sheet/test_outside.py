"""A part that leaves the instrument: it opens, says so, and its helps work."""

import json
import re

from fastapi.testclient import TestClient

from pathway.formats.plan_document import PlanDocument, read_plan_document
from tests.helpers import document
from tests.web.asking import HTMX, version_of

TEXT = "[mf] g3:4 f3 g3 d4 | d4 e4 f4 g4"


def _open(client: TestClient) -> None:
    answer = client.post("/imports", files={"file": ("part.musicxml", document(TEXT))}, headers=HTMX)
    token = re.search(r'hx-post="/imports/([^"/]+)"', answer.text)
    assert token is not None
    client.post(f"/imports/{token[1]}", data={"part": 1, "rig": "violin"}, headers=HTMX)


def _plan(client: TestClient) -> PlanDocument:
    return read_plan_document(client.get("/pieces/1/plan.json").content)


def _unbowed(client: TestClient) -> list[str]:
    return [note.id for note in _plan(client).notes if note.stroke is None]


def _post(client: TestClient, path: str, **data: object) -> str:
    answer = client.post(f"/pieces/1/{path}", data={"version": version_of(client, 1), **data}, headers=HTMX)
    assert answer.status_code == 200, answer.text
    return answer.text


def test_the_card_says_what_is_left_out_and_another_octave_brings_it_back(client: TestClient) -> None:
    """By the list on the card and by the help; undone, it is left out again."""
    _open(client)
    page = client.get("/pieces/1?note=n2").text
    assert "F3, left out" in page
    assert 'data-set="octave"' in page
    assert "left out" in re.search(r'data-note="n2"[^>]*aria-label="([^"]*)"', page)[1]  # type: ignore[index]
    assert _unbowed(client) == ["n2"]
    _post(client, "edit", notes="n2", note="n2", what="octave", value="1")
    assert _unbowed(client) == []
    assert _plan(client).settings.locks[0].octave == 1
    assert 'data-set="octave"' in client.get("/pieces/1?note=n2").text
    _post(client, "history/undo")
    assert _unbowed(client) == ["n2"]
    _post(client, "fix", note="n2", code="outside", fix="octave")
    assert _unbowed(client) == []
    _post(client, "edit", notes="n2", note="n2", what="octave", value="0")
    assert _unbowed(client) == ["n2"]


def test_a_string_is_tuned_by_the_help_and_at_the_station_rig(client: TestClient) -> None:
    """For the piece alone; what the rig's strings are comes back with undo, and with a press."""
    _open(client)
    assert "Tune the G string to F3" in client.get("/pieces/1/notes/n2/helps").text
    answer = _post(client, "fix", note="n2", code="outside", fix="tuning")
    assert 'id="system-0"' in answer or "data-system" in answer
    assert _unbowed(client) == []
    assert _plan(client).settings.tuning == ["F3", "D4", "A4", "E5"]
    station = client.get("/pieces/1/rig").text
    assert '<option value="53" selected>F3</option>' in station
    assert "Tune as the rig has them" in station
    _post(client, "rig/tuning")
    assert (_unbowed(client), _plan(client).settings.tuning) == (["n2"], [])
    _post(client, "rig/tuning", pitch=[53, 62, 69, 76])
    assert "Strings tuned F D A E" in client.get("/pieces/1/history").text
    _post(client, "rig", rig="cello")
    assert _plan(client).settings.tuning == []
    assert client.get("/rigs/violin").status_code == 200


def test_a_tuning_that_cannot_be_is_refused(client: TestClient) -> None:
    """Too far, or too few; the piece stays as it was."""
    _open(client)
    for pitch in ([40, 62, 69, 76], [55]):
        data = {"version": version_of(client, 1), "pitch": pitch}
        answer = client.post("/pieces/1/rig/tuning", data=data, headers=HTMX)
        assert answer.status_code == 422
        assert "cannot be tuned" in answer.text
    assert json.loads(client.get("/pieces/1/plan.json").text)["settings"]["tuning"] == []
