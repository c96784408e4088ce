"""Today, drills in lists, the log: what a page shows and what a press changes."""

import json
import re
from datetime import date, timedelta

import pytest
from fastapi.testclient import TestClient

from pathway.core.practice.families import FAMILIES
from pathway.core.technique.stroke_types import STROKE_TYPES
from tests.web.asking import HTMX

SLACK = 2


def _keys(text: str) -> list[str]:
    return list(dict.fromkeys(re.findall(r'"change": "earlier", "key": "([^"]+)"', text.replace("&#34;", '"'))))


def _change(client: TestClient, change: str, key: str, **more: object) -> str:
    answer = client.post("/practise/day", data={"change": change, "key": key, **more}, headers=HTMX)
    assert answer.status_code == 200
    return answer.text


def test_today_says_why_each_entry_is_there(demo: TestClient) -> None:
    """And what its need is made of."""
    page = demo.get("/practise").text
    assert "tone before speed" in page
    assert re.search(r"(high|medium|low) finding · \d+ % of the piece", page)
    assert "Run-through" in page
    assert 'href="/practise/drill?piece=' in page


def test_an_empty_shelf_has_a_word(client: TestClient) -> None:
    """And drills for the rig all the same."""
    assert "The shelf is empty" in client.get("/practise").text
    assert client.get("/practise/log").status_code == 200
    assert "Nothing was played yet" in client.get("/practise/log").text


def test_entries_are_moved_pinned_swapped_and_dropped(shelf: TestClient) -> None:
    """Each press changes the day, and it stays changed."""
    before = _keys(shelf.get("/practise").text)
    drill = before[1]
    assert _keys(_change(shelf, "later", drill))[2] == drill
    assert _keys(shelf.get("/practise").text)[2] == drill
    assert 'aria-pressed="true">pin' in _change(shelf, "pin", drill)
    assert 'aria-pressed="true">pin' not in _change(shelf, "free", drill)
    _change(shelf, "pin", drill)
    swapped = _keys(_change(shelf, "swap", before[2]))
    assert before[2] not in swapped
    assert drill in swapped
    dropped = _keys(_change(shelf, "drop", drill))
    assert drill not in dropped
    assert _keys(_change(shelf, "anew", "")) == before
    assert _keys(_change(shelf, "later", "1:not-there")) == before


def test_dropping_gives_the_minutes_back(shelf: TestClient) -> None:
    """Swapping does not."""

    def minutes() -> float:
        return sum(map(float, re.findall(r'whitespace-nowrap">(\d+) min<', shelf.get("/practise").text)))

    before, keys = minutes(), _keys(shelf.get("/practise").text)
    _change(shelf, "drop", keys[1])
    assert minutes() < before


def test_the_minutes_decide_what_there_is_room_for(shelf: TestClient) -> None:
    """And are proposed again."""
    few = shelf.post("/practise/minutes", data={"minutes": 15}, headers=HTMX).text
    many = shelf.post("/practise/minutes", data={"minutes": 90}, headers=HTMX).text
    assert len(_keys(few)) < len(_keys(many))
    assert '"minutes": 90' in shelf.get("/practise").text.replace("&#34;", '"')
    for wrong in (0, 1000):
        assert shelf.post("/practise/minutes", data={"minutes": wrong}, headers=HTMX).status_code == 422


def test_a_run_through_is_done_by_a_press(shelf: TestClient) -> None:
    """A drill is done by its tries."""
    run = _keys(shelf.get("/practise").text)[-1]
    assert "done today" in _change(shelf, "done", run) or 'class="day-entry done"' in _change(shelf, "done", run)


def test_a_piece_has_its_page_on_the_path(shelf: TestClient) -> None:
    """With all that it asks for, and the state of the station."""
    page = shelf.get(f"/pieces/{SLACK}/practise").text
    assert "What the piece asks for" in page
    assert 'aria-current="page" title="in work"' in page
    assert 'title="untouched"' in shelf.get("/pieces/1/practise").text
    assert 'href="/pieces/2/practise"' in shelf.get(f"/pieces/{SLACK}").text
    assert shelf.get("/pieces/99/practise").status_code == 404


