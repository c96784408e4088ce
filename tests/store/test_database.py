"""What stands in the way of keeping something is told apart and said; nothing of it is kept."""

import os
import shutil
import sqlite3
from collections import namedtuple
from contextlib import closing
from pathlib import Path

import pytest
from sqlalchemy import event, text
from sqlalchemy.exc import OperationalError

from pathway.core.rig import preset
from pathway.errors import DataError
from pathway.store import Rigs, open_database
from pathway.store.database import writing

Usage = namedtuple("Usage", "total used free")


def test_a_full_disk_is_told(tmp_path: Path) -> None:
    """In the middle of writing: the transaction leaves nothing behind."""
    engine = open_database(f"sqlite:///{tmp_path / 'a.sqlite'}")
    with engine.connect() as connection:
        pages = connection.execute(text("PRAGMA page_count")).scalar()
    event.listen(engine, "begin", lambda connection: connection.exec_driver_sql(f"PRAGMA max_page_count={pages}"))

    def fill() -> None:
        for _ in range(200):
            Rigs(engine).add("x" * 100, preset("violin"), "violin")

    with pytest.raises(DataError, match=r"the disk is full.*Make room"):
        fill()
    kept = len(Rigs(engine).own())
    with closing(sqlite3.connect(tmp_path / "a.sqlite")) as connection:
        assert connection.execute("SELECT count(*) FROM rig").fetchone() == (kept,)


def test_data_that_another_holds_are_told(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """After some patience."""
    monkeypatch.setattr("pathway.store.database.PATIENCE", 50)
    engine = open_database(f"sqlite:///{tmp_path / 'a.sqlite'}")
    with closing(sqlite3.connect(tmp_path / "a.sqlite")) as other:
        other.execute("BEGIN IMMEDIATE")
        with pytest.raises(DataError, match="another program holds the data"):
            Rigs(engine).add("Mine", preset("violin"), "violin")
    assert Rigs(engine).own() == []


def test_a_fault_of_ours_is_not_called_a_full_disk(tmp_path: Path) -> None:
    """It stays what it is, for the log."""
    engine = open_database(f"sqlite:///{tmp_path / 'a.sqlite'}")
    with pytest.raises(OperationalError, match="no such table"), writing(engine) as session:
        session.execute(text("SELECT * FROM missing"))


def test_a_place_where_nothing_can_be_kept_is_told_at_the_start(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """No room, or not ours to write in; nothing is made there."""
    url = f"sqlite:///{tmp_path / 'a.sqlite'}"
    with monkeypatch.context() as patched:
        patched.setattr(shutil, "disk_usage", lambda _: Usage(10**9, 10**9, 1000))
        with pytest.raises(DataError, match="disk is full"):
            open_database(url)
    with monkeypatch.context() as patched:
        patched.setattr(os, "access", lambda *_: False)
        with pytest.raises(DataError, match=r"Nothing can be written there.*--data"):
            open_database(url)
    assert list(tmp_path.iterdir()) == []
