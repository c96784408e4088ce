"""Takes the pictures of docs/screenshots from the demo data."""

import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path

import uvicorn
from chromium import launched
from fastapi import FastAPI
from playwright.sync_api import Page, sync_playwright

from pathway.web.app import create_app
from pathway.web.config import AppSettings
from pathway.web.shared.wire import wire

TARGET = Path(__file__).parent.parent / "docs/screenshots"
SHOTS = {
    "shelf.png": ("/", "day", ()),
    "sheet.png": ("/pieces/2?note=n8", "day", ("tempi",)),
    "sheet-evening.png": ("/pieces/1?note=n17", "evening", ("u",)),
    "music.png": ("/pieces/2/music", "day", ("panel",)),
    "diagnosis.png": ("/pieces/8?note=n40", "day", ("hear",)),
    "tone.png": ("/pieces/2/tone?note=n60", "day", ()),
    "sound.png": ("/pieces/2?note=n35", "day", ("sound",)),
    "seen.png": ("/pieces/2/tone?note=n1", "day", ("seen",)),
    "bench-double-stop.png": ("/bench?piece=3&note=n1", "day", ()),
    "rig-room.png": ("/rigs/violin", "day", ()),
    "stroke-type.png": ("/strokes/martele", "day", ()),
    "practise.png": ("/practise", "day", ()),
    "drill.png": ("/practise/drill?drill=arrive..6.n57.n58&piece=2&why=finding&what=runs-out&bars=13, 14", "day", ()),
    "log.png": ("/practise/log", "day", ()),
    "stand.png": ("/pieces/2/stand", "day", ()),
    "paper.png": ("/pieces/2/print?strings=true", "day", ()),
    "compare.png": ("/pieces/6?note=n1", "day", ("another bowing",)),
    "sharing-evening.png": ("/settings/sharing", "evening", ("share",)),
    "take.png": ("/pieces/6/takes", "day", ("simulate take",)),
}


Act = Callable[[Page, str, FastAPI], None]


def _take(page: Page, _base: str, _app: FastAPI) -> None:
    page.get_by_role("button", name="Let the simulated player play").click()
    page.locator("#sheet .take-dot").first.wait_for()
    page.locator("#sheet").scroll_into_view_if_needed()


def _sound(page: Page, _base: str, _app: FastAPI) -> None:
    page.get_by_role("button", name="Sound", exact=True).click()
    page.locator("#sound-menu [data-wish=volume]").wait_for()


def _hear(page: Page, _base: str, _app: FastAPI) -> None:
    page.get_by_label("I hear …").select_option("bounce falls apart")
    page.locator("[data-cause]").first.click()
    page.wait_for_load_state("networkidle")
    page.locator("#causes").scroll_into_view_if_needed()


def _share(page: Page, _base: str, app: FastAPI) -> None:
    app.state.sharing.start("127.0.0.2")
    page.reload()


def _compare(page: Page, base: str, _app: FastAPI) -> None:
    told = {"HX-Request": "true", "Origin": base}
    page.request.post(f"{base}/pieces/6/variants", form={"name": "the march as it was"}, headers=told)
    for note in ("n1", "n8", "n13"):
        page.locator(f"#hit-{note}").click(position={"x": 4, "y": 200})
        page.keyboard.press("u")
        page.wait_for_timeout(500)
    page.goto(f"{base}/pieces/6?variant=1")
    page.locator("#compare section").wait_for()


ACTS: dict[str, Act] = {
    "simulate take": _take,
    "sound": _sound,
    "hear": _hear,
    "share": _share,
    "another bowing": _compare,
    "tempi": lambda page, _base, _app: page.locator("#ease svg").wait_for(state="attached"),
    "seen": lambda page, _base, _app: page.locator("#seen figure").last.scroll_into_view_if_needed(),
    "panel": lambda page, _base, _app: page.locator("[data-band]").nth(2).press("Enter"),
}


def main() -> None:
    """Serve the demo from a fresh folder and photograph each view at 1280×800."""
    with tempfile.TemporaryDirectory() as folder, wire("127.0.0.1") as sock:
        sock.bind(("127.0.0.1", 0))
        app = create_app(AppSettings(Path(folder), demo=True))
        server = uvicorn.Server(uvicorn.Config(app, log_level="warning", timeout_graceful_shutdown=1))
        threading.Thread(target=server.run, kwargs={"sockets": [sock]}, daemon=True).start()
        while not server.started:
            time.sleep(0.05)
        base = f"http://127.0.0.1:{sock.getsockname()[1]}"
        with sync_playwright() as play:
            browser = launched(play)
            for name, (url, light, keys) in SHOTS.items():
                context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
                page = context.new_page()
                page.add_init_script(f"localStorage.setItem('light', '{light}')")
                page.goto(base + url)
                page.wait_for_load_state("networkidle")
                for key in keys:
                    if key in ACTS:
                        ACTS[key](page, base, app)
                    else:
                        page.keyboard.press(key)
                    page.wait_for_timeout(800)
                page.wait_for_timeout(300)
                page.screenshot(path=TARGET / name)
                context.close()
                app.state.sharing.stop()
            browser.close()
        server.should_exit = True


if __name__ == "__main__":
    main()
