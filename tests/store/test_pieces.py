"""The shelf and its history."""

import numpy as np
import pytest

from pathway.core.planning import Lock, Passage, Plan, Settings, Style
from pathway.core.planning.wishes import Break, Link, Relation, Stress
from pathway.core.rig.bow import Direction
from pathway.errors import Conflict, NotFound
from pathway.store import NewPiece, Pieces, Revision
from pathway.store.summary import PlanSummary, summary_of


def _revision(plan: Plan, label: str, *locks: Lock) -> Revision:
    return Revision(label, Settings(), locks, plan.path, summary_of(plan))


def _add(pieces: Pieces, plan: Plan, demo_key: str | None = None) -> int:
    piece = NewPiece("Title", "Violin", "a.xml", b"<x/>", "<mei/>", "violin", demo_key)
    return pieces.add(piece, _revision(plan, "As first planned"))


def test_a_piece_comes_back_as_it_was_put(pieces: Pieces, small_plan: Plan) -> None:
    """Source bytes and every place of the path, to the last bit."""
    stored = pieces.piece(_add(pieces, small_plan))
    assert (stored.title, stored.source, stored.version) == ("Title", b"<x/>", 0)
    for name in ("directions", "starts", "ends", "links"):
        assert np.array_equal(getattr(stored.revision.path, name), getattr(small_plan.path, name))


def test_undo_and_redo_walk_the_history(pieces: Pieces, small_plan: Plan) -> None:
    """Back to the first state and forward again; beyond the ends nothing happens."""
    key = _add(pieces, small_plan)
    lock = Lock("n1", Direction.UP)
    pieces.edit(pieces.piece(key), 0, _revision(small_plan, "Bar 1: up-bow", lock))
    back = pieces.step(key, 1, -1)
    assert (back.number, back.undoes, back.redoes, back.revision.locks) == (0, None, "Bar 1: up-bow", ())
    assert pieces.step(key, 2, -1).version == 2
    forth = pieces.step(key, 2, 1)
    assert forth.revision.locks == (lock,)
    assert forth.undoes == "Bar 1: up-bow"


def test_a_new_edit_drops_what_could_be_redone(pieces: Pieces, small_plan: Plan) -> None:
    """The history is a line."""
    key = _add(pieces, small_plan)
    pieces.edit(pieces.piece(key), 0, _revision(small_plan, "one"))
    pieces.step(key, 1, -1)
    now = pieces.edit(pieces.piece(key), 2, _revision(small_plan, "two"))
    assert (now.undoes, now.redoes) == ("two", None)
    again = pieces.piece(key)
    assert (again.version, again.number, again.undoes, again.redoes) == (now.version, now.number, "two", None)


def test_an_edit_from_an_old_picture_is_refused(pieces: Pieces, small_plan: Plan) -> None:
    """And changes nothing."""
    key = _add(pieces, small_plan)
    pieces.edit(pieces.piece(key), 0, _revision(small_plan, "one"))
    with pytest.raises(Conflict, match="somewhere else"):
        pieces.edit(pieces.piece(key), 0, _revision(small_plan, "two"))
    assert pieces.piece(key).undoes == "one"


def test_the_shelf_shows_the_last_opened_first(pieces: Pieces, small_plan: Plan) -> None:
    """With a summary, without planning."""
    first, second = _add(pieces, small_plan), _add(pieces, small_plan)
    pieces.opened(second)
    pieces.opened(first, "n3")
    assert [entry.id for entry in pieces.shelf()] == [first, second]
    shown = pieces.shelf()[0].summary
    assert shown is not None
    assert shown.measures == 4
    assert pieces.piece(first).last_note == "n3"


def test_what_is_not_there(pieces: Pieces) -> None:
    """No piece, and no version of one."""
    with pytest.raises(NotFound, match="no such piece"):
        pieces.piece(7)
    with pytest.raises(NotFound, match="no such piece"):
        pieces.version(7)


def test_every_wish_comes_back_from_the_store(pieces: Pieces, small_plan: Plan) -> None:
    """Passages with all their fields, and locks of every kind."""
    key = _add(pieces, small_plan)
    passage = Passage("n1", "n3", "calm", offset_db=-3.0, stress=Stress((1.0,), (1,), 2), relation=Relation(1, -2.0))
    locks = (Lock("n2", end=0.3, link=Link.HOOK), Lock("n4", kind="porte", divide=Break.SPLIT))
    settings = Settings(72.0, Style.EARLY, passages=(passage,))
    kept = Revision("all", settings, locks, small_plan.path, PlanSummary())
    pieces.edit(pieces.piece(key), 0, kept)
    back = pieces.piece(key).revision
    assert (back.settings, back.locks) == (settings, locks)
