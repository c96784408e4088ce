"""Journeys of a player: bring a part in, walk, turn a bow, undo, reload, take the score home."""

from pathlib import Path

from playwright.sync_api import Page, expect

from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.formats.score import ScoreFile
from tests.browser.player import BARS, bring_in, direction_of, selected, violations
from tests.helpers import document


def test_from_a_file_to_a_marked_score_with_keys(page: Page, tmp_path: Path, axe: str) -> None:
    """Import, walk, turn a bow, undo, redo, reload, download: everything is kept and nothing complains."""
    bring_in(page, tmp_path, "Key Walk")
    assert violations(page, axe) == []
    for _ in range(4):
        page.keyboard.press("ArrowRight")
    note = selected(page)
    assert note == "n5"
    expect(page.locator(f'[data-card="{note}"]')).to_be_visible()
    before = direction_of(page, note)
    page.keyboard.press("u" if before == "down" else "d")
    expect(page.get_by_role("status")).to_contain_text("bar")
    expect(page.get_by_role("button", name="Unlock")).to_be_visible()
    turned = direction_of(page, note)
    assert turned != before
    assert selected(page) == note
    page.keyboard.press("z")
    expect(page.get_by_role("button", name="Redo")).to_be_enabled()
    expect(page.get_by_role("button", name="Unlock")).to_have_count(0)
    assert direction_of(page, note) == before
    page.keyboard.press("Shift+Z")
    expect(page.get_by_role("button", name="Unlock")).to_be_visible()
    page.reload()
    assert direction_of(page, note) == turned
    assert selected(page) == note
    page.get_by_role("button", name="Take home").click()
    with page.expect_download() as waiting:
        page.get_by_text("Your score with bow marks").click()
    marked = Path(waiting.value.path()).read_bytes()
    again = plan_part(ScoreFile(marked, "marked.musicxml").part().part, preset("violin"))
    assert again.stroke[again.note[note].stroke or ""].direction.word == turned


def test_with_mouse_and_touch(page: Page, tmp_path: Path) -> None:
    """Click a note, turn it on the card, unlock it, step the tempo, follow a line down."""
    bring_in(page, tmp_path, "Mouse Walk")
    page.locator('.hit[data-note="n7"]').click(position={"x": 4, "y": 200})
    expect(page.locator('[data-card="n7"]')).to_be_visible()
    other = "Up" if direction_of(page, "n7") == "down" else "Down"
    page.get_by_role("button", name=other, exact=True).click()
    expect(page.get_by_role("button", name="Unlock")).to_be_visible()
    page.get_by_role("button", name="Unlock").click()
    expect(page.get_by_text("found by the plan")).to_be_visible()
    page.get_by_role("button", name="Slower").click()
    expect(page.get_by_role("status")).to_contain_text("Planned at 76")
    expect(page.get_by_label("Beats a minute")).to_have_value("76")


def test_heads_and_hit_areas_lie_on_each_other(page: Page) -> None:
    """The overlay's ribbons start at the engraved heads to a pixel, at any width."""
    for width in (1280, 1024):
        page.set_viewport_size({"width": width, "height": 768})
        page.goto("/")
        page.goto("/pieces/2")
        off = page.evaluate(
            """() => [...document.querySelectorAll('.system')].slice(0, 2).flatMap(system =>
              [...system.querySelectorAll('.sign')].map(sign => {
                const head = system.querySelector(`.engraved [data-id="${sign.dataset.sign}"] .notehead`);
                const a = sign.querySelector('path').getBoundingClientRect(), b = head.getBoundingClientRect();
                return Math.abs((a.left + a.right) / 2 - (b.left + b.right) / 2);
              }))"""
        )
        assert len(off) >= 10
        assert max(off) < 1.0


def test_findings_lead_to_their_notes(page: Page) -> None:
    """Click a finding, or step through them with the full stop."""
    page.goto("/pieces/2")
    first = page.locator("[data-goto]").first
    note = first.get_attribute("data-goto")
    first.click()
    assert selected(page) == note
    page.keyboard.press("Home")
    page.keyboard.press(".")
    assert selected(page) in [b.get_attribute("data-goto") for b in page.locator("[data-goto]").all()]


def test_help_is_offered_and_taken_by_key(page: Page, axe: str) -> None:
    """The next finding, its help, taken and undone; the card says how to play the note."""
    page.goto("/pieces/1")
    page.locator("[data-goto]").first.click()
    helps = page.locator("[data-fix]")
    expect(helps.first).to_be_visible()
    expect(page.get_by_role("heading", name="How")).to_be_visible()
    assert violations(page, axe) == []
    page.keyboard.press("f")
    expect(page.get_by_role("status")).to_contain_text("bar", ignore_case=True)
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.keyboard.press("z")
    expect(page.get_by_role("button", name="Redo")).to_be_enabled()


def test_fast_keys_are_carried_out_one_after_the_other(page: Page) -> None:
    """Four turns in a row without waiting: none is lost or refused."""
    page.goto("/pieces/1")
    page.keyboard.press("Home")
    for key in ("u", "d", "u", "d"):
        page.keyboard.press(key)
    expect(page.get_by_role("button", name="Unlock")).to_be_visible()
    for _ in range(4):
        page.keyboard.press("z")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    expect(page.locator("#message")).to_be_empty()


def test_a_refused_file_says_why_on_the_shelf(page: Page, tmp_path: Path) -> None:
    """The message stands in its place; the shelf is as it was."""
    page.goto("/")
    cards = page.locator("main ul > li").count()
    broken = tmp_path / "broken.musicxml"
    broken.write_bytes(b"<score-partwise><part>")
    with page.expect_console_message():  # the browser notes every refusal
        page.set_input_files("input[type=file]", broken)
        expect(page.get_by_role("alert")).to_contain_text("line 1")
    page.reload()
    assert page.locator("main ul > li").count() == cards


def test_a_file_that_is_too_large_is_not_sent(page: Page, tmp_path: Path) -> None:
    """30 MB: the message says the limit, and nothing leaves the page."""
    page.goto("/")
    large = tmp_path / "large.xml"
    large.write_bytes(b"x" * 30_000_000)
    sent: list[str] = []
    page.on("request", lambda request: sent.append(request.url) if request.method == "POST" else None)
    page.set_input_files("input[type=file]", large)
    expect(page.get_by_role("alert")).to_contain_text("30 MB; Pathway takes up to 20")
    assert sent == []


def test_a_part_dropped_on_the_shelf_is_taken(page: Page) -> None:
    """Drag and drop does what the button does."""
    page.goto("/")
    text = document(BARS, title="Dropped Walk").decode()
    transfer = page.evaluate_handle(
        """text => { const t = new DataTransfer(); t.items.add(new File([text], 'walk.musicxml')); return t; }""", text
    )
    page.dispatch_event("#drop", "drop", {"dataTransfer": transfer})
    expect(page.get_by_role("heading", name="Dropped Walk")).to_be_visible()
    page.get_by_role("button", name="Not now").click()
    expect(page.get_by_role("heading", name="Dropped Walk")).to_have_count(0)