def test_a_day_of_performance_has_a_tempo_for_every_week(shelf: TestClient) -> None:
    """Told in the piece's own tempo; the day can be taken back; nonsense is refused."""
    ready = date.today() + timedelta(weeks=4)
    address = "/pieces/6/practise"
    answer = shelf.post(f"{address}/ready", data={"day": ready.isoformat()}, headers=HTMX)
    assert answer.headers["HX-Redirect"] == address
    page = shelf.get(address).text
    shares = [int(found) for found in re.findall(r'<td class="text-right">(\d+) %', page)]
    assert len(shares) == 4
    assert shares[-1] == 100
    assert shares == sorted(shares)
    assert shares[0] < 100
    shelf.post(f"{address}/ready", data={"day": ""}, headers=HTMX)
    assert "With a day, the drills" in shelf.get(address).text
    assert shelf.post(f"{address}/ready", data={"day": "soon"}, headers=HTMX).status_code == 422


def test_a_note_shows_its_drills_and_their_state(demo: TestClient) -> None:
    """For its findings, for what is heard, for a selection."""
    found = demo.get(f"/pieces/{SLACK}/practise/for?note=n35", headers=HTMX).text
    assert "Arrive" in found
    assert "not begun" in found
    assert "does not move" in found
    heard = demo.get(f"/pieces/{SLACK}/practise/for?note=n35&heard=buried", headers=HTMX).text
    assert "Short after long" in heard
    assert "you heard: buried" in heard
    some = demo.get(f"/pieces/{SLACK}/practise/for?note=n35&last=n60", headers=HTMX).text
    assert "Up to tempo" in some
    assert "practise/for?note=" in demo.get(f"/pieces/{SLACK}/notes/n35", headers=HTMX).text
    assert "practise/for?note=n35" in demo.get(f"/pieces/{SLACK}/notes/n35/hear?heard=buried", headers=HTMX).text


@pytest.mark.parametrize("kind", STROKE_TYPES)
def test_every_stroke_type_starts_its_drills(demo: TestClient, kind: str) -> None:
    """From its own page."""
    found = demo.get(f"/strokes/{kind}/practise", headers=HTMX).text
    assert 'href="/practise/drill?drill=' in found
    link = re.findall(r'href="(/practise/drill\?[^"]+)"', found)[0].replace("&amp;", "&")
    assert demo.get(link).status_code == 200


def test_all_drills_can_be_chosen_freely(demo: TestClient) -> None:
    """Grouped by what changes; every family that needs no bars, and each opens."""
    page = demo.get("/practise/drills").text
    links = [link.replace("&amp;", "&") for link in re.findall(r'href="(/practise/drill\?[^"]+)"', page)]
    assert len(links) == sum(any(stage < 6 for stage in row.stages) for row in FAMILIES.values())
    for link in links[::4]:
        assert demo.get(link).status_code == 200


def test_the_shelf_shows_what_is_due(demo: TestClient) -> None:
    """And asks about the log when a piece goes."""
    assert "/practise/due/2" in demo.get("/").text
    assert re.search(r"\d+ drills? due today|^\s*$", demo.get("/practise/due/2", headers=HTMX).text)


def test_a_removed_piece_leaves_its_log_or_takes_it_along(shelf: TestClient) -> None:
    """As the player says."""
    removed = shelf.post(f"/pieces/{SLACK}/remove", headers=HTMX).text
    assert "stays in the log" in removed
    assert "Slack Water" in shelf.get("/practise/log").text
    shelf.post(f"/practise/log/piece/{SLACK}/remove", headers=HTMX)
    assert "Slack Water" not in shelf.get("/practise/log.csv").text
    shelf.post(f"/practise/log/piece/{SLACK}/back", headers=HTMX)
    assert "Slack Water" in shelf.get("/practise/log.csv").text
    assert "stays in the log" not in shelf.post("/pieces/1/remove", headers=HTMX).text


