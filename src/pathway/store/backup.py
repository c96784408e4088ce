"""Everything that is kept, in one file, and back again; what comes back is read through before it is used."""

import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from io import BytesIO
from pathlib import Path

from sqlalchemy import Engine, delete, func, insert, select, update
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from pathway.errors import DataError, ScoreError
from pathway.formats.safe_files import DAMAGED
from pathway.store.copies import copy_before, copy_named, keep_arrived
from pathway.store.database import known_versions, open_database, writing
from pathway.store.models import Base, PieceRow, RevisionRow, RigRow
from pathway.store.pieces import Pieces
from pathway.store.rigs import Rigs

NAME = "pathway.sqlite"
MOST_BYTES, MOST_TIMES, ALWAYS = 2_000_000_000, 100, 20_000_000  # unpacked; of the packed size; allowed in any case
_CHUNK = 1_000_000  # [bytes]
_TABLES = {*Base.metadata.tables, "alembic_version"}


@dataclass(frozen=True, slots=True)
class Contents:
    """What data hold, to be compared before one takes the place of the other."""

    pieces: int
    states: int  # of their plans
    rigs: int
    last: datetime | None  # change of a plan


def contents_of(engine: Engine) -> Contents:
    """Return what the present data hold."""
    with Session(engine) as session:
        last = session.scalar(select(func.max(RevisionRow.created_at)))
        return Contents(
            session.scalar(select(func.count(PieceRow.id)).where(PieceRow.removed_at.is_(None))) or 0,
            session.scalar(select(func.count(RevisionRow.id))) or 0,
            session.scalar(select(func.count(RigRow.id)).where(RigRow.removed_at.is_(None))) or 0,
            last and last.replace(tzinfo=UTC),
        )


def back_up(engine: Engine) -> bytes:
    """Return a file with everything in it: a zip archive around the database as it is at this moment.

    Raises:
        ScoreError: the data lie on a server of their own.
        DataError: the data are damaged.
    """
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / NAME
        with closing(sqlite3.connect(_file_of(engine))) as source, closing(sqlite3.connect(copy)) as target:
            source.backup(target)
            if not _whole(target):
                raise DataError(
                    "The data are damaged; a backup of them would be, too",
                    advice="Go back to one of the copies in the settings.",
                )
        packed = BytesIO()
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.write(copy, NAME)
        return packed.getvalue()


def take_in(engine: Engine, data: bytes) -> str:
    """Read a backup through and lay it beside the other copies; return its name among them.

    Raises:
        ScoreError: not a backup, a damaged one, or one of a later Pathway; says what is wrong.
    """
    _file_of(engine)
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / NAME
        _unpack(data, copy)
        with _fresh(copy):
            return keep_arrived(engine, copy)


def look_into(engine: Engine, name: str) -> Contents:
    """Return what a copy holds, read through to its end.

    Raises:
        NotFound: there is no such copy.
        ScoreError: it cannot be put in the place of the data; says why.
    """
    with _fresh(copy_named(engine, name)) as fresh:
        return contents_of(fresh)


def put_in_place(engine: Engine, name: str) -> int:
    """Put everything from a copy in the place of what there is, which is copied first; return how many pieces it holds.

    Pages from before cannot change what came after: every piece counts on from the highest version there was.

    Raises:
        NotFound: there is no such copy.
        ScoreError: it cannot be put there; says why, and the present data are left alone.
    """
    with _fresh(copy_named(engine, name)) as fresh, writing(engine) as session:
        highest = session.scalar(select(func.max(PieceRow.version))) or 0
        copy_before(engine, "return")
        for table in reversed(Base.metadata.sorted_tables):
            session.execute(delete(table))
        _pour(fresh, session)
        session.execute(update(PieceRow).values(version=PieceRow.version + highest + 1))
        return contents_of(fresh).pieces


