"""Starting and ending: once for each folder, on this computer only, and one whole file at the end."""

import asyncio
import os
import re
import socket
import sqlite3
import time
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
import uvicorn
from fastapi.testclient import TestClient

from pathway.demo.loader import DEMO_PIECES
from pathway.errors import DataError, PathwayError
from pathway.store.copies import FOLDER, copy_daily
from pathway.web.config import AppSettings
from pathway.web.serving import serve_on
from tests.web.asking import player


class Said:
    """What the player is told at the start."""

    def __init__(self) -> None:
        self.at: list[tuple[str, bool]] = []

    def __call__(self, address: str, folder: Path, *, already: bool, shared: str = "") -> None:
        self.at.append((address, already))


def _serve(folder: Path | None, said: Said, host: str = "127.0.0.1", port: int = 0) -> None:
    serve_on(host, port, folder, demo=False, at=said)


@pytest.fixture(autouse=True)
def mask() -> Iterator[None]:
    """The mask of files is that of the process: it is given back."""
    before = os.umask(0o022)
    os.umask(before)
    yield
    os.umask(before)


def test_what_is_written_is_the_players_alone(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """From the first moment on, not only once it was looked after."""

    def write(*_: object, **__: object) -> None:
        (tmp_path / "while-it-runs").write_text("mine")

    monkeypatch.setattr(uvicorn.Server, "run", write)
    _serve(tmp_path, Said())
    modes = {path.name: path.stat().st_mode & 0o077 for path in tmp_path.rglob("*")}
    assert set(modes.values()) == {0}


def test_a_second_start_is_shown_to_the_first(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Two writers never hold one folder; after the end it can be started again."""
    first, second = Said(), Said()
    monkeypatch.setattr(uvicorn.Server, "run", lambda *_, **__: _serve(tmp_path / "ä b#?%", second))
    _serve(tmp_path / "ä b#?%", first)
    ((address, already),) = first.at
    assert not already
    assert second.at == [(address, True)]
    monkeypatch.setattr(uvicorn.Server, "run", lambda *_, **__: None)
    _serve(tmp_path / "ä b#?%", first)
    assert [already for _, already in first.at] == [False, False]
    assert (tmp_path / "ä b#?%" / "pathway.sqlite").exists()


def test_answers_go_out_at_once(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The end of a larger answer does not wait until its beginning has been confirmed."""
    held: list[bool] = []

    async def connect(sock: socket.socket) -> None:
        met = asyncio.get_running_loop().create_future()
        server = await asyncio.start_server(lambda _, writer: met.set_result(writer), sock=sock)
        _, here = await asyncio.open_connection(*sock.getsockname()[:2])
        there = await met
        held.append(not there.get_extra_info("socket").getsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY))
        for end in (here, there, server):
            end.close()

    monkeypatch.setattr(uvicorn.Server, "run", lambda _, sockets: asyncio.run(connect(sockets[0].dup())))
    _serve(tmp_path, Said())
    assert held == [False]


def test_while_it_runs_a_copy_is_made_and_at_the_end_one_file_is_the_data(tmp_path: Path) -> None:
    """What was written last is folded in, and a copy of the day lies beside it."""
    with player(AppSettings(tmp_path, demo=True)) as client:
        until = time.monotonic() + 20
        while not list((tmp_path / FOLDER).glob("day-*.sqlite")) and time.monotonic() < until:
            time.sleep(0.02)
        assert client.post("/pieces/1/here", data={"note": "n7"}).status_code == 204
    wal = tmp_path / "pathway.sqlite-wal"
    assert not wal.exists() or wal.stat().st_size == 0
    with closing(sqlite3.connect(f"file:{tmp_path / 'pathway.sqlite'}?mode=ro&immutable=1", uri=True)) as alone:
        assert alone.execute("SELECT last_note FROM piece WHERE id = 1").fetchone() == ("n7",)
    (copy,) = (tmp_path / FOLDER).glob("*.sqlite")
    with closing(sqlite3.connect(copy)) as alone:
        assert alone.execute("SELECT count(*) FROM piece").fetchone() == (len(DEMO_PIECES),)


@pytest.mark.parametrize("host", ["0.0.0.0", "192.168.1.4", "::", "example.org", ""])
def test_no_address_that_others_can_reach_is_taken(tmp_path: Path, host: str) -> None:
    """With a word on sharing; nothing is made."""
    with pytest.raises(PathwayError, match="this computer only"):
        _serve(tmp_path / "new", Said(), host)
    assert not (tmp_path / "new").exists()


def test_what_stands_in_the_way_of_a_start_is_said(tmp_path: Path) -> None:
    """A port that is taken, a folder that is a file, data of another kind."""
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        with pytest.raises(PathwayError, match=rf"Port {port} cannot be used.*--port"):
            _serve(tmp_path / "a", Said(), port=port)
    for port in (-1, 70000):
        with pytest.raises(PathwayError, match=rf"Port {port} cannot be used: ports go from 1 to 65535"):
            _serve(tmp_path / "a", Said(), port=port)
    (tmp_path / "file").write_text("")
    with pytest.raises(DataError, match=r"Nothing can be kept in this folder.*--data"):
        _serve(tmp_path / "file", Said())


@pytest.mark.parametrize("damage", ["nothing in it", "another file", "a page of it"])
def test_damaged_data_come_back_at_one_press(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, damage: str) -> None:
    """What happened is said, sound copies are shown, the damaged file is kept; then the app itself answers."""
    with player(AppSettings(tmp_path, demo=True)) as client:
        copy_daily(client.app.state.engine)  # type: ignore[attr-defined]
    (copy,) = (tmp_path / FOLDER).glob("day-*.sqlite")
    (copy.parent / "day-2020-01-01.sqlite").write_bytes(copy.read_bytes()[:9000])
    data = tmp_path / "pathway.sqlite"
    whole = data.read_bytes()
    torn = whole[:8192] + bytes(8192) + whole[16384:]
    data.write_bytes({"nothing in it": b"", "another file": b"something else" * 500}.get(damage, torn))
    damaged, asked = data.read_bytes(), []

    def answer(server: uvicorn.Server, sockets: list[socket.socket]) -> None:
        app = server.config.app
        client = TestClient(app, base_url="http://localhost", headers={"Origin": "http://localhost"})  # type: ignore[arg-type]
        page = client.get("/pieces/1")
        asked.append(page.status_code)
        if page.status_code == 503:
            assert "The data are damaged" in page.text
            assert re.findall(r'name="name" value="([^"]+)"', page.text) == [copy.stem]
            assert client.post("/rescue", data={"name": "../../etc/passwd"}).status_code == 404
            assert data.read_bytes() == damaged
            assert "It is in place" in client.post("/rescue", data={"name": copy.stem}).text

    monkeypatch.setattr(uvicorn.Server, "run", answer)
    _serve(tmp_path, Said())
    assert asked == [503, 200]
    assert not list((tmp_path / FOLDER).glob("*.sqlite-wal"))
    (aside,) = (tmp_path / FOLDER).glob("damaged-*/pathway.sqlite")
    assert aside.read_bytes() == damaged


def test_damaged_data_without_a_copy_leave_an_empty_shelf(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Only where the player says so; what was there is kept."""
    (tmp_path / "pathway.sqlite").write_bytes(b"something else" * 500)
    asked = []

    def answer(server: uvicorn.Server, sockets: list[socket.socket]) -> None:
        client = TestClient(server.config.app, base_url="http://localhost", headers={"Origin": "http://localhost"})  # type: ignore[arg-type]
        asked.append("There is no copy" in client.get("/").text)
        if len(asked) == 2:
            client.post("/rescue")

    monkeypatch.setattr(uvicorn.Server, "run", answer)
    _serve(tmp_path, Said())
    assert asked == [True]
    assert (tmp_path / "pathway.sqlite").read_bytes().startswith(b"something else")
    _serve(tmp_path, Said())
    assert asked == [True, True, False]


def test_a_first_start_that_was_cut_off_begins_again(tmp_path: Path) -> None:
    """A file without a table, and no copy: nothing was ever kept."""
    (tmp_path / "pathway.sqlite").write_bytes(b"")
    assert player(AppSettings(tmp_path)).get("/").status_code == 200


def test_data_that_break_while_the_app_runs_are_told(shelf: TestClient) -> None:
    """In words, with what to do."""
    data = shelf.app.state.config.data / "pathway.sqlite"  # type: ignore[attr-defined]
    shelf.app.state.engine.dispose()  # type: ignore[attr-defined]
    data.write_bytes(b"something else" * 500)
    told = shelf.get("/pieces/1")
    assert told.status_code == 503
    assert "End Pathway and start it again" in told.text
