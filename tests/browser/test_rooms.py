"""The rooms around the sheet in the browser: one's own bow, the bounce, stroke types, the shelf."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.player import bring_in


def test_from_ones_own_bow_to_a_changed_plan(page: Page, tmp_path: Path) -> None:
    """Measure, keep, name, play a piece on it: its card tells another moment of the hand; then let the rig go."""
    bring_in(page, tmp_path, "Own Bow")
    piece = page.url
    card = page.locator("#card")
    before = card.inner_text()
    page.goto("/rigs/violin")
    page.get_by_label("Weight", exact=True).fill("52")
    page.get_by_label("Balance point", exact=True).fill("24")
    page.get_by_role("button", name="Make it mine").click()
    expect(page.get_by_role("heading", name="My violin")).to_be_visible()
    page.get_by_role("button", name="Typical: 60 g").click()
    expect(page.get_by_label("Weight", exact=True)).to_have_value("60")
    page.get_by_label("Weight", exact=True).fill("900")
    page.get_by_role("button", name="Keep these numbers").click()
    expect(page.get_by_role("alert")).to_contain_text("bow.mass_g is 900")
    page.get_by_label("Name", exact=True).fill("Grandmother's bow")
    page.get_by_role("button", name="Rename").click()
    expect(page.get_by_role("heading", name="Grandmother's bow")).to_be_visible()
    page.goto(f"{piece}/rig")
    page.get_by_label("Play it on").select_option(label="Grandmother's bow")
    page.get_by_role("button", name="Plan it so").click()
    expect(page.get_by_role("heading", name="Played on Grandmother's bow")).to_be_visible()
    page.get_by_role("link", name=re.compile("Bowing")).click()
    assert card.inner_text() != before
    page.goto("/rigs")
    page.get_by_role("link", name="Grandmother's bow").click()
    page.get_by_role("button", name="Delete it").click()
    expect(page.get_by_role("alert")).to_contain_text("is used by Own Bow")


def test_the_bow_bounces_and_is_measured(page: Page) -> None:
    """Taps by key and by click are counted; the simulated bow gives a curve that can be taken into the rig."""
    page.goto("/rigs/viola/bounce")
    for _ in range(4):
        page.keyboard.press("t")
        page.wait_for_timeout(60)
    for _ in range(3):
        page.get_by_role("button", name=re.compile("Tap here")).click()
        page.wait_for_timeout(60)
    expect(page.locator("[data-count]")).to_have_text("7")
    page.get_by_role("button", name="Let a simulated bow tap").click()
    expect(page.get_by_text("looser than set")).to_be_visible()
    page.get_by_role("button", name="Take it into the rig").click()
    expect(page.get_by_role("heading", name="My viola")).to_be_visible()
    page.get_by_role("button", name="Delete it").click()
    expect(page.get_by_role("heading", name="Rig room")).to_be_visible()


def test_stroke_types_beside_each_other(page: Page) -> None:
    """From the list to a page, to its neighbour, side by side."""
    page.goto("/strokes?search=dots")
    page.get_by_role("link", name=re.compile("^spiccato")).click()
    expect(page.get_by_role("heading", name="On your bow")).to_be_visible()
    page.get_by_role("link", name="compare").first.click()
    expect(page.get_by_role("region", name="Side by side").get_by_role("article")).to_have_count(2)


def test_a_piece_off_the_shelf_comes_back(page: Page, tmp_path: Path) -> None:
    """Taken off by its button, its place offers it again."""
    bring_in(page, tmp_path, "Off And On")
    page.goto("/")
    page.get_by_role("button", name="Take Off And On off the shelf").click()
    expect(page.get_by_text("Off And On is off the shelf")).to_be_visible()
    page.get_by_role("button", name="Put it back").click()
    expect(page.get_by_role("heading", name="Off And On")).to_be_visible()


def test_everything_goes_into_one_file_and_comes_back(page: Page, tmp_path: Path) -> None:
    """Back up, take a piece off the shelf, put the backup in its place: the piece is there again, with its plan."""
    bring_in(page, tmp_path, "Safe And Sound")
    piece = page.url
    ends = page.locator(".ribbon").evaluate_all("(all) => all.map((one) => one.getAttribute('d'))")
    page.goto("/settings")
    with page.expect_download() as found:
        page.get_by_role("link", name="Back up everything").click()
    saved = tmp_path / "backup.zip"
    found.value.save_as(saved)
    page.goto("/")
    page.get_by_role("button", name="Take Safe And Sound off the shelf").click()
    expect(page.get_by_text("Safe And Sound is off the shelf")).to_be_visible()
    page.goto("/settings")
    page.set_input_files("input[type=file]", tmp_path / "part.musicxml")
    page.get_by_role("button", name="Look into it").click()
    expect(page.get_by_role("alert")).to_contain_text("not a backup of Pathway")
    page.set_input_files("input[type=file]", saved)
    page.get_by_role("button", name="Look into it").click()
    expect(page.get_by_role("row", name="pieces on the shelf")).to_be_visible()
    page.get_by_role("button", name="Yes, put it there").click()
    expect(page.get_by_text("Everything is back")).to_be_visible()
    page.goto("/")
    expect(page.get_by_role("heading", name="Safe And Sound")).to_be_visible()
    page.goto(piece)
    assert page.locator(".ribbon").evaluate_all("(all) => all.map((one) => one.getAttribute('d'))") == ends


def test_choices_are_kept_and_told(page: Page) -> None:
    """Inches on the card, and centimetres again."""
    page.goto("/settings")
    page.get_by_label("Lengths").select_option("inch")
    with page.expect_navigation():
        page.get_by_role("button", name="Keep", exact=True).click()
    page.goto("/pieces/1")
    expect(page.locator("#card")).to_contain_text("in/s")
    page.goto("/settings")
    expect(page.get_by_label("Lengths")).to_have_value("inch")
    page.get_by_label("Lengths").select_option("cm")
    with page.expect_navigation():
        page.get_by_role("button", name="Keep", exact=True).click()
    page.goto("/pieces/1")
    expect(page.locator("#card")).to_contain_text("cm/s")
