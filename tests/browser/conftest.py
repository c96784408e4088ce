"""A server on a free port, Debian's Chromium, and pages that fail on any complaint of the browser."""

import os
import shutil
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
import uvicorn
from playwright.sync_api import Browser, ConsoleMessage, Page, expect, sync_playwright

from pathway.web.app import create_app
from pathway.web.config import AppSettings
from pathway.web.shared.wire import wire

ARGS = (
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--font-render-hinting=slight",
)  # fmt: skip

expect.set_options(timeout=15_000)  # a busy machine is no fault of the code


@contextmanager
def served(config: uvicorn.Config) -> Iterator[str]:
    """Serve an app on a free port of this machine; its address."""
    with wire("127.0.0.1") as sock:
        sock.bind(("127.0.0.1", 0))
        server = uvicorn.Server(config)
        thread = threading.Thread(target=server.run, kwargs={"sockets": [sock]}, daemon=True)
        thread.start()
        while not server.started:
            time.sleep(0.01)
        yield f"http://127.0.0.1:{sock.getsockname()[1]}"
        server.should_exit = True
        thread.join(5)


@pytest.fixture(scope="session")
def base_url(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The app with demo data, served for all browser tests."""
    app = create_app(AppSettings(tmp_path_factory.mktemp("data"), demo=True))
    with served(uvicorn.Config(app, log_level="warning", timeout_graceful_shutdown=1)) as address:
        yield address


def chromium() -> str:
    """The path of Chromium; that without a window takes half the work."""
    path = os.environ.get("CHROMIUM") or shutil.which("chromium-headless-shell") or shutil.which("chromium")
    return path or pytest.fail("There is no Chromium; run `make tools`.")


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    """Chromium."""
    with sync_playwright() as play:
        opened = play.chromium.launch(executable_path=chromium(), args=list(ARGS))
        yield opened
        opened.close()


def _complains(message: ConsoleMessage) -> bool:
    refused = any(f"status of {code}" in message.text for code in (409, 422))  # expected refusals are no fault
    refused = (
        refused or "net::ERR_FAILED" in message.text or "Failed to fetch" in message.text
    )  # a server made to be gone
    return message.type in {"error", "warning"} and not refused


@pytest.fixture
def page(browser: Browser, base_url: str) -> Iterator[Page]:
    """A page; console errors, page errors and requests to other hosts fail the test."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=base_url, reduced_motion="reduce", accept_downloads=True
    )
    opened = context.new_page()
    opened.set_default_timeout(30_000)
    problems: list[str] = []
    opened.on("console", lambda m: problems.append(m.text) if _complains(m) else None)
    opened.on("pageerror", lambda error: problems.append(str(error)))
    opened.on("request", lambda r: None if r.url.startswith((base_url, "data:", "blob:")) else problems.append(r.url))
    yield opened
    context.close()
    assert problems == []


@pytest.fixture(scope="session")
def axe() -> str:
    """The accessibility checker's script."""
    return (Path(__file__).parents[2] / "node_modules/axe-core/axe.min.js").read_text(encoding="utf-8")
