"""Eight clients on four pieces at once: edits, sound, takes, paper. Fails where one is refused, lost or too slow.

    python scripts/load.py [SECONDS]

Edits are timed alone first, then under load: the ratio is of one run. Memory, threads and files of the app are told
before and after.
"""

import asyncio
import re
import socket
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import httpx2

PIECES, CLIENTS, ALONE = (1, 2, 3, 4), 8, 20
SLOWEST = 3.0  # edits under load, over alone
LEVEL = 1.3  # memory at the end, over half-way
BUSY = 503  # said in words, and asked again


class Load:
    """What happens to an app under load."""

    def __init__(self, address: str) -> None:
        self._client = httpx2.AsyncClient(
            base_url=address, headers={"HX-Request": "true", "Origin": address}, timeout=120, limits=httpx2.Limits()
        )
        self.faults: list[str] = []
        self.edits: list[float] = []
        self.notes: dict[int, list[str]] = {}
        self.kept = dict.fromkeys(PIECES, 0)
        self.done: dict[str, int] = {}
        self.busy = 0

    async def ask(self, method: str, path: str, **more: object) -> httpx2.Response:
        """Ask the app; what it refuses as too much at once is asked again."""
        while True:
            answer = await self._client.request(method, path, **more)  # type: ignore[arg-type]
            if answer.status_code != BUSY:
                break
            self.busy += 1
            await asyncio.sleep(0.5)
        if answer.status_code >= 400 and answer.status_code != 409:
            self.faults.append(f"{answer.status_code} {method} {path}: {answer.text[-200:]}")
        return answer

    async def look(self) -> None:
        """Look which notes can be bowed otherwise."""
        for piece in PIECES:
            plan = await self.ask("GET", f"/pieces/{piece}/plan.json", headers={"HX-Request": ""})
            self.notes[piece] = [stroke["notes"][0] for stroke in plan.json()["strokes"]]

    async def version(self, piece: int) -> int:
        """Return the version of a piece."""
        page = await self.ask("GET", f"/pieces/{piece}", headers={"HX-Request": ""})
        found = re.search(r'data-version="(\d+)"', page.text)
        return int(found[1]) if found else 0

    async def edit(self, piece: int, n: int) -> None:
        """Turn a bow, and note how long it took; another may have been quicker."""
        version = await self.version(piece)
        form = {
            "notes": self.notes[piece][n % len(self.notes[piece])],
            "version": version,
            "what": "direction",
            "value": ("up", "down")[n % 2],
        }
        begun = time.perf_counter()
        answer = await self.ask("POST", f"/pieces/{piece}/edit", data=form)
        self.edits.append(time.perf_counter() - begun)
        self.kept[piece] += answer.status_code == 200

    async def play(self, who: int, until: float) -> None:
        """Work as a player does, until it is over."""
        piece, n = PIECES[who % len(PIECES)], who
        while time.monotonic() < until:
            n += 1
            await self.edit(piece, n)
            what = ("sound", "sound", "paper", "take", "sound", "pages")[n % 6]
            self.done[what] = self.done.get(what, 0) + 1
            if what == "sound":
                begin = n % 20
                await self.ask("GET", f"/pieces/{piece}/sound.wav?begin={begin}&end={begin + 5}")
            elif what == "paper":
                await self.ask("GET", f"/pieces/{piece}/part.pdf")
            elif what == "take":
                made = await self.ask("POST", f"/pieces/{piece}/takes/simulate", data={"seed": n})
                await self.ask("POST", f"{made.headers['HX-Redirect']}/heard")
                await self.ask("POST", f"{made.headers['HX-Redirect']}/put-away")
            else:
                for page in ("/", "/practise", f"/pieces/{piece}/stand", "/practise/log"):
                    await self.ask("GET", page)

    async def close(self) -> None:
        """End."""
        await self._client.aclose()


def of_process(pid: int) -> dict[str, int]:
    """Return memory [MB], threads and open files of a process."""
    status = Path(f"/proc/{pid}/status").read_text(encoding="utf-8")
    memory, threads = (int(re.search(rf"{name}:\s+(\d+)", status)[1]) for name in ("VmRSS", "Threads"))  # type: ignore[index]
    return {"MB": memory // 1000, "threads": threads, "files": len(list(Path(f"/proc/{pid}/fd").iterdir()))}


async def run(address: str, seconds: float, pid: int) -> bool:
    """Load the app and tell what happened; return whether all was well."""
    load = Load(address)
    await load.look()
    for piece in PIECES:
        await load.edit(piece, 0)
    load.edits.clear()
    for n in range(ALONE):
        await load.edit(PIECES[n % len(PIECES)], n)
    alone, before = statistics.median(load.edits), of_process(pid)
    load.edits.clear()
    until = time.monotonic() + seconds
    players = asyncio.gather(*(load.play(who, until) for who in range(CLIENTS)))
    await asyncio.sleep(seconds / 2)
    half = of_process(pid)
    await players
    under = statistics.median(load.edits)
    lost = [f"piece {p}: {load.kept[p]} kept, version {await load.version(p)}" for p in PIECES]
    wrong = [piece for piece in PIECES if load.kept[piece] != await load.version(piece)]
    await asyncio.sleep(3)
    after = of_process(pid)
    slow = sorted(load.edits)[int(0.95 * len(load.edits))]
    sys.stdout.write(
        f"{len(load.edits)} edits: {1000 * under:.0f} ms in the middle, {1000 * slow:.0f} at most for 95 of 100; alone "
        f"{1000 * alone:.0f}: {under / alone:.1f} times\nalso {load.done}, {load.busy} told to wait\n"
        f"before {before}, half-way {half}, after {after}\n{'; '.join(lost)}\n" + "\n".join(load.faults[:10]) + "\n"
    )
    await load.close()
    level = after["MB"] < LEVEL * half["MB"] and after["files"] <= half["files"] + 4
    return not load.faults and not wrong and level and under < SLOWEST * alone


def main() -> int:
    """Start an app on demo data and load it."""
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 60.0
    with tempfile.TemporaryDirectory() as folder, socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
        free.close()
        app = subprocess.Popen(
            [str(Path(sys.executable).with_name("pathway")), "serve", "--demo", "--port", str(port), "--data", folder],
            stdout=subprocess.DEVNULL,
        )
        try:
            for _ in range(600):
                time.sleep(0.1)
                with socket.socket() as tried:
                    if tried.connect_ex(("127.0.0.1", port)) == 0:
                        break
            time.sleep(20)  # the demo's takes are played in the background
            return 0 if asyncio.run(run(f"http://127.0.0.1:{port}", seconds, app.pid)) else 1
        finally:
            app.terminate()
            app.wait()


if __name__ == "__main__":
    sys.exit(main())
