"""The stations in the browser: bars drawn over, a passage planned, the point on the tone map moved."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.player import bring_in, violations


def test_from_music_to_tone(page: Page, tmp_path: Path, axe: str) -> None:
    """Along the path: draw a passage, see it on the map, move a note's point, see the sheet coloured."""
    bring_in(page, tmp_path, "Along the Path")
    page.get_by_role("link", name=re.compile("Music")).click()
    assert violations(page, axe) == []
    notes = page.locator("#line-0").bounding_box()
    assert notes is not None
    y = notes["y"] + 60
    page.mouse.move(notes["x"] + 200, y)
    page.mouse.down()
    page.mouse.move(notes["x"] + 420, y, steps=5)
    page.mouse.up()
    panel = page.locator("#panel")
    expect(panel.get_by_text("As it is written")).to_be_visible()
    assert violations(page, axe) == []
    panel.get_by_role("button", name="calm").click()
    band = page.locator("[data-band]").first
    expect(band).to_have_attribute("aria-label", re.compile("calm, .*soft"))
    panel.get_by_label("Played").select_option("porte")
    expect(band).to_have_attribute("aria-label", re.compile("porté"))
    panel.get_by_text(re.compile("^More")).click()
    panel.get_by_label("Vibrato").select_option("wide")
    panel.get_by_role("button", name="Louder").click()
    expect(panel.get_by_text("−1 dB against mezzo-forte")).to_be_visible()
    page.keyboard.press("Escape")
    expect(panel).to_be_hidden()


def test_passages_are_pulled_by_hand_and_key(page: Page, tmp_path: Path) -> None:
    """An edge by key and by hand, undone by key; notes chosen by key; a step pulled down."""
    bring_in(page, tmp_path, "By Hand and Key")
    page.get_by_role("link", name=re.compile("Music")).click()
    panel, music = page.locator("#panel"), page.locator("#music")
    page.get_by_label("From", exact=True).fill("bar 2")
    page.get_by_label("to", exact=True).fill("bar 3")
    page.get_by_role("button", name="Open").click()
    panel.get_by_role("button", name="calm").click()
    expect(page.locator("[data-band]")).to_have_count(1)
    page.keyboard.press("Escape")
    end = page.locator("[data-edge=end]")
    before = end.get_attribute("aria-valuenow")
    end.press("ArrowRight")
    expect(end).to_have_attribute("aria-valuenow", str(int(before or 0) + 1))
    start = page.locator("[data-edge=start]")
    box = start.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 22, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] - 40, box["y"] + 20, steps=6)
    page.mouse.up()
    expect(start).not_to_have_attribute("aria-valuenow", str(box))
    page.locator("#music").press("z")
    expect(page.get_by_role("button", name="Redo")).to_be_enabled()

    music.focus()
    for key in ("ArrowRight", "ArrowRight", "Shift+ArrowRight", "Enter"):
        music.press(key)
    expect(panel.get_by_text("As it is written")).to_be_visible()
    panel.get_by_role("button", name="bold").click()
    expect(page.locator("[data-band]")).to_have_count(2)
    expect(page.get_by_text("bold → calm")).to_be_visible()
    page.keyboard.press("Escape")
    page.locator("[data-step]").press("ArrowDown")
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("title", re.compile("1 dB softer"))


def test_a_note_goes_to_another_place_on_the_tone_map(page: Page, tmp_path: Path, axe: str) -> None:
    """Its point is moved, the sheet takes the map's colours and the tone's again."""
    bring_in(page, tmp_path, "Along the Tone")
    page.get_by_role("link", name=re.compile("Tone")).click()
    assert violations(page, axe) == []
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
