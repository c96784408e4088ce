"""Sharing turned on and off: a gate at this computer's address at home, and the app's ear behind it."""

import json
import os
import subprocess
import sys
import threading
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from secrets import token_urlsafe

import segno
from starlette.middleware.gzip import GZipMiddleware
from starlette.types import ASGIApp

from pathway.errors import PathwayError
from pathway.web.share import gate
from pathway.web.share.certificate import Certificate, certificate_for
from pathway.web.share.codes import Codes
from pathway.web.share.devices import Devices
from pathway.web.share.door import ENTER, Door
from pathway.web.share.inner import Inner
from pathway.web.share.network import home_address, network_of

PORT = 8443  # tried first
LOOKS = 10.0  # whether the network is still the same [s]
_ENDS = 3.0  # the gate has ended [s]


@dataclass(frozen=True)
class _Running:
    gate: "subprocess.Popen[bytes]"
    inner: Inner
    address: str
    host: str
    certificate: Certificate
    ended: threading.Event


class Sharing:
    """Lets other devices of the home network in, while it is on."""

    def __init__(self, app: ASGIApp, folder: Path) -> None:
        self._app, self._folder = app, folder
        self.codes, self.devices = Codes(), Devices(folder)
        self.told = ""  # why it was turned off, where the player did not do it
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
    def at_another_port(self) -> bool:
        """Whether it is not at the port that devices know from the last time."""
        return self._running is not None and not self._running.host.endswith(f":{PORT}")

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

    @property
    def elsewhere(self) -> str:
        """Return the network of the last time, where this is another one; empty where it need not be asked about."""
        try:
            before, now = self._last.read_text(encoding="utf-8"), network_of(home_address())
        except (OSError, PathwayError):
            return ""
        return before.split()[0] if before != now else ""

    def start(self, address: str | None = None, *, sure: bool = False) -> None:
        """Turn it on, with a fresh code.

        Args:
            address: of this computer; else that in its home network.
            sure: also in another network than last time.

        Raises:
            PathwayError: there is no home network, another one than last time, or it cannot be listened to.
        """
        if address is None and not sure and (before := self.elsewhere):
            raise PathwayError(
                f"This is another network than the one that Pathway was shared with last ({before})",
                advice="If you trust it, turn sharing on in the settings; there it is asked.",
            )
        with self._lock:
            if self._running is None:
                self._running = self._begun(address or home_address(), watched=address is None)
                self.told = ""
            self.codes.new()

    def stop(self, told: str = "") -> None:
        """Turn it off; who is in is out."""
        with self._lock:
            running, self._running = self._running, None
            self.codes.end()
            self.told = told
        if running is not None:
            running.ended.set()
            _end(running.gate)
            running.inner.stop()

    @property
    def _last(self) -> Path:
        return self._folder / "network"

    def _begun(self, address: str, *, watched: bool) -> _Running:
        certificate, word, hosts = certificate_for(self._folder, address), token_urlsafe(32), set[str]()
        door = Door(GZipMiddleware(self._app, minimum_size=4000, compresslevel=3), hosts, self.codes, self.devices)
        inner = Inner(door, word)
        inner.start()
        orders = gate.Orders(address, [PORT, 0], str(certificate.certificate), str(certificate.key), inner.port, word)
        try:
            process, port = _gate(orders)
        except PathwayError:
            inner.stop()
            raise
        host = f"[{address}]:{port}" if ":" in address else f"{address}:{port}"
        hosts.add(host)
        running = _Running(process, inner, address, host, certificate, threading.Event())
        if watched:
            self._last.write_text(network_of(address), encoding="utf-8")
            os.chmod(self._last, 0o600)
        threading.Thread(target=self._watch, args=(running, watched), daemon=True, name="sharing-watch").start()
        return running

    def _watch(self, running: _Running, watched: bool) -> None:
        """Turn it off once the network is another one, or the gate is gone: nobody finds the way any more."""
        while not running.ended.wait(LOOKS):
            if running.gate.poll() is not None:
                self.stop("Sharing was turned off: the gate broke down. Turn it on again.")
            elif watched and _moved(running.address):
                self.stop("Sharing was turned off: this computer is in another network now.")


def _moved(address: str) -> bool:
    try:
        return home_address() != address
    except PathwayError:
        return True


def _gate(orders: gate.Orders) -> "tuple[subprocess.Popen[bytes], int]":
    """Start the gate; return it and its port.

    Raises:
        PathwayError: it cannot listen there.
    """
    asked = [sys.executable, "-I", gate.__file__]
    process = subprocess.Popen(asked, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)
    assert process.stdin is not None and process.stdout is not None  # noqa: PT018
    with suppress(BrokenPipeError):
        process.stdin.write(json.dumps(vars(orders)).encode() + b"\n")
        process.stdin.flush()
    told = json.loads(process.stdout.readline() or "{}")
    if "port" not in told:
        _end(process)
        raise PathwayError(f"Nothing can listen at {orders.address}", advice="Look at the firewall.")
    return process, int(told["port"])


def _end(process: "subprocess.Popen[bytes]") -> None:
    for pipe in (process.stdin, process.stdout):
        if pipe is not None:
            with suppress(OSError):
                pipe.close()
    try:
        process.wait(_ENDS)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait()
