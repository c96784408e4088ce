"""Pieces to others and back on the pages: what is inside is shown first, and nothing is written over."""

import re

from fastapi.testclient import TestClient

from tests.helpers import document
from tests.web.asking import HTMX, version_of


def _import(client: TestClient, data: bytes, name: str) -> str:
    return client.post("/imports", files={"file": (name, data)}, headers=HTMX).text


def test_a_file_shows_what_is_in_it_and_becomes_a_piece_or_a_variant(shelf: TestClient) -> None:
    """As a new piece beside the old one; as a variant laid over it, taken bar by bar."""
    data = shelf.get("/pieces/6/piece.pathway?log=true").content
    asked = _import(shelf, data, "march.pathway")
    assert "Toll-House March" in asked
    assert "Nothing is taken yet" in asked
    assert "score/toll-house.musicxml" in asked
    token = re.findall(r"/imports/([^/]+)/new", asked)[0]
    before = version_of(shelf, 6)
    laid = shelf.post(f"/imports/{token}/variant/6", headers=HTMX)
    address = laid.headers["HX-Redirect"]
    assert re.fullmatch(r"/pieces/6\?variant=\d+", address)
    assert version_of(shelf, 6) == before
    assert "data-laid=" in shelf.get(address).text
    again = _import(shelf, data, "march.pathway")
    token = re.findall(r"/imports/([^/]+)/new", again)[0]
    new = shelf.post(f"/imports/{token}/new", headers=HTMX).headers["HX-Redirect"]
    assert new != "/pieces/6"
    assert shelf.get(new).status_code == 200
    assert shelf.post(f"/imports/{token}/new", headers=HTMX).status_code == 404


def test_a_variant_is_taken_bar_by_bar(shelf: TestClient) -> None:
    """The comparison lists the bars that differ; one of them is pressed."""
    shelf.post("/pieces/2/variants", data={"name": "Before"}, headers=HTMX)
    turned = {"notes": "n1", "version": version_of(shelf, 2), "what": "direction", "value": "up"}
    shelf.post("/pieces/2/edit", data=turned, headers=HTMX)
    compared = shelf.get("/pieces/2/variants/1/compare", headers=HTMX).text
    bars = re.findall(r'data-take-bar="(variants/1/take/[^"]+)"', compared)
    assert bars
    taken = shelf.post(f"/pieces/2/{bars[0]}", data={"version": version_of(shelf, 2)}, headers=HTMX)
    assert taken.status_code == 200
    plan = shelf.app.state.desk.open(2).plan  # type: ignore[attr-defined]
    assert plan.stroke["n1"].direction.word == "down"
    assert shelf.post(f"/pieces/2/{bars[0]}", data={"version": 0}, headers=HTMX).status_code == 409


def test_a_piece_gets_another_name(shelf: TestClient) -> None:
    """Everywhere; an empty one is refused and changes nothing."""
    shelf.post("/pieces/3/name", data={"title": "Window", "part_name": "Solo"}, headers=HTMX)
    assert "Window" in shelf.get("/").text
    assert "Window" in shelf.get("/pieces/3").text
    assert shelf.post("/pieces/3/name", data={"title": " ", "part_name": "x"}, headers=HTMX).status_code == 422
    assert 'value="Window"' in shelf.get("/pieces/3/about").text


def test_a_newer_edition_tells_what_it_lost(shelf: TestClient) -> None:
    """And leads to the piece that has taken the place of the old one."""
    first = document("[mf] d4:4 e4 f#4 g4 | a4:1 | d4:1")
    token = re.findall(r'hx-post="/imports/([^/"]+)"', _import(shelf, first, "t.musicxml"))[0]
    key = shelf.post(f"/imports/{token}", data={"part": 1, "rig": "violin"}, headers=HTMX).headers["HX-Redirect"]
    newer = document("[mf] d4:4 e4 f#4 g4 | b4:1 | d4:1")
    told = shelf.post(f"{key}/edition", files={"file": ("t2.musicxml", newer)}, headers=HTMX).text
    assert "bar 2, beat 1, A4" in told
    new = re.findall(r'href="(/pieces/\d+)"', told)[0]
    assert new != key
    assert shelf.get(new).status_code == 200
    other = shelf.post(f"{new}/edition", files={"file": ("x.musicxml", document("c5:1 | c5:1"))}, headers=HTMX)
    assert other.status_code == 422


def test_a_part_is_bowed_after_another_part_of_its_score(shelf: TestClient) -> None:
    """Only parts of the same score are offered; what does not agree is listed."""
    score = two_parts()
    keys = []
    for part in (1, 2):
        token = re.findall(r'hx-post="/imports/([^/"]+)"', _import(shelf, score, "two.musicxml"))[0]
        made = shelf.post(f"/imports/{token}", data={"part": part, "rig": "violin"}, headers=HTMX)
        keys.append(made.headers["HX-Redirect"])
    about = shelf.get(f"{keys[1]}/about").text
    after = re.findall(r'hx-post="(/pieces/\d+/after/\d+)"', about)
    assert len(after) == 1
    told = shelf.post(after[0], headers=HTMX).text
    assert "bar 3, beat 1" in told
    assert re.search(rf"{keys[1]}\?variant=\d+", told)
    assert "after the Violin I" in shelf.get(f"{keys[1]}/variants", headers=HTMX).text
    assert "/after/" not in shelf.get("/pieces/1/about").text


FIRST = "d5:4 e5 f#5 g5 | (a5:8 g5) f#5:4 e5:2 | d5:1"
SECOND = "b4:4 c5 d5 e5 | (f#5:8 e5) d5:4 c5:2 | b4:2 g4"


def two_parts(one: str = FIRST, other: str = SECOND) -> bytes:
    """Return a score of two violins, in one rhythm but for its last bar unless it is said otherwise."""
    first = document(one, part="Violin I").decode()
    second = document(other, part="Violin II").decode()
    name = re.findall(r'<part id="([^"]+)"', second)[0]
    second = second.replace(f'id="{name}"', 'id="other"')
    head = re.findall(r"<score-part id=.*?</score-part>", second, re.DOTALL)[0]
    music = re.findall(r"<part id=.*</part>", second, re.DOTALL)[0]
    whole = first.replace("</part-list>", f"{head}</part-list>")
    return whole.replace("</score-partwise>", f"{music}</score-partwise>").encode()
