"""A piece as the store gives it out: brought in, with its present state, on the shelf, and in its history."""

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from pathway.core.says import Says
from pathway.store.revisions import Revision
from pathway.store.summary import PlanSummary


@dataclass(frozen=True, slots=True)
class NewPiece:
    """A piece about to be put on the shelf."""

    title: Annotated[str, Says(within=(0, 300))]
    part_name: Annotated[str, Says(within=(0, 200))]
    source_name: Annotated[str, Says(within=(0, 300))]
    source: bytes
    mei: str
    rig: str
    demo_key: str | None = None
    rig_version: int = 0


@dataclass(frozen=True)
class StoredPiece:
    """A piece with its present state."""

    id: int
    title: str
    part_name: str
    source_name: str
    source: bytes
    mei: str
    rig: str
    rig_version: int
    last_note: str | None
    version: int
    number: int  # of the present revision
    revision: Revision
    undoes: str | None  # label of what undo takes back
    redoes: str | None


@dataclass(frozen=True, slots=True)
class Brought:
    """A score as the player brought it, and what is planned of it."""

    filename: str
    data: bytes
    part_name: str


@dataclass(frozen=True, slots=True)
class ShelfEntry:
    """What the shelf shows of a piece."""

    id: int
    title: str
    part_name: str
    rig: str
    summary: PlanSummary | None  # None where the piece cannot be read
    fault: str = ""  # why not


@dataclass(frozen=True, slots=True)
class HistoryEntry:
    """One state in the history of a piece."""

    number: int
    label: str
    when: datetime
    here: bool
