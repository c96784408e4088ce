"""Practice by keys alone, by touch, over a reload, and with a server that does not answer."""

import re

from playwright.sync_api import Browser, Page, Route, expect

TOLL = "/pieces/6"


def _set_is_heard(page: Page) -> None:
    """Wait until the line moves over the music."""
    expect(page.locator("#sheet .play-line")).to_be_attached()


def _open(page: Page, drill: str) -> None:
    """Open a drill, and wait until its keys are heard."""
    page.goto(f"/practise/drill?drill={drill}")
    expect(page.locator("#status")).not_to_be_empty()


def test_from_a_finding_to_a_passed_rung_by_keys_alone(page: Page) -> None:
    """A finding, its drill, three tries with verdicts, the next rung, and back; it is in the log."""
    page.goto(TOLL)
    page.keyboard.press(".")
    expect(page.locator("#card .drill-line").first).to_be_visible()
    page.keyboard.press("w")
    page.wait_for_url(re.compile("/practise/drill"))
    expect(page.locator("#status")).to_contain_text("rung 1 of")
    page.keyboard.press("2")
    expect(page.locator(".stand-more")).to_contain_text("so far: nearly")
    for n in range(3):
        page.keyboard.press(" " if n else "PageDown")
        _set_is_heard(page)
        page.keyboard.press("1")
        expect(page.locator("#sheet .play-line")).to_have_count(0)
    expect(page.locator("[data-told]")).to_contain_text("rung 2 of")
    page.keyboard.press("Escape")
    expect(page.locator("#hand")).to_be_visible()
    page.keyboard.press("1")
    page.wait_for_url(re.compile("/pieces/6/practise"))
    page.goto("/practise/log")
    row = page.locator(".sets tbody tr").first
    expect(row).to_contain_text("3 of 4 clean, rung passed")
    expect(row).to_contain_text("easy")


def test_by_touch(browser: Browser, base_url: str) -> None:
    """A tap on the music is the next try, taps say what it was like; the page is a tablet's."""
    context = browser.new_context(viewport={"width": 1024, "height": 768}, base_url=base_url, has_touch=True)
    page = context.new_page()
    page.goto("/practise")
    page.locator(".day-entry").filter(has_text="Long tones").get_by_role("link", name="Begin").tap()
    page.wait_for_url(re.compile("/practise/drill"))
    page.locator("#sheet .system").first.tap()
    _set_is_heard(page)
    page.locator("#sheet .system").first.tap()
    expect(page.locator("#sheet .play-line")).to_have_count(0)
    for _ in range(3):
        page.get_by_role("button", name=re.compile("^clean")).tap()
        page.wait_for_timeout(300)
    expect(page.locator("#stand")).to_contain_text(re.compile(r"rung [23] of|The last rung is passed"))
    for button in page.locator(".stand-key").all():
        box = button.bounding_box()
        assert box is not None
        assert box["height"] >= 44
    context.close()


def test_a_reload_loses_nothing(page: Page) -> None:
    """The set goes on where it was: its tries are those of one set."""
    _open(page, "tilt-turns.tilted first.3")
    page.keyboard.press("2")
    expect(page.locator(".stand-more")).to_contain_text("so far: nearly")
    page.reload()
    expect(page.locator(".stand-more")).to_contain_text("so far: nearly")
    page.keyboard.press("3")
    expect(page.locator(".stand-more")).to_contain_text("so far: nearly · not yet")
    sets = page.request.get("/practise/log.json").json()["sets"]
    (mine,) = [one for one in sets if one["drill"].startswith("tilt-turns.tilted first")]
    assert mine["tries"] == ["nearly", "not yet"]


def test_what_is_said_while_the_server_is_gone_is_sent_when_it_is_back(page: Page) -> None:
    """Kept in the browser, told, and counted once."""
    gone = True

    def refuse(route: Route) -> None:
        route.abort() if gone else route.continue_()

    page.route("**/practise/drill/try", refuse)  # before the page is there: later it may come too late
    _open(page, "angle.high to low.2")
    page.keyboard.press("1")
    expect(page.locator("#message")).to_contain_text("kept here")
    page.reload()
    expect(page.locator("#status")).not_to_be_empty()
    page.keyboard.press("2")
    gone = False
    expect(page.locator(".stand-more")).to_contain_text("so far: clean · nearly", timeout=15_000)
    expect(page.locator("#message")).to_be_empty()
    sets = page.request.get("/practise/log.json").json()["sets"]
    (mine,) = [one for one in sets if one["drill"].startswith("angle.high to low")]
    assert mine["tries"] == ["clean", "nearly"]


def test_heavy_work_asks_for_the_hand_and_rests(page: Page) -> None:
    """After so much of it; nothing begins while the rest runs; strained closes all heavy work for today.

    Who meant to leave, and thought better of it, stays.
    """
    page.add_init_script("localStorage.setItem('practice-click', 2)")
    _open(page, "one-throw.down.2")
    page.keyboard.press("1")
    expect(page.locator(".stand-more")).to_contain_text("so far: clean")
    page.keyboard.press("Escape")
    expect(page.locator("#hand")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator("#hand")).to_be_hidden()
    page.evaluate(
        "localStorage.setItem('practice-set  one-throw.down.2', JSON.stringify("
        "{token: 'a-long-set-of-this-test', tries: 0, seconds: 70, begun: Date.now(), touched: Date.now()}))"
    )
    page.keyboard.press("1")
    expect(page.locator("#hand")).to_be_visible()
    expect(page.locator("#rest")).to_be_visible()
    page.keyboard.press("2")
    expect(page.locator("#hand")).to_be_hidden()
    expect(page.locator("#rest-left")).to_contain_text("s to go")
    page.keyboard.press(" ")
    expect(page.locator("#sheet .play-line")).to_have_count(0)
    page.get_by_role("link", name="Go on with something light").click()
    _open(page, "hard-to-soft.down.2")
    page.request.post(
        "/practise/drill/end",
        form={"drill": "one-throw.down.2", "token": "a-long-set-of-this-test", "hand": "strained"},
        headers={"HX-Request": "true"},
    )
    page.reload()
    expect(page.locator("#stand")).to_contain_text("no more heavy work today")
    page.keyboard.press(" ")
    expect(page.locator("#message")).to_contain_text("strained")


def test_the_click_can_be_silent(page: Page) -> None:
    """On every bar, on every second one, off; it stays so."""
    _open(page, "angle.low to high.2")
    for told in ("on every second bar", "off", "on every bar"):
        page.keyboard.press("c")
        expect(page.locator("[data-click-told]")).to_have_text(told)


def test_a_rung_is_heard_and_stepped_by_hand(page: Page) -> None:
    """H sounds it, the arrows go up and down the ladder."""
    _open(page, "crossings.high to low.2")
    page.keyboard.press("h")
    expect(page.locator("[data-do=hear]")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("ArrowUp")
    expect(page.locator("[data-told]")).to_contain_text("rung 2 of")
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-told]")).to_contain_text("rung 1 of")
