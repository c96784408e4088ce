"""The sheet: marks for scripts, edits in place, history, downloads."""

import json
import re
import shutil
from dataclasses import replace
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from lxml import etree

from pathway.benchmark import generated_part
from pathway.core.planning import Lock, replan
from pathway.core.planning.plan import Plan
from pathway.formats.plan_document import read_plan_document
from pathway.formats.plan_reading import broken_rules
from pathway.web.app import create_app
from pathway.web.config import AppSettings
from pathway.web.sheet.changes import what_changed
from tests.helpers import document, plan_of
from tests.web.asking import AT, HTMX

RIBBON = re.compile(r'data-stroke="(n\d+)" data-direction="(down|up)" data-notes="([^"]+)"')


def _strokes(page: str) -> dict[str, str]:
    return {id_: direction for id_, direction, _ in RIBBON.findall(page)}


def _version(page: str) -> int:
    return int(re.search(r'data-version="(\d+)"', page)[1])  # type: ignore[index]


def _turn(client: TestClient, note: str, to: str, version: int) -> str:
    answer = client.post(
        "/pieces/1/edit",
        data={
            "notes": note,
            "note": note,
            "what": "direction",
            "value": "" if to == "free" else to,
            "version": version,
        },
        headers=HTMX,
    )
    assert answer.status_code == 200, answer.text
    return answer.text


def test_the_sheet_carries_its_marks(demo: TestClient) -> None:
    """The root names the piece; every stroke has a ribbon, every note a hit area with a name."""
    page = demo.get("/pieces/1").text
    plan = read_plan_document(demo.get("/pieces/1/plan.json").content)
    assert 'data-piece="1"' in page
    assert _strokes(page) == {s.id: s.direction for s in plan.strokes}
    notes = [note for _, _, inner in RIBBON.findall(page) for note in inner.split()]
    assert set(notes) == {n.id for n in plan.notes}
    for note in plan.notes:
        assert f'data-note="{note.id}"' in page
    assert page.count('role="button" tabindex="-1" aria-label="bar ') == len(plan.notes)


def test_every_track_is_well_formed_and_aligned(demo: TestClient) -> None:
    """Ribbons begin at the x of their notes' heads."""
    page = demo.get("/pieces/1").text
    for svg in re.findall(r'<svg class="tracks".*?</svg>', page, re.DOTALL):
        root = etree.fromstring(svg.encode())
        for ribbon in root.iter("{*}g"):
            if ribbon.get("data-stroke"):
                first = ribbon.find("{*}path[@stroke-width]").get("d")  # type: ignore[union-attr]
                sign = root.find(f"{{*}}g[@data-sign='{ribbon.get('data-stroke')}']")
                if sign is not None:
                    x = re.findall(r"[\d.]+", sign.get("transform", ""))[0]
                    assert first.startswith(f"M{x} ")  # type: ignore[union-attr]


def test_turning_a_bow_locks_it_and_undo_brings_it_back(client: TestClient) -> None:
    """Only what changed is sent; the whole history survives."""
    drop = client.post("/imports", files={"file": ("long.musicxml", generated_part(300))}, headers=HTMX)
    token = re.search(r'hx-post="/imports/([^"/]+)"', drop.text)[1]  # type: ignore[index]
    client.post(f"/imports/{token}", data={"part": 1, "rig": "violin"}, headers=HTMX)
    before = _strokes(client.get("/pieces/1").text)
    stroke, other = next((id_, "up" if way == "down" else "down") for id_, way in list(before.items())[8:])
    answer = _turn(client, stroke, other, 0)
    assert _strokes(answer)[stroke] == other
    assert "set by" not in answer
    assert "Unlock" in answer
    assert 0 < answer.count('<svg class="tracks"') < client.get("/pieces/1").text.count('<svg class="tracks"')
    assert re.search(r'hx-target="#status"[^>]*>[^<]*bar', answer)
    after = client.get("/pieces/1").text
    assert _strokes(after)[stroke] == other
    assert _version(after) == 1
    undone = client.post("/pieces/1/history/undo", data={"version": 1}, headers=HTMX)
    assert undone.status_code == 200
    assert _strokes(client.get("/pieces/1").text) == before
    client.post("/pieces/1/history/redo", data={"version": 2}, headers=HTMX)
    assert _strokes(client.get("/pieces/1").text) == _strokes(after)
    _turn(client, stroke, "free", 3)
    assert "locked" not in json.dumps(
        [s.locked for s in read_plan_document(client.get("/pieces/1/plan.json").content).strokes if s.locked]
    )


