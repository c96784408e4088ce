"""Beside the pieces: what is heard, laid aside and kept survives, and goes with its piece."""

from pathlib import Path

import pytest

from pathway.core.planning import Settings
from pathway.errors import NotFound, PlanError
from pathway.store import NewPiece, Notebook, Pieces, Revision, open_database
from pathway.store.notebook import MOST_VARIANTS
from pathway.store.summary import PlanSummary
from tests.helpers import plan_of

PLAN = plan_of("[mf] d4:4 e4 f#4 g4")
STATE = Revision("First", Settings(tempo_bpm=72), (), PLAN.path, PlanSummary())


@pytest.fixture
def shelf(tmp_path: Path) -> tuple[Pieces, Notebook, int]:
    """A shelf with one piece, and the notebook beside it."""
    engine = open_database(f"sqlite:///{tmp_path / 'shelf.db'}")
    pieces = Pieces(engine)
    key = pieces.add(NewPiece("Title", "Violin", "x.musicxml", b"<x/>", "<mei/>", "violin"), STATE)
    return pieces, Notebook(engine), key


def test_what_is_heard_is_kept_by_note(shelf: tuple[Pieces, Notebook, int]) -> None:
    """The newest first; other notes apart."""
    _, notebook, key = shelf
    for note, what in (("n1", "grating"), ("n2", "breathy"), ("n1", "buried")):
        notebook.hear(key, note, what, "light")
    assert [heard.what for heard in notebook.heard(key, "n1")] == ["buried", "grating"]
    assert len(notebook.heard(key)) == 3


def test_a_finding_is_laid_aside_once_and_brought_back(shelf: tuple[Pieces, Notebook, int]) -> None:
    """Laid aside again, the reason changes."""
    _, notebook, key = shelf
    notebook.lay_aside(key, "runs-out", "n1", "meant so")
    notebook.lay_aside(key, "runs-out", "n1", "my teacher likes it")
    assert notebook.asides(key) == {("runs-out", "n1"): "my teacher likes it"}
    notebook.bring_back(key, "runs-out", "n1")
    assert notebook.asides(key) == {}


def test_variants_keep_a_whole_state(shelf: tuple[Pieces, Notebook, int]) -> None:
    """Settings, locks and path come back as they were; too many are refused; one let go is gone."""
    _, notebook, key = shelf
    first = notebook.keep(key, "Slow", STATE)
    kept = notebook.variant(key, first)
    assert kept.name == "Slow"
    assert kept.revision.settings == STATE.settings
    assert (kept.revision.path.ends == STATE.path.ends).all()
    for n in range(MOST_VARIANTS - 1):
        notebook.keep(key, f"More {n}", STATE)
    with pytest.raises(PlanError, match="kept already"):
        notebook.keep(key, "One too many", STATE)
    notebook.put_away(key, first)
    with pytest.raises(NotFound, match="not kept"):
        notebook.variant(key, first)


def test_the_history_is_a_readable_list(shelf: tuple[Pieces, Notebook, int]) -> None:
    """Every state with its label, the present one marked; far steps stop at its ends."""
    pieces, _, key = shelf
    piece = pieces.piece(key)
    pieces.edit(piece, 0, Revision("Bar 1: up-bow", Settings(), (), PLAN.path, PlanSummary()))
    assert [(entry.label, entry.here) for entry in pieces.history(key)] == [("First", False), ("Bar 1: up-bow", True)]
    assert pieces.step(key, 1, -5).number == 0
    with pytest.raises(NotFound, match="no such piece"):
        pieces.history(key + 1)
