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

PATIENCE = 120.0


class Engraver:
    """Reads and draws with the engraving library, one score at a time."""

    def __init__(self, patience: float = PATIENCE) -> None:
        self.patience = patience  # for one score [s]
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
        """Ask the library; where its process died it is asked once more, for it may not have been the score's fault."""
        sent = json.dumps(request).encode() + b"\n"
        with self._lock:
            line = self._answer(sent) or self._answer(sent)
        if not line:
            raise _unreadable()
        return json.loads(line)

    def _answer(self, sent: bytes) -> bytes:
        """Return the line that answers another, empty where the library gave up.

        Raises:
            ScoreError: it would go on for too long.
        """
        worker = self._start()
        assert worker.stdin is not None and worker.stdout is not None  # noqa: PT018
        try:
            worker.stdin.write(sent)
            worker.stdin.flush()
            ready, _, _ = select.select([worker.stdout], [], [], self.patience)
        except BrokenPipeError:
            ready = [worker.stdout]
        if not ready:
            self._end()
            raise ScoreError(
                f"This score could not be engraved in {self.patience:g} s",
                advice="Bring in fewer bars, or the part alone.",
            )
        line = worker.stdout.readline()
        if not line:
            self._end()
        return line

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
