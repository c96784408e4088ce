"""A piece that lies open: as it is kept, with its plan."""

from dataclasses import dataclass
from typing import NamedTuple

from pathway.core.planning import Plan
from pathway.store import StoredPiece


class State(NamedTuple):
    """By what everything that is worked out of an open piece is known."""

    piece: int
    version: int
    rig_version: int


@dataclass(frozen=True, slots=True)
class OpenPiece:
    """A piece with its plan."""

    piece: StoredPiece
    plan: Plan
    told: str = ""  # what could not stay as it was set

    @property
    def state(self) -> State:
        """Return by what it is known."""
        return State(self.piece.id, self.piece.version, self.piece.rig_version)
