"""The workspace: everything by key, by mouse, over two tabs, and beside the plan."""

import re
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from tests.browser.player import bring_in, direction_of, selected, violations


def _press(page: Page, key: str) -> None:
    """Press a key that edits, and wait until the plan has answered."""
    version = page.locator("#tempo").get_attribute("data-version")
    page.keyboard.press(key)
    expect(page.locator("#tempo")).not_to_have_attribute("data-version", version or "")


def test_a_plan_settled_with_keys_only(page: Page, tmp_path: Path, axe: str) -> None:
    """Walk, turn, move an end, change lane, weight and tilt, split, join, hook, undo all of it."""
    bring_in(page, tmp_path, "Keys Alone")
    page.keyboard.press("ArrowRight")
    assert selected(page) == "n2"
    _press(page, "s")
    assert page.locator('.ribbon[data-stroke="n2"]').count() == 1
    _press(page, "u" if direction_of(page, "n2") == "down" else "d")
    _press(page, "]")
    expect(page.locator(".setting.set")).to_have_count(1)
    _press(page, "2")
    expect(page.locator(".lane-dot.locked")).to_have_count(1)
    _press(page, "=")
    _press(page, "t")
    expect(page.locator(".setting.set")).to_have_count(4)
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    expect(page.locator(".hit.also")).to_have_count(2)
    _press(page, "4")
    expect(page.locator(".lane-dot.locked")).to_have_count(3)
    assert violations(page, axe) == []
    for _ in range(7):
        _press(page, "z")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    expect(page.locator(".lane-dot.locked")).to_have_count(0)
    _press(page, "j")
    _press(page, "l")
    expect(page.locator(".setting.set")).to_have_count(0)


def test_values_are_kept_as_they_are_and_tracks_are_folded(page: Page, tmp_path: Path, axe: str) -> None:
    """One key keeps a bow and lets it go again, a pin keeps one value; what is folded stays so after a reload."""
    bring_in(page, tmp_path, "Kept and Folded")
    start = page.get_by_role("group", name="Starts").locator("b").inner_text()
    _press(page, "l")
    expect(page.locator(".setting.set")).to_have_count(2)
    expect(page.get_by_role("button", name="Unlock")).to_be_visible()
    assert page.get_by_role("group", name="Starts").locator("b").inner_text() == start
    _press(page, "l")
    expect(page.locator(".setting.set")).to_have_count(0)
    page.get_by_role("button", name="Keep lane as it is").click()
    expect(page.locator(".lane-dot.locked")).to_have_count(1)
    page.get_by_role("button", name="Keep stroke type as it is").click()
    expect(page.locator(".setting.set")).to_have_count(2)
    page.get_by_role("button", name="Stroke type is set by you").click()
    expect(page.locator(".setting.set")).to_have_count(1)
    page.locator(".hit").nth(2).hover()
    assert "centimetres from the bridge" in page.locator(".hit title").first.inner_html()
    page.get_by_role("button", name="lanes").click()
    expect(page.locator(".lane-dot")).to_have_count(0)
    page.reload()
    expect(page.locator(".lane-dot")).to_have_count(0)
    expect(page.locator(".string-note")).not_to_have_count(0)
    assert violations(page, axe) == []
    page.get_by_role("button", name="lanes").click()
    expect(page.locator(".lane-dot").first).to_be_attached()


def _drag(page: Page, grip: str, by: float) -> None:
    box = page.locator(f"[data-grip={grip}]").bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + by / 2)
    page.mouse.move(x, y + by)
    page.mouse.up()


