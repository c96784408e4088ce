"""Measures edits in the browser: from the key to the swapped sheet, on a generated piece."""

import argparse
import random
import socket
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from chromium import launched
from playwright.sync_api import Page, sync_playwright

from pathway.benchmark import generated_part

_CLOCK = """() => document.addEventListener("htmx:after:request", () => { window.answered = performance.now(); })"""
_CLICK = """async ([line, share]) => {
  const there = document.querySelectorAll("[data-line]")[line];
  there.scrollIntoView();
  while (there.querySelector(".to-come")) await new Promise((done) => setTimeout(done, 20));
  const hits = there.querySelectorAll(".hit");
  hits[Math.floor(share * hits.length)].dispatchEvent(new MouseEvent("click", { bubbles: true }));
}"""
_KEYS = "du][2=ts5-hrjl"  # edits of all kinds
_EDIT = """(key) => new Promise((done) => {
  const begin = performance.now();
  const version = () => document.querySelector("[data-version]").dataset.version;
  const old = version();
  const refused = () => document.getElementById("message").textContent.trim() !== "";
  const painted = () => setTimeout(() => done([performance.now() - begin, window.answered - begin]), 0);
  const watch = new MutationObserver(() => { // asking again and again would miss the frame that shows it
    if (version() === old && !refused()) return;
    watch.disconnect();
    requestAnimationFrame(painted);
  });
  for (const id of ["state", "message"]) watch.observe(document.getElementById(id), { childList: true, subtree: true });
  document.body.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
})"""


def main() -> None:
    """Print median and 95th percentile of edits on a piece of some notes."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--notes", type=int, default=1000)
    parser.add_argument("--edits", type=int, default=50)
    wanted = parser.parse_args()
    with tempfile.TemporaryDirectory() as folder, _served(folder) as address, sync_playwright() as play:
        score = Path(folder) / "long.musicxml"
        score.write_bytes(generated_part(wanted.notes))
        browser = launched(play)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.set_input_files("input[type=file]", score)
        page.get_by_role("button", name="Plan this part").click()
        page.wait_for_url("**/pieces/*")
        _report(page, wanted.edits)
        browser.close()


@contextmanager
def _served(folder: str) -> Iterator[str]:
    """Serve an empty shelf from a process of its own, as a player does."""
    with socket.socket() as sock:
        sock.bind(("127.0.0.1", 0))
        port = sock.getsockname()[1]
    command = [str(Path(sys.executable).with_name("pathway")), "serve", "--data", folder, "--port", str(port)]
    server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
    try:
        for _ in range(100):
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", port)) == 0:
                    break
            time.sleep(0.1)
        yield f"http://127.0.0.1:{port}/"
    finally:
        server.terminate()
        server.wait()


_DRAG = """(seconds) => new Promise((done) => {
  const slider = document.querySelector("[data-tempo-slider]");
  let seen = 0;
  document.addEventListener("htmx:after:request", () => { seen += 1; });
  const begin = performance.now();
  const move = () => {
    const past = (performance.now() - begin) / 1000;
    if (past > seconds) { done(seen / past); return; }
    slider.value = 70 + Math.round(20 * Math.sin(past));
    slider.dispatchEvent(new Event("input", { bubbles: true }));
    setTimeout(move, 16);
  };
  move();
})"""


def _report(page: Page, count: int) -> None:
    page.wait_for_load_state("networkidle")
    size = page.evaluate("performance.getEntriesByType('navigation')[0].encodedBodySize")
    print(f"tempo slider: {page.evaluate(_DRAG, 4):.1f} answers a second")  # noqa: T201
    page.reload()
    page.wait_for_load_state("networkidle")
    begin = time.perf_counter()
    page.reload()
    print(f"page {size / 1000:.0f} kB, shown again in {time.perf_counter() - begin:.2f} s")  # noqa: T201
    page.wait_for_load_state("networkidle")
    page.evaluate(_CLOCK)
    chance = random.Random(7)
    lines = page.locator("[data-line]").count()
    times = []
    by_key: dict[str, list[float]] = {}
    for i in range(count):
        page.evaluate(_CLICK, [chance.randrange(lines), chance.random()])
        page.wait_for_timeout(500)  # the card and the lines around have come
        page.evaluate("document.getElementById('message').replaceChildren()")
        key = _KEYS[i % len(_KEYS)]
        times.append(page.evaluate(_EDIT, key))
        by_key.setdefault(key, []).append(times[-1][0])
    print("by key:", {key: round(statistics.median(values)) for key, values in by_key.items()})  # noqa: T201
    for name, column in (("swapped", 0), ("answered", 1)):
        values = sorted(row[column] for row in times)
        worst = values[int(0.95 * len(values))]
        print(f"{name}: median {statistics.median(values):.0f} ms, 95th percentile {worst:.0f} ms")  # noqa: T201


if __name__ == "__main__":
    main()
