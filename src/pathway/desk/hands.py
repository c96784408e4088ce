"""Edits go first: what takes long looks here between its steps, and waits while a hand is at work."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager

_LONGEST = 2.0  # that work stands still for hands at once [s]: it comes to its end nevertheless


class Hands:
    """The hands that are at work."""

    def __init__(self) -> None:
        self._count, self._changed = 0, threading.Condition()

    @contextmanager
    def at_work(self) -> Iterator[None]:
        """Let others wait meanwhile."""
        with self._changed:
            self._count += 1
        try:
            yield
        finally:
            with self._changed:
                self._count -= 1
                self._changed.notify_all()

    def let_pass(self) -> None:
        """Wait until no hand is at work."""
        with self._changed:
            self._changed.wait_for(lambda: not self._count, _LONGEST)
