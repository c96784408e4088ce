"""The station Music: passages and changes of tempo."""

import re

import pytest
from fastapi.testclient import TestClient

from pathway.core.planning.wishes import Passage
from pathway.formats.plan_document import SettingsDoc, read_plan_document
from pathway.formats.wishes_document import PASSAGES
from tests.helpers import document
from tests.web.asking import HTMX, version_of


def _passage(client: TestClient, key: int, **fields: object) -> int:
    data = {"version": version_of(client, key), "start": "bar 1", "end": "bar 2", **fields}
    return client.post(f"/pieces/{key}/music/passages", data=data, headers=HTMX).status_code


def test_passages_are_added_changed_and_taken_away(demo: TestClient) -> None:
    """The bands show them, the plan obeys them, neighbours are weighed against each other."""
    key = 1
    assert _passage(demo, key, character="open", offset_db=3, colour="focused") == 200
    assert _passage(demo, key, start="bar 3", end="bar 4 beat 2", character="veiled", offset_db=-6) == 200
    page = demo.get(f"/pieces/{key}/music").text
    assert "open, bars 1–2, f" in page
    assert "veiled, bar 3 beat 1 to bar 4 beat 2" in page
    assert re.search(r"open → veiled.*?clear.*?−9\.\d dB, darker", page, re.DOTALL)
    plan = read_plan_document(demo.get(f"/pieces/{key}/plan.json").content)
    assert [(p.character, p.offset_db) for p in plan.settings.passages] == [("open", 3), ("veiled", -6)]
    assert _passage(demo, key, id=1, character="broad", type="broad-detache") == 200
    assert "broad, bars 1–2" in demo.get(f"/pieces/{key}/music").text
    demo.post(f"/pieces/{key}/music/passages/2/remove", data={"version": version_of(demo, key)}, headers=HTMX)
    assert "veiled: taken away" in demo.get(f"/pieces/{key}/history", headers=HTMX).text
    gone = demo.post(f"/pieces/{key}/music/passages/2/remove", data={"version": version_of(demo, key)}, headers=HTMX)
    assert gone.status_code == 404
    assert "veiled, bar" not in demo.get(f"/pieces/{key}/music").text
    demo.post(f"/pieces/{key}/music/passages/1/remove", data={"version": version_of(demo, key)}, headers=HTMX)


FIELDS = {
    "character": "dark", "type": "porte", "colour": "soft", "colour_end": "focused", "offset_db": -2.0,
    "style": "early", "profile": "save", "lead": "bottom", "chords": "arpeggio", "string": 1, "gap": 20,
    "role": "leads", "vibrato": "wide", "keep_back": 12.5, "beats": "3 1", "bars": "2", "group": 2,
    "swing": 1.5, "like": 1, "by_db": -3,
}  # fmt: skip


def test_an_edit_of_a_passage_changes_only_what_was_touched(shelf: TestClient) -> None:
    """Every field the core knows is set by the page; a form that sends one of them leaves all others as they were."""
    key = 1
    assert _passage(shelf, key, character="first") == 200
    assert _passage(shelf, key, start="bar 4", end="bar 6", **FIELDS) == 200

    def kept() -> dict[str, object]:
        plan = read_plan_document(shelf.get(f"/pieces/{key}/plan.json").content)
        return PASSAGES.dump(next(p for p in plan.settings.passages if p.id == 2))

    whole = kept()
    assert {name for name, value in whole.items() if value in (None, "", 0, [])} == set()
    assert whole["stress"] == {"beats": [3.0, 1.0], "bars": [2], "group": 2, "swing": 1.5}
    assert whole["relation"] == {"to": 1, "by_db": -3}
    panel = shelf.get(f"/pieces/{key}/music/panel", params={"passage": 2}, headers=HTMX).text
    assert 'name="keep_back" value="12.5"' in panel
    assert {name for name in FIELDS if f'name="{name}"' not in panel} == {"offset_db"}  # a stepper, and a handle
    for name in sorted(FIELDS.keys() - {"by_db"}):
        sent = {name: "pp" if name == "character" else "plain" if name == "colour" else FIELDS[name]}
        assert _passage(shelf, key, id=2, start=whole["from"], end=whole["to"], **sent, by_db=-3) == 200
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


