"""Long work takes turns: a few at a time, edits go first, and what nobody waits for any more is given up."""

import asyncio
import contextvars
import functools
import inspect
import threading
from collections import Counter
from collections.abc import Awaitable, Callable
from concurrent.futures import Future, ThreadPoolExecutor
from enum import StrEnum
from typing import Any

from fastapi import Request
from starlette.responses import Response

from pathway.core.steps import stepping
from pathway.desk.hands import Hands
from pathway.errors import Busy, Stopped

MOST_IN_LINE = 24  # for one kind of work
_LOOKS = 0.2  # whether someone still waits [s]


class LongWork(StrEnum):
    """Kinds of long work; one does not wait for another."""

    SOUND = "sound"
    READING = "reading"  # of scores: the engraving library does it
    LISTENING = "listening"  # to takes, and paper, copies and what else is long


_AT_A_TIME = {LongWork.SOUND: 1, LongWork.READING: 2, LongWork.LISTENING: 1}


class Turns:
    """Who works, and who waits."""

    def __init__(self, hands: Hands) -> None:
        self._hands = hands
        self._pools = {work: ThreadPoolExecutor(count, f"{work}") for work, count in _AT_A_TIME.items()}
        self._asked: Counter[LongWork] = Counter()
        self._lock = threading.Lock()

    async def take(self, work: LongWork, request: Request, do: Callable[[], Response]) -> Response:
        """Return what is asked for once it has had its turn.

        Raises:
            Busy: too much is asked for already.
            Stopped: whoever asked is gone.
        """
        gone = threading.Event()
        job = asyncio.wrap_future(self._begin(work, gone, do))
        try:
            while not job.done():
                await asyncio.wait({job}, timeout=_LOOKS)
                if not job.done() and await request.is_disconnected():
                    raise Stopped("Nobody waits for this any more")
            return await job
        finally:
            gone.set()
            job.cancel()

    def stop(self) -> None:
        """Begin nothing any more."""
        for pool in self._pools.values():
            pool.shutdown(wait=False, cancel_futures=True)

    def _begin(self, work: LongWork, gone: threading.Event, do: Callable[[], Response]) -> "Future[Response]":
        with self._lock:
            if self._asked[work] >= MOST_IN_LINE:
                raise Busy("Too much is asked for at once", advice="Wait a moment, then ask again.")
            self._asked[work] += 1
        job = self._pools[work].submit(contextvars.copy_context().run, self._worked, gone, do)
        job.add_done_callback(lambda _: self._ended(work))
        return job

    def _ended(self, work: LongWork) -> None:
        with self._lock:
            self._asked[work] -= 1

    def _worked(self, gone: threading.Event, do: Callable[[], Response]) -> Response:
        def between() -> None:
            self._hands.let_pass()
            if gone.is_set():
                raise Stopped("Nobody waits for this any more")

        with stepping(between):
            between()
            return do()


def in_turn(work: LongWork) -> Callable[[Callable[..., Response]], Callable[..., Awaitable[Response]]]:
    """Let a route that takes long wait for its turn."""

    def wrap(route: Callable[..., Response]) -> Callable[..., Awaitable[Response]]:
        asked = inspect.signature(route)
        own = "request" in asked.parameters

        @functools.wraps(route)
        async def waits(request: Request, **values: Any) -> Response:
            passed = {"request": request, **values} if own else values
            turns: Turns = request.app.state.turns
            return await turns.take(work, request, functools.partial(route, **passed))

        first = inspect.Parameter("request", inspect.Parameter.POSITIONAL_OR_KEYWORD, annotation=Request)
        parameters = [first, *(one for name, one in asked.parameters.items() if name != "request")]
        waits.__signature__ = asked.replace(parameters=parameters)  # type: ignore[attr-defined]
        return waits

    return wrap
