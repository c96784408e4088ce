"""A newer edition takes the place of a piece: what was practised, recorded, heard and laid aside goes along."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from pathway.core.practice.drill import DrillAsk
from pathway.errors import NotFound
from pathway.store.database import writing
from pathway.store.models import AsideRow, HeardRow, LadderRow, PerformanceRow, SetRow, TakeRow
from pathway.store.notebook import variant_row
from pathway.store.piece_values import NewPiece
from pathway.store.pieces import added, taken_off
from pathway.store.revisions import Revision


def succeed(
    engine: Engine,
    old: tuple[int, int],
    new: NewPiece,
    first: Revision,
    variants: Iterable[tuple[str, Revision]],
    notes: Mapping[str, str],
) -> tuple[int, int]:
    """Put a newer edition on the shelf in the place of a piece, in one transaction.

    Args:
        engine: of the data.
        old: the piece, and its version as the player saw it.
        new: the edition.
        first: its plan.
        variants: of the old one, under their names, as the new one can have them.
        notes: which note of the old is which of the new.

    Returns:
        Its id, and how much of what lay beside the old one lost its place.

    Raises:
        NotFound: there is no such piece.
        Conflict: it has changed meanwhile; nothing is done.
    """
    with writing(engine) as session:
        taken_off(session, *old)
        key = added(session, new, first)
        for name, revision in variants:
            session.add(variant_row(key, name, revision))
        return key, _handed_over(session, old[0], key, notes)


def _handed_over(session: Session, old: int, new: int, notes: Mapping[str, str]) -> int:
    """Let what is kept beside a piece belong to another one; return how much of it lost its place."""
    lost = 0
    for row in _rows(session, TakeRow, old):
        row.first, row.last, row.figures = notes.get(row.first, ""), notes.get(row.last, ""), {}
        row.piece_id = new
    for row in (*_rows(session, SetRow, old), *_rows(session, LadderRow, old)):
        drill = _drill_on(row.drill, notes)
        lost += drill is None
        row.drill, row.piece_id = drill or row.drill, new
    for row in (*_rows(session, HeardRow, old), *_rows(session, AsideRow, old)):
        if row.note in notes:
            row.note, row.piece_id = notes[row.note], new
        else:
            lost += 1
    for row in _rows(session, PerformanceRow, old):
        row.piece_id = new
    return lost


def _rows(session: Session, kind: Any, piece: int) -> list[Any]:
    return list(session.scalars(select(kind).where(kind.piece_id == piece)))


def _drill_on(drill: str, notes: Mapping[str, str]) -> str | None:
    """Return a drill's key with its notes as they are called now; None where they are not there any more."""
    try:
        ask = DrillAsk.of(drill)
    except NotFound:
        return None
    if any(note and note not in notes for note in (ask.first, ask.last)):
        return None
    return replace(ask, first=notes.get(ask.first, ""), last=notes.get(ask.last, "")).key