def test_the_same_with_the_mouse_and_what_lies_beside(page: Page, tmp_path: Path, axe: str) -> None:
    """Drag an end, click a sign, choose from lists; hear, variants, history, a finding laid aside."""
    bring_in(page, tmp_path, "Mouse Alone")
    page.locator('.hit[data-note="n3"]').click()
    expect(page.locator('[data-card="n3"]')).to_be_visible()
    expect(page.locator("[data-grip=end]")).to_be_attached()
    version = page.locator("#tempo").get_attribute("data-version")
    _drag(page, "end", 12)
    expect(page.locator("#tempo")).not_to_have_attribute("data-version", version or "")
    expect(page.locator(".ribbon .pin")).to_have_count(1)
    before = direction_of(page, "n4")
    page.locator('[data-sign="n4"] .sign-hit').click()
    expect(page.locator('.ribbon[data-notes~="n4"]')).not_to_have_attribute("data-direction", before)
    version = page.locator("#tempo").get_attribute("data-version")
    page.get_by_label("Stroke type", exact=True).select_option("martele")
    expect(page.locator("#tempo")).not_to_have_attribute("data-version", version or "")
    expect(page.get_by_label("Stroke type", exact=True)).to_have_value("martele")
    page.get_by_label("I hear …").select_option("grating")
    expect(page.get_by_text("You hear: grating")).to_be_visible()

    page.get_by_role("button", name="Variants").click()
    page.get_by_label("Keep the plan").fill("With an edge")
    page.get_by_role("button", name="Keep", exact=True).click()
    page.get_by_role("button", name="Close", exact=True).click()
    page.keyboard.press("z")
    page.keyboard.press("z")
    page.get_by_role("button", name="Variants").click()
    page.get_by_role("button", name="Lay over the sheet").click()
    expect(page.locator(".ghost-ribbon").first).to_be_visible()
    expect(page.get_by_label("Comparison")).to_contain_text("differ")
    assert violations(page, axe) == []
    page.get_by_role("button", name="Take With an edge").click()
    expect(page.locator(".ghost-ribbon")).to_have_count(0)
    page.get_by_role("button", name="History").click()
    expect(page.locator("#drawer-body")).to_contain_text("Variant With an edge")
    page.get_by_role("button", name="Plan the rest anew").click()
    expect(page.get_by_label("Comparison")).to_contain_text("the one planned anew")
    page.keyboard.press("Escape")
    expect(page.get_by_label("Comparison")).to_have_count(0)
    page.keyboard.press("a")
    page.get_by_role("button", name="Put away").click()
    expect(page.get_by_label("Comparison")).to_have_count(0)
    page.get_by_role("button", name="History").click()
    page.locator("[data-rewind='0']").click()
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    page.get_by_role("button", name="Close", exact=True).click()


def test_a_fix_shows_its_ghost_and_a_finding_can_be_laid_aside(page: Page) -> None:
    """Hover a help and see it on the sheet; lay the finding aside with a reason and bring it back."""
    page.goto("/pieces/1")
    page.locator("[data-goto]").first.click()
    fix = page.locator("[data-fix]").first
    fix.hover()
    expect(page.locator(".ghost-ribbon").first).to_be_attached()
    page.get_by_role("heading", name="The Ferry's Ledger").hover()
    expect(page.locator(".ghost-ribbon")).to_have_count(0)
    count = page.locator("[data-aside]").count()
    page.locator("[data-aside]").last.click()
    page.get_by_label("It stays as it is, because").fill("my section does it so")
    page.get_by_role("button", name="Lay it aside").click()
    expect(page.locator("[data-aside]")).to_have_count(count - 1)
    page.get_by_text("laid aside").first.click()
    page.get_by_role("button", name="Bring back").click()
    expect(page.locator("[data-aside]")).to_have_count(count)


def test_tempo_follows_the_slider_and_the_line_plays(page: Page) -> None:
    """The findings change while it moves; let go it is kept; Space starts and stops the line."""
    page.goto("/pieces/2")
    slider = page.locator("[data-tempo-slider]")
    before = page.locator("#tempo").get_attribute("data-version") or ""
    slider.evaluate("(s) => { s.value = 50; s.dispatchEvent(new Event('input', {bubbles: true})); }")
    expect(page.locator("#findings")).to_contain_text("fits into one bow")
    assert page.locator("#tempo").get_attribute("data-version") == before
    slider.evaluate("(s) => { s.value = 84; s.dispatchEvent(new Event('change', {bubbles: true})); }")
    expect(page.locator("#tempo")).not_to_have_attribute("data-version", before)
    page.keyboard.press("Space")
    expect(page.locator(".play-line")).to_be_attached()
    expect(page.get_by_role("button", name="Play", exact=True)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Space")
    expect(page.locator(".play-line")).to_have_count(0)


def test_two_tabs_do_not_overwrite_each_other(browser: Browser, base_url: str, page: Page, tmp_path: Path) -> None:
    """The tab that lags behind, since it hears nothing of the other, is told, and nothing is lost."""
    bring_in(page, tmp_path, "Two Tabs")
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=base_url)
    other = context.new_page()
    other.route("**/live", lambda route: route.abort())
    other.goto(page.url)
    _press(page, "2")
    other.keyboard.press("5")
    expect(other.get_by_role("alert")).to_contain_text("changed somewhere else")
    other.reload()
    expect(other.locator(".lane-dot.locked")).to_have_count(1)
    context.close()


