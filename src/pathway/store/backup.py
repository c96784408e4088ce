"""Everything that is kept, in one file, and back again; what comes back is read through before it is used."""

import sqlite3
import tempfile
from collections.abc import Iterable, Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from secrets import token_urlsafe

from sqlalchemy import Engine, delete, func, select, update
from sqlalchemy.orm import Session

from pathway.errors import DataError, ScoreError
from pathway.formats.recording import check_flac
from pathway.store.arrivals import NAME, files_beside, is_whole, opened_afresh, packed, pour, unpack
from pathway.store.copies import copy_before, copy_named, keep_arrived, sounds_of
from pathway.store.database import writing
from pathway.store.models import Base, PieceRow, RevisionRow, RigRow, TakeRow
from pathway.store.takes import PACKED_SOUND, Takes


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


def back_up(engine: Engine, beside: Iterable[tuple[str, bytes]] = ()) -> bytes:
    """Return a file with everything in it: a zip archive around the database as it is at this moment.

    Args:
        engine: of the data.
        beside: files that come along, by name.

    Raises:
        ScoreError: the data lie on a server of their own.
        DataError: the data are damaged.
    """
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / NAME
        with closing(sqlite3.connect(_file_of(engine))) as source, closing(sqlite3.connect(copy)) as target:
            source.backup(target)
            if not is_whole(target):
                raise DataError(
                    "The data are damaged; a backup of them would be, too",
                    advice="Go back to one of the copies in the settings.",
                )
        return packed(copy, beside)


def take_in(engine: Engine, data: bytes) -> str:
    """Read a backup through, its sounds too, and lay it beside the other copies; return its name among them.

    Raises:
        ScoreError: not a backup, a damaged one, or one of a later Pathway; says what is wrong.
    """
    _file_of(engine)
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / NAME
        unpack(data, copy)
        with opened_afresh(copy):
            sounds = 0
            for _, sound in files_beside(data, PACKED_SOUND):
                check_flac(sound)
                sounds += 1
            return keep_arrived(engine, copy, data if sounds else None)


def look_into(engine: Engine, name: str) -> Contents:
    """Return what a copy holds, read through to its end.

    Raises:
        NotFound: there is no such copy.
        ScoreError: it cannot be put in the place of the data; says why.
    """
    with opened_afresh(copy_named(engine, name)) as fresh:
        return contents_of(fresh)


def put_in_place(engine: Engine, name: str, takes: Takes) -> int:
    """Put everything from a copy in the place of what there is, which is copied first; return its number of pieces.

    Pages from before cannot change what came after: every piece counts on from the highest version there was. Sounds
    that came along are kept under new names, so that none that is here is written over.

    Raises:
        NotFound: there is no such copy.
        ScoreError: it cannot be put there; says why, and the present data are left alone.
    """
    with (
        opened_afresh(copy_named(engine, name)) as fresh,
        _brought(engine, name, takes) as tokens,
        writing(engine) as session,
    ):
        highest = session.scalar(select(func.max(PieceRow.version))) or 0
        copy_before(engine, "return")
        for table in reversed(Base.metadata.sorted_tables):
            session.execute(delete(table))
        pour(fresh, session)
        for old, new in tokens.items():
            session.execute(update(TakeRow).where(TakeRow.token == old).values(token=new))
        session.execute(update(PieceRow).values(version=PieceRow.version + highest + 1))
        return contents_of(fresh).pieces


@contextmanager
def _brought(engine: Engine, name: str, takes: Takes) -> Iterator[dict[str, str]]:
    """Keep the sounds that came with a copy, under new tokens by their old ones; let them go if it is not taken."""
    tokens: dict[str, str] = {}
    file = sounds_of(engine, name)
    try:
        for token, sound in files_beside(file.read_bytes(), PACKED_SOUND) if file.is_file() else ():
            tokens[token] = token_urlsafe(16)
            takes.keep_sound(tokens[token], sound)
        yield tokens
    except BaseException:
        for token in tokens.values():
            takes.drop_sound(token)
        raise


def _file_of(engine: Engine) -> str:
    if engine.dialect.name != "sqlite" or not engine.url.database:
        raise ScoreError("These data lie on a database server", advice="Back them up there.")
    return engine.url.database
