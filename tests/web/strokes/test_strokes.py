"""The pages of the stroke types."""

import re

import pytest
from fastapi.testclient import TestClient

from pathway.core.technique.stroke_types import STROKE_TYPES


@pytest.mark.parametrize("key", STROKE_TYPES)
def test_every_stroke_type_has_its_page(demo: TestClient, key: str) -> None:
    """With its motion, its zone on the rig, and its neighbours."""
    page = demo.get(f"/strokes/{key}")
    assert page.status_code == 200
    assert 'class="motion motion-place"' in page.text
    assert "cm from the frog on" in page.text


def test_stroke_types_are_searched_compared_and_found_on_the_shelf(demo: TestClient) -> None:
    """By a word of theirs; two side by side; with the bars that use them."""
    page = demo.get("/strokes?search=wedges").text
    assert page.count('href="/strokes/martele"') == 1
    assert 'href="/strokes/legato"' not in page
    assert demo.get("/strokes?one=spiccato&other=sautille").text.count("Goes wrong:") == 2
    assert re.search(r"Slack Water</a>, bars 19, 20", demo.get("/strokes/martele").text)
    assert demo.get("/strokes/sneeze").status_code == 404
