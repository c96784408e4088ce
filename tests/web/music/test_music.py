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
    assert _passage(demo, key, id=1, character="broad", type="broad-detache") == 200
    assert "1. broad" in demo.get(f"/pieces/{key}/music").text
    demo.post(f"/pieces/{key}/music/passages/2/remove", data={"version": version_of(demo, key)}, headers=HTMX)
    assert "veiled: taken away" in demo.get(f"/pieces/{key}/history", headers=HTMX).text
    gone = demo.post(f"/pieces/{key}/music/passages/2/remove", data={"version": version_of(demo, key)}, headers=HTMX)
    assert gone.status_code == 404
    assert "veiled" not in demo.get(f"/pieces/{key}/music").text
    demo.post(f"/pieces/{key}/music/passages/1/remove", data={"version": version_of(demo, key)}, headers=HTMX)


FIELDS = {
    "character": "dark", "type": "porte", "colour": "soft", "colour_end": "focused", "offset_db": -2.0,
    "style": "early", "profile": "save", "lead": "bottom", "chords": "arpeggio", "string": 1, "gap": 20,
    "keep_back": 12.5, "beats": "3 1", "bars": "2", "group": 2, "swing": 1.5, "like": 1, "by_db": -3,
}  # fmt: skip


def test_an_edit_of_a_passage_changes_only_what_was_touched(shelf: TestClient) -> None:
    """Every field the core knows is set by the page; a form that sends one of them leaves all others as they were."""
    key = 1
    assert _passage(shelf, key, character="first") == 200
    assert _passage(shelf, key, start="bar 4", end="bar 6", **FIELDS) == 200

    def kept() -> dict[str, object]:
        plan = read_plan_document(shelf.get(f"/pieces/{key}/plan.json").content)
        return next(p for p in plan.settings.passages if p.id == 2).model_dump()

    whole = kept()
    assert {name for name, value in whole.items() if value in (None, "", 0, [])} == set()
    assert whole["stress"] == {"beats": [3.0, 1.0], "bars": [2], "group": 2, "swing": 1.5}
    assert whole["relation"] == {"to": 1, "by_db": -3}
    page = shelf.get(f"/pieces/{key}/music").text
    assert 'name="keep_back" min="0" max="60" step="0.5" value="12.5"' in page
    for name in sorted(FIELDS.keys() - {"by_db"}):
        sent = {name: "pp" if name == "character" else "plain" if name == "colour" else FIELDS[name]}
        assert _passage(shelf, key, id=2, start=whole["from_"], end=whole["to"], **sent, by_db=-3) == 200
        changed = {"character": "pp"} if name == "character" else {"colour": "plain"} if name == "colour" else {}
        assert kept() == {**whole, **changed}, name
        whole = kept()


def test_a_passage_before_others_moves_no_relation(shelf: TestClient) -> None:
    """The third leans on the second; one before both changes no level; without the second the third keeps its own."""
    key = 1
    for place, fields in (("bar 5", {"offset_db": 4}), ("bar 9", {"like": 1, "by_db": -6})):
        assert _passage(shelf, key, start=place, end=place, **fields) == 200

    def level() -> float:
        plan = read_plan_document(shelf.get(f"/pieces/{key}/plan.json").content)
        return next(note.target_db for note in plan.notes if note.measure == "9")

    before = level()
    assert _passage(shelf, key, start="bar 1", end="bar 2", offset_db=-10) == 200
    assert level() == before
    shelf.post(f"/pieces/{key}/music/passages/1/remove", data={"version": version_of(shelf, key)}, headers=HTMX)
    assert level() == before


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
