"""Rigs of one's own, and choices."""

from dataclasses import replace
from pathlib import Path

import pytest
from sqlalchemy import Engine, text

from pathway.core.guide.speech import Lengths
from pathway.core.rig import preset
from pathway.errors import NotFound, RigError
from pathway.formats.rig_document import rig_document
from pathway.store import Choices, ChoiceStore, Pieces, Rigs, open_database


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
        lambda: rigs.find("mine-99999999999999999999"),
        lambda: rigs.find("mine-\u0663"),
    ):
        with pytest.raises(NotFound):
            wrong()
    with pytest.raises(RigError, match="no name"):
        rigs.add("  ", preset("viola"), "viola")


def test_a_rig_in_use_is_not_deleted(stocked: Engine) -> None:
    """The pieces played on it are named; without them it goes."""
    rigs, pieces = Rigs(stocked), Pieces(stocked)
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


def test_a_choice_that_cannot_be_read_is_as_usual_and_the_others_stay(engine: Engine) -> None:
    """One bad value costs itself."""
    store = ChoiceStore(engine)
    store.set(Choices(lengths=Lengths.INCH, tips=False))
    with engine.begin() as connection:
        connection.execute(text("""UPDATE choice SET value = json_set(value, '$.lengths', 'ell')"""))
    again = ChoiceStore(engine).get()
    assert (again.lengths, again.tips) == (Lengths.CM, False)


def test_a_rig_that_cannot_be_read_costs_itself_alone(engine: Engine) -> None:
    """The typical one stands in its place, and that is said; the others stay."""
    rigs = Rigs(engine)
    bad, good = rigs.add("Bad", preset("cello"), "cello"), rigs.add("Good", preset("viola"), "viola")
    with engine.begin() as connection:
        connection.execute(text("UPDATE rig SET document = json_set(document, '$.bow.mass_g', 'heavy') WHERE id = 1"))
    assert rigs.find(bad).rig.instrument == preset("cello").instrument
    assert [bool(rig.fault) for rig in rigs.own()] == [True, False]
    assert rigs.find(good).fault == ""


def test_a_piece_off_the_shelf_can_come_back(stocked: Engine) -> None:
    """Not shown meanwhile; with its plan afterwards."""
    pieces = Pieces(stocked)
    before = len(pieces.shelf())
    assert pieces.remove(4) == "Stone Stairs"
    assert 4 not in {entry.id for entry in pieces.shelf()}
    pieces.remove(4, back=True)
    assert len(pieces.shelf()) == before
