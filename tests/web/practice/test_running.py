"""A drill on the stand: the line, the rung, the tries, the sound, what is said of load."""

import io
import json
import re
import wave
from urllib.parse import quote

import pytest
from fastapi.testclient import TestClient

from tests.web.asking import HTMX

ARRIVE = {"drill": "arrive..6.n57.n58", "piece": "2", "why": "finding", "what": "runs-out", "bars": "13, 14"}
HEAVY = {"drill": "load-and-test.down.3"}


def _page(client: TestClient, fields: dict[str, str]) -> str:
    answer = client.get("/practise/drill", params=fields)
    assert answer.status_code == 200
    return answer.text


def _try(client: TestClient, fields: dict[str, str], number: int, verdict: str = "clean", seconds: float = 20) -> str:
    sent = {**fields, "token": "a-token-of-a-set", "number": number, "verdict": verdict, "seconds": seconds}
    answer = client.post("/practise/drill/try", data=sent, headers=HTMX)
    assert answer.status_code == 200
    return answer.text


def test_the_stand_shows_the_line_the_rung_and_what_to_watch(demo: TestClient) -> None:
    """With the values of the plan, and the place of every arrival."""
    page = _page(demo, ARRIVE)
    assert "bars 13–14 of Slack Water" in page
    assert page.count('class="arrival"') >= 5
    assert "every bow arrives within 3 cm" in page
    assert "every arrival ± 3 cm" in page
    assert "rung 1 of 3" in page
    assert "It keeps the hair of the piece" in page
    assert "The bowing of the piece holds from" in page
    assert page.count('class="ribbon') >= 5
    assert 'class="arrival"' not in _page(demo, {"drill": "long-tones..2"})


def test_units_are_the_players(shelf: TestClient) -> None:
    """Arrivals in inches, and the tolerance too."""
    shelf.post(
        "/settings",
        data={"rig": "violin", "school": "hand", "lengths": "inch", "weights": "g", "sharp_name": "martelé"},
        headers=HTMX,
    )
    page = _page(shelf, ARRIVE)
    assert "every arrival ± 1.2 in" in page
    assert re.search(r'arrival-told"[^>]*>25\.\d<', page)


def test_three_clean_ones_lead_to_the_next_rung(shelf: TestClient) -> None:
    """Sent twice they count once; the ladder and the line change; it is in the log."""
    assert "so far: clean" in _try(shelf, ARRIVE, 1)
    assert "rung 1 of 3" in _try(shelf, ARRIVE, 1)
    _try(shelf, ARRIVE, 2, "nearly")
    _try(shelf, ARRIVE, 3)
    _try(shelf, ARRIVE, 4)
    assert "rung 2 of 3" in _try(shelf, ARRIVE, 5)
    assert "rung 2 of 3" in _page(shelf, ARRIVE)
    sets = json.loads(shelf.get("/practise/log.json").text)["sets"]
    (mine,) = [one for one in sets if one["id"] == "a-token-of-a-set"]
    assert mine["tries"] == ["clean", "nearly", "clean", "clean", "clean"]
    assert (mine["piece"], mine["bars"], mine["what"], mine["passed"]) == ("Slack Water", "13, 14", "runs-out", True)


def test_a_rung_can_be_chosen_by_hand(shelf: TestClient) -> None:
    """Up and down; never off the ladder."""
    for rung, told in ((2, "rung 3 of 3"), (99, "rung 3 of 3"), (0, "rung 1 of 3")):
        answer = shelf.post("/practise/drill/rung", data={**ARRIVE, "rung": rung}, headers=HTMX)
        assert told in answer.text


def test_a_drill_that_sticks_offers_its_neighbour(demo: TestClient) -> None:
    """And is not pushed; a passed one offers what comes next."""
    page = _page(demo, {"drill": "slowest-bow.down.3.n35.n35", "piece": "2"})
    assert "It does not move" in page
    link = re.findall(r'data-next href="([^"]+)"', page)[0].replace("&amp;", "&")
    assert "slowest-bow.down.2" in link
    assert demo.get(link).status_code == 200
    passed = _page(demo, {"drill": "tempo-ladder.the hair.6.n57.n58", "piece": "2"})
    assert "The last rung is passed" in passed
    assert "the bars in their surroundings" in passed


def test_heavy_work_is_said_to_be_and_rests(shelf: TestClient) -> None:
    """A caution before, a rest as long as the set, and no more after a strained hand."""
    page = _page(shelf, HEAVY)
    assert "Stop at once if it hurts" in page
    assert "see a doctor" in page
    assert 'data-longest="60"' in page
    after = _try(shelf, HEAVY, 1, seconds=45)
    assert "The hand rests as long as it has played." in after
    assert int(re.findall(r'data-waits="(\d+)"', after)[0]) in range(40, 91)
    ended = {**HEAVY, "token": "a-token-of-a-set", "seconds": 45, "hand": "strained", "note": "thumb"}
    answer = shelf.post("/practise/drill/end", data=ended, headers=HTMX).text
    assert "no more heavy work today" in answer
    assert 'data-closed="true"' in answer
    assert 'data-closed=""' in _page(shelf, {"drill": "long-tones..2"})
    assert "thumb" in shelf.get("/practise/log").text


