"""The last few values of something that takes time to make."""

import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import TypeVar

_Value = TypeVar("_Value")


class Kept(OrderedDict[object, _Value]):
    """Keeps the last few values, one maker at a time."""

    def __init__(self, most: int) -> None:
        super().__init__()
        self._most, self._lock = most, threading.RLock()

    def get_or_make(self, key: object, make: Callable[[], _Value]) -> _Value:
        """Return the value of a key, made if it is not at hand."""
        with self._lock:
            if key not in self:
                self[key] = make()
            self.move_to_end(key)
            while len(self) > self._most:
                self.popitem(last=False)
            return self[key]
