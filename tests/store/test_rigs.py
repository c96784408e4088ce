"""Rigs of one's own, choices, and everything in one file."""

import zipfile
from dataclasses import replace
from io import BytesIO
from pathlib import Path

import pytest
from sqlalchemy import Engine

from pathway.core.guide.speech import Lengths
from pathway.core.rig import preset
from pathway.demo.loader import load_demo
from pathway.errors import NotFound, RigError, ScoreError
from pathway.formats.rig_document import rig_document
from pathway.store import Choices, ChoiceStore, Pieces, Rigs, open_database
from pathway.store.backup import back_up, restore


@pytest.fixture
def engine(tmp_path: Path) -> Engine:
    """An empty database."""
    return open_database(f"sqlite:///{tmp_path / 'rigs.sqlite'}")


def test_a_rig_of_ones_own_is_kept_with_every_number(engine: Engine) -> None:
    """Added, changed, renamed; each change counts up its version."""
    rigs = Rigs(engine)
    cello = preset("cello")
    key = rigs.add("Old cello", cello, "cello")
    found = rigs.find(key)
    assert (found.name, found.base, found.version, found.own) == ("Old cello", "cello", 1, True)
    assert rig_document(replace(found.rig, key="cello")) == rig_document(cello)
    lighter = replace(cello, bow=replace(cello.bow, mass=0.071))
    rigs.save(key, lighter)
    rigs.rename(key, "Older cello")
    assert rigs.find(key).rig.bow.mass == 0.071
    assert [(rig.name, rig.version) for rig in rigs.own()] == [("Older cello", 2)]
    assert rigs.names()[0] == (key, "Older cello")
    other = rigs.add("Second cello", cello, "cello")
    assert [rigs.like("cello", "violin"), rigs.like("cello", other), rigs.like("viola", other)] == [key, other, "viola"]


def test_typical_rigs_are_found_and_cannot_be_changed(engine: Engine) -> None:
    """They are no one's own."""
    rigs = Rigs(engine)
    assert rigs.find("viola").rig == preset("viola")
    for wrong in (
        lambda: rigs.save("viola", preset("viola")),
        lambda: rigs.delete("mine-7"),
        lambda: rigs.find("lute"),
    ):
        with pytest.raises(NotFound):
            wrong()
    with pytest.raises(RigError, match="no name"):
        rigs.add("  ", preset("viola"), "viola")


def test_a_rig_in_use_is_not_deleted(engine: Engine) -> None:
    """The pieces played on it are named; without them it goes."""
    load_demo(Pieces(engine))
    rigs, pieces = Rigs(engine), Pieces(engine)
    key = rigs.add("Mine", preset("viola"), "viola")
    piece = pieces.piece(2)
    pieces.edit(replace(piece, rig=key, rig_version=1), 0, piece.revision)
    with pytest.raises(RigError, match="Mine is used by Slack Water"):
        rigs.delete(key)
    pieces.step(2, 1, -1)
    rigs.delete(key)
    assert rigs.own() == []
    assert [rig.name for rig in rigs.gone()] == ["Mine"]
    rigs.bring_back(key)
    assert [rig.key for rig in rigs.own()] == [key]


def test_choices_have_usual_values_and_stay(engine: Engine) -> None:
    """Read anew from the database they are what was chosen."""
    assert ChoiceStore(engine).get() == Choices()
    ChoiceStore(engine).set(Choices(lengths=Lengths.INCH, tips=False))
    again = ChoiceStore(engine).get()
    assert (again.lengths, again.tips, again.rig) == (Lengths.INCH, False, "violin")


def test_a_backup_brings_everything_back(engine: Engine, tmp_path: Path) -> None:
    """Pieces with their plans, rigs and choices; what was there before it is gone."""
    pieces = Pieces(engine)
    load_demo(pieces)
    Rigs(engine).add("Mine", preset("violin"), "violin")
    saved = back_up(engine)
    other = open_database(f"sqlite:///{tmp_path / 'other.sqlite'}")
    before = pieces.piece(3)
    only_there = Rigs(other).add("Gone afterwards", preset("cello"), "cello")
    assert restore(other, saved) == len(pieces.shelf())
    after = Pieces(other).piece(3)
    assert after.revision.settings == before.revision.settings
    assert after.revision.path.ends.tolist() == before.revision.path.ends.tolist()
    assert [rig.name for rig in Rigs(other).own()] == ["Mine"]
    assert Rigs(other).find(only_there).name != "Gone afterwards"


def _zip(name: str, content: bytes) -> bytes:
    packed = BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        archive.writestr(name, content)
    return packed.getvalue()


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"nothing", "not a backup"),
        (_zip("readme.txt", b"hello"), "not a backup"),
        (_zip("pathway.sqlite", b"no database" * 100), "cannot be read through"),
    ],
)
def test_what_is_no_backup_changes_nothing(engine: Engine, data: bytes, said: str) -> None:
    """It is refused before anything is touched."""
    Rigs(engine).add("Mine", preset("violin"), "violin")
    with pytest.raises(ScoreError, match=said):
        restore(engine, data)
    assert [rig.name for rig in Rigs(engine).own()] == ["Mine"]


def test_a_piece_off_the_shelf_can_come_back(engine: Engine) -> None:
    """Not shown meanwhile; with its plan afterwards."""
    pieces = Pieces(engine)
    load_demo(pieces)
    before = len(pieces.shelf())
    assert pieces.remove(4) == "Stone Stairs"
    assert 4 not in {entry.id for entry in pieces.shelf()}
    pieces.remove(4, back=True)
    assert len(pieces.shelf()) == before
