"""Lines being engraved, each piece by itself: what is drawn stays at hand, however long another takes."""

import time
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor

from pathway.desk.kept import Kept
from pathway.desk.stored import engraved
from pathway.errors import NotYet, PathwayError
from pathway.formats.engraver import WORKERS, engraver
from pathway.formats.staves import System
from pathway.store import StoredPiece


class Drawing:
    """The lines of one piece at one width, drawn or on their way."""

    def __init__(self, lines: "Future[tuple[System, ...]]", patience: float) -> None:
        self._lines, self._begun = lines, time.monotonic()
        self.told_failed = False  # then it is begun anew when it is asked for again
        self.patience = patience  # [s]

    @property
    def waited(self) -> float:
        """Return for how long it has been on its way [s]."""
        return time.monotonic() - self._begun

    def systems(self, within: float | None = None) -> tuple[System, ...]:
        """Return the lines.

        Args:
            within: wait no longer than this [s]; None for as long as it takes.

        Raises:
            NotYet: they are still being engraved.
            ScoreError: they cannot be engraved, or were stopped.
        """
        try:
            return self._lines.result(within)
        except TimeoutError as late:
            raise NotYet("The lines of this piece are still being engraved", advice="Wait a moment.") from late
        except PathwayError:
            self.told_failed = True
            raise


class Drawings:
    """The lines of the pieces looked at last."""

    def __init__(self, most: int) -> None:
        self._kept: Kept[Drawing] = Kept(most)
        self._pool = ThreadPoolExecutor(WORKERS, thread_name_prefix="engraving")

    def of(self, piece: StoredPiece, width: int) -> Drawing:
        """Return the drawing of a piece at a width [CSS px], begun if need be; its notes never change."""
        key, make = (piece.id, width), self._begin(piece.mei, width)
        found = self._kept.get_or_make(key, make)
        if not found.told_failed:
            return found
        self._kept.drop(key)
        return self._kept.get_or_make(key, make)

    def clear(self) -> None:
        """Let go of all."""
        self._kept.clear()

    def _begin(self, mei: str, width: int) -> Callable[[], Drawing]:
        patience = engraver().patience.with_size(len(mei))
        return lambda: Drawing(self._pool.submit(engraved, mei, width), patience)
