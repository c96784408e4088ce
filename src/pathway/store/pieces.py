"""The shelf: pieces and their history, read and written. What comes out are frozen values, rows stay inside."""

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Engine, bindparam, delete, func, insert, select, update
from sqlalchemy.exc import NoResultFound
from sqlalchemy.orm import Session, defer

from pathway.errors import Conflict, DataError, NotFound, ScoreError
from pathway.store.database import writing
from pathway.store.models import PieceRow, RevisionRow
from pathway.store.piece_values import Brought, HistoryEntry, NewPiece, ShelfEntry, StoredPiece
from pathway.store.revisions import MENDING, Revision, columns_of, revision_of
from pathway.store.rows import columns_from, value_from
from pathway.store.summary import PlanSummary, summary_from

_PIECES, _STATES = (PieceRow.metadata.tables[row.__tablename__] for row in (PieceRow, RevisionRow))
_OF = _PIECES.c.id == bindparam("of")  # statements of every edit, made once
_PRESENT = select(_PIECES.c.version, _PIECES.c.at).where(_OF)
_FORGET_LATER = delete(_STATES).where(_STATES.c.piece_id == bindparam("of"), _STATES.c.number >= bindparam("since"))
_GO_ON = update(_PIECES).where(_OF).values(at=bindparam("at"), version=bindparam("version"), rig=bindparam("rig"))
_KEEP = insert(_STATES)


