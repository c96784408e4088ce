"""Sharing ends with its connections, whoever still keeps one open."""

import gc
import socket
import ssl
from pathlib import Path

from pathway.web.app import create_app
from pathway.web.config import AppSettings
from pathway.web.share.sharing import Sharing

HERE = "127.0.0.2"


def test_a_device_that_does_not_hang_up_is_cut(tmp_path: Path) -> None:
    """It has asked for a page and keeps its line open; when sharing ends the line is gone, and not only some day."""
    sharing: Sharing = create_app(AppSettings(tmp_path)).state.sharing
    sharing.start(HERE)
    port = int(sharing.address.rsplit(":", 1)[1])
    context = ssl.create_default_context()
    context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
    gc.disable()  # which would let it go too, at its own time
    try:
        with (
            socket.create_connection((HERE, port), 2) as plain,
            plain.dup() as wire,
            context.wrap_socket(plain, server_hostname=HERE) as line,
        ):
            line.sendall(f"GET /enter HTTP/1.1\r\nHost: {HERE}:{port}\r\n\r\n".encode())
            assert line.recv(65536).startswith(b"HTTP/1.1 200")
            sharing.stop()
            wire.settimeout(2)
            assert _hung_up(wire)
    finally:
        gc.enable()
    assert not sharing.on


def _hung_up(wire: socket.socket) -> bool:
    """Whether the other side has closed a connection, after what it still had to say."""
    try:
        while wire.recv(65536):
            pass
    except ConnectionResetError:
        return True
    except TimeoutError:
        return False
    return True
