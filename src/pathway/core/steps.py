"""Between the steps of long work: there it lets others go first, or is given up."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

_BETWEEN: ContextVar[Callable[[], None] | None] = ContextVar("between", default=None)


def step() -> None:
    """Pass from one step of long work to the next.

    Raises:
        PathwayError: nobody wants it any more.
    """
    between = _BETWEEN.get()
    if between is not None:
        between()


@contextmanager
def stepping(between: Callable[[], None]) -> Iterator[None]:
    """Call something between the steps of all work in here."""
    token = _BETWEEN.set(between)
    try:
        yield
    finally:
        _BETWEEN.reset(token)
