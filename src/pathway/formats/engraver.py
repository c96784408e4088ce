"""The one owner of the engraving library: it reads scores into MEI and draws systems.

The library lives in a process of its own: a file it cannot bear takes down that process, not Pathway, and a long
score does not keep other pages waiting. Requests and answers are lines of JSON.
"""

import atexit
import json
import select
import subprocess
import sys
import threading
from functools import lru_cache

from pathway.errors import ScoreError

PATIENCE = 120.0  # for one score [s]


class Engraver:
    """Reads and draws with the engraving library, one score at a time."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._worker: subprocess.Popen[bytes] | None = None

    def read(self, text: str, input_format: str) -> str:
        """Return a score as normalised MEI in which every note has an id.

        Args:
            text: the score.
            input_format: "xml" for MusicXML, "mei", "abc" or "humdrum".

        Raises:
            ScoreError: the library cannot make sense of it.
        """
        mei = str(self._ask({"do": "read", "text": text, "input_format": input_format}) or "")
        if "<measure" not in mei:
            raise _unreadable()
        return mei

    def draw(self, mei: str, width: int) -> tuple[str, ...]:
        """Return the systems of a part, each an SVG as wide as asked [CSS px].

        Raises:
            ScoreError: the library cannot draw it.
        """
        systems = self._ask({"do": "draw", "mei": mei, "width": width})
        if not isinstance(systems, list) or not systems:
            raise _unreadable()
        return tuple(str(system) for system in systems)

    def close(self) -> None:
        """End the library's process."""
        with self._lock:
            self._end()

    def _ask(self, request: dict[str, object]) -> object:
        with self._lock:
            worker = self._start()
            try:
                assert worker.stdin is not None and worker.stdout is not None  # noqa: PT018
                worker.stdin.write(json.dumps(request).encode() + b"\n")
                worker.stdin.flush()
                ready, _, _ = select.select([worker.stdout], [], [], PATIENCE)
                line = worker.stdout.readline() if ready else b""
            except BrokenPipeError:
                line = b""
            if not line:  # the library gave up, or would never have ended
                self._end()
                raise _unreadable()
            return json.loads(line)

    def _start(self) -> "subprocess.Popen[bytes]":
        if self._worker is None or self._worker.poll() is not None:
            self._end()
            self._worker = subprocess.Popen(
                [sys.executable, "-m", "pathway.formats.engraving"],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
            )
        return self._worker

    def _end(self) -> None:
        worker, self._worker = self._worker, None
        if worker is None:
            return
        for pipe in (worker.stdin, worker.stdout):
            if pipe is not None:
                pipe.close()
        worker.kill()
        worker.wait()


def _unreadable() -> ScoreError:
    return ScoreError(
        "This is not music that Pathway can read",
        advice="Take MusicXML (.musicxml, .xml, .mxl), MEI, ABC or Humdrum (.krn).",
    )


@lru_cache(maxsize=1)
def engraver() -> Engraver:
    """Return the engraver of this process."""
    shared = Engraver()
    atexit.register(shared.close)
    return shared