def test_tempo_is_planned_anew_and_kept(demo: TestClient) -> None:
    """Slower than the bow allows: more findings; the tempo stays with the piece."""
    answer = demo.post("/pieces/2/tempo", data={"tempo": "40", "version": 0}, headers=HTMX)
    assert answer.status_code == 200
    assert "Planned at 40" in answer.text
    plan = read_plan_document(demo.get("/pieces/2/plan.json").content)
    assert plan.piece.tempo_bpm == 40
    assert any(f.code == "runs-out" and f.severity == "high" for f in plan.findings)
    demo.post("/pieces/2/history/undo", data={"version": 1}, headers=HTMX)


@pytest.mark.parametrize(
    ("path", "data", "status", "said"),
    [
        ("/pieces/1/edit", {"notes": "n1", "what": "direction", "value": "down", "version": 99}, 409, "somewhere else"),
        ("/pieces/1/edit", {"notes": "zz", "what": "direction", "value": "down", "version": 0}, 404, "no bowed note"),
        ("/pieces/1/edit", {"notes": "n1", "what": "direction", "value": "left", "version": 0}, 422, "no direction"),
        ("/pieces/1/edit", {"notes": "n1", "version": 0}, 422, "“what” is missing"),
        ("/pieces/1/tempo", {"tempo": "5000", "version": 0}, 422, "5000"),
        ("/pieces/1/tempo", {"tempo": "fast", "version": 0}, 422, "tempo"),
        ("/pieces/77/history/undo", {"version": 0}, 404, "no such piece"),
    ],
)
def test_edits_that_cannot_be_are_refused_in_words(
    demo: TestClient, path: str, data: dict[str, object], status: int, said: str
) -> None:
    """The message goes to its place on the page; the plan stays."""
    before = demo.get("/pieces/1/plan.json").text
    answer = demo.post(path, data=data, headers=HTMX)
    assert (answer.status_code, answer.headers["HX-Retarget"]) == (status, "#message")
    assert said in answer.text
    assert demo.get("/pieces/1/plan.json").text == before


def test_the_card_shows_the_note(demo: TestClient) -> None:
    """Four pictures and the numbers with their units; opening again shows the same note."""
    note = read_plan_document(demo.get("/pieces/1/plan.json").content).notes[5]
    card = demo.get(f"/pieces/1/notes/{note.id}", headers=HTMX).text
    assert card.count('class="picture') == 4
    assert f"{note.length_cm:.1f}</b> cm" in card
    assert f"{note.weight_g:.0f}</b> g" in card
    assert ">Lane</span>" in card.replace("\n", "")
    assert f'<b class="font-semibold">{note.lane}</b>' in card


def test_a_piece_opens_where_it_was_left(demo: TestClient) -> None:
    """The page says where the player stands; looking alone moves nothing, and a note that is not there is refused."""
    demo.get("/pieces/1/notes/n9", headers=HTMX)
    demo.get("/pieces/1?note=n9")
    assert 'data-stands="n9"' not in demo.get("/pieces/1").text
    assert demo.post("/pieces/1/here", data={"note": "n9"}).status_code == 204
    assert 'data-stands="n9"' in demo.get("/pieces/1").text
    assert demo.post("/pieces/1/here", data={"note": "x"}).status_code == 404
    assert demo.post("/pieces/1/here").status_code == 204
    assert 'data-stands="n9"' in demo.get("/pieces/1").text