def test_light_work_has_no_caution(demo: TestClient) -> None:
    """Cautions stand where they belong."""
    assert "Stop at once" not in _page(demo, {"drill": "long-tones..2"})


def test_the_hand_alone_is_told_to_be_without_the_instrument(demo: TestClient) -> None:
    """And the silent bow without sound."""
    assert "Without the instrument" in _page(demo, {"drill": "hand-alone.index.0"})
    assert "without sound" in _page(demo, {"drill": "load-and-test.down.1"})


def test_ways_and_stages_are_offered(demo: TestClient) -> None:
    """Both members of a pair; own bars only with a place."""
    page = _page(demo, {"drill": "crossings.low to high.2"})
    assert "high to low" in page
    assert "the bars themselves" not in page
    assert "the bars themselves" in _page(demo, {"drill": "crossings.low to high.2.n57.n60", "piece": "2"})


@pytest.mark.parametrize("what", ["sound.wav", "times.json", "drill.musicxml", "thumb", "stand"])
def test_a_rung_has_its_sound_times_score_and_picture(demo: TestClient, what: str) -> None:
    """For own bars and for made lines."""
    for fields in (ARRIVE, {"drill": "angle..2"}):
        answer = demo.get(f"/practise/drill/{what}", params={**fields, "rung": "1"})
        assert answer.status_code == 200
        assert len(answer.content) > 200


def test_slower_rungs_take_longer(demo: TestClient) -> None:
    """The times are those of the rung."""

    def length(rung: int) -> float:
        times = demo.get("/practise/drill/times.json", params={**ARRIVE, "rung": str(rung)}).json()
        return float(times["beats"][-1][0])

    assert length(0) == pytest.approx(length(2) / 0.6, rel=0.01)


def test_the_second_part_is_refused_where_there_is_none(demo: TestClient) -> None:
    """With what to do."""
    answer = demo.get("/practise/drill/second.wav", params={**ARRIVE, "drill": "with-second-part..6.n57.n58"})
    assert answer.status_code == 404
    assert "no other part" in answer.text


@pytest.mark.parametrize(
    "fields",
    [
        {"drill": "juggling..6"}, {"drill": "arrive"}, {"drill": "arrive..6.n1.n2"}, {"drill": "angle.sideways.2"},
        {"drill": "arrive..6.x.y", "piece": "2"}, {"drill": "angle..2", "piece": "99"},
    ],
)  # fmt: skip
def test_drills_that_there_are_not_are_refused(demo: TestClient, fields: dict[str, str]) -> None:
    """In words."""
    answer = demo.get("/practise/drill", params=fields)
    assert answer.status_code == 404
    assert "Traceback" not in answer.text


@pytest.mark.parametrize(
    "wrong",
    [
        {"number": "0"},
        {"number": "501"},
        {"verdict": "grand"},
        {"token": "x"},
        {"seconds": "-1"},
        {"token": "<script>x</script>"},
    ],
)
def test_a_try_that_makes_no_sense_is_refused(demo: TestClient, wrong: dict[str, str]) -> None:
    """And nothing is kept of it."""
    sent = {**ARRIVE, "token": "never-kept-token", "number": "1", "verdict": "clean", "seconds": "5", **wrong}
    assert demo.post("/practise/drill/try", data=sent, headers=HTMX).status_code == 422
    assert "never-kept-token" not in demo.get("/practise/log.json").text


def test_what_a_page_was_told_is_escaped(demo: TestClient) -> None:
    """The fields of the address come back as text."""
    page = demo.get(f"/practise/drill?drill=angle..2&what={quote('<script>alert(1)</script>')}").text
    assert "<script>alert(1)" not in page


def test_the_microphone_says_what_a_try_was_like(demo: TestClient) -> None:
    """Where that can be heard; silence is no try."""
    fields = {"drill": "crossings.low to high.2", "rung": "1"}
    with wave.open(io.BytesIO(demo.get("/practise/drill/sound.wav", params=fields).content)) as file:
        rate, pcm = file.getframerate(), file.readframes(file.getnframes())
    heard = demo.post("/practise/drill/listen", params={**fields, "rate": rate}, content=pcm, headers=HTMX).json()
    assert heard["verdict"] == "clean"
    assert "heard" in heard["text"]
    own = {"drill": "angle.low to high.2", "rung": "0"}
    with wave.open(io.BytesIO(demo.get("/practise/drill/sound.wav", params=own).content)) as file:
        pcm = file.readframes(file.getnframes())
    unknown = demo.post("/practise/drill/listen", params={**own, "rate": rate}, content=pcm, headers=HTMX).json()
    assert unknown["verdict"] == ""
    silent = demo.post("/practise/drill/listen", params={**fields, "rate": rate}, content=bytes(400_000), headers=HTMX)
    assert silent.status_code == 422