class Pieces:
    """The shelf."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._summaries: dict[int, tuple[int, PlanSummary]] = {}  # with the version they belong to

    def add(self, piece: NewPiece, first: Revision) -> int:
        """Put a piece on the shelf with its first plan; return its id."""
        with writing(self._engine) as session:
            return added(session, piece, first)

    def shelf(self) -> list[ShelfEntry]:
        """Return all pieces, the last opened first."""
        query = (
            select(PieceRow.id, PieceRow.version, PieceRow.title, PieceRow.part_name, PieceRow.rig)
            .where(PieceRow.removed_at.is_(None))
            .order_by(func.coalesce(PieceRow.opened_at, PieceRow.created_at).desc(), PieceRow.id)
        )
        with Session(self._engine) as session:
            rows = session.execute(query).all()
        return [self._shown(*row) for row in rows]

    def _shown(self, key: int, version: int, title: str, part_name: str, rig: str) -> ShelfEntry:
        """Return what the shelf shows of a piece; each is read through once, for a fault costs its card only."""
        at, summary = self._summaries.get(key, (-1, None))
        if summary is None or at != version:
            try:
                summary = self.piece(key).revision.summary
            except DataError as error:
                return ShelfEntry(key, title, part_name, rig, None, error.message)
            self._summaries[key] = version, summary
        return ShelfEntry(key, title, part_name, rig, summary)

    def piece(self, key: int) -> StoredPiece:
        """Return a piece with its present state.

        Raises:
            NotFound: there is no such piece.
            DataError: what is kept of it cannot be read.
        """
        with Session(self._engine) as session:
            return _stored(session, key)

    def findings_at_first(self, key: int) -> int:
        """Return how many findings the first plan of a piece had; 0 where that is not known any more."""
        query = select(RevisionRow.summary).where(RevisionRow.piece_id == key).order_by(RevisionRow.number).limit(1)
        with Session(self._engine) as session:
            found = session.scalar(query)
        return sum(summary_from(found).findings.values()) if found else 0

    def brought(self, key: int) -> Brought:
        """Return the score of a piece as the player brought it, also where its plan cannot be read.

        Raises:
            NotFound: there is no such piece.
        """
        query = select(PieceRow.source_name, PieceRow.source, PieceRow.part_name)
        with Session(self._engine) as session:
            found = session.execute(query.where(PieceRow.id == key)).one_or_none()
        if found is None:
            raise _no_piece()
        return Brought(*found)

    def where(self, key: int) -> tuple[int, str | None]:
        """Return the version of a piece, and the note at which the player stands.

        Raises:
            NotFound: there is no such piece.
        """
        with Session(self._engine) as session:
            row = session.execute(select(PieceRow.version, PieceRow.last_note).where(PieceRow.id == key)).first()
        if row is None:
            raise _no_piece()
        return row[0], row[1]

    def version(self, key: int) -> int:
        """Return how often a piece has changed.

        Raises:
            NotFound: there is no such piece.
        """
        with self._engine.connect() as data:
            found = data.execute(_PRESENT, {"of": key}).one_or_none()
        if found is None:
            raise _no_piece()
        return int(found.version)

    def rename(self, key: int, title: str, part_name: str) -> None:
        """Give a piece and its part other names.

        Raises:
            NotFound: there is no such piece.
            ScoreError: one of them is empty.
        """
        if not title or not part_name:
            raise ScoreError("A piece and its part need a name", advice="Write one.")
        with writing(self._engine) as session:
            row = _row(session, key, whole=False)
            row.title, row.part_name = title[:300], part_name[:200]

    def opened(self, key: int, note: str | None = None) -> None:
        """Note that a piece was opened, and where the player stands in it."""
        with writing(self._engine) as session:
            row = _row(session, key, whole=False)
            row.opened_at = datetime.now(UTC)
            row.last_note = note or row.last_note

    def remove(self, key: int, *, back: bool = False) -> str:
        """Take a piece off the shelf, or put it back; return its title.

        Raises:
            NotFound: there is no such piece.
        """
        with writing(self._engine) as session:
            row = _row(session, key, whole=False)
            row.removed_at = None if back else datetime.now(UTC)
            return row.title

    def edit(self, piece: StoredPiece, version: int, revision: Revision) -> StoredPiece:
        """Add a state after the present one of a piece, on the rig it is given with; what could be redone is gone.

        Raises:
            NotFound: there is no such piece.
            Conflict: the piece has changed since it was shown.
        """
        with writing(self._engine) as session:
            at, now = _checked(session, piece.id, version) + 1, version + 1
            data = session.connection()
            if piece.redoes is not None:
                data.execute(_FORGET_LATER, {"of": piece.id, "since": at})
            data.execute(_GO_ON, {"of": piece.id, "at": at, "version": now, "rig": piece.rig})
            state = {"piece_id": piece.id, "number": at, "rig": piece.rig, "rig_version": piece.rig_version}
            data.execute(_KEEP, {**state, **_said(revision)})
        return replace(piece, version=now, number=at, revision=revision, undoes=revision.label, redoes=None)

    def still(self, key: int, version: int) -> None:
        """Make sure that a piece is as the player saw it.

        Raises:
            NotFound: there is no such piece.
            Conflict: the piece has changed meanwhile.
        """
        if self.version(key) != version:
            raise _changed()

    def step(self, key: int, version: int, by: int) -> StoredPiece:
        """Go some states back (negative) or forward in the history, as far as it reaches.

        Raises:
            NotFound: there is no such piece.
            Conflict: the piece has changed since it was shown.
        """
        with writing(self._engine) as session:
            _checked(session, key, version)
            row = _row(session, key, whole=False)
            last = session.scalar(select(func.max(RevisionRow.number)).where(RevisionRow.piece_id == key)) or 0
            target = min(max(row.at + by, 0), last)
            if target != row.at:
                row.at = target
                row.version += 1
                row.rig = session.scalars(
                    select(RevisionRow.rig).where(RevisionRow.piece_id == key, RevisionRow.number == target)
                ).one()
            session.flush()
            return _stored(session, key)

    def history(self, key: int) -> list[HistoryEntry]:
        """Return every state of a piece, the first one first.

        Raises:
            NotFound: there is no such piece.
        """
        with Session(self._engine) as session:
            at = _row(session, key, whole=False).at
            query = (
                select(RevisionRow.number, RevisionRow.label, RevisionRow.created_at)
                .where(RevisionRow.piece_id == key)
                .order_by(RevisionRow.number)
            )
            return [HistoryEntry(n, label, when, n == at) for n, label, when in session.execute(query)]

    def mend(self, key: int) -> bool:
        """Go back to the last state of a piece that can be read; return whether there is one.

        Raises:
            NotFound: there is no such piece.
        """
        with Session(self._engine) as session:
            at = _row(session, key, whole=False).at
            query = select(RevisionRow.number).where(RevisionRow.piece_id == key)
            numbers = session.scalars(query.order_by(RevisionRow.number > at, RevisionRow.number.desc())).all()
        for number in numbers:
            with suppress(DataError), writing(self._engine) as session:
                row = _row(session, key, whole=False)
                row.at = number
                row.version += 1
                session.flush()
                row.rig = _stored(session, key).rig
                return True
        return False

    def begin_anew(self, key: int, mei: str, rig: str, revision: Revision) -> None:
        """Begin the plan of a piece anew, after all its states, which stay where they are.

        Raises:
            NotFound: there is no such piece.
        """
        with writing(self._engine) as session:
            row = _row(session, key, whole=False)
            last = session.scalar(select(func.max(RevisionRow.number)).where(RevisionRow.piece_id == key))
            row.at, row.mei, row.rig = 0 if last is None else last + 1, mei, rig
            row.version += 1
            session.add(RevisionRow(piece_id=key, number=row.at, rig=rig, rig_version=0, **_said(revision)))

    def any_changed(self) -> bool:
        """Whether any piece was ever changed by hand."""
        with Session(self._engine) as session:
            return session.scalar(select(PieceRow.id).where(PieceRow.version > 0).limit(1)) is not None

    def demo_keys(self) -> set[str]:
        """Return which demo pieces are on the shelf."""
        with Session(self._engine) as session:
            keys = session.scalars(select(PieceRow.demo_key).where(PieceRow.demo_key.is_not(None)))
            return {key for key in keys if key}


def added(session: Session, piece: NewPiece, first: Revision) -> int:
    """Put a piece on the shelf with its first plan; return its id."""
    row = PieceRow(**columns_from(piece, PieceRow, created_at=datetime.now(UTC), at=0, version=0))
    row.revisions.append(_revision_row(0, first, piece))
    session.add(row)
    session.flush()
    return row.id


def taken_off(session: Session, key: int, version: int) -> None:
    """Take a piece off the shelf that is as the player saw it.

    Raises:
        NotFound: there is no such piece.
        Conflict: it has changed meanwhile.
    """
    _checked(session, key, version)
    _row(session, key, whole=False).removed_at = datetime.now(UTC)


def _changed() -> Conflict:
    return Conflict(
        "This piece was changed somewhere else meanwhile", advice="Reload the page; then make your change again."
    )


def _no_piece() -> NotFound:
    return NotFound("There is no such piece on the shelf", advice="Go back to the shelf.")


def _row(session: Session, key: int, *, whole: bool = True) -> PieceRow:
    """Return the row of a piece; the score itself is left in the store unless the whole is wanted."""
    row = session.get(PieceRow, key, options=() if whole else (defer(PieceRow.source), defer(PieceRow.mei)))
    if row is None:
        raise _no_piece()
    return row


def _checked(session: Session, key: int, version: int) -> int:
    """Return the number of the present state of a piece, if it is as the player saw it."""
    found = session.connection().execute(_PRESENT, {"of": key}).one_or_none()
    if found is None:
        raise _no_piece()
    if found.version != version:
        raise _changed()
    return int(found.at)


def _revision_row(number: int, revision: Revision, on: NewPiece | StoredPiece) -> RevisionRow:
    return RevisionRow(number=number, rig=on.rig, rig_version=on.rig_version, **_said(revision))


def _said(revision: Revision) -> dict[str, Any]:
    return {"label": revision.label[:300], "created_at": datetime.now(UTC), **columns_of(revision)}


def _stored(session: Session, key: int) -> StoredPiece:
    try:
        return _read(session, _row(session, key))
    except (ValueError, TypeError, NoResultFound) as error:  # a date that is none, JSON that is broken, no state
        raise DataError("What is kept of this piece cannot be read", advice=MENDING) from error


def _read(session: Session, row: PieceRow) -> StoredPiece:
    near: Sequence[tuple[int, str]] = [
        (number, label)
        for number, label in session.execute(
            select(RevisionRow.number, RevisionRow.label).where(
                RevisionRow.piece_id == row.id, RevisionRow.number.in_((row.at, row.at + 1))
            )
        )
    ]
    labels = dict(near)
    present = session.scalars(
        select(RevisionRow).where(RevisionRow.piece_id == row.id, RevisionRow.number == row.at)
    ).one()
    return value_from(
        StoredPiece,
        row,
        rig=present.rig,
        rig_version=present.rig_version,
        number=row.at,
        revision=revision_of(present.label, present),
        undoes=labels.get(row.at) if row.at > 0 else None,
        redoes=labels.get(row.at + 1),
    )
