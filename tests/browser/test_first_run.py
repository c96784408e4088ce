"""A stranger with a score of several parts: from the file to a finding that is solved, by keys or by touch alone."""

import re
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from tests.web.shelf.test_exchange import two_parts

LONG = "[f] (d5:1 | e5:1 | f#5:1 | g5:1) | a5:4 g5 f#5 e5 | d5:1"  # four bars in one bow, loud: it runs out


def _score(tmp_path: Path) -> Path:
    path = tmp_path / "stranger.musicxml"
    path.write_bytes(two_parts(other=LONG))
    return path


def _findings(page: Page) -> int:
    return page.locator("#findings [data-goto]").count()


def test_by_keys_alone(page: Page, tmp_path: Path) -> None:
    """The file, the second part, the plan, the worst finding, its first help; the keys lie over the sheet."""
    page.goto("/")
    page.locator("#file, input[type=file]").first.set_input_files(_score(tmp_path))
    page.get_by_role("radio", name=re.compile("Violin I ")).focus()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("radio", name=re.compile("Violin II"))).to_be_checked()
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile(r"/pieces/\d+$"))
    page.locator(".hit").first.wait_for()
    before = _findings(page)
    assert before > 0
    page.keyboard.press("?")
    expect(page.locator("#drawer")).to_contain_text("take the first help for this note")
    assert re.search(r"/pieces/\d+$", page.url)
    page.keyboard.press("Escape")
    page.keyboard.press(".")
    expect(page.locator("#card [data-fix]").first).to_be_visible()
    page.keyboard.press("f")
    expect(page.locator("#findings [data-goto]")).not_to_have_count(before)
    assert _findings(page) < before


def test_by_touch_alone(browser: Browser, base_url: str, tmp_path: Path) -> None:
    """The same with taps on a tablet."""
    context = browser.new_context(viewport={"width": 1024, "height": 768}, base_url=base_url, has_touch=True)
    page = context.new_page()
    page.set_default_timeout(30_000)
    page.goto("/")
    page.locator("#file, input[type=file]").first.set_input_files(_score(tmp_path))
    page.locator("#choice").get_by_text("Violin II").tap()
    page.get_by_role("button", name="Plan this part").tap()
    page.wait_for_url(re.compile(r"/pieces/\d+$"))
    page.locator("#findings [data-goto]").first.tap()
    before = _findings(page)
    page.locator("#card [data-fix]").first.tap()
    expect(page.locator("#findings [data-goto]")).not_to_have_count(before)
    assert _findings(page) < before
    context.close()


def test_the_card_shows_what_is_used_most_without_scrolling(page: Page) -> None:
    """At 1280 by 800: direction, both ends of the bow, lane, weight and tilt."""
    page.goto("/pieces/6?note=n1")
    for name in ("Starts", "Ends at", "Lane", "Weight", "Tilt"):
        box = page.locator("#card").get_by_role("group", name=name, exact=True).bounding_box()
        assert box is not None
        assert box["y"] + box["height"] <= 800
