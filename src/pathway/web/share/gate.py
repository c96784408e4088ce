"""The gate in the home network, a process of its own: whoever stands there and says nothing holds up nobody.

It speaks TLS, counts who comes from where, waits for what is asked for some seconds and no longer, and only then passes
it on to the app on this computer, with the address that it came from. It is run by its path and imports nothing of the
app. Its orders come as a line of JSON; it answers with one, and ends when its input does.
"""

import asyncio
import json
import os
import socket
import ssl
import sys
import threading
from collections import Counter
from dataclasses import dataclass, field

_PATIENCE, IDLE = (
    5.0,
    120.0,
)  # for a greeting and for what is asked for; until a line on which nothing passes is cut [s]
MOST_HEAD = 16_384  # bytes of what is asked for
FROM_EACH, FROM_ALL = 24, 96  # lines at once; two files each
_CHUNK = 65_536  # [bytes]
_GOODBYE = 1.0  # what is still on its way goes out [s]
_REST = 0.05  # when nothing can be opened any more [s]


@dataclass(frozen=True)
class Orders:
    """What the app asks of the gate."""

    address: str  # to listen at
    ports: list[int]  # to try, one after the other; 0 is any
    certificate: str
    key: str
    inner: int  # the app's port on this computer
    word: str  # by which the app knows the gate
    patience: float = _PATIENCE


@dataclass
class _Line:
    """A line through the gate, and when something last passed on it."""

    writer: asyncio.StreamWriter
    inner: asyncio.StreamWriter
    passed: float = field(default=0.0)


class Gate:
    """Lets lines through."""

    def __init__(self, orders: Orders) -> None:
        self._orders, self._lines = orders, Counter[str]()
        self._context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        self._context.minimum_version = ssl.TLSVersion.TLSv1_3
        self._context.load_cert_chain(orders.certificate, orders.key)
        self._tasks = set[asyncio.Task[None]]()

    async def stand(self, listening: socket.socket) -> None:
        """Take in whoever comes, so many at once from one address and so many from all."""
        loop = asyncio.get_running_loop()
        while True:
            try:
                line, (address, *_) = await loop.sock_accept(listening)
            except OSError:
                await asyncio.sleep(_REST)
                continue
            if self._lines[address] >= FROM_EACH or self._lines.total() >= FROM_ALL:
                line.close()
                continue
            self._lines[address] += 1
            task = loop.create_task(self._met(line, address))
            self._tasks.add(task)
            task.add_done_callback(self._tasks.discard)

    async def _met(self, line: socket.socket, address: str) -> None:
        try:
            await self._passed(line, address)
        except (OSError, TimeoutError, asyncio.IncompleteReadError, asyncio.LimitOverrunError):
            pass  # it said nothing, or too much, or went away
        finally:
            line.close()
            self._lines[address] -= 1

    async def _passed(self, line: socket.socket, address: str) -> None:
        loop, patience = asyncio.get_running_loop(), self._orders.patience
        reader = asyncio.StreamReader(MOST_HEAD)
        protocol = asyncio.StreamReaderProtocol(reader)
        transport, _ = await loop.connect_accepted_socket(
            lambda: protocol,
            line,
            ssl=self._context,
            ssl_handshake_timeout=patience,
            ssl_shutdown_timeout=_GOODBYE,  # a browser that asked on this line meanwhile has to see that it is gone
        )
        writer = asyncio.StreamWriter(transport, protocol, reader, loop)
        try:
            async with asyncio.timeout(patience):
                head = await reader.readuntil(b"\r\n\r\n")
                inner_reader, inner = await asyncio.open_connection("127.0.0.1", self._orders.inner)
            try:
                inner.write(f"{self._orders.word} {address}\n".encode() + head)
                await self._pump(_Line(writer, inner), reader, inner_reader)
            finally:
                inner.transport.abort()
        finally:
            transport.abort()

    async def _pump(self, line: _Line, outer: asyncio.StreamReader, inner: asyncio.StreamReader) -> None:
        """Pass on what comes from both sides, until one of them ends or nothing passes any more."""
        loop = asyncio.get_running_loop()
        line.passed = loop.time()

        async def pump(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            while data := await reader.read(_CHUNK):
                line.passed = loop.time()
                writer.write(data)
                await writer.drain()

        pumps = {loop.create_task(pump(outer, line.inner)), loop.create_task(pump(inner, line.writer))}
        try:
            done = set[asyncio.Task[None]]()
            while not done and loop.time() - line.passed < IDLE:
                done, _ = await asyncio.wait(pumps, timeout=IDLE / 10, return_when=asyncio.FIRST_COMPLETED)
            line.writer.close()
            async with asyncio.timeout(self._orders.patience):
                await line.writer.wait_closed()
        finally:
            for one in pumps:
                one.cancel()
            await asyncio.gather(*pumps, return_exceptions=True)


def listening(orders: Orders) -> socket.socket:
    """Return a socket at the first port that can be had.

    Raises:
        OSError: none of them.
    """
    family = socket.AF_INET6 if ":" in orders.address else socket.AF_INET
    why = OSError("no port")
    for port in orders.ports:
        sock = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
        if os.name == "posix":  # turned off and on again it is at the port that the tablets know
            sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            sock.bind((orders.address, port))
            sock.listen(64)
            sock.setblocking(False)
        except OSError as error:
            why = error
            sock.close()
        else:
            return sock
    raise why


def _answer(told: dict[str, object]) -> None:
    sys.stdout.write(json.dumps(told) + "\n")
    sys.stdout.flush()


def _end_with_the_app() -> None:
    sys.stdin.read()
    os._exit(0)


def main() -> None:
    """Stand as ordered."""
    orders = Orders(**json.loads(sys.stdin.readline()))
    try:
        gate, sock = Gate(orders), listening(orders)
    except OSError as error:
        _answer({"error": str(error)})
        return
    _answer({"port": sock.getsockname()[1]})
    threading.Thread(target=_end_with_the_app, daemon=True).start()
    asyncio.run(gate.stand(sock))


if __name__ == "__main__":
    main()
