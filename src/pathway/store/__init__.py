"""What is kept: pieces, their history, what is written beside them, and scores waiting for a choice."""

from pathway.store.arrivals import is_packed
from pathway.store.choices import Choices, ChoiceStore
from pathway.store.copies import copy_daily
from pathway.store.database import fold, open_database
from pathway.store.notebook import HeardBefore, Notebook, Variant
from pathway.store.parcel import history_of, lay_history, settle, unpack_piece
from pathway.store.piece_values import HistoryEntry, NewPiece, ShelfEntry, StoredPiece
from pathway.store.pieces import Pieces
from pathway.store.revisions import Revision
from pathway.store.rigs import KnownRig, Rigs
from pathway.store.waiting import Waiting

__all__ = [
    "ChoiceStore",
    "Choices",
    "HeardBefore",
    "HistoryEntry",
    "KnownRig",
    "NewPiece",
    "Notebook",
    "Pieces",
    "Revision",
    "Rigs",
    "ShelfEntry",
    "StoredPiece",
    "Variant",
    "Waiting",
    "copy_daily",
    "fold",
    "history_of",
    "is_packed",
    "lay_history",
    "open_database",
    "settle",
    "unpack_piece",
]
