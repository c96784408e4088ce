"""The stations Music and Tone, and what lies beside the sheet."""

import re

import pytest
from fastapi.testclient import TestClient

from pathway.formats.plan_document import read_plan_document
from pathway.web.sheet.look import LEGENDS, Look
from tests.helpers import plan_of

HTMX = {"HX-Request": "true"}


def _version(client: TestClient, key: int) -> int:
    found = re.search(r'data-version="(\d+)"', client.get(f"/pieces/{key}").text)
    assert found is not None
    return int(found[1])


def _passage(client: TestClient, key: int, **fields: object) -> int:
    data = {"version": _version(client, key), "start": "bar 1", "end": "bar 2", **fields}
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
    demo.post(f"/pieces/{key}/music/passages/2/remove", data={"version": _version(demo, key)}, headers=HTMX)
    assert "veiled" not in demo.get(f"/pieces/{key}/music").text
    demo.post(f"/pieces/{key}/music/passages/1/remove", data={"version": _version(demo, key)}, headers=HTMX)


def test_a_tempo_of_ones_own_from_a_place_on(demo: TestClient) -> None:
    """Told at the tempo the piece has now, shown on the map, kept with the piece, taken back."""
    key = 1
    data = {"version": _version(demo, key), "at": "bar 9", "bpm": 60}
    assert demo.post(f"/pieces/{key}/music/tempi", data=data, headers=HTMX).status_code == 200
    page = demo.get(f"/pieces/{key}/music").text
    assert "♩ 60</b> from bar 9" in page
    plan = read_plan_document(demo.get(f"/pieces/{key}/plan.json").content)
    assert [round(tempo.bpm) for tempo in plan.settings.tempi] == [60]
    note = plan.settings.tempi[0].at
    data = {"version": _version(demo, key)}
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
    data = {"version": _version(demo, 1), "start": "bar 1", "end": "bar 2", **fields}
    answer = demo.post("/pieces/1/music/passages", data=data, headers=HTMX)
    assert answer.status_code == 422
    assert said in answer.text


def test_the_tone_station_shows_the_note_and_the_balance(demo: TestClient) -> None:
    """The map with its point, groups of notes, and links to the worst."""
    page = demo.get("/pieces/3/tone?note=n1").text
    assert "Bar 1, beat 1: B4 on A" in page
    assert 'class="point"' in page
    for title in ("Down and up", "Strings", "Parts of the bow", "Second voices"):
        assert title in page
    assert page.count("/pieces/3/tone?note=") == 5


def test_notes_are_painted_by_what_is_chosen() -> None:
    """Five shades from one side to the other; by tone where nothing else is chosen."""
    note = plan_of("[mf] d4:4 e4 f#4 g4").notes[0]
    assert Look().paint(note) == "tone-core"
    assert Look().legend == []
    for name, words in LEGENDS.items():
        look = Look(name)
        assert len(words) == 5
        assert look.paint(note) in dict(look.legend)
    assert Look("window").paint(note) == "shade-3"


def test_the_sheet_is_coloured_by_a_cookie(demo: TestClient) -> None:
    """And says what the colours tell."""
    demo.cookies.set("colour", "level")
    page = demo.get("/pieces/1").text
    assert "much softer than asked" in page
    assert 'class="shade-' in page
    demo.cookies.clear()


def test_tracks_are_folded_by_a_cookie(demo: TestClient) -> None:
    """What is folded is not drawn, and the line is so much lower."""

    def height(page: str) -> float:
        return float(re.search(r'class="tracks" viewBox="0 0 [\d.]+ ([\d.]+)"', page)[1])  # type: ignore[index]

    whole = demo.get("/pieces/1").text
    demo.cookies.set("folded", "lanes")
    hair_and_strings = demo.get("/pieces/1").text
    demo.cookies.set("folded", "lanes-strings")
    hair = demo.get("/pieces/1").text
    other_tab = demo.get("/pieces/1/lines?numbers=0", headers={"Look": Look().name}).text
    demo.cookies.clear()
    assert height(other_tab) == height(whole)
    assert 'data-look="tone lanes-strings"' in hair
    assert height(whole) > height(hair_and_strings) > height(hair)
    assert ["lane-dot" in page for page in (whole, hair_and_strings, hair)] == [True, False, False]
    assert ['string-note"' in page for page in (whole, hair_and_strings, hair)] == [True, True, False]
    assert whole.count('class="hit"') == hair.count('class="hit"')


def test_hearing_is_answered_and_written_down(demo: TestClient) -> None:
    """Causes in the order of the margins, each with a test; a note that is not bowed is refused."""
    answer = demo.get("/pieces/1/notes/n3/hear?heard=grating", headers=HTMX)
    assert answer.text.count("<li") >= 2
    assert "Try:" in answer.text
    assert demo.get("/pieces/1/notes/zz/hear?heard=grating", headers=HTMX).status_code == 404
    assert demo.get("/pieces/1/notes/n3/hear?heard=sneeze", headers=HTMX).status_code == 422


def test_beats_tell_where_the_bow_is(demo: TestClient) -> None:
    """Three beats a bar of the waltz-like line, the first marked; notes in time with places on the hair."""
    beats = demo.get("/pieces/1/beats.json").json()
    assert [first for _, first in beats["beats"][:6]] == [True, False, False] * 2
    onsets = [note[1] for note in beats["notes"]]
    assert onsets == sorted(onsets)
    assert all(0 <= note[3] <= beats["hair"] for note in beats["notes"])


def test_another_tempo_is_shown_without_being_kept(demo: TestClient) -> None:
    """While the slider moves."""
    before = _version(demo, 1)
    shown = demo.get("/pieces/1/preview?tempo=40", headers=HTMX)
    assert "hx-partial" in shown.text
    assert _version(demo, 1) == before
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
