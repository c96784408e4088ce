"""The station Tone."""

from fastapi.testclient import TestClient


def test_the_tone_station_shows_the_note_and_the_balance(demo: TestClient) -> None:
    """The map with its point, groups of notes, and links to the worst."""
    page = demo.get("/pieces/3/tone?note=n1").text
    assert "Bar 1, beat 1: B4 on A" in page
    assert 'class="point"' in page
    for title in ("Down and up", "Strings", "Parts of the bow", "Second voices"):
        assert title in page
    assert page.count("/pieces/3/tone?note=") == 5


def test_the_string_is_seen_as_it_is_heard(demo: TestClient) -> None:
    """As planned, too light and too heavy, each with its picture, its words and its sound."""
    page = demo.get("/pieces/2/tone?note=n1").text
    assert 'hx-get="/pieces/2/tone/seen?note=n1"' in page
    seen = demo.get("/pieces/2/tone/seen?note=n1").text
    assert seen.count('class="picture seen"') == 3
    assert seen.count("<animateMotion") == 3
    assert seen.index("a clear tone") < seen.index("airy") < seen.index("raucous")
    assert "mm to and fro" in seen
    assert seen.count("data-clip=") == 3
    assert "heard=breathy" in seen
    assert demo.get("/pieces/2/tone/seen?note=n999").status_code == 404
