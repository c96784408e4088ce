"""The stand under hands and feet: pages turned, half pages, a note from below, a tablet that follows the desk."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

STAND = "/pieces/2/stand"


def _shown(page: Page) -> list[str]:
    """Return the numbers of the lines on the page."""
    return [str(line.get_attribute("data-line")) for line in page.locator(".stand-line.on-page").all()]


def _opened(page: Page, address: str = STAND) -> Page:
    page.goto(address)
    expect(page.locator("#stand")).to_have_attribute("data-drawn", re.compile("size="))
    return page


@pytest.mark.parametrize("size", [(768, 1024), (1024, 768), (1280, 800), (390, 844)])
def test_pages_hold_whole_lines_and_all_of_them(page: Page, size: tuple[int, int]) -> None:
    """Nothing is cut off, and turning goes through every line in order."""
    page.set_viewport_size({"width": size[0], "height": size[1]})
    _opened(page)
    page.keyboard.press("Home")
    seen = []
    for _ in range(40):
        seen += _shown(page)
        box = page.locator("#sheet").bounding_box()
        last = page.locator(".stand-line.on-page").last.bounding_box()
        assert box is not None
        assert last is not None
        assert len(_shown(page)) == 1 or last["y"] + last["height"] <= box["y"] + box["height"] + 1
        assert last["x"] >= 0
        assert last["x"] + last["width"] <= size[0]
        before = page.locator("#page-told").inner_text()
        page.keyboard.press("PageDown")
        if page.locator("#page-told").inner_text() == before:
            break
    assert seen == [str(n) for n in range(page.locator(".stand-line").count())]


def test_pages_turn_by_edge_swipe_keys_and_pedals(page: Page) -> None:
    """Forth and back."""
    page.set_viewport_size({"width": 768, "height": 1024})
    _opened(page)
    page.keyboard.press("Home")
    first = _shown(page)
    page.mouse.click(740, 300)
    second = _shown(page)
    assert second[0] == str(int(first[-1]) + 1)
    page.mouse.click(20, 300)
    assert _shown(page) == first
    page.mouse.move(600, 500)
    page.mouse.down()
    page.mouse.move(300, 510, steps=4)
    page.mouse.up()
    assert _shown(page) == second
    for key, there in (("ArrowLeft", first), ("Space", second), ("PageUp", first), ("ArrowDown", second)):
        page.keyboard.press(key)
        assert _shown(page) == there
    page.get_by_role("button", name="Page back").click()
    assert _shown(page) == first


def test_the_echo_of_ones_own_page_does_not_turn_it_back(page: Page) -> None:
    """Pages turned quickly stay turned, however late the server tells where the player stands."""
    page.set_viewport_size({"width": 1024, "height": 768})
    _opened(page)
    page.keyboard.press("Home")
    for _ in range(2):
        page.wait_for_timeout(350)
        page.keyboard.press("PageDown")
    there = _shown(page)
    page.wait_for_timeout(1500)
    assert _shown(page) == there


def test_half_pages_and_sizes_are_kept(page: Page) -> None:
    """Half a page on, the next line is in view already; what is set is there when the page is opened again."""
    page.set_viewport_size({"width": 768, "height": 1024})
    _opened(page)
    page.keyboard.press("m")
    page.get_by_label("half pages").check()
    page.get_by_role("button", name="Size 1 of 4").click()
    expect(page.locator("#stand")).to_have_attribute("data-drawn", re.compile("size=0"))
    page.get_by_role("button", name="Set it up").click()
    page.keyboard.press("Home")
    expect(page.locator(".stand-line.on-page")).not_to_have_count(1)
    whole = _shown(page)
    page.keyboard.press("PageDown")
    half = _shown(page)
    assert set(whole) & set(half)
    assert half[-1] != whole[-1]
    page.reload()
    page.locator(".stand-line.on-page").first.wait_for()
    assert page.evaluate("JSON.parse(localStorage.getItem('stand'))") | {"half": True, "size": 0} == page.evaluate(
        "JSON.parse(localStorage.getItem('stand'))"
    )


def test_a_long_press_opens_a_note_and_playing_turns_the_page(page: Page) -> None:
    """The card comes from below; the page goes with the sound."""
    page.set_viewport_size({"width": 1024, "height": 768})
    _opened(page)
    page.keyboard.press("Home")
    hit = page.locator(".stand-line.on-page .hit").nth(4)
    box = hit.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 4, box["y"] + 40)
    page.mouse.down()
    expect(page.locator("#stand-card")).to_contain_text("Why")
    page.mouse.up()
    page.get_by_role("button", name="Close").click()
    expect(page.locator("#stand-card")).not_to_be_visible()
    page.keyboard.press("p")
    expect(page.locator(".play-line")).to_be_attached(timeout=15_000)
    page.keyboard.press("p")
    expect(page.locator(".play-line")).not_to_be_attached()


def test_a_tablet_on_the_stand_follows_the_desk(browser: Browser, page: Page, base_url: str) -> None:
    """The note where the player stands, and an edit, within a second or two; and the desk follows the tablet's undo."""
    tablet = browser.new_context(viewport={"width": 768, "height": 1024}, base_url=base_url, has_touch=True).new_page()
    page.goto("/pieces/2?note=n1")
    _opened(tablet)
    version = int(str(tablet.locator("#lines-told").get_attribute("data-version")))
    page.locator("#hit-n1").wait_for()
    page.keyboard.press("End")
    expect(tablet.locator(".stand-line.on-page .hit").last).to_have_attribute("data-note", "n127", timeout=4000)
    page.keyboard.press("d")
    expect(tablet.locator("#lines-told")).not_to_have_attribute("data-version", str(version), timeout=6000)
    other = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=base_url).new_page()
    other.goto("/pieces/2")
    other.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Redo")).to_be_enabled(timeout=6000)
    tablet.context.close()
    other.context.close()
