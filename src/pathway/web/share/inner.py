"""The app's own ear for its gate: a server on this computer that believes nobody but the gate who asks."""

import asyncio
import hmac
import socket
import threading
import time
from typing import ClassVar

import uvicorn
from starlette.types import ASGIApp
from uvicorn.protocols.http.h11_impl import H11Protocol

from pathway.errors import PathwayError
from pathway.web.shared.wire import wire

MOST_FIRST = 200  # bytes of the line that names who asks
_STARTS, _ENDS, _CUT = 5.0, 3.0, 0.02  # until it listens, has ended, and has let its connections go [s]
_AT_ONCE, _IDLE = 128, 60  # requests; a line is kept between two of them [s]


class _FromTheGate(H11Protocol):
    """The first line of every connection is the gate's: its word, and the address that it lets in."""

    word: ClassVar[str]

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        self._first: bytes | None = b""
        super().connection_made(transport)

    def data_received(self, data: bytes) -> None:
        if self._first is not None:
            first, ended, data = (self._first + data).partition(b"\n")
            word, _, address = first.decode("latin-1").partition(" ")
            if len(first) > MOST_FIRST or (ended and not hmac.compare_digest(word.encode(), self.word.encode())):
                self.transport.abort()
                return
            self._first = None if ended else first
            if not ended:
                return
            self.client, self.scheme = (address, 0), "https"
        super().data_received(data)


class _Server(uvicorn.Server):
    """Ends with every connection: one that a device keeps open and says nothing more on is cut."""

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        """Wait for what is under way, then cut what is left."""
        await super().shutdown(sockets)
        for connection in self.server_state.connections:
            connection.transport.abort()
        await asyncio.sleep(_CUT)


class Inner:
    """The server while it runs, in a thread of its own."""

    def __init__(self, app: ASGIApp, word: str) -> None:
        protocol = type("_Protocol", (_FromTheGate,), {"word": word})
        config = uvicorn.Config(
            app,
            http=protocol,
            log_level="warning",
            lifespan="off",
            server_header=False,
            proxy_headers=False,
            limit_concurrency=_AT_ONCE,
            timeout_keep_alive=_IDLE,
            timeout_graceful_shutdown=1,
        )
        sock = wire("127.0.0.1")
        sock.bind(("127.0.0.1", 0))
        self.port = int(sock.getsockname()[1])
        self._server = _Server(config)
        self._thread = threading.Thread(
            target=self._server.run, kwargs={"sockets": [sock]}, daemon=True, name="sharing"
        )

    def start(self) -> None:
        """Begin, and wait until it listens.

        Raises:
            PathwayError: it does not.
        """
        self._thread.start()
        begun = time.monotonic()
        while not self._server.started:
            if not self._thread.is_alive() or time.monotonic() - begun > _STARTS:
                raise PathwayError("Sharing could not be turned on", advice="Look at pathway.log.")
            time.sleep(0.01)

    def stop(self) -> None:
        """End, and wait for it."""
        self._server.should_exit = True
        self._thread.join(_ENDS)
