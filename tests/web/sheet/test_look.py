"""How the sheet is looked at."""

import re

from fastapi.testclient import TestClient

from pathway.web.shared.tracks.look import LEGENDS, Look
from tests.helpers import plan_of


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
