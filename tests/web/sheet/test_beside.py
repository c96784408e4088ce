"""What hovers over the sheet: ghosts of helps and variants, findings laid aside, the history."""

import re

from fastapi.testclient import TestClient

from pathway.benchmark import generated_part
from pathway.formats.plan_document import read_plan_document
from pathway.web.sheet.view import fail_first
from tests.web.asking import HTMX, version_of


def _edit(client: TestClient, key: int, note: str, what: str, value: str) -> str:
    data = {"notes": note, "note": note, "what": what, "value": value, "version": version_of(client, key)}
    answer = client.post(f"/pieces/{key}/edit", data=data, headers=HTMX)
    assert answer.status_code == 200
    return answer.text


def test_a_help_shows_its_ghost_before_it_is_taken(demo: TestClient) -> None:
    """Only where bows differ; nothing is kept; a help that is not offered is refused."""
    before = version_of(demo, 1)
    findings = read_plan_document(demo.get("/pieces/1/plan.json").content).findings
    for finding in findings:
        helps = demo.get(f"/pieces/1/notes/{finding.notes[0]}/helps", headers=HTMX).text
        offered = re.search(r'data-fix="([^"]+)"\s+data-code="([^"]+)"', helps)
        if offered:
            break
    assert offered is not None
    query = f"note={finding.notes[0]}&code={offered[2]}&fix={offered[1]}"
    ghost = demo.get(f"/pieces/1/ghost?{query}", headers=HTMX).text
    assert "ghost-ribbon" in ghost
    assert "#ghost-" in ghost
    assert version_of(demo, 1) == before
    assert demo.get(f"/pieces/1/ghost?{query}x", headers=HTMX).status_code == 404


def test_other_positions_are_tried_laid_over_heard_and_taken(shelf: TestClient) -> None:
    """With what each costs; what is not offered is refused; taken they are the player's own, and can be undone."""
    with shelf as client:
        bowed = [note for note in read_plan_document(client.get("/pieces/1/plan.json").content).notes if note.voices]
        first, last = bowed[4].id, bowed[9].id
        ways = client.get(f"/pieces/1/notes/{first}/hand?last={last}", headers=HTMX).text
        offered = re.findall(r'data-fix="([^"]+)"\s+data-code="([^"]+)"', ways)
        assert 1 <= len(offered) <= 4
        assert ways.count("crossing") >= len(offered) + 1
        code = offered[0][1]
        queries = {fix: f"note={first}&code={code}&fix={fix}" for fix, _ in offered}
        laid = {fix: client.get(f"/pieces/1/ghost?{query}", headers=HTMX).text for fix, query in queries.items()}
        fix = next(fix for fix, ghost in laid.items() if "#ghost-" in ghost)
        query = queries[fix]
        assert client.get(f"/pieces/1/ghost?{query}x", headers=HTMX).status_code == 404
        assert client.get(f"/pieces/1/sound.wav?scope=note&version={version_of(client, 1)}&{query}").status_code == 200
        data = {"note": first, "version": version_of(client, 1), "code": code, "fix": fix}
        card = client.post("/pieces/1/fix", data=data, headers=HTMX).text
        assert "you set it" in card
        now = read_plan_document(client.get("/pieces/1/plan.json").content)
        lies = {note.id: (note.voices[0].string, note.voices[0].finger) for note in now.notes if note.voices}
        assert any(lies[note.id] != (note.voices[0].string, note.voices[0].finger) for note in bowed[4:10])
        assert client.get(f"/pieces/1/notes/{first}/hand?last=n99999", headers=HTMX).status_code == 404


def test_a_finger_is_set_on_the_card_and_left(shelf: TestClient) -> None:
    """One that does not reach its note is told; what is no finger is refused."""
    with shelf as client:
        note = next(n for n in read_plan_document(client.get("/pieces/1/plan.json").content).notes if n.voices)
        card = _edit(client, 1, note.id, "finger", "4")
        assert 'data-free="finger"' in card
        assert 'data-free="finger"' not in _edit(client, 1, note.id, "finger", "")
        data = {"notes": note.id, "note": note.id, "what": "finger", "value": "7", "version": version_of(client, 1)}
        assert client.post("/pieces/1/edit", data=data, headers=HTMX).status_code == 422


def test_a_variant_is_laid_over_the_plan_and_taken(demo: TestClient) -> None:
    """Kept, changed, compared in figures, taken back, let go."""
    key = 3
    kept = demo.post(f"/pieces/{key}/variants", data={"name": "Quiet"}, headers=HTMX).text
    number = re.search(r'data-compare="variants/(\d+)"', kept)
    assert number is not None
    first = read_plan_document(demo.get(f"/pieces/{key}/plan.json").content)
    _edit(demo, key, first.strokes[3].id, "end", "33")
    beside = demo.get(f"/pieces/{key}/variants/{number[1]}/compare", headers=HTMX).text
    assert "ghost-ribbon" in beside
    assert "They differ in" in beside
    assert "#ghost-" not in demo.get(f"/pieces/{key}/variants/{number[1]}/compare", headers={"Lines": ""}).text
    _edit(demo, key, first.strokes[3].id, "lane", "6")
    assert "ghost-line" in demo.get(f"/pieces/{key}/variants/{number[1]}/compare", headers=HTMX).text
    data = {"version": version_of(demo, key)}
    assert demo.post(f"/pieces/{key}/variants/{number[1]}/take", data=data, headers=HTMX).status_code == 200
    again = read_plan_document(demo.get(f"/pieces/{key}/plan.json").content)
    assert [s.end_cm for s in again.strokes] == [s.end_cm for s in first.strokes]
    named = demo.post(f"/pieces/{key}/variants/{number[1]}/name", data={"name": "Quiet end"}, headers=HTMX).text
    assert 'value="Quiet end"' in named
    assert "Quiet" not in demo.post(f"/pieces/{key}/variants/{number[1]}/forget", headers=HTMX).text
    assert demo.get(f"/pieces/{key}/variants/{number[1]}/compare", headers=HTMX).status_code == 404


