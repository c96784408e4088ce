"""Debian's Chromium without a window, for scripts that look at the app."""

import os
import shutil

from playwright.sync_api import Browser, Playwright


def launched(play: Playwright) -> Browser:
    """Return Chromium; that without a window takes half the work."""
    path = os.environ.get("CHROMIUM") or shutil.which("chromium-headless-shell") or shutil.which("chromium")
    return play.chromium.launch(
        executable_path=path, args=["--no-sandbox", "--disable-gpu", "--font-render-hinting=slight"]
    )
