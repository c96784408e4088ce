"""One piece with its whole history and the rigs it was planned on: out as rows, and in beside the others."""

import tempfile
from collections.abc import Mapping
from datetime import UTC, datetime
from pathlib import Path
from secrets import token_urlsafe
from typing import Any

from pydantic import ValidationError
from pydantic_core import from_json, to_json
from sqlalchemy import Engine, Table, delete, insert, select, update
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from pathway.core.rig import PRESETS
from pathway.errors import DataError, ScoreError
from pathway.formats.misread import first_fault
from pathway.store.arrivals import NAME, opened_afresh, read_through, refused, unpack
from pathway.store.database import writing
from pathway.store.models import (
    AsideRow,
    HeardRow,
    LadderRow,
    PerformanceRow,
    PieceRow,
    RevisionRow,
    RigRow,
    SetRow,
    TakeRow,
    VariantRow,
)
from pathway.store.revisions import revision_of
from pathway.store.rigs import OWN
from pathway.store.row_models import row_model
from pathway.store.takes import Takes

_TAKE: Any = TakeRow.__table__
_KEPT_BESIDE = (RevisionRow, HeardRow, AsideRow, VariantRow, SetRow, LadderRow, PerformanceRow, TakeRow)
_BESIDE: list[Any] = [row.__table__ for row in _KEPT_BESIDE]
_OF_HISTORY: list[Any] = [row.__table__ for row in (RevisionRow, HeardRow, LadderRow, PerformanceRow)]
_PIECE: Any = PieceRow.__table__
_REVISION: Any = RevisionRow.__table__
_RIG: Any = RigRow.__table__
_MOST_ROWS = 50_000


def history_of(engine: Engine, key: int) -> bytes:
    """Return the states of a piece, what was heard in it and where its drills stand, with the rigs, as JSON."""
    with Session(engine) as session:
        rows = {table.name: _rows(session, table, table.c.piece_id == key) for table in _OF_HISTORY}
        rigs = {str(row["rig"]) for row in rows[_REVISION.name]}
        own = [int(rig.removeprefix(OWN)) for rig in rigs if rig.removeprefix(OWN).isdecimal()]
        at = session.scalar(select(PieceRow.at).where(PieceRow.id == key))
        return to_json({"at": at, "rows": {**rows, _RIG.name: _rows(session, _RIG, _RIG.c.id.in_(own))}}, indent=1)


def lay_history(engine: Engine, key: int, data: bytes) -> None:
    """Let the states of a history take the place of those of a piece that has just been made.

    Raises:
        ScoreError: something in it is not sound; says what.
    """
    try:
        told = from_json(data)
        rows = {table: _checked(table, told["rows"].get(table.name, [])) for table in [*_OF_HISTORY, _RIG]}
        at = int(told["at"])
    except (ValueError, KeyError, TypeError, AttributeError) as error:
        raise ScoreError("The history in this piece file is not sound", advice="Ask for it again.") from error
    rig_of = {row["number"]: row["rig"] for row in rows[_REVISION]}
    known = {*PRESETS, *(f"{OWN}{row['id']}" for row in rows[_RIG])}
    if at not in rig_of or not known.issuperset(rig_of.values()):
        raise ScoreError("The history in this piece file is not whole", advice="Ask for it again.")
    try:
        with writing(engine) as session:
            for table in [*_OF_HISTORY, _RIG]:
                session.execute(delete(table))
                for row in rows[table]:
                    _put(session, table, {**row, "piece_id": key} if table is not _RIG else row, keep_id=table is _RIG)
            session.execute(update(_PIECE).where(_PIECE.c.id == key).values(at=at, rig=rig_of[at]))
            for state in session.scalars(select(RevisionRow)):
                revision_of(state.label, state)
        read_through(engine)
    except (DataError, SQLAlchemyError) as error:
        raise ScoreError("A state in this piece file cannot be read", advice="Ask for it again.") from error


