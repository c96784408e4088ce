"""What changes in a piece, told to every page that has it open: two devices on one piece follow each other."""

import asyncio
import json
from collections.abc import AsyncIterator, Awaitable, Callable

from starlette.concurrency import run_in_threadpool

from pathway.errors import NotFound
from pathway.store import Pieces

_PAUSE, _ALIVE = 0.4, 15.0  # between two looks, and until a page is told that nothing changed [s]


async def changes(
    pieces: Pieces, key: int, gone: Callable[[], Awaitable[bool]], pause: float = _PAUSE
) -> AsyncIterator[str]:
    """Yield server-sent events: the version of a piece and the note at which the player stands, whenever they change.

    Args:
        pieces: on the shelf.
        key: of the piece; its events end when it is taken off for good.
        gone: whether nobody listens any more.
        pause: between two looks [s].
    """
    last, quiet = None, 0.0
    while not await gone():
        try:
            now = await run_in_threadpool(pieces.where, key)
        except NotFound:
            return
        if now != last:
            last, quiet = now, 0.0
            yield f"data: {json.dumps({'version': now[0], 'note': now[1]})}\n\n"
        elif quiet >= _ALIVE:
            quiet = 0.0
            yield ": nothing new\n\n"
        quiet += pause
        await asyncio.sleep(pause)
