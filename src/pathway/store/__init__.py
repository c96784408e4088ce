"""What is kept: pieces, their history, what is written beside them, and scores waiting for a choice."""

from pathway.store.database import open_database
from pathway.store.notebook import Heard, Notebook, Variant
from pathway.store.pieces import HistoryEntry, NewPiece, Pieces, ShelfEntry, StoredPiece
from pathway.store.revisions import Revision

__all__ = [
    "Heard",
    "HistoryEntry",
    "NewPiece",
    "Notebook",
    "Pieces",
    "Revision",
    "ShelfEntry",
    "StoredPiece",
    "Variant",
    "open_database",
]
