"""What a player does and sees on a page, told in a word: for all tests that play one."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.helpers import document

BARS = "[mf] (d4:4 e4) f#4 g4 | a4 b4 c5 d5 | (e5:2 d5:2) | c5:4 b4 a4 g4 | f#4 e4 d4 r"
RULES = ("wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "best-practice")
_LOOK = """async (runOnly) => {
  const found = await axe.run(document, { runOnly, resultTypes: ["violations"] });
  return found.violations.map((one) => `${one.id}: ${one.nodes[0].html.slice(0, 120)}`);
}"""


def violations(page: Page, axe: str, rules: tuple[str, ...] = RULES) -> list[str]:
    """What is not accessible on a page; told there, since all that axe looked at is many times the page."""
    page.evaluate(axe)
    found: list[str] = page.evaluate(_LOOK, list(rules))
    return found


def bring_in(page: Page, tmp_path: Path, title: str) -> None:
    """Plan a short part under a title of its own."""
    score = tmp_path / "part.musicxml"
    score.write_bytes(document(BARS, title=title))
    page.goto("/")
    page.set_input_files("input[type=file]", score)
    page.get_by_role("button", name="Plan this part").click()
    page.wait_for_url(re.compile(r"/pieces/\d+$"))
    expect(page.get_by_role("heading", name=title)).to_be_visible()


def direction_of(page: Page, note: str) -> str:
    """The direction in which a stroke is drawn."""
    return page.locator(f'.ribbon[data-notes~="{note}"]').first.get_attribute("data-direction") or ""


def selected(page: Page) -> str:
    """The note on which the player stands."""
    return page.locator('.hit[aria-current="true"]').get_attribute("data-note") or ""
