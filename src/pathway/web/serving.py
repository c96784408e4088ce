"""Starts the app on this computer, once for each data folder, and says what stands in the way."""

import ipaddress
import logging
import os
import socket
import threading
from contextlib import suppress
from datetime import datetime
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import Protocol

import uvicorn
from fastapi import FastAPI
from filelock import FileLock, Timeout

from pathway.demo.loader import PLAYED
from pathway.desk.simulating import Simulating
from pathway.errors import DamagedData, DataError, NotFound, PathwayError
from pathway.web.app import create_app
from pathway.web.config import AppSettings
from pathway.web.rescue import create_rescue
from pathway.web.share.sharing import Sharing
from pathway.web.shared.wire import wire

log = logging.getLogger("pathway")
LOG_BYTES = 1_000_000


class At(Protocol):
    """Is told where the app is."""

    def __call__(self, address: str, folder: Path, *, already: bool, shared: str = "") -> None:
        """Say it to the player."""


def serve_on(host: str, port: int, data: Path | None, *, demo: bool, at: At, share: bool = False) -> None:
    """Serve the app until it is ended; where it runs already on these data, say where instead.

    Args:
        host: of this computer.
        port: to listen on; 0 for any that is free.
        data: folder for the data; None for the user's.
        demo: whether the demo pieces are put on the shelf.
        at: told where the app is, once it can be asked.
        share: whether other devices of the home network are let in, by a code.

    Raises:
        PathwayError: another computer's address, a port that is taken, or data that cannot be used.
    """
    plain = AppSettings()
    name = _of_this_computer(host)
    settings = AppSettings(data=data or plain.data, demo=demo, hosts=(*plain.hosts, name))
    if os.name == "posix":
        os.umask(0o077)  # what is written from here on is the player's alone
    folder = _made(settings.data)
    lock, address = FileLock(folder / "pathway.lock"), folder / "pathway.address"
    try:
        with lock.acquire(timeout=0), _listening(host, port) as sock:
            address.unlink(missing_ok=True)  # of a start that was cut off
            _write_log(folder)
            where, told = f"http://{name}:{sock.getsockname()[1]}", False
            while (app := _whole(settings)) is None:
                address.write_text(where, encoding="utf-8")
                if not told:
                    at(where, folder, already=False)
                told = True
                if not _rescued(settings, sock):
                    return
            threading.Thread(target=_play_demo, args=(app.state.simulating, app.state.new_demo), daemon=True).start()
            address.write_text(where, encoding="utf-8")
            shared = _shared(app.state.sharing) if share else ""
            if not told:
                at(where, folder, already=False, shared=shared)
            server = uvicorn.Server(uvicorn.Config(app, log_level="warning", timeout_graceful_shutdown=2))
            app.state.ends = lambda: server.should_exit
            server.run(sockets=[sock])
    except Timeout:
        there = address.read_text(encoding="utf-8") if address.exists() else "an address it is about to open"
        at(there, folder, already=True)


def _whole(settings: AppSettings) -> FastAPI | None:
    """Return the app; None where the data are damaged."""
    try:
        return create_app(settings)
    except DamagedData:
        log.exception("The way back is shown.")
        return None


def _rescued(settings: AppSettings, sock: socket.socket) -> bool:
    """Show the way back until something else stands in the place of damaged data; return whether it does."""
    chosen = threading.Event()

    def done() -> None:
        chosen.set()
        server.should_exit = True

    rescue = create_rescue(settings, done)
    server = uvicorn.Server(uvicorn.Config(rescue, log_level="warning", timeout_graceful_shutdown=2))
    with sock.dup() as own:
        server.run(sockets=[own])
    return chosen.is_set()


def _shared(sharing: Sharing) -> str:
    """Turn sharing on; return where, and with which code, or why not: the app opens nevertheless."""
    try:
        sharing.start()
    except PathwayError as error:
        return f"Not shared. {error.text}"
    return f"Shared with the home network at {sharing.address}. The code: {sharing.codes.words}"


def _play_demo(simulating: Simulating, new: dict[str, int]) -> None:
    """Let demo pieces that are new on the shelf have their takes, while the player looks around."""
    for key in PLAYED & new.keys():
        with suppress(NotFound):  # the player let it go meanwhile
            simulating.tell(new[key], datetime.now().astimezone())


def _of_this_computer(host: str) -> str:
    """Return a host as addresses have it, if it is this computer alone.

    Raises:
        PathwayError: others can reach it, or it is no address.
    """
    try:
        alone = host == "localhost" or ipaddress.ip_address(host).is_loopback
    except ValueError:
        alone = False
    if not alone:
        raise PathwayError(
            f"Pathway listens to this computer only, not at {host}",
            advice="Leave --host out, and take --share to let other devices of the house in by a code.",
        )
    return f"[{host}]" if ":" in host else host


def _made(folder: Path) -> Path:
    try:
        folder.mkdir(parents=True, exist_ok=True)
        (folder / "pathway.lock").touch()
    except OSError as error:
        raise DataError(
            f"Nothing can be kept in this folder: {(error.strerror or 'it cannot be used').lower()}",
            place=str(folder),
            advice="Choose another one with --data.",
        ) from error
    return folder


def _listening(host: str, port: int) -> socket.socket:
    sock = wire(host)
    sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        sock.bind((host, port))
        sock.listen(128)
    except (OSError, OverflowError) as error:
        sock.close()
        why = "ports go from 1 to 65535" if isinstance(error, OverflowError) else (error.strerror or "it is taken")
        raise PathwayError(
            f"Port {port} cannot be used: {why.lower()}",
            place=host,
            advice="End the program that holds it, or choose another with --port.",
        ) from error
    return sock


def _write_log(folder: Path) -> None:
    """Let faults of ours be read later, by their numbers."""
    handler = RotatingFileHandler(folder / "pathway.log", maxBytes=LOG_BYTES, backupCount=1, encoding="utf-8")
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
    log.addHandler(handler)