def _checked(table: Table, rows: Any) -> list[dict[str, Any]]:
    """Return rows of a table as they may be.

    Raises:
        ScoreError: one of them is not; says which column.
    """
    if len(rows) > _MOST_ROWS:
        raise ScoreError(f"This piece file has {len(rows)} rows of one kind; that is too many")
    try:
        return [row_model(table).model_validate(row).model_dump() for row in rows]
    except ValidationError as error:
        where, what = first_fault(error)
        raise ScoreError(f"This piece file is not sound: {where} {what}", place=f"history, {table.name}") from error


def unpack_piece(engine: Engine, data: bytes) -> int:
    """Put a piece from an older kind of file, a database in a zip, on the shelf; return its id.

    Raises:
        ScoreError: it holds no piece, or several, or cannot be read; says what is wrong.
    """
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / NAME
        unpack(data, copy)
        with opened_afresh(copy) as fresh:
            return settle(engine, fresh)


def settle(engine: Engine, fresh: Engine, takes: Takes | None = None, brought: Takes | None = None) -> int:
    """Put the one piece of other data on the shelf, beside those that are there, in one transaction; return its id.

    Rigs that are here already, with the same numbers, are not put here twice.

    Args:
        engine: of the data here.
        fresh: of the others, which were read through.
        takes: where sounds are kept here; None where none come along.
        brought: where those that come along lie.

    Raises:
        ScoreError: there is not one piece in them.
        DataError: it cannot be kept; then nothing of it is.
    """
    sounds: list[str] = []
    try:
        with Session(fresh) as there, writing(engine) as here:
            pieces = _rows(there, _PIECE)
            if len(pieces) != 1:
                raise refused(f"it holds {len(pieces)} pieces; everything is taken back in the settings")
            rigs = {f"{OWN}{row['id']}": _rig_here(here, row) for row in _rows(there, _RIG)}
            lasting = {"demo_key": None, "removed_at": None, "opened_at": None, "created_at": datetime.now(UTC)}
            key = _put(here, _PIECE, {**_on(pieces[0], rigs), **lasting})
            for table in _BESIDE:
                for row in _rows(there, table):
                    own = {"token": token_urlsafe(16)} if "token" in row else {}
                    if table is _TAKE:
                        if takes is None or brought is None:
                            continue
                        sounds.append(own["token"])
                        takes.keep_sound(own["token"], brought.sound_by(row["token"]))
                    _put(here, table, {**_on(row, rigs), **own, "piece_id": key})
            return key
    except BaseException:
        for token in sounds:
            if takes is not None:
                takes.drop_sound(token)
        raise


def _rows(session: Session, table: Table, *where: Any) -> list[dict[str, Any]]:
    found = session.execute(select(table).where(*where).order_by(*table.primary_key)).mappings()
    return [dict(row) for row in found]


def _rig_here(session: Session, row: Mapping[str, Any]) -> tuple[str, int, int]:
    """Return the key here of a rig that came along, its version there and its version here."""
    numbers = {**row["document"], "key": ""}
    for same in _rows(session, _RIG):
        if same["removed_at"] is None and {**same["document"], "key": ""} == numbers:
            return f"{OWN}{same['id']}", row["version"], same["version"]
    number = _put(session, _RIG, {**row, "removed_at": None})
    return f"{OWN}{number}", row["version"], row["version"]


def _on(row: Mapping[str, Any], rigs: Mapping[str, tuple[str, int, int]]) -> dict[str, Any]:
    """Return a row on the rigs as they are called here."""
    found = dict(row)
    if row.get("rig") in rigs:
        found["rig"], there, here = rigs[row["rig"]]
        if row.get("rig_version") == there:
            found["rig_version"] = here
    return found


def _put(session: Session, table: Table, row: Mapping[str, Any], *, keep_id: bool = False) -> int:
    """Write a row, under a number of its own unless it keeps the one it has; return it."""
    values = {name: value for name, value in row.items() if keep_id or name != "id"}
    result: Any = session.execute(insert(table).values(**values))
    return int(result.inserted_primary_key[0])
