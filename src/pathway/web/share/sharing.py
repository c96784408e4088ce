"""Sharing turned on and off: a second server with a certificate of its own, at this computer's address at home."""

import asyncio
import ipaddress
import os
import socket
import ssl
import threading
import time
from dataclasses import dataclass
from pathlib import Path

import segno
import uvicorn
from starlette.middleware.gzip import GZipMiddleware
from starlette.types import ASGIApp

from pathway.errors import PathwayError
from pathway.web.share.certificate import Certificate, certificate_for
from pathway.web.share.codes import Codes
from pathway.web.share.devices import Devices
from pathway.web.share.door import ENTER, Door
from pathway.web.shared.wire import wire

PORT = 8443  # tried first
_STARTS, _ENDS, _CUT = 5.0, 3.0, 0.02  # until it listens, has ended, and has let its connections go [s]
FAR = "192.0.2.1"  # an address that nobody has: nothing is sent, but it tells which way out there is


class _Server(uvicorn.Server):
    """Ends with every connection: one that a device keeps open and says nothing more on is cut."""

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        """Wait for what is under way, then cut what is left."""
        await super().shutdown(sockets)
        for connection in self.server_state.connections:
            connection.transport.abort()
        await asyncio.sleep(_CUT)


@dataclass
class _Running:
    server: uvicorn.Server
    thread: threading.Thread
    host: str
    certificate: Certificate


class Sharing:
    """Lets other devices of the home network in, while it is on."""

    def __init__(self, app: ASGIApp, folder: Path) -> None:
        self._app, self._folder = app, folder
        self.codes, self.devices = Codes(), Devices(folder)
        self._running: _Running | None = None
        self._lock = threading.Lock()

    @property
    def on(self) -> bool:
        """Whether other devices can come in."""
        return self._running is not None

    @property
    def address(self) -> str:
        """Return where; empty while it is off."""
        return f"https://{self._running.host}" if self._running else ""

    @property
    def fingerprint(self) -> str:
        """Return how the certificate is told from others; empty while it is off."""
        return self._running.certificate.fingerprint if self._running else ""

    @property
    def picture(self) -> str:
        """Return address and code as a picture that a tablet reads; empty without a valid code."""
        if not self.on or not self.codes.words:
            return ""
        told = f"{self.address}{ENTER}#{self.codes.words.replace(' ', '-')}"
        code = segno.make(told, error="m")
        return str(code.svg_inline(scale=5, border=2, dark="#000", light="#fff"))

    def start(self, address: str | None = None) -> None:
        """Turn it on, with a fresh code.

        Args:
            address: of this computer; else that in its home network.

        Raises:
            PathwayError: there is no home network, or it cannot be listened to.
        """
        with self._lock:
            if self._running is None:
                self._running = self._listen(address or home_address())
            self.codes.new()

    def stop(self) -> None:
        """Turn it off; who is in is out."""
        with self._lock:
            running, self._running = self._running, None
            self.codes.end()
        if running is not None:
            running.server.should_exit = True
            running.thread.join(_ENDS)

    def _listen(self, address: str) -> _Running:
        certificate = certificate_for(self._folder, address)
        sock = _socket(address)
        port = sock.getsockname()[1]
        host = f"[{address}]:{port}" if ":" in address else f"{address}:{port}"
        over_the_air = GZipMiddleware(self._app, minimum_size=4000, compresslevel=3)
        door = Door(over_the_air, {host}, self.codes, self.devices)
        config = uvicorn.Config(
            door,
            log_level="warning",
            lifespan="off",
            server_header=False,
            proxy_headers=False,
            timeout_graceful_shutdown=1,
            ssl_certfile=str(certificate.certificate),
            ssl_keyfile=str(certificate.key),
        )
        config.load()
        if config.ssl is not None:
            config.ssl.minimum_version = ssl.TLSVersion.TLSv1_3
        server = _Server(config)
        thread = threading.Thread(target=server.run, kwargs={"sockets": [sock]}, daemon=True, name="sharing")
        thread.start()
        begun = time.monotonic()
        while not server.started:
            if not thread.is_alive() or time.monotonic() - begun > _STARTS:
                raise PathwayError("Sharing could not be turned on", advice="Look at pathway.log.")
            time.sleep(0.01)
        return _Running(server, thread, host, certificate)


def home_address() -> str:
    """Return this computer's address in the home network.

    Raises:
        PathwayError: it has none, or one that the whole world could reach.
    """
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as sock:
        try:
            sock.connect((FAR, 9))
            found = str(sock.getsockname()[0])
        except OSError as error:
            raise PathwayError("This computer is in no network", advice="Connect it to the home network.") from error
    address = ipaddress.ip_address(found)
    if not address.is_private or address.is_loopback:
        raise PathwayError(
            f"{found} is no address of a home network",
            advice="Sharing is for devices in the same house only.",
        )
    return found


def _socket(address: str) -> socket.socket:
    for port in (PORT, 0):
        sock = wire(address)
        if os.name == "posix":  # turned off and on again it is at the port that the tablets know
            sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            sock.bind((address, port))
            sock.listen(64)
        except OSError as error:
            sock.close()
            if port == 0:
                raise PathwayError(f"Nothing can listen at {address}", advice="Look at the firewall.") from error
        else:
            return sock
    raise AssertionError
