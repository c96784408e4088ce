"""A journey on the bench: from a note, with sliders, by dragging the bow, to a pattern that is kept."""

import re

from playwright.sync_api import Page, expect

from tests.browser.player import violations


def test_a_double_stop_taken_apart_and_a_pattern_kept(page: Page, axe: str) -> None:
    """Sliders and the bow answer live; nothing complains; the pattern opens as a piece."""
    page.goto("/pieces/3?note=n1")
    page.get_by_role("link", name="Take it apart").click()
    expect(page.get_by_role("heading", name="D4 and B4 together")).to_be_visible()
    assert violations(page, axe) == []
    verdict = page.get_by_role("status")
    before = verdict.inner_text()
    slider = page.locator("[name=share]")
    slider.focus()
    page.keyboard.press("End")
    expect(verdict).to_contain_text("too little weight")
    page.get_by_role("button", name="Best place and share").click()
    expect(verdict).to_have_text(before)

    bow = page.locator(".bridge-large")
    box = bow.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] * 0.75, box["y"] + box["height"] * 0.28)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.75, box["y"] + box["height"] * 0.38, steps=4)
    page.mouse.up()
    expect(page.get_by_text(re.compile("on . alone"))).to_be_visible()
    bow = page.locator(".bridge-large")
    bow.focus()
    old = bow.get_attribute("aria-valuenow")
    page.keyboard.press("ArrowLeft")
    expect(page.locator(".bridge-large")).not_to_have_attribute("aria-valuenow", old or "")

    page.locator("[name=notes]").fill("3")
    page.get_by_role("button", name="Keep as a piece").click()
    page.wait_for_url(re.compile(r"/pieces/\d+$"))
    expect(page.get_by_role("heading", name="Open D and A, 3 a bow")).to_be_visible()
