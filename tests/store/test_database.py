"""What stands in the way of keeping something is told apart and said; nothing of it is kept."""

import os
import shutil
import sqlite3
import threading
import time
from collections import namedtuple
from concurrent.futures import ThreadPoolExecutor
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


def test_writers_of_one_program_wait_for_each_other(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """However long one takes; "another program" is said of another program alone."""
    monkeypatch.setattr("pathway.store.database.PATIENCE", 20)
    engine = open_database(f"sqlite:///{tmp_path / 'a.sqlite'}")
    begun = threading.Event()

    def long_one() -> None:
        with writing(engine) as session:
            session.execute(text("DELETE FROM rig"))
            begun.set()
            time.sleep(0.3)

    with ThreadPoolExecutor() as pool:
        held = pool.submit(long_one)
        begun.wait()
        waited = [pool.submit(Rigs(engine).add, f"Mine {n}", preset("violin"), "violin") for n in range(7)]
        held.result()
        assert len({one.result() for one in waited}) == 7


def test_data_of_another_form_are_not_brought_up_to_date_under_a_running_app(tmp_path: Path) -> None:
    """Who only looks in says so in a sentence, and leaves them as they are."""
    url = f"sqlite:///{tmp_path / 'a.sqlite'}"
    engine = open_database(url)
    open_database(url, as_it_is=True).dispose()
    with engine.begin() as connection:
        connection.execute(text("UPDATE alembic_version SET version_num = '0010'"))
    with pytest.raises(DataError, match="another Pathway, which is running"):
        open_database(url, as_it_is=True)
    with engine.connect() as connection:
        assert connection.execute(text("SELECT version_num FROM alembic_version")).scalar() == "0010"
