"""Everything that is kept, in one file, and back again."""

import sqlite3
import tempfile
import zipfile
from contextlib import closing
from io import BytesIO
from pathlib import Path

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from pathway.errors import ScoreError
from pathway.store.database import open_database
from pathway.store.models import PieceRow
from pathway.store.pieces import Pieces

NAME = "pathway.sqlite"
MOST_BYTES = 2_000_000_000  # unpacked


def back_up(engine: Engine) -> bytes:
    """Return a file with everything in it: a zip archive around the database as it is at this moment.

    Raises:
        ScoreError: the data lie on a server of their own.
    """
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / NAME
        with closing(sqlite3.connect(_file_of(engine))) as source, closing(sqlite3.connect(copy)) as target:
            source.backup(target)
        packed = BytesIO()
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.write(copy, NAME)
        return packed.getvalue()


def restore(engine: Engine, data: bytes) -> int:
    """Put everything from a backup in the place of what there is; return how many pieces it holds.

    It is unpacked, brought up to date and read through beside the present data first: they are left alone unless all
    of it is sound.

    Raises:
        ScoreError: not a backup, a damaged one, or one of a later Pathway.
    """
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / NAME
        copy.write_bytes(_unpacked(data))
        count = _checked(copy)
        with closing(sqlite3.connect(copy)) as source, closing(sqlite3.connect(_file_of(engine))) as target:
            source.backup(target)
    engine.dispose()
    return count


def _unpacked(data: bytes) -> bytes:
    try:
        with zipfile.ZipFile(BytesIO(data)) as archive:
            if archive.getinfo(NAME).file_size > MOST_BYTES:
                raise _refused("it is too large")
            return archive.read(NAME)
    except (zipfile.BadZipFile, KeyError) as error:
        raise _refused("it is not a backup of Pathway") from error


def _checked(copy: Path) -> int:
    """Read every piece of an unpacked backup; return how many there are."""
    engine = None
    try:
        with closing(sqlite3.connect(copy)) as connection:
            if connection.execute("PRAGMA integrity_check").fetchone() != ("ok",):
                raise _refused("it is damaged")
        engine = open_database(f"sqlite:///{copy}")
        pieces = Pieces(engine)
        with Session(engine) as session:
            keys = session.scalars(select(PieceRow.id)).all()
        for key in keys:
            pieces.piece(key)
        return len(keys)
    except ScoreError:
        raise
    except Exception as error:  # whatever is wrong with a file from outside, the present data must stay
        raise _refused("it cannot be read through") from error
    finally:
        if engine is not None:
            engine.dispose()


def _refused(why: str) -> ScoreError:
    return ScoreError(f"This file was not taken: {why}", advice="Choose a file that “Back up everything” made.")


def _file_of(engine: Engine) -> str:
    if engine.dialect.name != "sqlite" or not engine.url.database:
        raise ScoreError("These data lie on a database server", advice="Back them up there.")
    return engine.url.database
