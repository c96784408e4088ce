"""The one owner of the engraving library: it reads scores into MEI and draws systems.

The library lives in processes of its own: a file it cannot bear takes down one of them, not Pathway; a long score
keeps neither pages nor another score waiting. Requests and answers are lines of JSON.
"""

import atexit
import json
import select
import signal
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import lru_cache
from queue import SimpleQueue

from pathway.errors import ScoreError, Stopped

WORKERS = 2  # scores engraved at the same time
_REMEMBERS = {"abc"}  # formats in which the library takes signs of one score over into the next
WORKED_OUT = -getattr(signal, "SIGPROF", 0) or None  # how a process of the library ends that worked for too long


@dataclass(frozen=True, slots=True)
class Patience:
    """How much work the library may have with a score, in time of a processor: however busy the computer is."""

    least: float = 10.0  # [s]
    per_megabyte: float = 10.0  # [s]
    most: float = 25.0  # [s]
    stalled: float = 8.0  # times as long by the clock: then it does not work, or others have the processors

    def with_size(self, size: int) -> float:
        """Return how long a score of so many bytes may be worked at [s]."""
        return min(self.most, self.least + self.per_megabyte * size / 1e6)


class Engraver:
    """Reads and draws with the engraving library, a few scores at a time."""

    def __init__(self, patience: Patience | None = None, workers: int = WORKERS) -> None:
        self.patience = patience or Patience()
        self._workers = [_Worker() for _ in range(workers)]
        self._free: SimpleQueue[_Worker] = SimpleQueue()
        for worker in self._workers:
            self._free.put(worker)

    def read(self, text: str, input_format: str) -> str:
        """Return a score as normalised MEI in which every note has an id.

        Args:
            text: the score.
            input_format: "xml" for MusicXML, "mei", "abc" or "humdrum".

        Raises:
            ScoreError: the library cannot make sense of it, or not in time.
            Stopped: the player did not want to wait.
        """
        asked: dict[str, object] = {"do": "read", "text": text, "input_format": input_format}
        mei = str(self._ask(asked, alone=input_format in _REMEMBERS) or "")
        if "<measure" not in mei:
            raise _unreadable()
        return mei

    def draw(
        self, mei: str, width: int, bars: tuple[int, int] | None = None, *, filled: bool = False
    ) -> tuple[str, ...]:
        """Return the systems of a part, each an SVG as wide as asked [CSS px].

        Args:
            mei: the part.
            width: of a system.
            bars: only from one bar to another, counted from 0.
            filled: whether the last system is as wide as the others.

        Raises:
            ScoreError: the library cannot draw it, or not in time.
            Stopped: the player did not want to wait.
        """
        chosen = bars and [bars[0] + 1, bars[1] + 1]
        systems = self._ask({"do": "draw", "mei": mei, "width": width, "bars": chosen, "filled": filled})
        if not isinstance(systems, list) or not systems:
            raise _unreadable()
        return tuple(str(system) for system in systems)

    def stop(self) -> None:
        """Give up every score that is being read or drawn."""
        for worker in self._workers:
            worker.stop()

    def close(self) -> None:
        """End the library's processes."""
        for worker in self._workers:
            worker.end()

    def _ask(self, request: dict[str, object], *, alone: bool = False) -> object:
        """Ask the library; where its process died it is asked once more, for it may not have been the score's fault.

        Args:
            request: what is asked.
            alone: whether its process reads nothing after it.
        """
        patience = self.patience.with_size(len(json.dumps(request)))
        sent = json.dumps({"seconds": patience, **request}).encode() + b"\n"
        waits = patience * self.patience.stalled
        with self._worker() as worker:
            line = worker.answer(sent, patience, waits) or worker.answer(sent, patience, waits)
            if alone:
                worker.end()
        if not line:
            raise ScoreError(
                "The engraving library broke down over this score, twice",
                advice="Bring in the part alone, or fewer bars; where that goes, halve what is left until you have it.",
            )
        return json.loads(line)

    @contextmanager
    def _worker(self) -> Iterator["_Worker"]:
        worker = self._free.get()
        try:
            with worker.asked():
                yield worker
        finally:
            self._free.put(worker)


class _Worker:
    """One process of the library."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None
        self._asked = self._stopped = False
        self._lock = threading.Lock()

    @contextmanager
    def asked(self) -> Iterator[None]:
        """Work on one score, which can be stopped meanwhile."""
        with self._lock:
            self._asked, self._stopped = True, False
        try:
            yield
        finally:
            with self._lock:
                self._asked = False

    def stop(self) -> None:
        """Give up the score in work, if there is one."""
        with self._lock:
            if self._asked and self._process is not None:
                self._stopped = True
                self._process.kill()

    def answer(self, sent: bytes, patience: float, waits: float) -> bytes:
        """Return the line that answers another, empty where the library gave up.

        Args:
            sent: the other.
            patience: for its work [s].
            waits: by the clock [s].

        Raises:
            ScoreError: it would go on for too long.
            Stopped: the player did not want to wait.
        """
        process, worked_out = self.process(), False
        assert process.stdin is not None and process.stdout is not None  # noqa: PT018
        try:
            process.stdin.write(sent)
            process.stdin.flush()
            ready, _, _ = select.select([process.stdout], [], [], waits)
        except BrokenPipeError:
            ready = [process.stdout]
        line = process.stdout.readline() if ready else b""
        if not line.endswith(b"\n"):  # killed before or while it answered
            line = b""
            worked_out = bool(ready) and _code_of(process) == WORKED_OUT
            self.end()
        if self._stopped:
            raise Stopped("This score was not engraved to its end, as you wished", advice="Nothing else has changed.")
        if worked_out or not ready:
            raise ScoreError(
                f"This score could not be engraved in {patience:.3g} s of work",
                advice="Bring in fewer bars, or the part alone.",
            )
        return line

    def process(self) -> "subprocess.Popen[bytes]":
        """Return the process, started where there is none."""
        with self._lock:
            process = self._process
            if process is not None and process.poll() is None:
                return process
        self.end()
        started = subprocess.Popen(
            [sys.executable, "-m", "pathway.formats.engraving"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
        )
        with self._lock:
            self._process = started
        return started

    def end(self) -> None:
        """End the process."""
        with self._lock:
            process, self._process = self._process, None
        if process is None:
            return
        for pipe in (process.stdin, process.stdout):
            if pipe is not None:
                pipe.close()
        process.kill()
        process.wait()


def _code_of(ending: "subprocess.Popen[bytes]") -> int | None:
    """Return with what a process ends that says nothing more; None if it does not."""
    try:
        return ending.wait(1)
    except subprocess.TimeoutExpired:
        return None


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
