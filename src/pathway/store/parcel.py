"""One piece with its whole history and the rigs it was planned on: out in one file, and back beside the others."""

import tempfile
from collections.abc import Mapping
from datetime import UTC, datetime
from pathlib import Path
from secrets import token_urlsafe
from typing import Any

from sqlalchemy import ColumnElement, Engine, Table, insert, select
from sqlalchemy.orm import Session

from pathway.errors import NotFound
from pathway.store.arrivals import NAME, opened_afresh, packed, refused, unpack
from pathway.store.database import fold, open_database, writing
from pathway.store.models import (
    AsideRow,
    HeardRow,
    LadderRow,
    PerformanceRow,
    PieceRow,
    RevisionRow,
    RigRow,
    SetRow,
    VariantRow,
)
from pathway.store.rigs import OWN

_KEPT_BESIDE = (RevisionRow, HeardRow, AsideRow, VariantRow, SetRow, LadderRow, PerformanceRow)
_BESIDE: list[Any] = [row.__table__ for row in _KEPT_BESIDE]
_PIECE: Any = PieceRow.__table__
_REVISION: Any = RevisionRow.__table__
_RIG: Any = RigRow.__table__


def pack_piece(engine: Engine, key: int) -> bytes:
    """Return a piece, its history, what is written beside it and its own rigs as a file.

    Raises:
        NotFound: there is no such piece.
    """
    with tempfile.TemporaryDirectory() as folder:
        alone = open_database(f"sqlite:///{Path(folder) / NAME}")
        with Session(engine) as here, writing(alone) as there:
            if not _copied(here, there, _PIECE, _PIECE.c.id == key):
                raise NotFound("There is no such piece on the shelf", advice="Go back to the shelf.")
            for table in _BESIDE:
                _copied(here, there, table, table.c.piece_id == key)
            _copied(here, there, _RIG, _RIG.c.id.in_(_rigs_of(here, key)))
        fold(alone)
        alone.dispose()
        return packed(Path(folder) / NAME)


def unpack_piece(engine: Engine, data: bytes) -> int:
    """Put a piece from a file on the shelf, beside those that are there; return its id.

    Rigs that are here already, with the same name and numbers, are not put here twice.

    Raises:
        ScoreError: it holds no piece, or several, or cannot be read; says what is wrong.
    """
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / NAME
        unpack(data, copy)
        with opened_afresh(copy) as fresh, Session(fresh) as there, writing(engine) as here:
            pieces = _rows(there, _PIECE)
            if len(pieces) != 1:
                raise refused(f"it holds {len(pieces)} pieces; everything is taken back in the settings")
            rigs = {f"{OWN}{row['id']}": _rig_here(here, row) for row in _rows(there, _RIG)}
            lasting = {"demo_key": None, "removed_at": None, "opened_at": None, "created_at": datetime.now(UTC)}
            key = _put(here, _PIECE, {**_on(pieces[0], rigs), **lasting})
            for table in _BESIDE:
                for row in _rows(there, table):
                    own = {"token": token_urlsafe(16)} if "token" in row else {}
                    _put(here, table, {**_on(row, rigs), **own, "piece_id": key})
            return key


def _rows(session: Session, table: Table) -> list[dict[str, Any]]:
    return [dict(row) for row in session.execute(select(table).order_by(*table.primary_key)).mappings()]


def _copied(here: Session, there: Session, table: Table, which: ColumnElement[bool]) -> int:
    rows = [dict(row) for row in here.execute(select(table).where(which)).mappings()]
    if rows:
        there.execute(insert(table), rows)
    return len(rows)


def _rigs_of(session: Session, key: int) -> list[int]:
    """Return the ids of the player's own rigs that any state of a piece was planned on."""
    keys = session.scalars(select(_REVISION.c.rig).where(_REVISION.c.piece_id == key).distinct())
    numbers = (rig.removeprefix(OWN) for rig in keys if rig.startswith(OWN))
    return [int(number) for number in numbers if number.isdecimal()]


def _rig_here(session: Session, row: Mapping[str, Any]) -> tuple[str, int, int]:
    """Return the key here of a rig that came along, its version there and its version here."""
    for same in _rows(session, _RIG):
        if same["removed_at"] is None and (same["name"], same["document"]) == (row["name"], row["document"]):
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


def _put(session: Session, table: Table, row: Mapping[str, Any]) -> int:
    """Write a row under a number of its own; return it."""
    values = {name: value for name, value in row.items() if name != "id"}
    result: Any = session.execute(insert(table).values(**values))
    return int(result.inserted_primary_key[0])
