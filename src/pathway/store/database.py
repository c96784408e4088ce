"""Opens the database and brings its tables up to date; every change is one transaction that has the data for itself."""

import os
import shutil
import sqlite3
import threading
from collections import defaultdict
from collections.abc import Iterator
from contextlib import closing, contextmanager
from functools import cache
from pathlib import Path
from typing import Any
from urllib.parse import quote

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from alembic.util.exc import CommandError
from pydantic_core import from_json, to_json
from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.exc import DatabaseError, OperationalError
from sqlalchemy.orm import Session

from pathway.errors import DamagedData, DataError
from pathway.store.copies import FOLDER, copy_before

MIGRATIONS = Path(__file__).parent / "migrations"
PATIENCE = 10_000  # for another program that writes [ms]; writers of this one wait for each other as long as it takes
LEAST_ROOM = 30_000_000  # on the disk [bytes]
_WRITES = "pathway_writes"
_TURNS: defaultdict[str, threading.RLock] = defaultdict(threading.RLock)  # by the place of the data
_KEPT_FROM = {
    "SQLITE_FULL": ("the disk is full", "Make room, then try again."),
    "SQLITE_BUSY": ("another program holds the data", "Close what else has them open, then try again."),
    "SQLITE_READONLY": ("the data cannot be written", "Let Pathway write in their folder, then try again."),
}


def open_database(url: str, *, as_it_is: bool = False) -> Engine:
    """Return an engine on an up-to-date database.

    Args:
        url: as SQLAlchemy takes it; a school can point it at a server.
        as_it_is: whether its form must be that of today already, for another program works on it.

    Raises:
        DamagedData: the data cannot be read through; they are left as they are.
        DataError: they are from a later or an earlier Pathway, or cannot be written; likewise.
    """
    engine = create_engine(url, json_serializer=_to_json, json_deserializer=from_json)
    if engine.dialect.name == "sqlite":
        event.listen(engine, "connect", _set_up_sqlite)
        event.listen(engine, "begin", _begin)
        _check_place(engine)
        _check_whole(engine)
    try:
        if as_it_is:
            _check_form(engine)
        else:
            migrate(engine)
    except CommandError as error:
        raise DataError(
            "These data come from a later Pathway", place=_place(engine), advice="Open them with that version."
        ) from error
    except DatabaseError as error:
        raise DataError(
            "The data cannot be opened: someone else holds them",
            place=_place(engine),
            advice="Close other Pathways, then start again.",
        ) from error
    return engine


@contextmanager
def writing(engine: Engine) -> Iterator[Session]:
    """Open a session whose one transaction has the data for itself from its first look at them, and commit it.

    Raises:
        DataError: the disk is full, others hold the data, or nothing can be written; none of it is kept.
    """
    try:
        with _TURNS[_place(engine)], Session(engine) as session, session.begin():
            session.connection(execution_options={_WRITES: True})
            yield session
    except OperationalError as error:
        known = _KEPT_FROM.get(getattr(error.orig, "sqlite_errorname", ""))
        if known is None:
            raise
        why, advice = known
        raise DataError(f"This could not be kept: {why}", place=_place(engine), advice=advice) from error


def sound_sqlite(file: Path, *, alone: bool = False) -> bool:
    """Whether a file is a database that can be read through, alone or with what is not folded into it yet."""
    try:
        place = f"file:{quote(str(file))}?mode=ro{'&immutable=1' if alone else ''}"
        with closing(sqlite3.connect(place, uri=True)) as data:
            data.execute("PRAGMA trusted_schema=OFF")
            return bool(
                data.execute("PRAGMA quick_check(1)").fetchone() == ("ok",)
                and data.execute("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'").fetchone()
            )
    except sqlite3.DatabaseError:
        return False


def _check_whole(engine: Engine) -> None:
    """Refuse data that cannot be read through.

    Raises:
        DamagedData: there is a file, but not with sound data in it.
    """
    file = Path(engine.url.database or ":memory:")
    if file.is_file() and not sound_sqlite(file) and not _never_begun(file):
        raise DamagedData(
            "The data are damaged: they cannot be read through", place=str(file), advice="Go back to one of the copies."
        )


def _never_begun(file: Path) -> bool:
    """Whether a first start was cut off before it had made a table: then nothing was ever kept, nor copied."""
    if any((file.parent / FOLDER).glob("*.sqlite")):
        return False
    try:
        with closing(sqlite3.connect(f"file:{quote(str(file))}?mode=ro", uri=True)) as data:
            return data.execute("SELECT 1 FROM sqlite_master LIMIT 1").fetchone() is None
    except sqlite3.DatabaseError:
        return False


def _check_form(engine: Engine) -> None:
    """Refuse data whose form is another one than that of today.

    Raises:
        DataError: they are.
    """
    with engine.connect() as connection:
        now = MigrationContext.configure(connection).get_current_revision()
    if now != _newest():
        raise DataError(
            "These data are of another Pathway, which is running",
            place=_place(engine),
            advice="End it, then try again.",
        )


def migrate(engine: Engine) -> None:
    """Bring the tables to the newest form in one transaction, keeping what they hold; a copy is made before."""
    with engine.connect() as connection:
        now = MigrationContext.configure(connection).get_current_revision()
    if now == _newest():
        return
    config = _config()
    if now is not None and engine.dialect.name == "sqlite":
        copy_before(engine, f"form-{now}")
    with engine.execution_options(**{_WRITES: True}).begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


@cache
def _newest() -> str | None:
    """Return the form that the data are brought to; looked up once, for that reads every migration."""
    return ScriptDirectory.from_config(_config()).get_current_head()


def known_versions() -> set[str]:
    """Return the forms of the data that can be brought up to date."""
    return {script.revision for script in ScriptDirectory.from_config(_config()).walk_revisions()}


def fold(engine: Engine) -> None:
    """Fold what was written last into the one visible file."""
    if engine.dialect.name == "sqlite":
        with engine.connect() as connection:
            raw = connection.connection.driver_connection
            connection.rollback()
            if raw is not None:
                raw.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def _config() -> Config:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    return config


def _to_json(value: Any) -> str:
    """Write a column; the long ones are paths, thousands of numbers that every edit writes."""
    return to_json(value).decode()


def _set_up_sqlite(connection: Any, _record: object) -> None:
    connection.isolation_level = None  # transactions begin where we say, and hold changes of tables, too
    cursor = connection.cursor()
    cursor.execute(f"PRAGMA busy_timeout={PATIENCE}")
    cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA synchronous=FULL")  # what was acknowledged is on the disk
    cursor.execute("PRAGMA foreign_keys=ON")
    cursor.execute("PRAGMA trusted_schema=OFF")
    cursor.close()


def _begin(connection: Connection) -> None:
    writes = connection.get_execution_options().get(_WRITES)
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")


def _place(engine: Engine) -> str:
    return engine.url.database or engine.url.render_as_string()


def _check_place(engine: Engine) -> None:
    """Refuse a place where nothing can be kept, in words.

    Raises:
        DataError: it cannot be written, or the disk is full.
    """
    database = engine.url.database
    if not database or database == ":memory:":
        return
    folder, file = Path(database).parent, Path(database)
    if not os.access(folder, os.W_OK) or (file.exists() and not os.access(file, os.W_OK)):
        raise DataError("Nothing can be written there", place=str(folder), advice="Choose another folder with --data.")
    if shutil.disk_usage(folder).free < LEAST_ROOM:
        raise DataError("The disk is full", place=str(folder), advice="Make room, then start again.")
