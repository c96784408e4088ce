"""Sharing ends with its connections, whoever still keeps one open; what it sends is pressed together."""

import gc
import os
import socket
import ssl
import time
from collections.abc import Iterator
from contextlib import ExitStack, closing, suppress
from http.client import HTTPSConnection
from pathlib import Path
from urllib.parse import urlencode

import pytest
from starlette.testclient import TestClient

from pathway.errors import PathwayError
from pathway.web.app import create_app
from pathway.web.config import AppSettings
from pathway.web.share import gate
from pathway.web.share import sharing as sharing_module
from pathway.web.share.gate import FROM_EACH
from pathway.web.share.inner import Inner
from pathway.web.share.network import network_of
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


@pytest.fixture
def shared(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Sharing]:
    """An app that is shared, at a gate with little patience."""
    orders = gate.Orders
    monkeypatch.setattr(gate, "Orders", lambda *asked: orders(*asked, patience=0.5))
    sharing: Sharing = create_app(AppSettings(tmp_path)).state.sharing
    sharing.start(HERE)
    yield sharing
    sharing.stop()


def _port(sharing: Sharing) -> int:
    return int(sharing.address.rsplit(":", 1)[1])


def _answers(sharing: Sharing, source: str = HERE) -> bool:
    """Whether a device at an address gets the page that asks for the code."""
    context = ssl.create_default_context()
    context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
    with closing(HTTPSConnection(HERE, _port(sharing), timeout=5, context=context, source_address=(source, 0))) as line:
        line.request("GET", "/enter")
        return line.getresponse().status == 200


def test_whoever_says_nothing_holds_up_nobody(shared: Sharing) -> None:
    """Three hundred silent lines: those of one address are counted, the app has none of them, others come in."""
    files = len(os.listdir("/proc/self/fd"))
    with ExitStack() as lines:
        for _ in range(300):
            line = lines.enter_context(socket.socket())
            line.bind((HERE, 0))
            line.connect((HERE, _port(shared)))
        mine = 300
        assert len(os.listdir("/proc/self/fd")) - files - mine < 10
        assert _answers(shared, "127.0.0.9")
        time.sleep(0.8)
        assert _answers(shared)


@pytest.mark.parametrize("said", [b"", b"GET /enter HTTP/1.1\r\n", b"x" * 100_000], ids=["nothing", "half", "much"])
def test_who_does_not_ask_in_time_is_cut(shared: Sharing, said: bytes) -> None:
    """Also one that speaks TLS and then says nothing, half of it, or much too much."""
    context = ssl.create_default_context()
    context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
    with socket.create_connection((HERE, _port(shared)), 5) as plain, context.wrap_socket(plain) as line:
        with suppress(OSError):
            line.sendall(said)
        begun = time.monotonic()
        with suppress(OSError):
            assert line.recv(100) == b""
        assert time.monotonic() - begun < 3


def test_of_one_address_so_many_lines_are_taken(shared: Sharing) -> None:
    """The next is closed at once; once they are gone there is room again."""
    with ExitStack() as lines:
        for _ in range(FROM_EACH):
            lines.enter_context(socket.create_connection((HERE, _port(shared)), 5, ("127.0.0.11", 0)))
        with pytest.raises((ConnectionError, ssl.SSLError)):
            _answers(shared, "127.0.0.11")
    time.sleep(0.2)
    assert _answers(shared, "127.0.0.11")


def test_the_ear_behind_the_gate_believes_nobody_else(tmp_path: Path) -> None:
    """Who comes without the gate's word is cut, whatever address is claimed."""
    heard = list[str]()

    async def app(scope: dict[str, object], receive: object, send: object) -> None:
        heard.append(str(scope["client"]))

    inner = Inner(app, "the-word")  # type: ignore[arg-type]
    inner.start()
    try:
        for first in (b"another 10.0.0.5\n", b"GET / HTTP/1.1\r\n", b"x" * 5000):
            with socket.create_connection(("127.0.0.1", inner.port), 2) as line:
                line.sendall(first + b"GET / HTTP/1.1\r\nHost: x\r\n\r\n")
                with suppress(ConnectionResetError):
                    assert line.recv(100) == b""
        assert heard == []
        with socket.create_connection(("127.0.0.1", inner.port), 2) as line:
            line.sendall(b"the-word 10.0.0.5\nGET / HTTP/1.1\r\nHost: x\r\n\r\n")
            line.recv(100)
        assert heard == ["('10.0.0.5', 0)"]
    finally:
        inner.stop()


def test_another_network_than_last_time_is_asked_about(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """And one that changes while it is shared turns it off; both are said on the page."""
    at = [HERE]
    monkeypatch.setattr(sharing_module, "home_address", lambda: at[0])
    monkeypatch.setattr(sharing_module, "LOOKS", 0.05)
    app = create_app(AppSettings(tmp_path))
    sharing: Sharing = app.state.sharing
    page = TestClient(app, base_url="http://localhost", headers={"Origin": "http://localhost"})
    sharing.start()
    at[0] = "127.0.9.2"
    until = time.monotonic() + 10
    while sharing.on and time.monotonic() < until:
        time.sleep(0.02)
    assert not sharing.on
    told = page.get("/settings/sharing").text
    assert "another network now" in told
    assert "another network than last time" in told
    with pytest.raises(PathwayError, match="another network than"):
        sharing.start()
    page.post("/settings/sharing/on", headers={"HX-Request": "true"})
    assert not sharing.on
    page.post("/settings/sharing/on", data={"sure": "true"}, headers={"HX-Request": "true"})
    assert sharing.on
    sharing.stop()
    assert sharing.elsewhere == ""
    assert network_of("10.0.0.7").split()[0] == "10.0.0.0/24"


def test_a_gate_that_broke_down_is_told(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Sharing is off then, and can be turned on again."""
    monkeypatch.setattr(sharing_module, "LOOKS", 0.05)
    sharing: Sharing = create_app(AppSettings(tmp_path)).state.sharing
    sharing.start(HERE)
    assert sharing._running is not None
    sharing._running.gate.kill()
    until = time.monotonic() + 10
    while sharing.on and time.monotonic() < until:
        time.sleep(0.02)
    assert "broke down" in sharing.told
    sharing.start(HERE)
    assert _answers(sharing)
    sharing.stop()
