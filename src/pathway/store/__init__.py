"""What is kept: pieces, their history, and scores waiting for a choice."""

from pathway.store.database import open_database
from pathway.store.pieces import NewPiece, Pieces, Revision, ShelfEntry, StoredPiece

__all__ = ["NewPiece", "Pieces", "Revision", "ShelfEntry", "StoredPiece", "open_database"]