def test_downloads_are_files_of_the_piece(demo: TestClient) -> None:
    """JSON that keeps the rules, CSV with a row a note, the player's score with marks."""
    json_, csv_, score = (demo.get(f"/pieces/1/{name}") for name in ("plan.json", "plan.csv", "marked.musicxml"))
    plan = read_plan_document(json_.content)
    assert broken_rules(plan) == []
    assert len(csv_.text.splitlines()) == len(plan.notes) + 1
    assert score.content.count(b"-bow/>") == len(plan.strokes)
    for answer in (json_, csv_, score):
        assert "the-ferry-s-ledger-double-bass" in answer.headers["content-disposition"]


def test_marks_go_into_musicxml_only(client: TestClient) -> None:
    """For other formats the page says what to take instead."""
    abc = b"X:1\nT:Walk\nM:3/4\nL:1/4\nK:D\nDEF|A3|]\n"
    token = re.search(r"/imports/([^\"/]+)\"", client.post("/imports", files={"file": ("a.abc", abc)}).text)[1]  # type: ignore[index]
    client.post(f"/imports/{token}", data={"part": 1, "rig": "violin"})
    answer = client.get("/pieces/1/marked.musicxml")
    assert answer.status_code == 422
    assert "JSON or CSV" in answer.text


def test_missing_pages_are_pages(demo: TestClient) -> None:
    """With a way back to the shelf."""
    for path in ("/pieces/99", "/nowhere"):
        answer = demo.get(path)
        assert answer.status_code == 404
        assert "To the shelf" in answer.text


def test_every_answer_is_guarded(demo: TestClient) -> None:
    """Strict policy, no inline script or style, no change from other sites, no foreign host."""
    answer = demo.get("/pieces/1")
    policy = answer.headers["content-security-policy"]
    assert "script-src 'self'" in policy
    assert "unsafe" not in policy
    assert not re.search(r"<script(?![^>]*src=)|<style|\sstyle=|\son\w+=", answer.text)
    foreign = demo.post("/pieces/1/history/undo", data={"version": 0}, headers={"Sec-Fetch-Site": "cross-site"})
    assert foreign.status_code == 403
    assert demo.get("/", headers={"Host": "evil.example"}).status_code == 400
    assert demo.post("/imports", content=b"x", headers={"Content-Length": "many"}).status_code == 400


def _line(plan: Plan, *locks: Lock) -> str:
    return what_changed(plan, replan(plan, locks))


def test_changes_are_told_in_one_line() -> None:
    """What turned, where, and how the findings changed; nothing if nothing did."""
    plan = plan_of("[mf] d4:4 e4 f4 g4 | a4 g4 f4 e4 | d4 e4 f4 g4")
    stroke = plan.strokes[4]
    said = _line(plan, Lock(stroke.id, stroke.direction.other))
    assert "bar" in said
    assert said.endswith(".")
    assert _line(plan) == "Nothing else changed."


TROUBLE = "[mf] " + " | ".join(["d4:8! e4! f4! g4! a4! g4! f4! e4!"] * 2)


@pytest.fixture
def troubled(client: TestClient) -> TestClient:
    """A shelf with one piece that cannot be played as written."""
    bars = document(TROUBLE, tempo="170")
    page = client.post("/imports", files={"file": ("fast.musicxml", bars)}).text
    token = re.search(r"/imports/([\w-]+)", page)[1]  # type: ignore[index]
    client.post(f"/imports/{token}", data={"part": "1", "rig": "violin"})
    return client


