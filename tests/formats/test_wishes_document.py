"""Wish files: places in a player's words, round trips, and refusals with the place."""

import json
from dataclasses import fields, replace

import pytest

from pathway.core.planning import Lock, Passage
from pathway.core.planning.wishes import (
    Break,
    Colour,
    Link,
    Profile,
    Relation,
    Role,
    Settings,
    Stress,
    Style,
    TempoChange,
    Vibrato,
)
from pathway.core.rig.bow import Direction
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.endings import Exit
from pathway.errors import PlanError
from pathway.formats.wishes_document import read_wishes, wishes_document, wishes_of
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
    settings, locks = wishes_of(doc, PART)
    (passage,) = settings.passages
    assert (passage.start, passage.end, passage.kind) == ("n3", "n8", "porte")
    assert locks == (Lock("n5", Direction.UP), Lock("n2", end=0.30))


def test_every_wish_survives_its_document() -> None:
    """Passages and locks with all their fields, written and read."""
    passage = Passage(
        "n1", "n4", "calm", "legato", Colour.SOFT, Colour.FOCUSED, -2.0, Style.EARLY, Profile.SAVE, 1,
        Stress((1.0, 3.0), (1,), 2, 1.5), 0.2, 0.25, Relation(2, -3.0), Leading.BOTTOM, Form.BELOW, Role.LEADS,
        Vibrato.WIDE, 7,
    )  # fmt: skip
    lock = Lock(
        "n5", Direction.DOWN, 0.1, 0.4, Link.HOOK, "martele", Profile.SPEND, Break.SPLIT, 2, Leading.BOTTOM,
        Form.BELOW, Exit.LIFTED, 3, 0.5, 0.25, -1, (50, 57, 66), Vibrato.PULSE, True,
    )  # fmt: skip
    assert None not in {getattr(lock, one.name) for one in fields(Lock)}
    settings = Settings(66.0, Style.EARLY, (passage,), True, (TempoChange("n5", 80.0),), (55, 62, 69, 74))
    assert [one.name for one in fields(Settings) if getattr(settings, one.name) == one.default] == []
    again = read_wishes(wishes_document(settings, [lock]).model_dump_json(by_alias=True).encode())
    chosen, (kept,) = wishes_of(again)
    assert wishes_of(again, PART) == (chosen, (kept,))
    assert replace(kept, tilt=lock.tilt) == lock
    assert kept.tilt == pytest.approx(lock.tilt)
    assert chosen == settings


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
        wishes_of(doc, PART)
