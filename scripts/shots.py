"""Takes the pictures of docs/screenshots from the demo data."""

import os
import shutil
import socket
import tempfile
import threading
import time
from pathlib import Path

import uvicorn
from playwright.sync_api import sync_playwright

from pathway.web.app import create_app
from pathway.web.config import AppSettings

TARGET = Path(__file__).parent.parent / "docs/screenshots"
SHOTS = {
    "shelf.png": ("/", "day", ()),
    "sheet.png": ("/pieces/2?note=n8", "day", ()),
    "sheet-evening.png": ("/pieces/1?note=n17", "evening", ("u",)),
    "music.png": ("/pieces/2/music", "day", ("panel",)),
    "diagnosis.png": ("/pieces/8?note=n40", "day", ("hear",)),
    "tone.png": ("/pieces/2/tone?note=n60", "day", ()),
    "sound.png": ("/pieces/2?note=n35", "day", ("sound",)),
    "seen.png": ("/pieces/2/tone?note=n1", "day", ("seen",)),
    "tone-evening.png": ("/pieces/4/tone", "evening", ()),
    "sheet-chords.png": ("/pieces/4", "day", ()),
    "bench-double-stop.png": ("/bench?piece=3&note=n1", "day", ()),
    "rig-room.png": ("/rigs/violin", "day", ()),
    "bounce.png": ("/rigs/violin/bounce", "day", ("simulate",)),
    "stroke-type.png": ("/strokes/martele", "day", ()),
    "practise.png": ("/practise", "day", ()),
    "drill.png": ("/practise/drill?drill=arrive..6.n57.n58&piece=2&why=finding&what=runs-out&bars=13, 14", "day", ()),
    "log.png": ("/practise/log", "day", ()),
    "take.png": ("/pieces/6/takes", "day", ("simulate take",)),
    "settings-evening.png": ("/settings", "evening", ()),
}


def main() -> None:
    """Serve the demo from a fresh folder and photograph each view at 1280×800."""
    with tempfile.TemporaryDirectory() as folder, socket.socket() as sock:
        sock.bind(("127.0.0.1", 0))
        server = uvicorn.Server(uvicorn.Config(create_app(AppSettings(Path(folder), demo=True)), log_level="warning"))
        threading.Thread(target=server.run, kwargs={"sockets": [sock]}, daemon=True).start()
        while not server.started:
            time.sleep(0.05)
        base = f"http://127.0.0.1:{sock.getsockname()[1]}"
        with sync_playwright() as play:
            path = os.environ.get("CHROMIUM") or shutil.which("chromium")
            browser = play.chromium.launch(executable_path=path, args=["--no-sandbox", "--disable-gpu"])
            for name, (url, light, keys) in SHOTS.items():
                context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
                page = context.new_page()
                page.add_init_script(f"localStorage.setItem('light', '{light}')")
                page.goto(base + url)
                page.wait_for_load_state("networkidle")
                for key in keys:
                    if key == "simulate":
                        page.click("[data-simulate]")
                    elif key == "simulate take":
                        page.get_by_role("button", name="Let the simulated player play").click()
                        page.locator("#sheet .take-dot").first.wait_for()
                        page.locator("#sheet").scroll_into_view_if_needed()
                    elif key == "sound":
                        page.get_by_role("button", name="Sound", exact=True).click()
                        page.locator("#sound-menu [data-wish=volume]").wait_for()
                    elif key == "seen":
                        page.locator("#seen figure").last.scroll_into_view_if_needed()
                    elif key == "panel":
                        page.locator("[data-band]").nth(2).press("Enter")
                    elif key == "hear":
                        page.get_by_label("I hear …").select_option("bounce falls apart")
                        page.locator("[data-cause]").first.click()
                        page.locator("#causes").scroll_into_view_if_needed()
                    else:
                        page.keyboard.press(key)
                    page.wait_for_timeout(800)
                page.screenshot(path=TARGET / name)
                context.close()
            browser.close()
        server.should_exit = True


if __name__ == "__main__":
    main()
