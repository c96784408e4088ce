"""The player's own rigs beside the typical ones."""

from dataclasses import dataclass, replace
from datetime import UTC, datetime

from pydantic import ValidationError
from sqlalchemy import ColumnElement, Engine, select, update
from sqlalchemy.orm import Session

from pathway.core.rig import PRESETS, Rig, preset
from pathway.errors import NotFound, RigError
from pathway.formats.rig_document import RIGS, RigDoc, rig_document
from pathway.store.database import writing
from pathway.store.models import PieceRow, RigRow

MOST_DIGITS = 19  # of a number that the database can hold
OWN = "mine-"  # begins the keys of the player's own rigs


@dataclass(frozen=True, slots=True)
class KnownRig:
    """A rig with its name and how often it has changed."""

    key: str
    name: str
    rig: Rig
    base: str  # key of the typical rig it came from
    version: int
    own: bool
    fault: str = ""  # why it cannot be read; the typical one stands in its place


class Rigs:
    """Typical and own rigs."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def find(self, key: str) -> KnownRig:
        """Return a rig by its key.

        Raises:
            NotFound: there is no such rig.
        """
        if not key.startswith(OWN):
            rig = preset(key)
            return KnownRig(key, rig.instrument.name, rig, key, 0, own=False)
        with Session(self._engine) as session:
            return _known(_row(session, key))

    def own(self) -> list[KnownRig]:
        """Return the player's own rigs, the oldest first."""
        return self._all(RigRow.removed_at.is_(None))

    def gone(self) -> list[KnownRig]:
        """Return the rigs that were let go; they can be brought back."""
        return self._all(RigRow.removed_at.is_not(None))

    def _all(self, which: ColumnElement[bool]) -> list[KnownRig]:
        with Session(self._engine) as session:
            return [_known(row) for row in session.scalars(select(RigRow).where(which).order_by(RigRow.id))]

    def names(self) -> list[tuple[str, str]]:
        """Return keys and names of all rigs to choose from, the player's own first."""
        own = [(rig.key, rig.name) for rig in self.own()]
        return [*own, *((key, rig.instrument.name) for key, rig in PRESETS.items())]

    def like(self, base: str, first: str) -> str:
        """Return the key of the rig to offer where a typical one fits: the player's own of that kind, if there is one.

        Args:
            base: key of the typical rig.
            first: key of the rig that is offered first among several.
        """
        own = [rig.key for rig in self.own() if rig.base == base]
        return first if first in own else own[0] if own else base

    def add(self, name: str, rig: Rig, base: str) -> str:
        """Keep a rig under a name; return its key.

        Raises:
            RigError: no name.
        """
        with writing(self._engine) as session:
            row = RigRow(name=_named(name), base=base, document=_columns(rig), version=1, created_at=datetime.now(UTC))
            session.add(row)
            session.flush()
            return f"{OWN}{row.id}"

    def save(self, key: str, rig: Rig) -> None:
        """Keep other numbers of one's own rig; what is open of the pieces played on it has changed with it.

        Raises:
            NotFound: it is not one's own.
        """
        with writing(self._engine) as session:
            row = _row(session, key)
            row.document = _columns(rig)
            row.version += 1
            session.execute(update(PieceRow).where(PieceRow.rig == key).values(version=PieceRow.version + 1))

    def changed(self, known: KnownRig, rig: Rig) -> str:
        """Keep other numbers of a rig, a typical one as one's own; return its key.

        Raises:
            NotFound: it is not there any more.
        """
        if not known.own:
            return self.add(f"My {known.name}", rig, known.base)
        if rig != known.rig:
            self.save(known.key, rig)
        return known.key

    def rename(self, key: str, name: str) -> None:
        """Give one's own rig another name.

        Raises:
            NotFound, RigError: it is not one's own; no name.
        """
        with writing(self._engine) as session:
            _row(session, key).name = _named(name)

    def delete(self, key: str) -> None:
        """Let one's own rig go; it can be brought back.

        Raises:
            NotFound: it is not one's own.
            RigError: pieces are played on it; names them.
        """
        with writing(self._engine) as session:
            row = _row(session, key)
            used = session.scalars(select(PieceRow.title).where(PieceRow.rig == key)).all()
            if used:
                names = ", ".join(used[:5]) + (f" and {len(used) - 5} more" if len(used) > 5 else "")
                raise RigError(f"{row.name} is used by {names}", advice="Play them on another rig first.")
            row.removed_at = datetime.now(UTC)

    def bring_back(self, key: str) -> None:
        """Take a rig that was let go up again.

        Raises:
            NotFound: it is not one's own.
        """
        with writing(self._engine) as session:
            _row(session, key).removed_at = None


def _named(name: str) -> str:
    if not name.strip():
        raise RigError("The rig has no name", advice="Give it one, such as: my bow for chamber music.")
    return name.strip()[:100]


def _columns(rig: Rig) -> dict[str, object]:
    return rig_document(rig)


def _known(row: RigRow) -> KnownRig:
    key = f"{OWN}{row.id}"
    try:
        rig, fault = RIGS.read(RigDoc.model_validate(row.document)), ""
    except (ValidationError, RigError):
        base = row.base if row.base in PRESETS else next(iter(PRESETS))
        rig = PRESETS[base]
        fault = f"The numbers of {row.name} cannot be read; those of the typical rig stand in their place."
    return KnownRig(key, row.name, replace(rig, key=key), row.base, row.version, own=True, fault=fault)


def _row(session: Session, key: str) -> RigRow:
    number = key.removeprefix(OWN)
    known = key.startswith(OWN) and number.isascii() and number.isdecimal() and len(number) < MOST_DIGITS
    row = session.get(RigRow, int(number)) if known else None
    if row is None:
        raise NotFound(f"There is no rig {key!r} of your own", advice="Choose another one in the rig room.")
    return row
