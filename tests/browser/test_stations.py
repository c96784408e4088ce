"""The stations in the browser: bars drawn over, a passage planned, the point on the tone map moved."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_journeys import _import, _violations

pytestmark = pytest.mark.browser


def test_from_music_to_tone(page: Page, tmp_path: Path, axe: str) -> None:
    """Along the path: draw a passage, see it on the map, move a note's point, see the sheet coloured."""
    _import(page, tmp_path, "Along the Path")
    page.get_by_role("link", name=re.compile("Music")).click()
    assert _violations(page, axe) == []
    first, third = (page.locator(f'[data-bar="{n}"]').bounding_box() for n in (1, 3))
    assert first is not None
    assert third is not None
    page.mouse.move(first["x"] + 20, first["y"] + 20)
    page.mouse.down()
    page.mouse.move(third["x"] + 20, third["y"] + 20, steps=5)
    page.mouse.up()
    new = page.locator("#new-passage")
    expect(new.get_by_label("to", exact=True)).to_have_value("bar 3")
    new.get_by_label("Character").fill("calm")
    new.get_by_label("Level, dB").fill("-4")
    new.get_by_role("button", name="Add it").click()
    expect(page.get_by_role("heading", name=re.compile("1. calm"))).to_be_visible()

    page.locator("[data-edge=end]").press("ArrowRight")
    expect(page.get_by_text("bar 1 beat 1 to bar 4 beat")).to_be_visible()
    handle, second = page.locator("[data-edge=end]").bounding_box(), page.locator('[data-bar="2"]').bounding_box()
    assert handle is not None
    assert second is not None
    page.mouse.move(handle["x"] + 13, handle["y"] + 22)
    page.mouse.down()
    page.mouse.move(second["x"] + 40, second["y"] + 30, steps=6)
    page.mouse.up()
    expect(page.get_by_text("bar 1 beat 1 to bar 2 beat")).to_be_visible()

    page.get_by_role("link", name=re.compile("Tone")).click()
    assert _violations(page, axe) == []
    point = page.locator(".tone-map .point")
    box = point.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 9, box["y"] + 9)
    page.mouse.down()
    page.mouse.move(box["x"] + 90, box["y"] + 30, steps=4)
    with page.expect_navigation():
        page.mouse.up()
    expect(page.get_by_text(re.compile("up the window"))).to_be_visible()
    with page.expect_navigation():
        page.get_by_role("button", name="brightness").click()
    expect(page.get_by_text("a little bright")).to_be_visible()
    page.keyboard.press("ArrowRight")
    page.get_by_role("button", name="Show the tone again").click()
    expect(page.get_by_text("a little bright")).to_have_count(0)
    expect(page.locator(".lane-dot.locked")).to_have_count(1)
