"""Wish files: places in a player's words, round trips, and refusals with the place."""

import json

import pytest

from pathway.core.planning import Lock, Passage
from pathway.core.planning.wishes import Settings, Wishes
from pathway.core.rig.bow import Direction
from pathway.errors import PlanError
from pathway.formats.wishes_document import placed, read_wishes, wishes_document
from tests.helpers import part_of

PART = part_of("[mf] d4:4 e4 f4 g4 | a4:4 {pizz.} b4 {arco} c5 d5")


def _wishes(**fields: object) -> bytes:
    return json.dumps(fields).encode()


def test_places_are_said_in_bars_and_beats() -> None:
    """A whole bar, from a beat on, or a note's own id; plucked notes are passed over."""
    doc = read_wishes(
        _wishes(
            passages=[{"from": "bar 1 beat 3", "to": "bar 2", "type": "porte"}],
            locks=[{"note": "bar 2", "direction": "up"}, {"note": "n2", "end_cm": 30}],
        )
    )
    found = placed(doc, PART)
    (passage,) = found.settings.passages
    assert (passage.start, passage.end, passage.kind) == ("n3", "n8", "porte")
    assert found.locks == (Lock("n5", Direction.UP), Lock("n2", end=0.30))


def test_a_wish_file_says_what_is_usual_too() -> None:
    """The day that something else becomes usual, what was kept stays as it was; what is not asked is left out."""
    wishes = Wishes(Settings(passages=(Passage("n1", "n4"),)), (Lock("n5", lane=3),))
    document = wishes_document(wishes)
    assert document["style"] == "modern"
    assert document["passages"][0]["colour"] == "plain"
    assert document["locks"] == [{"note": "n5", "lane": 3, "voicing": []}]
    assert read_wishes(json.dumps(document).encode()) == wishes


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"{", "not a wish file"),
        (_wishes(colour="blue"), "colour"),
        (_wishes(locks=[{"note": "n1", "direction": "left"}]), "locks.0.direction"),
        (_wishes(passages=[{"from": "bar 1"}]), r"passages.0.to"),
    ],
)
def test_files_that_are_none_are_refused(data: bytes, said: str) -> None:
    """With the field that is wrong."""
    with pytest.raises(PlanError, match=said):
        read_wishes(data)


@pytest.mark.parametrize("place", ["bar 9", "bar 1 beat 7", "n99", "somewhere", "bar 2 beat 2"])
def test_places_that_are_not_there_are_refused(place: str) -> None:
    """And how to write one that is; a plucked note has no bow."""
    doc = read_wishes(_wishes(locks=[{"note": place, "direction": "up"}]))
    with pytest.raises(PlanError, match=f"no bowed note at '{place}'.*bar 12 beat 3"):
        placed(doc, PART)