def test_the_log_tells_weeks_drills_and_pieces(demo: TestClient) -> None:
    """And every set with its try, its hand and its note."""
    page = demo.get("/practise/log").text
    for told in (
        "This week beside last",
        "on paper",
        "of these in the hand",
        "strained",
        "Thumb. Left the rest of it.",
    ):
        assert told in page
    assert page.count('class="drill-way tracks"') >= 5


def test_sets_are_annotated_taken_out_and_brought_back(shelf: TestClient) -> None:
    """By number."""
    page = shelf.get("/practise/log").text
    number = re.findall(r"/practise/log/(\d+)/note", page)[0]
    noted = shelf.post(f"/practise/log/{number}/note", data={"note": "thumb <b>loose</b>"}, headers=HTMX).text
    assert "thumb &lt;b&gt;loose&lt;/b&gt;" in noted
    assert "1 taken out" in shelf.post(f"/practise/log/{number}/remove", headers=HTMX).text
    assert "taken out</summary>" not in shelf.post(f"/practise/log/{number}/back", headers=HTMX).text
    assert shelf.post("/practise/log/9999/remove", headers=HTMX).status_code == 404


def test_the_log_goes_out_and_comes_back(demo: TestClient, client: TestClient) -> None:
    """As JSON to another Pathway; as a table; the days as a calendar."""
    saved = demo.get("/practise/log.json")
    assert "attachment" in saved.headers["content-disposition"]
    brought = client.post("/practise/log", files={"file": ("log.json", saved.content)}, headers=HTMX)
    assert re.search(r"\d+ sets were added", brought.text)
    again = client.post("/practise/log", files={"file": ("log.json", saved.content)}, headers=HTMX)
    assert "there already" in again.text
    assert client.get("/practise/log.csv").text.count("\n") == demo.get("/practise/log.csv").text.count("\n")
    assert client.post("/practise/log", files={"file": ("x", b"{}")}, headers=HTMX).status_code == 422
    assert demo.get("/practise/days.ics").text.startswith("BEGIN:VCALENDAR")


def test_a_log_with_drills_that_are_gone_is_taken_and_shown(demo: TestClient, client: TestClient) -> None:
    """They are told, stay in the log and its documents, and no page minds them."""
    log = json.loads(demo.get("/practise/log.json").content)
    gone = [
        {**log["sets"][0], "id": f"gone-{n}", "drill": drill} for n, drill in enumerate(("juggling..6.n1.n2", "arrive"))
    ]
    log["sets"] = [*log["sets"][:3], *gone]
    data = json.dumps(log).encode()
    brought = client.post("/practise/log", files={"file": ("log.json", data)}, headers=HTMX)
    assert "5 sets were added. Some are of drills that are not here: arrive, juggling" in brought.text
    page = client.get("/practise/log").text
    assert "juggling (not a drill here any more)" in page
    assert {one["id"] for one in json.loads(client.get("/practise/log.json").content)["sets"]} >= {"gone-0", "gone-1"}
    for path in ("/practise", "/practise/log.csv", "/practise/days.ics"):
        assert client.get(path).status_code == 200


def test_limits_are_lowered_freely_and_raised_after_a_question(shelf: TestClient) -> None:
    """What was raised is noted."""
    lower = shelf.post("/practise/limits", data={"cap": "strong pulses", "seconds": 120}, headers=HTMX)
    assert lower.headers["HX-Redirect"] == "/practise/log"
    asked = shelf.post("/practise/limits", data={"cap": "strong pulses", "seconds": 600}, headers=HTMX)
    assert "Raise it all the same?" in asked.text
    assert 'value="120"' in shelf.get("/practise/log").text
    shelf.post("/practise/limits", data={"cap": "strong pulses", "seconds": 600, "sure": "true"}, headers=HTMX)
    page = shelf.get("/practise/log").text
    assert 'value="600"' in page
    assert "strong pulses from 120 to 600 s" in page
    shelf.post("/practise/limits", data={"beginner": "true"}, headers=HTMX)
    assert "proposed: 45" in shelf.get("/practise/log").text
    assert shelf.post("/practise/limits", data={"cap": "juggling", "seconds": 1}, headers=HTMX).status_code == 404