def test_of_many_bars_that_differ_sixty_are_to_be_taken_and_the_rest_is_counted(client: TestClient) -> None:
    """More of them than a page has room for are not hidden: it says how many follow."""
    asked = client.post("/imports", files={"file": ("long.musicxml", generated_part(800))}, headers=HTMX).text
    token = re.search(r'hx-post="/imports/([^"/]+)"', asked)
    assert token is not None
    client.post(f"/imports/{token[1]}", data={"part": 1, "rig": "violin"}, headers=HTMX)
    client.post("/pieces/1/variants", data={"name": "Swift"}, headers=HTMX)
    client.post("/pieces/1/tempo", data={"tempo": 50, "version": version_of(client, 1)}, headers=HTMX)
    beside = client.get("/pieces/1/variants/1/compare", headers=HTMX).text
    told = re.search(r"They differ in (\d+) bars", beside)
    assert told is not None
    assert beside.count("data-take-bar=") == 60
    assert f"and {int(told[1]) - 60} more" in beside


def test_the_rest_is_planned_anew_with_every_wish_kept(demo: TestClient) -> None:
    """Bows turned one by one: planned anew is shown first, then taken; what was set stays, and it can be undone."""
    key = 3
    first = read_plan_document(demo.get(f"/pieces/{key}/plan.json").content)
    for stroke in first.strokes[2:40:4]:
        _edit(demo, key, stroke.id, "direction", "down" if stroke.direction == "up" else "up")
    turned = read_plan_document(demo.get(f"/pieces/{key}/plan.json").content)
    beside = demo.get(f"/pieces/{key}/anew/compare", headers=HTMX).text
    assert 'data-take="anew"' in beside
    assert "ghost-ribbon" in beside
    assert read_plan_document(demo.get(f"/pieces/{key}/plan.json").content) == turned
    taken = demo.post(f"/pieces/{key}/anew/take", data={"version": version_of(demo, key)}, headers=HTMX)
    assert taken.status_code == 200
    anew = read_plan_document(demo.get(f"/pieces/{key}/plan.json").content)
    assert anew.settings == turned.settings
    again = demo.get(f"/pieces/{key}/anew/compare", headers=HTMX).text
    assert "nothing would change" in again
    assert "data-take" not in again
    demo.post(f"/pieces/{key}/history/undo", data={"version": version_of(demo, key)}, headers=HTMX)
    assert read_plan_document(demo.get(f"/pieces/{key}/plan.json").content) == turned


def test_a_finding_is_laid_aside_and_brought_back(demo: TestClient) -> None:
    """It leaves the list and the count, with its reason below."""
    findings = read_plan_document(demo.get("/pieces/1/plan.json").content).findings
    others = [[note for other in findings if other is not one for note in other.notes] for one in findings]
    finding = next(one for one, notes in zip(findings, others, strict=True) if not {*one.notes} & {*notes})
    data = {"code": finding.code, "note": finding.notes[0], "reason": "as my section does it"}
    flags = demo.get("/pieces/1").text.count('class="flag')
    aside = demo.post("/pieces/1/aside", data=data, headers=HTMX).text
    assert "1 laid aside" in aside
    assert "as my section does it" in aside
    assert demo.get("/pieces/1").text.count('class="flag') == flags - 1
    assert "tracks-" in aside
    del data["reason"]
    assert "laid aside</summary>" not in demo.post("/pieces/1/aside", data=data, headers=HTMX).text


def test_the_history_goes_back_to_any_change(demo: TestClient) -> None:
    """By its number; the plan is then as it was."""
    key = 5
    first = demo.get(f"/pieces/{key}/plan.json").text
    for lane in ("2", "3", "4"):
        _edit(demo, key, "n4", "lane", lane)
    listed = demo.get(f"/pieces/{key}/history", headers=HTMX).text
    assert listed.count("<li") == 4
    assert "Bar 1: lane 3" in listed
    demo.post(f"/pieces/{key}/history/to/0", data={"version": version_of(demo, key)}, headers=HTMX)
    assert demo.get(f"/pieces/{key}/plan.json").text == first
    demo.post(f"/pieces/{key}/history/to/2", data={"version": version_of(demo, key)}, headers=HTMX)
    plan = read_plan_document(demo.get(f"/pieces/{key}/plan.json").content)
    assert next(note.lane for note in plan.notes if note.id == "n4") == 3


def test_tempi_are_told_after_an_edit(demo: TestClient) -> None:
    """In their order, and at ease; the bars that fail first as one or as several."""
    told = [demo.get(f"/pieces/{key}/tempi", headers=HTMX).text for key in (1, 2, 3, 4)]
    assert all("at ease from" in words for words in told)
    assert any(re.search(r"; bar \w+ fails first", words) for words in told)
    said = [fail_first(bars) for bars in ([], ["8", "8"], ["8", "13", "8"], ["2", "8", "13", "14"])]
    assert said == ["", "bar 8 fails first", "bars 8 and 13 fail first", "bars 2, 8 and 13 fail first"]
