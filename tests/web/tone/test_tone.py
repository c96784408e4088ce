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
