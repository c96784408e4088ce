"""Sharing ends with its connections, whoever still keeps one open; what it sends is pressed together."""

import gc
import socket
import ssl
from contextlib import closing
from http.client import HTTPSConnection
from pathlib import Path
from urllib.parse import urlencode

import pytest
from starlette.testclient import TestClient

from pathway.web.app import create_app
from pathway.web.config import AppSettings
from pathway.web.share.sharing import Sharing
from pathway.web.shared.assets import address

HERE, ALONE = "127.0.0.2", "127.0.0.7"


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


def test_off_and_on_it_is_at_the_same_port_and_speaks_the_newest_form_alone(tmp_path: Path) -> None:
    """A tablet finds it again, though a line from before is still closing; older forms of TLS are refused."""
    sharing: Sharing = create_app(AppSettings(tmp_path)).state.sharing
    context = ssl.create_default_context()
    context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
    ports = []
    for _ in range(2):
        sharing.start(ALONE)
        ports.append(int(sharing.address.rsplit(":", 1)[1]))
        with socket.create_connection((ALONE, ports[-1]), 2) as plain, context.wrap_socket(plain) as line:
            assert line.version() == "TLSv1.3"
        sharing.stop()
    assert ports[0] == ports[1]
    sharing.start(ALONE)
    try:
        context.maximum_version = ssl.TLSVersion.TLSv1_2
        with socket.create_connection((ALONE, ports[0]), 2) as plain, pytest.raises(ssl.SSLError):
            context.wrap_socket(plain)
    finally:
        sharing.stop()


def test_what_goes_through_the_air_is_pressed_together(tmp_path: Path) -> None:
    """Not what stays on this computer: there it would only take time."""
    app = create_app(AppSettings(tmp_path))
    asked = {"Accept-Encoding": "gzip"}
    context = ssl.create_default_context()
    context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
    app.state.sharing.start(HERE)
    try:
        port = int(app.state.sharing.address.rsplit(":", 1)[1])
        with closing(HTTPSConnection(HERE, port, context=context)) as far:
            form = {"Content-Type": "application/x-www-form-urlencoded"}
            far.request("POST", "/enter", urlencode({"code": app.state.sharing.codes.words}), form)
            entered = far.getresponse()
            entered.read()
            cookie = str(entered.getheader("Set-Cookie")).partition(";")[0]
            far.request("GET", f"{address()}/css/app.css", headers={**asked, "Cookie": cookie})
            answer = far.getresponse()
            answer.read()
            assert (answer.status, answer.getheader("Content-Encoding")) == (200, "gzip")
    finally:
        app.state.sharing.stop()
    near = TestClient(app, base_url="http://127.0.0.1").get(f"{address()}/css/app.css", headers=asked)
    assert near.status_code == 200
    assert "Content-Encoding" not in near.headers
