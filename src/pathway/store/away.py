"""All that was put away, in one place: what, since when, back again or gone for good; thirty days later it is gone."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from typing import Any

from sqlalchemy import Engine, Select, func, literal, select
from sqlalchemy.orm import Session

from pathway.errors import NotFound, PlanError, RigError
from pathway.store.database import writing
from pathway.store.models import PieceRow, RevisionRow, RigRow, SetRow, TakeRow, VariantRow
from pathway.store.notebook import MOST_VARIANTS
from pathway.store.rigs import OWN
from pathway.store.takes import Takes

KEPT_FOR = timedelta(days=30)


class AwayKind(StrEnum):
    """What can be put away."""

    PIECE = "piece"
    TAKE = "take"
    VARIANT = "variant"
    RIG = "rig"
    SET = "set"
    RECORDING = "recording"  # that was never finished


_ROWS: Mapping[AwayKind, Any] = {
    AwayKind.PIECE: PieceRow,
    AwayKind.TAKE: TakeRow,
    AwayKind.VARIANT: VariantRow,
    AwayKind.RIG: RigRow,
    AwayKind.SET: SetRow,
}
# a few letters each, and what was played counts for the load: kept until told otherwise
_LASTING = {AwayKind.SET, AwayKind.RIG}


@dataclass(frozen=True, slots=True)
class PutAway:
    """One thing that was put away."""

    kind: AwayKind
    id: str
    name: str
    piece: str  # that it belongs to; empty where it is none
    since: datetime

    @property
    def until(self) -> datetime | None:
        """Return when it is gone by itself; None for never."""
        return None if self.kind in _LASTING else self.since + KEPT_FOR


class Away:
    """What was put away."""

    def __init__(self, engine: Engine, takes: Takes) -> None:
        self._engine, self._takes = engine, takes

    @property
    def all(self) -> list[PutAway]:
        """Return everything, the last put away first."""
        with Session(self._engine) as session:
            found = [
                PutAway(kind, str(id_), name, piece or "", since)
                for kind, query in _queries().items()
                for id_, name, piece, since in session.execute(query)
            ]
        found += [
            PutAway(
                AwayKind.RECORDING, one.token, f"Recording of {one.begun.astimezone():%-d %B, %H:%M}", "", one.begun
            )
            for one in self._takes.unfinished(away=True)
        ]
        return sorted(found, key=lambda one: one.since, reverse=True)

    def bring_back(self, kind: AwayKind, id_: str) -> None:
        """Bring something back to where it was.

        Raises:
            NotFound: it is not there any more.
            PlanError: there is no room for it there.
        """
        if kind is AwayKind.RECORDING:
            self._takes.put_away_unfinished(id_, back=True)
            return
        with writing(self._engine) as session:
            row = _row(session, kind, id_)
            if kind is AwayKind.VARIANT and _variants_beside(session, row) >= MOST_VARIANTS:
                raise PlanError(f"{MOST_VARIANTS} variants are kept already", advice="Put one of them away first.")
            row.removed_at = None

    def for_good(self, kind: AwayKind, id_: str) -> None:
        """Let something go for good, its sounds too.

        Raises:
            NotFound: it is not there any more.
            RigError: states of plans still speak of the rig.
        """
        for token in self._let_go(kind, id_):
            self._takes.drop_sound(token)

    def _let_go(self, kind: AwayKind, id_: str) -> list[str]:
        """Let something go; return the tokens of the sounds that went with it, which are still there."""
        if kind is AwayKind.RECORDING:
            self._takes.drop_unfinished(id_)
            return []
        with writing(self._engine) as session:
            row = _row(session, kind, id_)
            sounds = _sounds_of(session, kind, row)
            if kind is AwayKind.RIG and session.scalar(_spoken_of(row)):
                raise RigError(
                    f"{row.name} is in the history of pieces", advice="It can go once they are gone; it takes no room."
                )
            session.delete(row)
        return sounds

    def sweep(self, now: datetime | None = None) -> int:
        """Let go of what was put away long ago, its sounds aside: a copy may know of them; return how many things."""
        now = now or datetime.now(UTC)
        old = [one for one in self.all if one.until is not None and one.until < now]
        for one in old:
            self._let_go(one.kind, one.id)
        return len(old)


def _queries() -> dict[AwayKind, Select[Any]]:
    """Return queries of id, name, title of the piece, and since when; what belongs to a piece goes with it."""
    own: dict[AwayKind, Any] = {
        AwayKind.PIECE: select(PieceRow.id, PieceRow.title, PieceRow.part_name, PieceRow.removed_at),
        AwayKind.RIG: select(RigRow.id, RigRow.name, literal(""), RigRow.removed_at),
        AwayKind.SET: select(SetRow.id, SetRow.rung_name, SetRow.title, SetRow.removed_at),
    }
    beside: dict[AwayKind, Select[Any]] = {
        kind: select(row.id, row.name, PieceRow.title, row.removed_at)
        .join(PieceRow, PieceRow.id == row.piece_id)
        .where(PieceRow.removed_at.is_(None))
        for kind, row in _ROWS.items()
        if kind in {AwayKind.TAKE, AwayKind.VARIANT}
    }
    return {kind: query.where(_ROWS[kind].removed_at.is_not(None)) for kind, query in (own | beside).items()}


def _row(session: Session, kind: AwayKind, id_: str) -> Any:
    row = session.get(_ROWS[kind], int(id_)) if id_.isdecimal() and len(id_) < 19 else None
    if row is None or row.removed_at is None:
        raise NotFound("This is not put away any more", advice="Reload the page.")
    return row


def _variants_beside(session: Session, row: VariantRow) -> int:
    where = (VariantRow.piece_id == row.piece_id, VariantRow.removed_at.is_(None))
    return session.scalar(select(func.count(VariantRow.id)).where(*where)) or 0


def _sounds_of(session: Session, kind: AwayKind, row: Any) -> list[str]:
    """Return the tokens of the sounds that go with something."""
    if kind is AwayKind.TAKE:
        return [row.token]
    return (
        list(session.scalars(select(TakeRow.token).where(TakeRow.piece_id == row.id))) if kind is AwayKind.PIECE else []
    )


def _spoken_of(row: RigRow) -> Select[Any]:
    return select(RevisionRow.id).where(RevisionRow.rig == f"{OWN}{row.id}").limit(1)