def test_a_word_sets_the_rest_and_another_takes_it_back(shelf: TestClient) -> None:
    """Bold: loaded, focused, louder; calm after it keeps none of that; a word of one's own sets nothing."""
    key = 1

    def passage() -> Passage:
        return read_plan_document(shelf.get(f"/pieces/{key}/plan.json").content).settings.passages[0]

    assert _passage(shelf, key, word="bold") == 200
    assert (passage().kind, passage().colour, passage().offset_db) == ("soft-martele", "focused", 2.0)
    assert _passage(shelf, key, id=1, word="calm") == 200
    assert (passage().kind, passage().colour, passage().vibrato) == (None, "soft", "narrow")
    assert _passage(shelf, key, id=1, character="like glass") == 200
    assert (passage().character, passage().colour) == ("like glass", "soft")


def test_a_passage_takes_its_room_from_others(shelf: TestClient) -> None:
    """Inside another it parts it in two, at its edge it shortens it, over it it takes its place."""
    key = 1

    def spans() -> list[tuple[str, str, str]]:
        plan = read_plan_document(shelf.get(f"/pieces/{key}/plan.json").content)
        bar = {note.id: note.measure for note in plan.notes}
        return sorted((p.character, bar[p.start], bar[p.end]) for p in plan.settings.passages)

    assert _passage(shelf, key, start="bar 1", end="bar 6", character="a") == 200
    assert _passage(shelf, key, start="bar 3", end="bar 3", character="b") == 200
    assert spans() == [("a", "1", "2"), ("a", "4", "6"), ("b", "3", "3")]
    assert _passage(shelf, key, id=2, start="bar 3", end="bar 4", character="b") == 200
    assert spans() == [("a", "1", "2"), ("a", "5", "6"), ("b", "3", "4")]
    assert _passage(shelf, key, start="bar 1", end="bar 5", character="c") == 200
    assert spans() == [("a", "6", "6"), ("c", "1", "5")]


@pytest.mark.parametrize(("what", "field"), [("level", "offset_db"), ("colour", "colour"), ("articulation", "gap")])
def test_a_step_is_made_wider_and_narrower(shelf: TestClient, what: str, field: str) -> None:
    """In level, colour or gaps, away from the passage before; and back again."""
    key = 1
    assert _passage(shelf, key, start="bar 1", end="bar 2", character="a") == 200
    assert _passage(shelf, key, start="bar 3", end="bar 4", character="b", offset_db=2) == 200

    def now() -> object:
        plan = read_plan_document(shelf.get(f"/pieces/{key}/plan.json").content)
        return getattr(plan.settings.passages[1], field)

    seen = [now()]
    for by in ("wider", "narrower"):
        data = {"version": version_of(shelf, key), "what": what, "by": by}
        assert shelf.post(f"/pieces/{key}/music/steps/2", data=data, headers=HTMX).status_code == 200
        seen.append(now())
    assert seen[1] != seen[0]
    assert seen[2] in (seen[0], 0.0)  # a gap that was set stays set
    data = {"version": version_of(shelf, key), "louder_db": -3}
    answer = shelf.post(f"/pieces/{key}/music/steps/2", data=data, headers=HTMX).text
    assert "b: 3 dB softer" in answer  # what can be undone
    assert 'hx-target="#bands-0"' in answer


def test_the_first_passage_has_no_step_before_it(shelf: TestClient) -> None:
    """It can be louder, but not further apart from nothing."""
    assert _passage(shelf, 1, character="a") == 200
    data = {"version": version_of(shelf, 1), "what": "level", "by": "wider"}
    answer = shelf.post("/pieces/1/music/steps/1", data=data, headers=HTMX)
    assert answer.status_code == 404
    assert "no passage before" in answer.text


def test_the_whole_piece_has_a_style_and_undo_brings_it_back(shelf: TestClient) -> None:
    """Early style and chords before the beat, from the page; each is a state of the history."""
    key = 1

    def settings() -> SettingsDoc:
        return read_plan_document(shelf.get(f"/pieces/{key}/plan.json").content).settings

    for field, value in (("style", "early"), ("early_chords", "true")):
        data = {"version": version_of(shelf, key), field: value}
        page = shelf.post(f"/pieces/{key}/music/piece", data=data, headers=HTMX).text
        assert "selected" in page
    assert settings().style == "early"
    shelf.post(f"/pieces/{key}/music/history/undo", data={"version": version_of(shelf, key)}, headers=HTMX)
    answer = shelf.post(f"/pieces/{key}/music/history/undo", data={"version": version_of(shelf, key)}, headers=HTMX)
    assert settings().style == "modern"
    assert 'data-history="redo" ' in answer.text