def test_two_tabs_follow_each_other(browser: Browser, base_url: str, page: Page, tmp_path: Path) -> None:
    """What one does is in the other, which then goes on from there without a conflict."""
    bring_in(page, tmp_path, "Two Tabs Together")
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=base_url)
    other = context.new_page()
    other.goto(page.url)
    other.locator(".hit").first.wait_for()
    _press(page, "2")
    expect(other.locator(".lane-dot.locked")).to_have_count(1)
    _press(other, "u")
    expect(other.get_by_text("changed somewhere else")).to_have_count(0)
    expect(page.get_by_role("button", name="Unlock")).to_be_visible()
    context.close()


def test_a_server_that_is_gone_loses_no_edit(page: Page, tmp_path: Path) -> None:
    """It is said at once, and the edit arrives when the server is back."""
    page.route("**/edit", lambda route: route.abort())  # before the page is there: later it may come too late
    bring_in(page, tmp_path, "Gone and Back")
    problems_expected = re.compile("does not answer")
    page.keyboard.press("2")
    expect(page.get_by_role("alert")).to_contain_text(problems_expected)
    page.unroute("**/edit")
    expect(page.locator(".lane-dot.locked")).to_have_count(1)


def test_a_plan_that_takes_long_is_told_of_until_it_is_there(page: Page, tmp_path: Path) -> None:
    """Beside the figures."""
    bring_in(page, tmp_path, "Takes Long")
    page.evaluate(
        """() => { const ask = window.fetch; window.fetch = (...what) =>
          new Promise((come) => setTimeout(() => come(ask(...what)), 2000)); }"""
    )
    page.keyboard.press("2")
    told = "() => { const said = getComputedStyle(document.getElementById('status'), '::after'); return %s }"
    page.wait_for_timeout(500)
    assert page.evaluate(told % "said.content + said.visibility") == '"Planning …"visible'
    expect(page.locator(".lane-dot.locked")).to_have_count(1)
    expect(page.locator("#status")).not_to_have_class(re.compile("htmx-request"))
    assert page.evaluate(told % "said.content") == "none"


def test_a_card_asked_for_before_an_edit_does_not_come_after_it(page: Page, tmp_path: Path) -> None:
    """It would show the note as it was; a refused edit brings none, so that it is asked for again."""
    bring_in(page, tmp_path, "Card on the Way")
    page.evaluate(
        """() => { const ask = window.fetch; window.fetch = (where, how) => ask(where, how).then((answer) =>
          /notes.n\\d+$/.test(where) ? new Promise((come, fail) => {
            how.signal.addEventListener("abort", () => fail(new DOMException("", "AbortError")));
            setTimeout(() => come(answer), 1500);
          }) : answer); }"""
    )
    page.locator('.hit[data-note="n3"]').click()
    page.wait_for_timeout(200)
    page.keyboard.press("u")
    expect(page.get_by_role("button", name="Unlock")).to_be_visible()
    page.wait_for_timeout(2000)
    expect(page.get_by_role("button", name="Unlock")).to_be_visible()
    page.locator('.hit[data-note="n1"]').click()
    page.wait_for_timeout(200)
    page.keyboard.press("s")  # no slur is there
    expect(page.locator('[data-card="n1"]')).to_be_visible()


def test_what_fails_beside_an_edit_does_not_send_it_twice(page: Page, tmp_path: Path) -> None:
    """The card of another note is lost while an edit is under way: the edit is done once, and nothing is said of it."""
    bring_in(page, tmp_path, "Lost Beside")
    version = int(page.locator("#tempo").get_attribute("data-version") or "")
    page.evaluate(
        """() => document.addEventListener("htmx:before:request", () => document.dispatchEvent(new CustomEvent(
          "htmx:error", { detail: { ctx: { request: { action: "/pieces/1/notes/n2" } } } })), { once: true })"""
    )
    _press(page, "]")
    expect(page.locator("#message")).to_be_empty()
    assert page.locator("#tempo").get_attribute("data-version") == str(version + 1)


def test_a_drawer_has_the_keys_to_itself(page: Page, tmp_path: Path) -> None:
    """While the history is open no key edits behind it; Escape closes it."""
    bring_in(page, tmp_path, "Behind the Drawer")
    _press(page, "]")
    version = page.locator("#tempo").get_attribute("data-version") or ""
    page.get_by_role("button", name="History", exact=True).click()
    expect(page.locator("[data-rewind]").first).to_be_visible()
    page.keyboard.press("d")
    page.keyboard.press("Escape")
    expect(page.locator("#drawer")).not_to_be_visible()
    assert page.locator("#tempo").get_attribute("data-version") == version
    _press(page, "z")