def test_what_helps_is_offered_and_taken(troubled: TestClient) -> None:
    """Each fix with its effect; taking one plans the piece with it, and undo gives it back."""
    helps = troubled.get("/pieces/1/notes/n3/helps").text
    assert "too fast for martel" in helps
    codes = re.findall(r'data-fix="([^"]+)"\s+data-code="([^"]+)"', helps)
    assert ("type-soft-martele", "too-fast-for-type") in codes
    data = {"note": "n3", "version": 0, "code": "too-fast-for-type", "fix": "type-soft-martele"}
    answer = troubled.post("/pieces/1/fix", data=data, headers=HTMX)
    assert answer.status_code == 200
    plan = read_plan_document(troubled.get("/pieces/1/plan.json").content)
    assert {s.type for s in plan.strokes} == {"soft-martele"}
    assert "soft" in troubled.get("/pieces/1").text
    troubled.post("/pieces/1/history/undo", data={"version": 1}, headers=HTMX)
    plan = read_plan_document(troubled.get("/pieces/1/plan.json").content)
    assert {s.type for s in plan.strokes} == {"martele"}


def test_a_proposed_change_that_is_turned_stands_at_any_tempo(client: TestClient) -> None:
    """Its bow change is then the player's own."""
    bars = document("[f] (d4:1 | e4:1 | f4:1 | g4:1) | a4:1", tempo="50")
    page = client.post("/imports", files={"file": ("long.musicxml", bars)}).text
    token = re.search(r"/imports/([\w-]+)", page)[1]  # type: ignore[index]
    client.post(f"/imports/{token}", data={"part": "1", "rig": "violin"})
    plan = read_plan_document(client.get("/pieces/1/plan.json").content)
    proposed = next(s for s in plan.strokes if s.proposed)
    other = "up" if proposed.direction == "down" else "down"
    version = _version(_turn(client, proposed.id, other, 0))
    client.post("/pieces/1/tempo", data={"tempo": 200, "version": version}, headers=HTMX)
    fast = read_plan_document(client.get("/pieces/1/plan.json").content)
    assert next(s for s in fast.strokes if s.id == proposed.id).direction == other


def test_a_stored_path_that_breaks_the_rules_is_found_anew(tmp_path: Path, demo_data: Path) -> None:
    """A piece kept by an earlier version opens, whatever its path was."""
    shutil.copytree(demo_data, tmp_path, dirs_exist_ok=True)
    app = create_app(AppSettings(tmp_path, demo=True))
    pieces = app.state.desk.pieces
    kept = pieces.piece(1)
    broken = replace(kept.revision.path, starts=kept.revision.path.starts + 0.2)
    pieces.edit(kept, 0, replace(kept.revision, path=broken))
    with TestClient(app, base_url=AT) as client:
        plan = read_plan_document(client.get("/pieces/1/plan.json").content)
    assert broken_rules(plan) == []


def test_help_that_is_not_offered_is_refused(troubled: TestClient) -> None:
    """The plan stays."""
    data = {"note": "n3", "version": 0, "code": "too-fast-for-type", "fix": "type-detache-in-the-air"}
    answer = troubled.post("/pieces/1/fix", data=data, headers=HTMX)
    assert answer.status_code == 404
    assert "not offered any more" in answer.text


def test_a_plucked_note_is_heard_from_its_card_too(client: TestClient) -> None:
    """It has no bow to be heard, but itself and its bar."""
    asked = client.post(
        "/imports", files={"file": ("p.musicxml", document("{pizz.} d4:4 e4 {arco} f4 g4"))}, headers=HTMX
    )
    token = re.search(r'hx-post="/imports/([^"/]+)"', asked.text)
    assert token is not None
    client.post(f"/imports/{token[1]}", data={"part": 1, "rig": "violin"}, headers=HTMX)
    plucked, bowed = (client.get(f"/pieces/1/notes/{note}").text for note in ("n1", "n3"))
    assert [kind for kind in ("note", "stroke", "bars") if f'data-sound="{kind}"' in plucked] == ["note", "bars"]
    assert 'data-sound="stroke"' in bowed
    assert client.get("/pieces/1/sound.wav", params={"scope": "note", "note": "n1"}).status_code == 200
