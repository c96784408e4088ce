"""A tablet in the room: over TLS, by its code, following the desk; shut out, it is out."""

from collections.abc import Iterator
from pathlib import Path

import pytest
import uvicorn
from playwright.sync_api import Browser, Page, expect

from pathway.web.app import create_app
from pathway.web.config import AppSettings
from pathway.web.share.sharing import Sharing
from tests.browser.conftest import served

HERE = "127.0.0.2"  # of this machine, and not the one that the app listens on


@pytest.fixture
def shared(tmp_path: Path) -> Iterator[tuple[str, Sharing]]:
    """An app that is shared: its own address, and the sharing."""
    app = create_app(AppSettings(tmp_path, demo=True))
    with served(uvicorn.Config(app, log_level="warning", timeout_graceful_shutdown=1)) as address:
        sharing: Sharing = app.state.sharing
        sharing.start(HERE)
        yield address, sharing
        sharing.stop()


def _tablet(browser: Browser, size: tuple[int, int] = (768, 1024)) -> Page:
    context = browser.new_context(
        viewport={"width": size[0], "height": size[1]}, ignore_https_errors=True, has_touch=True
    )
    page = context.new_page()
    page.set_default_timeout(30_000)
    return page


def test_a_tablet_comes_in_and_follows_the_desk(browser: Browser, shared: tuple[str, Sharing]) -> None:
    """By the picture's address; on a secure page; what the desk does is there within a second; shut out, nothing is."""
    address, sharing = shared
    tablet, desk = _tablet(browser), browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    told = f"{sharing.address}/enter#{sharing.codes.words.replace(' ', '-')}"
    tablet.goto(told)
    expect(tablet.locator("#code")).to_have_value(sharing.codes.words)
    assert "#" not in tablet.url
    tablet.get_by_label("This device is called").fill("Stand tablet")
    tablet.get_by_role("button", name="Come in").click()
    expect(tablet.get_by_role("link", name="Slack Water").first).to_be_visible()
    assert tablet.evaluate("isSecureContext")
    tablet.goto(f"{sharing.address}/pieces/2/stand")
    tablet.locator(".stand-line.on-page").first.wait_for()
    desk.goto(f"{address}/pieces/2?note=n1")
    expect(desk.locator(".shared-strip")).to_contain_text("1 device")
    version = str(tablet.locator("#lines-told").get_attribute("data-version"))
    desk.keyboard.press("u")
    expect(tablet.locator("#lines-told")).not_to_have_attribute("data-version", version, timeout=3000)
    desk.goto(f"{address}/settings/sharing")
    expect(desk.get_by_text("Stand tablet")).to_be_visible()
    desk.get_by_role("button", name="Shut out Stand tablet").click()
    expect(desk.get_by_text("None so far")).to_be_visible()
    assert tablet.goto(f"{sharing.address}/pieces/2/stand").status == 403  # type: ignore[union-attr]
    tablet.context.close()
    desk.context.close()


def test_a_device_without_the_code_stays_out_and_off_means_off(browser: Browser, shared: tuple[str, Sharing]) -> None:
    """A wrong code is told in words; once it is turned off nobody answers."""
    address, sharing = shared
    tablet = _tablet(browser, (390, 844))
    assert tablet.goto(f"{sharing.address}/pieces/2").status == 403  # type: ignore[union-attr]
    tablet.goto(sharing.address)
    tablet.locator("#code").fill("one two three four five six")
    tablet.get_by_role("button", name="Come in").click()
    expect(tablet.get_by_role("status")).to_contain_text("That was not it")
    desk = browser.new_context().new_page()
    desk.goto(f"{address}/settings/sharing")
    desk.get_by_role("button", name="Stop sharing").click()
    expect(desk.get_by_role("button", name="Share with my home network")).to_be_visible()
    with pytest.raises(Exception, match="ERR_CONNECTION"):
        tablet.goto("https://127.0.0.2:8443/enter")
    tablet.context.close()
    desk.context.close()
