"""A piece that cannot be read costs its own card, and can be mended there."""

import sqlite3
from contextlib import closing

import pytest
from sqlalchemy import Engine

from pathway.core.planning.edits import Edit, What
from pathway.desk import ByHand, Desk
from pathway.errors import DataError, NotFound, ScoreError
from pathway.store import Notebook, Pieces, Rigs


@pytest.fixture
def desk(stocked: Engine) -> Desk:
    """A desk with the demo pieces, the second of them edited once."""
    desk = Desk(Pieces(stocked), Notebook(stocked), Rigs(stocked))
    desk.apply(2, 0, ByHand(Edit(What.DIRECTION, ("n1",), "up")))
    return desk


def _spoilt(engine: Engine, *changes: str) -> None:
    with closing(sqlite3.connect(str(engine.url.database))) as database:
        for change in changes:
            database.execute(change)
        database.commit()


@pytest.mark.parametrize(
    "change",
    [
        "UPDATE revision SET wishes = '[]' WHERE piece_id = 2 AND number = 1",
        "UPDATE revision SET wishes = '{' WHERE piece_id = 2 AND number = 1",
        "UPDATE revision SET path = '{}' WHERE piece_id = 2 AND number = 1",
        "UPDATE revision SET created_at = 'yesterday' WHERE piece_id = 2 AND number = 1",
        "DELETE FROM revision WHERE piece_id = 2 AND number = 1",
    ],
)
def test_it_goes_back_to_its_last_state_that_can_be_read(stocked: Engine, desk: Desk, change: str) -> None:
    """The other cards are as they were; the fault is told in words."""
    _spoilt(stocked, change, "UPDATE piece SET version = version + 1 WHERE id = 2")
    shown = {entry.id: entry for entry in desk.pieces.shelf()}
    assert len(shown) == 8
    assert [key for key, entry in shown.items() if entry.fault] == [2]
    assert "cannot be read" in shown[2].fault
    with pytest.raises(DataError, match="Mend it on the shelf"):
        desk.open(2)
    desk.mend(2)
    assert desk.open(2).piece.number == 0
    assert not any(entry.fault for entry in desk.pieces.shelf())


def test_it_is_planned_anew_where_no_state_can_be_read(stocked: Engine, desk: Desk) -> None:
    """From the score as it was brought in, on a typical rig; the states stay for whoever can read them."""
    _spoilt(stocked, "UPDATE revision SET path = '{}' WHERE piece_id = 2", "UPDATE piece SET mei = '<x', version = 9")
    desk.mend(2)
    now = desk.open(2)
    assert (now.piece.revision.label, now.piece.number) == ("Planned anew from the score", 2)
    assert now.plan.rig.instrument.name == "viola"
    assert next(entry.label for entry in desk.pieces.history(2)) == "As first planned"
    desk.apply(2, now.piece.version, ByHand(Edit(What.DIRECTION, ("n1",), "up")))


def test_a_score_that_cannot_be_read_either_is_left_alone(stocked: Engine, desk: Desk) -> None:
    """It is refused in words."""
    _spoilt(
        stocked, "UPDATE revision SET path = '{}' WHERE piece_id = 2", "UPDATE piece SET source = x'3c' WHERE id = 2"
    )
    with pytest.raises(ScoreError, match="XML is broken"):
        desk.mend(2)
    with pytest.raises(NotFound):
        desk.mend(99)


def test_a_summary_that_cannot_be_read_costs_no_more_than_its_picture(stocked: Engine, desk: Desk) -> None:
    """It is made anew by the next change."""
    _spoilt(stocked, "UPDATE revision SET summary = '{\"strokes\": 5}'", "UPDATE piece SET version = 5 WHERE id = 2")
    shown = next(entry for entry in desk.pieces.shelf() if entry.id == 2)
    assert shown.summary is not None
    assert (shown.fault, shown.summary.measures) == ("", 0)
    desk.apply(2, 5, ByHand(Edit(What.DIRECTION, ("n1",), "down")))
    shown = next(entry for entry in desk.pieces.shelf() if entry.id == 2)
    assert shown.summary is not None
    assert shown.summary.measures > 0