def _unpack(data: bytes, copy: Path) -> None:
    most = min(MOST_BYTES, ALWAYS + MOST_TIMES * len(data))
    try:
        archive = zipfile.ZipFile(BytesIO(data))
        member = archive.getinfo(NAME)
    except (zipfile.BadZipFile, KeyError, ValueError) as error:
        raise _refused("it is not a backup of Pathway") from error
    try:
        with archive.open(member) as packed, copy.open("wb") as out:
            while chunk := packed.read(_CHUNK):
                out.write(chunk)
                if out.tell() > most:
                    raise _refused("it is too large")
    except DAMAGED as error:
        raise _refused("it is damaged") from error


@contextmanager
def _fresh(copy: Path) -> Iterator[Engine]:
    """Open a database made anew, into which the rows of a copy were read; the copy itself stays as it is.

    Raises:
        ScoreError: the copy cannot be put in the place of the data; says why.
    """
    _check(copy)
    with tempfile.TemporaryDirectory() as folder:
        looked_at = Path(folder) / "copy.sqlite"
        shutil.copyfile(copy, looked_at)
        fresh = open_database(f"sqlite:///{Path(folder) / NAME}")
        try:
            _read_over(looked_at, fresh)
            yield fresh
        finally:
            fresh.dispose()


def _check(copy: Path) -> None:
    """Refuse a file that is no database of ours before anything in it is used."""
    try:
        with closing(sqlite3.connect(f"file:{copy}?mode=ro&immutable=1", uri=True)) as connection:
            connection.execute("PRAGMA trusted_schema=OFF")
            if not _whole(connection):
                raise _refused("it is damaged")
            found = connection.execute("SELECT type, name FROM sqlite_master").fetchall()
            tables = {name for kind, name in found if kind == "table" and not name.startswith("sqlite_")}
            if "piece" not in tables or "alembic_version" not in tables:
                raise _refused("there are no pieces of Pathway in it")
            foreign = [name for kind, name in found if kind in {"trigger", "view"}] + sorted(tables - _TABLES)
            if foreign:
                raise _refused(f"there is something in it that Pathway did not make: {foreign[0]}")
            (version,) = connection.execute("SELECT version_num FROM alembic_version").fetchone() or ("",)
            if version not in known_versions():
                raise _refused("it comes from a later Pathway")
            if connection.execute("PRAGMA foreign_key_check").fetchone():
                raise _refused("some of it belongs to pieces that are not there")
    except sqlite3.DatabaseError as error:
        raise _refused("it cannot be read through") from error


def _whole(connection: sqlite3.Connection) -> bool:
    return bool(connection.execute("PRAGMA integrity_check").fetchone() == ("ok",))


def _read_over(looked_at: Path, fresh: Engine) -> None:
    """Bring a copy up to date, and its rows over."""
    try:
        source = open_database(f"sqlite:///{looked_at}")
        with writing(fresh) as session:
            _pour(source, session)
        source.dispose()
        _read_through(fresh)
    except (SQLAlchemyError, DataError, ValueError, TypeError, LookupError) as error:
        why = error.message if isinstance(error, DataError) else "a row of it is not of its kind"
        raise _refused(f"what is in it cannot be read ({why})") from error


def _pour(source: Engine, session: Session) -> None:
    """Write every row of the tables we know, and nothing else."""
    with source.connect() as old:
        for table in Base.metadata.sorted_tables:
            for rows in old.execute(select(table)).mappings().partitions(200):
                session.execute(insert(table), [dict(row) for row in rows])


def _read_through(engine: Engine) -> None:
    """Read every piece and every rig as the app would."""
    pieces = Pieces(engine)
    with Session(engine) as session:
        keys = session.scalars(select(PieceRow.id)).all()
    for key in keys:
        pieces.piece(key)
    if any(rig.fault for rig in Rigs(engine).own()):
        raise _refused("a rig in it cannot be read")


def _refused(why: str) -> ScoreError:
    return ScoreError(f"This file was not taken: {why}", advice="Choose a file that “Back up everything” made.")


def _file_of(engine: Engine) -> str:
    if engine.dialect.name != "sqlite" or not engine.url.database:
        raise ScoreError("These data lie on a database server", advice="Back them up there.")
    return engine.url.database