def test_lines_far_down_come_later(demo: TestClient) -> None:
    """A page comes with the first lines; the others are asked for by number, words and wrong ones left out."""
    page = demo.get("/pieces/2/music").text
    count = page.count('class="music-line"')
    there = page.count('class="engraved"')
    assert there == min(count, 4)
    later = demo.get("/pieces/2/music/lines", params={"numbers": f"{count - 1} x 999"}, headers=HTMX).text
    assert later.count('class="engraved"') == 1
    assert f'hx-target="#line-{count - 1}"' in later


def test_the_panel_names_its_stretch(demo: TestClient) -> None:
    """Whole bars as bars, single notes by their beat; drawn backwards it is turned round; nonsense is refused."""

    def title(**values: str) -> str:
        text = demo.get("/pieces/1/music/panel", params=values, headers=HTMX).text
        found = re.search(r'id="panel-title"[^>]*>([^<]*)<', text)
        return found[1] if found else text

    assert title(start="bar 2", end="bar 3") == "Bars 2–3"
    assert title(start="bar 2") == "Bar 2"
    assert title(start="bar 2 beat 2", end="bar 3 beat 1") == "Bar 2 beat 2 to bar 3 beat 1"
    assert title(start="bar 3", end="bar 2") == "Bar 2 beat 3 to bar 3 beat 1"
    assert "no bowed note" in title(start="bar 99")
    assert "not there any more" in title(passage="77")


def test_a_tempo_of_ones_own_from_a_place_on(demo: TestClient) -> None:
    """Told at the tempo the piece has now, shown on the map, kept with the piece, taken back."""
    key = 1
    data = {"version": version_of(demo, key), "at": "bar 9", "bpm": 60}
    assert demo.post(f"/pieces/{key}/music/tempi", data=data, headers=HTMX).status_code == 200
    page = demo.get(f"/pieces/{key}/music").text
    assert re.search(r"♩ 60</b> <span[^>]*>from bar 9<", page)
    assert "Tempo 60 from bar 9 beat 1; open" in page
    plan = read_plan_document(demo.get(f"/pieces/{key}/plan.json").content)
    assert [round(tempo.beats_per_minute) for tempo in plan.settings.tempi] == [60]
    note = plan.settings.tempi[0].note
    data = {"version": version_of(demo, key)}
    demo.post(f"/pieces/{key}/music/tempi/{note}/remove", data=data, headers=HTMX)
    assert "from bar 9" not in demo.get(f"/pieces/{key}/music").text


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"start": "bar 99"}, "no bowed note"),
        ({"start": "bar 3", "end": "bar 2"}, "ends before it begins"),
        ({"offset_db": 40}, "offset of passage 1 is 40"),
        ({"type": "sneeze"}, "stroke type"),
    ],
)
def test_passages_that_cannot_be_are_refused(demo: TestClient, fields: dict[str, object], said: str) -> None:
    """With the place and what to do; the plan stays."""
    data = {"version": version_of(demo, 1), "start": "bar 1", "end": "bar 2", **fields}
    answer = demo.post("/pieces/1/music/passages", data=data, headers=HTMX)
    assert answer.status_code == 422
    assert said in answer.text


def test_a_line_of_rests_has_no_bands_and_every_station_shows_it(client: TestClient) -> None:
    """A player of an orchestra has many of them."""
    part = document(" | ".join(["d4:4 e4 f4 g4", *["r:1"] * 60, "d4:4 e4 f4 g4"]))
    sent = client.post("/imports", files={"file": ("rests.musicxml", part)}, headers=HTMX)
    token = re.search(r'hx-post="(/imports/[^"/]+)"', sent.text)
    assert token is not None
    client.post(token[1], data={"part": 1, "rig": "violin"}, headers=HTMX)
    page = client.get("/pieces/1/music").text
    lines = page.split('class="bands"')[1:]
    assert len(lines) > 1
    assert sum("band" in line.split("</svg>")[0] for line in lines) < len(lines)
    for station in ("", "/rig", "/tone"):
        assert client.get(f"/pieces/1{station}").status_code == 200
