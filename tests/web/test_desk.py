"""The desk: a piece and its rig, what is kept at hand, and what is let go."""

from dataclasses import replace
from pathlib import Path

import pytest

from pathway.core.planning.edits import Edit, What
from pathway.core.rig import preset
from pathway.demo.loader import load_demo
from pathway.errors import Conflict, NotFound, OutOfRange, ScoreError
from pathway.store import Notebook, Pieces, Rigs, open_database
from pathway.web.desk import Desk


@pytest.fixture
def desk(tmp_path: Path) -> Desk:
    """A desk with the demo pieces."""
    engine = open_database(f"sqlite:///{tmp_path / 'desk.sqlite'}")
    load_demo(Pieces(engine))
    return Desk(Pieces(engine), Notebook(engine), Rigs(engine))


def test_a_piece_is_planned_anew_when_its_rig_changes(desk: Desk) -> None:
    """Once, as a new state of its history that can be undone; an open page of before is told apart."""
    viola = preset("viola")
    key = desk.rigs.add("Mine", viola, "viola")
    desk.play_on(2, 0, key)
    before = desk.open(2)
    desk.rigs.save(key, replace(viola, bow=replace(viola.bow, mass=0.060)))
    desk.rig_changed(key)
    now = desk.open(2)
    assert now.plan.rig.bow.mass == 0.060
    assert now.piece.version == before.piece.version + 1
    assert desk.open(2) is now
    assert [entry.label for entry in desk.pieces.history(2)] == ["As first planned", "Played on Mine", "Played on Mine"]
    with pytest.raises(Conflict):
        desk.change(2, before.piece.version, Edit(What.DIRECTION, ("n1",), "up"))


def test_what_does_not_fit_a_rig_is_left_out_and_said(desk: Desk) -> None:
    """An end near the tip set by hand is not on a bow that ends before it; the label says so."""
    desk.change(2, 0, Edit(What.END, ("n1",), "62"))
    short = preset("viola").with_hair(0.01, 0.40)
    key = desk.rigs.add("Short", short, "viola")
    now = desk.play_on(2, 1, key).now
    assert now.piece.revision.locks == ()
    assert "did not fit" in desk.pieces.history(2)[-1].label
    assert max(stroke.end for stroke in now.plan.strokes) <= 0.40 + 1e-9
    back = desk.step(2, now.piece.version, -1).now
    assert back.plan.rig.key == key
    desk.forget_all()
    assert desk.open(2).plan.path.ends.tolist() == back.plan.path.ends.tolist()


def test_a_piece_that_does_not_lie_on_an_instrument_stays_where_it_was(desk: Desk) -> None:
    """A cello part goes below the violin: refused with its note, nothing changed."""
    with pytest.raises(ScoreError, match="below the lowest note of the violin"):
        desk.play_on(4, 0, "violin")
    assert desk.open(4).piece.rig == "cello"
    assert desk.open(4).piece.version == 0
    with pytest.raises(NotFound):
        desk.play_on(4, 0, "mine-9")


def test_a_glance_keeps_nothing(desk: Desk) -> None:
    """The piece stays as it is; tempi nobody means are refused."""
    seen = desk.glance(1, 50)
    assert seen.plan.draft.tempo_bpm == 50
    assert desk.open(1).plan.draft.tempo_bpm == 76
    with pytest.raises(OutOfRange, match="the tempo is 1000"):
        desk.glance(1, 1000)


def test_the_desk_holds_the_last_few_pieces(desk: Desk) -> None:
    """Opened again they are the same plan; after other data came, they are read anew."""
    first = desk.open(1)
    for key in range(2, 9):
        desk.open(key)
    assert desk.open(1) is first
    desk.forget_all()
    again = desk.open(1)
    assert again is not first
    assert again.plan.path.ends.tolist() == first.plan.path.ends.tolist()
