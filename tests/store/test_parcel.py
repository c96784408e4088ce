"""One piece with its history: out in a file, and back beside the others."""

import sqlite3
import zipfile
from contextlib import closing
from dataclasses import replace
from io import BytesIO
from pathlib import Path

import pytest
from sqlalchemy import Engine

from pathway.core.planning import Lock, Plan, Settings
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.errors import ScoreError
from pathway.store import NewPiece, Notebook, Pieces, Revision, Rigs, fold, unpack_piece
from pathway.store.arrivals import NAME, is_packed, packed
from pathway.store.backup import back_up
from pathway.store.summary import PlanSummary

MINE = replace(preset("violin"), torque_limit=0.6)


@pytest.fixture
def elsewhere(stocked: Engine) -> Engine:
    """Data of another player, with a rig and the demo pieces."""
    Rigs(stocked).add("Theirs", preset("cello"), "cello")
    return stocked


def _worked_on(engine: Engine, plan: Plan) -> int:
    """Return a piece on a rig of one's own with two states, the older one present, and a full notebook."""
    pieces, notebook, rig = Pieces(engine), Notebook(engine), Rigs(engine).add("Mine", MINE, "violin")
    first = Revision("First", Settings(tempo_bpm=66), (), plan.path, PlanSummary(measures=4))
    key = pieces.add(NewPiece("Title", "Violin", "a.xml", b"<x/>", "<mei/>", rig, "demo", 1), first)
    pieces.edit(pieces.piece(key), 0, replace(first, label="Second", locks=(Lock("n1", Direction.UP),)))
    pieces.step(key, 1, -1)
    notebook.hear(key, "n2", "grating", "light")
    notebook.lay_aside(key, "unused", "n1", "it is meant so")
    notebook.keep(key, "Slow", first)
    return key


def _zipped(engine: Engine) -> bytes:
    """Return data of one piece as older versions gave them out: the database in a zip."""
    fold(engine)
    return packed(Path(str(engine.url.database)))


def test_a_piece_comes_back_with_all_that_belongs_to_it(engine: Engine, elsewhere: Engine, small_plan: Plan) -> None:
    """History, place in it, notebook and rig, under numbers of its own; what is there stays as it was."""
    here, there = Pieces(engine), Pieces(elsewhere)
    key = _worked_on(engine, small_plan)
    before = [entry.title for entry in there.shelf()]
    data = _zipped(engine)
    assert is_packed(data)
    new = unpack_piece(elsewhere, data)
    assert [entry.title for entry in there.shelf()] == ["Title", *before]
    was, now = here.piece(key), there.piece(new)
    assert (now.title, now.source, now.number, now.redoes, now.rig_version) == (was.title, b"<x/>", 0, "Second", 1)
    assert [(e.label, e.when) for e in there.history(new)] == [(e.label, e.when) for e in here.history(key)]
    assert there.step(new, now.version, 1).revision.locks == (Lock("n1", Direction.UP),)
    mine = Rigs(elsewhere).find(now.rig)
    assert (mine.name, mine.rig.torque_limit) == ("Mine", 0.6)
    assert now.rig != was.rig, "the number of the rig is another one there"
    notebook = Notebook(elsewhere)
    assert [heard.what for heard in notebook.heard(new)] == ["grating"]
    assert notebook.asides(new) == {("unused", "n1"): "it is meant so"}
    assert [variant.name for variant in notebook.variants(new)] == ["Slow"]


def test_brought_back_here_it_lies_beside_itself_on_the_same_rig(engine: Engine, small_plan: Plan) -> None:
    """A rig that is here with the same numbers is not put here twice; one measured anew since is another."""
    key = _worked_on(engine, small_plan)
    data = _zipped(engine)
    again = unpack_piece(engine, data)
    assert Pieces(engine).piece(again).rig == Pieces(engine).piece(key).rig
    assert len(Rigs(engine).own()) == 1
    Rigs(engine).save("mine-1", replace(MINE, torque_limit=0.5))
    third = Pieces(engine).piece(unpack_piece(engine, data))
    assert Rigs(engine).find(third.rig).rig.torque_limit == 0.6
    assert len(Rigs(engine).own()) == 2


def test_what_holds_no_piece_or_several_is_refused(engine: Engine, elsewhere: Engine) -> None:
    """With a pointer to where everything is taken back; nothing is put on the shelf."""
    with pytest.raises(ScoreError, match="8 pieces; everything is taken back in the settings"):
        unpack_piece(engine, back_up(elsewhere))
    with pytest.raises(ScoreError, match="not a backup"):
        unpack_piece(engine, b"PK")
    assert Pieces(engine).shelf() == []
    assert not is_packed(b"PK")


def test_a_parcel_with_something_foreign_in_it_is_refused(engine: Engine, small_plan: Plan, tmp_path: Path) -> None:
    """It passes the same rules as a backup."""
    _worked_on(engine, small_plan)
    data = _zipped(engine)
    file = tmp_path / "x.sqlite"
    file.write_bytes(zipfile.ZipFile(BytesIO(data)).read(NAME))
    with closing(sqlite3.connect(file)) as database:
        database.execute("CREATE TRIGGER t AFTER INSERT ON piece BEGIN DELETE FROM variant; END")
    with pytest.raises(ScoreError, match="did not make: t"):
        unpack_piece(engine, packed(file))
