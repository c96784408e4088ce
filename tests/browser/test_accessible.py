"""Every page can be used by all: names, roles and order, and contrast in both lights."""

import pytest
from playwright.sync_api import Page

from tests.browser.player import violations


@pytest.mark.parametrize(
    "path",
    [
        "/", "/pieces/2", "/pieces/4", "/pieces/2/music", "/pieces/4/tone", "/bench", "/keys", "/rigs", "/rigs/cello",
        "/rigs/violin/bounce", "/rigs/violin/reach", "/strokes", "/strokes/spiccato", "/help", "/help/schools",
        "/settings", "/settings/sharing", "/pieces/2/rig", "/pieces/2/stand", "/pieces/2/print", "/pieces/2/about",
        "/pieces/2/takes", "/practise", "/practise/print", "/practise/log", "/practise/drills",
        "/practise/drill?drill=angle.low to high.2", "/pieces/2/practise",
    ],
)  # fmt: skip
def test_every_page_can_be_used_by_all(page: Page, axe: str, path: str) -> None:
    """By day every rule is looked at; in the evening only colours are others."""
    page.goto(path)
    assert violations(page, axe) == []
    page.evaluate("document.documentElement.dataset.theme = 'evening'")
    assert violations(page, axe, ("color-contrast",)) == []
