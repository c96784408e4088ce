"""One-time codes by which a device comes in: six words, for some minutes, for a few tries that become slower."""

import hmac
import time
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from secrets import choice

COUNT, LASTS, TRIES = 6, 300.0, 5  # words of a code; how long it can be used [s]; wrong ones of an address
MOST_WRONG = 200  # of all addresses, until the code is worth nothing
_SLOWEST = 8.0  # that a wrong one is answered [s]
CODE_WORDS = tuple((Path(__file__).parent / "words.txt").read_text(encoding="utf-8").split())


@dataclass
class _Code:
    words: tuple[str, ...]
    made: float
    wrong: Counter[str] = field(default_factory=Counter)  # tries by address: nobody uses up those of others


class Codes:
    """The code that is valid now; a new one takes its place."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._code: _Code | None = None

    def new(self) -> str:
        """Make a code, and return its words."""
        self._code = _Code(tuple(choice(CODE_WORDS) for _ in range(COUNT)), self._clock())
        return " ".join(self._code.words)

    def end(self) -> None:
        """Let no code be valid."""
        self._code = None

    @property
    def words(self) -> str:
        """Return the words of the code that is valid; empty if there is none."""
        code = self._valid()
        return " ".join(code.words) if code else ""

    @property
    def left(self) -> float:
        """Return for how long it can still be used [s]."""
        code = self._valid()
        return code.made + LASTS - self._clock() if code else 0.0

    def pause(self, address: str) -> float:
        """Return how long the next wrong one of an address waits for its answer [s]: twice as long each time."""
        return min(float(2 ** self._code.wrong[address]), _SLOWEST) if self._code else _SLOWEST

    def take(self, said: str, address: str) -> bool:
        """Whether a code is the right one; it is used up by that, for an address also by its wrong ones."""
        code = self._valid()
        if code is None or code.wrong[address] >= TRIES:
            return False
        right = hmac.compare_digest(" ".join(said.lower().split()).encode(), " ".join(code.words).encode())
        if right:
            self._code = None
            return True
        code.wrong[address] += 1
        if code.wrong.total() >= MOST_WRONG:
            self._code = None
        return False

    def _valid(self) -> _Code | None:
        code = self._code
        return code if code is not None and self._clock() - code.made < LASTS else None
