"""The station Music: passages and changes of tempo."""

import pytest
from fastapi.testclient import TestClient

from pathway.formats.plan_document import read_plan_document
from tests.web.asking import HTMX, version_of


def _passage(client: TestClient, key: int, **fields: object) -> int:
    data = {"version": version_of(client, key), "start": "bar 1", "end": "bar 2", **fields}
    return client.post(f"/pieces/{key}/music/passages", data=data, headers=HTMX).status_code


def test_passages_are_added_changed_and_taken_away(demo: TestClient) -> None:
    """The map shows them, the plan obeys them, neighbours are weighed against each other."""
    key = 1
    assert _passage(demo, key, character="open", offset_db=3, colour="focused") == 200
    assert _passage(demo, key, start="bar 3", end="bar 4 beat 2", character="veiled", offset_db=-6) == 200
    page = demo.get(f"/pieces/{key}/music").text
    assert "1. open" in page
    assert "bar 4 beat 2" in page
    assert "clearly apart" in page
    plan = read_plan_document(demo.get(f"/pieces/{key}/plan.json").content)
    assert [(p.character, p.offset_db) for p in plan.settings.passages] == [("open", 3), ("veiled", -6)]
    assert _passage(demo, key, number=1, character="broad", type="broad-detache") == 200
    assert "1. broad" in demo.get(f"/pieces/{key}/music").text
    demo.post(f"/pieces/{key}/music/passages/2/remove", data={"version": version_of(demo, key)}, headers=HTMX)
    assert "veiled" not in demo.get(f"/pieces/{key}/music").text
    demo.post(f"/pieces/{key}/music/passages/1/remove", data={"version": version_of(demo, key)}, headers=HTMX)


def test_a_tempo_of_ones_own_from_a_place_on(demo: TestClient) -> None:
    """Told at the tempo the piece has now, shown on the map, kept with the piece, taken back."""
    key = 1
    data = {"version": version_of(demo, key), "at": "bar 9", "bpm": 60}
    assert demo.post(f"/pieces/{key}/music/tempi", data=data, headers=HTMX).status_code == 200
    page = demo.get(f"/pieces/{key}/music").text
    assert "♩ 60</b> from bar 9" in page
    plan = read_plan_document(demo.get(f"/pieces/{key}/plan.json").content)
    assert [round(tempo.bpm) for tempo in plan.settings.tempi] == [60]
    note = plan.settings.tempi[0].at
    data = {"version": version_of(demo, key)}
    demo.post(f"/pieces/{key}/music/tempi/{note}/remove", data=data, headers=HTMX)
    assert "from bar 9" not in demo.get(f"/pieces/{key}/music").text


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"start": "bar 99"}, "no bowed note"),
        ({"start": "bar 3", "end": "bar 2"}, "ends before it begins"),
        ({"offset_db": 40}, "offset_db"),
        ({"type": "sneeze"}, "stroke type"),
    ],
)
def test_passages_that_cannot_be_are_refused(demo: TestClient, fields: dict[str, object], said: str) -> None:
    """With the place and what to do; the plan stays."""
    data = {"version": version_of(demo, 1), "start": "bar 1", "end": "bar 2", **fields}
    answer = demo.post("/pieces/1/music/passages", data=data, headers=HTMX)
    assert answer.status_code == 422
    assert said in answer.text
