"""What a player writes beside a piece: what was heard, findings laid aside, named variants."""

from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import Engine, bindparam, delete, select, update
from sqlalchemy.orm import Session

from pathway.errors import NotFound, PlanError
from pathway.store.database import writing
from pathway.store.models import AsideRow, HeardRow, VariantRow
from pathway.store.revisions import Revision, columns_of, revision_of

MOST_VARIANTS = 12
_KEPT = VariantRow.removed_at.is_(None)
_ASIDES = select(AsideRow.code, AsideRow.note, AsideRow.reason).where(AsideRow.piece_id == bindparam("of"))


@dataclass(frozen=True, slots=True)
class HeardBefore:
    """What was heard on a note, and when."""

    note: str
    what: str
    cause: str  # that the player chose
    when: datetime


@dataclass(frozen=True, slots=True)
class Variant:
    """A state of a plan under a name."""

    id: int
    name: str
    revision: Revision


class Notebook:
    """Beside the pieces on the shelf."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def hear(self, piece: int, note: str, what: str, cause: str) -> None:
        """Write down what was heard on a note, and the cause that the player chose for it."""
        with writing(self._engine) as session:
            session.add(HeardRow(piece_id=piece, note=note, what=what, cause=cause, created_at=datetime.now(UTC)))

    def heard(self, piece: int, note: str | None = None) -> list[HeardBefore]:
        """Return what was heard on a note, or in the whole piece, the newest first."""
        query = select(HeardRow).where(HeardRow.piece_id == piece).order_by(HeardRow.id.desc())
        if note is not None:
            query = query.where(HeardRow.note == note)
        with Session(self._engine) as session:
            return [HeardBefore(row.note, row.what, row.cause, row.created_at) for row in session.scalars(query)]

    def lay_aside(self, piece: int, code: str, note: str, reason: str) -> None:
        """Lay a finding aside; laid aside again, only the reason changes."""
        with writing(self._engine) as session:
            where = (AsideRow.piece_id == piece, AsideRow.code == code, AsideRow.note == note)
            row = session.scalar(select(AsideRow).where(*where))
            if row is None:
                session.add(AsideRow(piece_id=piece, code=code, note=note, reason=reason[:300]))
            else:
                row.reason = reason[:300]

    def bring_back(self, piece: int, code: str, note: str) -> None:
        """Take a finding up again."""
        where = (AsideRow.piece_id == piece, AsideRow.code == code, AsideRow.note == note)
        with writing(self._engine) as session:
            session.execute(delete(AsideRow).where(*where))

    def asides(self, piece: int) -> dict[tuple[str, str], str]:
        """Return the reasons of findings laid aside, by code and first note."""
        with self._engine.connect() as data:
            found = data.execute(_ASIDES, {"of": piece})
            return {(code, note): reason for code, note, reason in found}

    def keep(self, piece: int, name: str, revision: Revision) -> int:
        """Keep a state of a plan under a name; return its id.

        Raises:
            PlanError: too many are kept.
        """
        with writing(self._engine) as session:
            count = len(session.scalars(select(VariantRow.id).where(VariantRow.piece_id == piece, _KEPT)).all())
            if count >= MOST_VARIANTS:
                raise PlanError(f"{MOST_VARIANTS} variants are kept already", advice="Put one of them away first.")
            row = variant_row(piece, name, revision)
            session.add(row)
            session.flush()
            return row.id

    def variants(self, piece: int) -> list[Variant]:
        """Return the variants of a piece, the oldest first."""
        query = select(VariantRow).where(VariantRow.piece_id == piece, _KEPT).order_by(VariantRow.id)
        with Session(self._engine) as session:
            return [Variant(row.id, row.name, revision_of(row.name, row)) for row in session.scalars(query)]

    def variant(self, piece: int, id_: int) -> Variant:
        """Return one variant.

        Raises:
            NotFound: it is not kept.
        """
        found = next((variant for variant in self.variants(piece) if variant.id == id_), None)
        if found is None:
            raise NotFound("This variant is not kept any more", advice="Reload the page.")
        return found

    def rename(self, piece: int, id_: int, name: str) -> None:
        """Give a variant another name; an empty one changes nothing.

        Raises:
            NotFound: it is not kept.
        """
        self.variant(piece, id_)
        if not name:
            return
        where = (VariantRow.piece_id == piece, VariantRow.id == id_)
        with writing(self._engine) as session:
            session.execute(update(VariantRow).where(*where).values(name=name[:100]))

    def put_away(self, piece: int, id_: int) -> None:
        """Put a variant away; it can be brought back."""
        where = (VariantRow.piece_id == piece, VariantRow.id == id_, _KEPT)
        with writing(self._engine) as session:
            session.execute(update(VariantRow).where(*where).values(removed_at=datetime.now(UTC)))


def variant_row(piece: int, name: str, revision: Revision) -> VariantRow:
    """Return the row of a state that is kept under a name."""
    return VariantRow(
        piece_id=piece, name=name[:100] or "Variant", created_at=datetime.now(UTC), **columns_of(revision)
    )
