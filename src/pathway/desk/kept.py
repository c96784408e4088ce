"""The last few values of something that takes time to make."""

import threading
from collections.abc import Callable
from contextlib import suppress
from typing import Generic, TypeVar

from cachetools import LRUCache

_Value = TypeVar("_Value")


class Kept(Generic[_Value]):
    """Keeps the last few values; each is made once, and while it is, others can be looked at and made."""

    def __init__(self, most: float, size: Callable[[_Value], float] | None = None) -> None:
        """Keep up to so many of them; or up to so much of what a size says of each."""
        self._values: LRUCache[object, _Value] = LRUCache(most, size)
        self._makers: dict[object, threading.Lock] = {}
        self._lock = threading.Lock()

    def __len__(self) -> int:
        return len(self._values)

    def get_or_make(self, key: object, make: Callable[[], _Value]) -> _Value:
        """Return the value of a key, made if it is not at hand."""
        with self._lock:
            if key in self._values:
                return self._values[key]
            maker = self._makers.setdefault(key, threading.Lock())
        with maker:
            with self._lock:
                if key in self._values:  # someone else has made it meanwhile
                    return self._values[key]
            try:
                value = make()
                with self._lock:
                    if self._makers.get(key) is maker:  # not let go of meanwhile
                        with suppress(ValueError):  # larger than all that is kept
                            self._values[key] = value
            finally:
                with self._lock:
                    if self._makers.get(key) is maker:
                        del self._makers[key]
            return value

    def drop(self, key: object) -> None:
        """Let go of the value of a key; one that is being made is not kept."""
        with self._lock:
            self._values.pop(key, None)
            self._makers.pop(key, None)

    def clear(self) -> None:
        """Let go of all values; those that are being made are not kept."""
        with self._lock:
            self._values.clear()
            self._makers.clear()
