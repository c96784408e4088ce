"""The bench: its figures, what it takes from a note, and patterns that are kept."""

import re

import pytest
from fastapi.testclient import TestClient

from pathway.core.rig import preset
from pathway.formats.patterns import BARS, EIGHTHS, Pattern, pattern_score
from pathway.formats.score import ScoreFile
from pathway.web.bench.ask import BenchAsk
from pathway.web.bench.view import BenchView


def test_the_bench_stands_alone_with_free_input(client: TestClient) -> None:
    """Two strings of any rig, their windows and levels, and both leads side by side."""
    page = client.get("/bench?rig=cello&lower=0&high_stop=4")
    assert page.status_code == 200
    assert "C2 and B2 together" in page.text
    assert page.text.count("leads</th>") == 2


def test_a_note_is_laid_on_the_bench(demo: TestClient) -> None:
    """The strings of the note, stopped as it is; a chord with its time line."""
    song = demo.get("/bench?piece=3&note=n1").text
    assert "D4 and B4 together" in song
    chord = demo.get("/bench?piece=4&note=n1").text
    assert "The chord in time" in chord
    assert chord.count("chord-piece") >= 4


@pytest.mark.parametrize(
    ("query", "status", "said"),
    [
        ("rig=lute", 404, "no rig"),
        ("lower=3", 422, "the lower string"),
        ("hair=80", 422, "the place on the hair"),
        ("speed=fast", 422, "speed"),
        ("speed=1.9", 422, "the speed is 1.9; it must lie within 2 to 150 cm/s"),
        ("place=0.4", 422, "the place"),
        ("notes=9", 422, "notes"),
    ],
)
def test_what_cannot_be_laid_there_is_refused(client: TestClient, query: str, status: int, said: str) -> None:
    """With the field and its limits."""
    answer = client.get(f"/bench/figures?{query}")
    assert answer.status_code == status
    assert said in answer.text


def test_sliders_change_share_and_place() -> None:
    """What was chosen is what is shown; the verdict names a voice that no longer speaks."""
    best = BenchView(BenchAsk(high_stop=2), preset("violin"))
    moved = BenchView(BenchAsk(high_stop=2, place=3.5, share=80), preset("violin"))
    starved = BenchView(BenchAsk(high_stop=2, share=97), preset("violin"))
    assert moved.place == "3.5"
    assert moved.share == 80
    assert best.place != "3.5"
    assert "too little weight" in starved.verdict


def test_the_level_says_what_the_bow_touches() -> None:
    """In the band of one string that one alone, between two both."""
    step = 15.69
    assert "on A alone" in BenchView(BenchAsk(tilt=step / 2), preset("violin")).level_words
    assert "on D and A together" in BenchView(BenchAsk(tilt=0), preset("violin")).level_words


@pytest.mark.parametrize("count", range(1, 7))
@pytest.mark.parametrize("begins_high", [False, True])
def test_patterns_are_whole_bars_of_two_open_strings(count: int, begins_high: bool) -> None:
    """As many notes a bow as asked, starting on the string and the bow asked."""
    strings = preset("violin").instrument.strings
    pattern = Pattern(strings[1].midi, strings[2].midi, ("D", "A"), count, begins_high, True, False)
    part = ScoreFile(pattern_score(pattern), "x.musicxml").part().part
    assert len(part.events) == BARS * EIGHTHS
    assert part.events[0].top.midi == strings[2 if begins_high else 1].midi
    assert len(part.slurs) == (0 if count == 1 else BARS * EIGHTHS // count)
    assert part.events[0].bow is not None


def test_a_pattern_is_kept_as_a_piece(client: TestClient) -> None:
    """It opens as a piece of the shelf, on the rig of the bench."""
    answer = client.post(
        "/bench/patterns", data={"rig": "viola", "lower": "0", "notes": "3"}, headers={"HX-Request": "true"}
    )
    place = re.match(r"/pieces/\d+", answer.headers["HX-Redirect"])
    assert place is not None
    sheet = client.get(place[0]).text
    assert "Open C and G, 3 a bow" in sheet
    assert "played on the viola" in sheet
