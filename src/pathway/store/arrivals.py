"""Data that come from outside, as a database in a zip: read through every rule before anything of them is used."""

import re
import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterable, Iterator
from contextlib import closing, contextmanager
from io import BytesIO
from pathlib import Path
from urllib.parse import quote

from pydantic import ValidationError
from sqlalchemy import Engine, insert, select
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from pathway.errors import DataError, ScoreError
from pathway.formats.misread import first_fault
from pathway.formats.safe_files import DAMAGED
from pathway.store.database import known_versions, open_database, writing
from pathway.store.models import Base, PieceRow, VariantRow
from pathway.store.pieces import Pieces
from pathway.store.revisions import revision_of
from pathway.store.rigs import Rigs
from pathway.store.row_models import row_model

NAME = "pathway.sqlite"
_MOST_BYTES, _MOST_TIMES, _ALWAYS = 2_000_000_000, 100, 20_000_000  # unpacked; of the packed size; allowed in any case
_CHUNK = 1_000_000  # [bytes]
_TABLES = {*Base.metadata.tables, "alembic_version"}


def packed(database: Path, beside: Iterable[tuple[str, bytes]] = ()) -> bytes:
    """Return a database in a zip, with files beside it that are packed already, by name."""
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.write(database, NAME)
        for name, data in beside:
            archive.writestr(name, data, zipfile.ZIP_STORED)
    return out.getvalue()


def files_beside(data: bytes, name: re.Pattern[str]) -> Iterator[tuple[str, bytes]]:
    """Yield what of a zip, beside its database, has a name of some form: the form's first group, and the file.

    Raises:
        ScoreError: it is damaged, or too large.
    """
    left = min(_MOST_BYTES, _ALWAYS + _MOST_TIMES * len(data))
    try:
        archive = zipfile.ZipFile(BytesIO(data))
        for member in archive.infolist():
            found = name.fullmatch(member.filename)
            left -= member.file_size if found else 0
            if left < 0:
                raise refused("it is too large")
            if found:
                yield found[1], archive.read(member)
    except DAMAGED as error:
        raise refused("it is damaged") from error


def is_packed(data: bytes) -> bool:
    """Whether this is a database of ours in a zip, by its name alone."""
    try:
        return NAME in zipfile.ZipFile(BytesIO(data)).namelist()
    except DAMAGED:
        return False


def unpack(data: bytes, copy: Path) -> None:
    """Write the database in a zip into a file.

    Raises:
        ScoreError: it is none, damaged, or too large.
    """
    most = min(_MOST_BYTES, _ALWAYS + _MOST_TIMES * len(data))
    try:
        archive = zipfile.ZipFile(BytesIO(data))
        member = archive.getinfo(NAME)
    except (zipfile.BadZipFile, KeyError, ValueError) as error:
        raise refused("it is not a backup of Pathway") from error
    try:
        with archive.open(member) as packed, copy.open("wb") as out:
            while chunk := packed.read(_CHUNK):
                out.write(chunk)
                if out.tell() > most:
                    raise refused("it is too large")
    except DAMAGED as error:
        raise refused("it is damaged") from error


@contextmanager
def opened_afresh(copy: Path) -> Iterator[Engine]:
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
        with closing(sqlite3.connect(f"file:{quote(str(copy))}?mode=ro&immutable=1", uri=True)) as connection:
            connection.execute("PRAGMA trusted_schema=OFF")
            if not is_whole(connection):
                raise refused("it is damaged")
            found = connection.execute("SELECT type, name FROM sqlite_master").fetchall()
            tables = {name for kind, name in found if kind == "table" and not name.startswith("sqlite_")}
            if "piece" not in tables or "alembic_version" not in tables:
                raise refused("there are no pieces of Pathway in it")
            foreign = [name for kind, name in found if kind in {"trigger", "view"}] + sorted(tables - _TABLES)
            if foreign:
                raise refused(f"there is something in it that Pathway did not make: {foreign[0]}")
            (version,) = connection.execute("SELECT version_num FROM alembic_version").fetchone() or ("",)
            if version not in known_versions():
                raise refused("it comes from a later Pathway")
            if connection.execute("PRAGMA foreign_key_check").fetchone():
                raise refused("some of it belongs to pieces that are not there")
    except sqlite3.DatabaseError as error:
        raise refused("it cannot be read through") from error


def is_whole(connection: sqlite3.Connection) -> bool:
    """Whether a database is sound from end to end."""
    return bool(connection.execute("PRAGMA integrity_check").fetchone() == ("ok",))


def _read_over(looked_at: Path, fresh: Engine) -> None:
    """Bring a copy up to date, and its rows over."""
    try:
        source = open_database(f"sqlite:///{looked_at}")
        with writing(fresh) as session:
            pour(source, session)
        source.dispose()
        checked_rows(fresh)
        read_through(fresh)
    except (SQLAlchemyError, DataError, ValueError, TypeError, LookupError) as error:
        why = error.message if isinstance(error, DataError) else "a row of it is not of its kind"
        raise refused(f"what is in it cannot be read ({why})") from error


def pour(source: Engine, session: Session) -> None:
    """Write every row of the tables we know, and nothing else."""
    with source.connect() as old:
        for table in Base.metadata.sorted_tables:
            for rows in old.execute(select(table)).mappings().partitions(200):
                session.execute(insert(table), [dict(row) for row in rows])


def checked_rows(source: Engine) -> None:
    """Hold every row against what its table may hold.

    Raises:
        ScoreError: one of them is not; says which column.
    """
    with source.connect() as data:
        for table in Base.metadata.sorted_tables:
            for row in data.execute(select(table)).mappings():
                try:
                    row_model(table).model_validate(dict(row))
                except ValidationError as error:
                    where, what = first_fault(error)
                    raise refused(f"{where} {what} in a row of its {table.name}") from error


def read_through(engine: Engine) -> None:
    """Read every piece and every rig as the app would.

    Raises:
        DataError: one of them cannot be read.
        ScoreError: a rig cannot be.
    """
    pieces = Pieces(engine)
    with Session(engine) as session:
        keys = session.scalars(select(PieceRow.id)).all()
        for variant in session.scalars(select(VariantRow)).yield_per(100):
            revision_of(variant.name, variant)
    for key in keys:
        pieces.piece(key)
    if any(rig.fault for rig in Rigs(engine).own()):
        raise refused("a rig in it cannot be read")


def refused(why: str) -> ScoreError:
    """Return why data are not taken, in words."""
    return ScoreError(f"This file was not taken: {why}", advice="Choose one that Pathway made itself.")
