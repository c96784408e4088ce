"""A piece of many lines: those far away come as the player gets near them."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, Route, expect

from pathway.benchmark import generated_part

TO_COME = ".to-come"


@pytest.fixture
def long_piece(page: Page, tmp_path: Path) -> Page:
    """A page with a piece of some forty bars and more lines than are sent at first."""
    score = tmp_path / "long.musicxml"
    score.write_bytes(generated_part(400))
    page.goto("/")
    page.set_input_files("input[type=file]", score)
    page.get_by_role("button", name="Plan this part").click()
    page.wait_for_url(re.compile(r"/pieces/\d+$"))
    page.wait_for_load_state("networkidle")
    expect(page.locator(TO_COME)).not_to_have_count(0)
    return page


def _selected(page: Page) -> str:
    return page.locator('.hit[aria-current="true"]').get_attribute("data-note") or ""


def test_keys_go_to_lines_that_have_not_come_yet(long_piece: Page) -> None:
    """To the end, to a bar in the middle, from line to line: the note is there, has the focus, and can be edited."""
    page = long_piece
    lines = page.locator("[data-line]")
    last = (lines.last.get_attribute("data-notes") or "").split()[-1]
    expect(lines.last.locator(TO_COME)).to_have_count(1)
    page.keyboard.press("End")
    expect(page.locator(f"#hit-{last}")).to_be_focused()
    expect(lines.last).to_be_in_viewport()
    middle = (lines.nth(lines.count() // 2).get_attribute("data-bars") or "").split()[0]
    note, bar = middle.split(":")
    page.keyboard.press("/")
    page.keyboard.type(bar)
    page.keyboard.press("Enter")
    expect(page.locator(f"#hit-{note}")).to_be_focused()
    line = page.locator("[data-line]", has=page.locator(f"#hit-{note}"))
    page.keyboard.press("ArrowDown")
    below = (lines.nth(int(line.get_attribute("data-line") or 0) + 1).get_attribute("data-notes") or "").split()
    expect(page.locator(f'[data-card="{_selected(page)}"]')).to_be_visible()
    assert _selected(page) in below
    page.keyboard.press("d")
    expect(page.get_by_role("button", name="Unlock")).to_be_visible()
    expect(page.get_by_role("status")).to_be_in_viewport()


def test_a_line_comes_as_the_last_edits_have_left_it(long_piece: Page) -> None:
    """All bows of the piece are planned at another tempo before its end has been seen: it comes so."""
    page = long_piece
    at_80 = page.request.get(f"{page.url}/lines?numbers={page.locator('[data-line]').count() - 1}").text()
    page.locator("[name=tempo]").fill("40")
    page.locator("[name=tempo]").press("Enter")
    expect(page.get_by_role("status")).to_contain_text("Planned at 40")
    page.locator("[data-line]").last.scroll_into_view_if_needed()
    expect(page.locator("[data-line]").last.locator(TO_COME)).to_have_count(0)
    came = page.locator("[data-line]").last.locator(".hit").last.get_attribute("aria-label")
    assert came
    assert came not in at_80
    page.locator("[data-line]").last.locator(".hit").last.click()
    page.wait_for_load_state("networkidle")
    page.reload()
    expect(page.locator("[data-line]").last.locator(".hit").last).to_have_attribute("aria-label", came)


def test_a_line_that_is_lost_on_the_way_is_asked_for_again(long_piece: Page) -> None:
    """The server is gone while the player scrolls: it is said, and the line comes when it is back."""
    page = long_piece
    lost: list[str] = []

    def lose(route: Route) -> None:
        if lost:
            route.continue_()
        else:
            lost.append(route.request.url)
            route.abort()

    page.route("**/lines?*", lose)
    page.locator("[data-line]").last.scroll_into_view_if_needed()
    expect(page.get_by_role("alert")).to_contain_text("The lines to come are asked for again")
    expect(page.get_by_role("alert")).to_be_in_viewport()
    expect(page.locator("[data-line]").last.locator(TO_COME)).to_have_count(0)
    expect(page.locator("#message")).to_be_empty()


def test_a_list_follows_the_plan_when_an_edit_is_taken_back(long_piece: Page) -> None:
    """What the hand chose in a list gives way to what undo brings; the stepper under the hand keeps the focus."""
    page = long_piece
    kind = page.locator("[data-set=type]")
    before = kind.input_value()
    assert before != "martele"
    kind.select_option("martele")
    expect(page.get_by_role("button", name="Leave all to the plan")).to_be_visible()
    assert kind.input_value() == "martele"
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Leave all to the plan")).to_have_count(0)
    assert kind.input_value() == before
    more = page.get_by_role("button", name="more").first
    more.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Leave all to the plan")).to_be_visible()
    expect(more).to_be_focused()


def test_a_page_sent_for_another_room_is_asked_for_again(page: Page) -> None:
    """A tablet was turned since the last page: lines, and what an edit draws anew, have one width."""
    page.goto("/pieces/3")
    expect(page.locator("#sheet")).to_have_attribute("data-room", "wide")
    page.set_viewport_size({"width": 1024, "height": 768})
    page.reload()
    expect(page.locator("#sheet")).to_have_attribute("data-room", "narrow")
    page.wait_for_load_state("networkidle")
    tracks = page.locator(".system").first.locator("svg.tracks").first
    before = (tracks.get_attribute("viewBox") or "").split()[2]
    page.context.add_cookies([{"name": "room", "value": "wide", "url": page.url}])
    page.keyboard.press("Home")
    page.keyboard.press("l")
    expect(page.get_by_role("button", name="Unlock")).to_be_visible()
    assert (tracks.get_attribute("viewBox") or "").split()[2] == before
