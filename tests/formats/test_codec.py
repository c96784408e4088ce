"""What a value says of itself stands in its documents: every field of every value goes out and comes back."""

import json
from collections.abc import Mapping
from dataclasses import MISSING, dataclass, replace
from typing import Annotated, Any

import pytest

from pathway.core.planning.advice.balance import BalanceGroup
from pathway.core.planning.crossing import Crossing
from pathway.core.planning.note_plan import NotePlan, Onset, Voice
from pathway.core.planning.plan import StrokePlan
from pathway.core.planning.wishes import Lock, Passage, Settings, Stress, Wishes
from pathway.core.practice.log import PlayedSet
from pathway.core.rig import Rig, preset
from pathway.core.rig.bow import Bow, Hold
from pathway.core.rig.instrument import OneBow
from pathway.core.says import CM, Says, declared, outside
from pathway.core.technique.chords import Chord
from pathway.errors import RigError
from pathway.formats import plan_exchange
from pathway.formats.codec import Codec, model_of
from pathway.formats.log_document import log_json, read_log
from pathway.formats.rig_document import read_rig, rig_document
from pathway.formats.wishes_document import read_wishes, wishes_document
from tests.filled import filled

WHOLE: Mapping[type, Mapping[str, object]] = {  # documents of their own, with what else stands in them
    NotePlan: {"voices": [], "length_cm": 1.0, "force_n": 1.0, "weight_g": 1.0, "locked": []},
    StrokePlan: {"entry": "change"},
    Voice: {"string_name": "G", "window": {"min_n": 1.0, "max_n": 2.0, "place": 0.5}},
    Crossing: {},
    Chord: {"note": "n1"},
}
GIVEN: Mapping[type, Mapping[str, object]] = {  # what is told elsewhere in them
    NotePlan: {"voices": (), "onset_of_tone": filled(Onset, clean=True), "force_at": (0.5, 1.0, 0.75)},
    BalanceGroup: {"kind": "string"},
}
KINDS = [kind for kind in Codec.known if kind not in {Rig, Onset, OneBow, Hold, Settings, Wishes}]


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.__name__)
def test_every_field_goes_out_and_comes_back(kind: Any) -> None:
    """As JSON, by its key, in its unit."""
    codec, silent = Codec.known[kind], {}
    for name, field in declared(kind).items():
        if not field.says.kept:
            silent[name] = getattr(filled(kind), name) if field.default is MISSING else field.default
    value = filled(kind, **silent, **GIVEN.get(kind, {}))
    document = codec.document(value, **WHOLE.get(kind, {}))
    again = codec.model.model_validate_json(document.model_dump_json(by_alias=True))
    assert codec.value(again, **silent) == value


def test_every_wish_survives_its_file() -> None:
    """Of the whole piece, of passages, of notes."""
    wishes = filled(Wishes)
    assert len(wishes.locks) == len(wishes.settings.passages) == 2
    assert read_wishes(json.dumps(wishes_document(wishes)).encode()) == wishes


def test_every_set_survives_the_log() -> None:
    """But for the piece and the row that it has here."""
    played = filled(PlayedSet, piece=None, id=0, removed=False)
    assert read_log(log_json([played]).encode()) == [played]


def test_every_number_of_a_rig_survives_its_file() -> None:
    """With a staccato of its own in both directions."""
    bow = filled(Bow, hair=0.64)
    mine = filled(OneBow, stretch=(0.1, 0.3))
    violin = preset("violin")
    strings = tuple(filled(type(one), name=one.name, midi=one.midi) for one in violin.instrument.strings)
    rig = filled(
        Rig, bow=bow, instrument=filled(type(violin.instrument), strings=strings), frog_margin=0.02, tip_margin=0.04,
        hold=Hold("early", 0.05), staccato=(mine, replace(mine, stretch=(0.2, 0.4))), says_pull=True,
    )  # fmt: skip
    again = read_rig(json.dumps(rig_document(rig)).encode())
    assert replace(again, tip_margin=rig.tip_margin) == rig
    assert again.tip_margin == pytest.approx(rig.tip_margin)


def test_a_plan_document_is_laid_beside_every_value_it_holds() -> None:
    """A field without a key in the document is refused as the app starts, not dropped as it is written."""

    @dataclass(frozen=True)
    class Wider(Lock):
        more: Annotated[float, Says(CM)] = 0.0

    with pytest.raises(TypeError, match="LockDoc has no more_cm"):
        Codec(Wider, Codec.known[Lock].model)
    assert plan_exchange.PLANNED_NOTES.model.__name__ == "NoteDoc"


def test_what_is_not_asked_for_is_none_by_default() -> None:
    """Else a document that leaves it out would come to mean something else one day."""

    @dataclass(frozen=True)
    class Odd:
        place: Annotated[float | None, Says(CM)] = 0.1

    with pytest.raises(TypeError, match="place may be None"):
        model_of(Odd, "OddDoc", "Odd.")


def test_numbers_outside_their_ranges_are_told_by_what_they_are_called() -> None:
    """In SI, with the range; what is not asked for lies nowhere."""
    assert list(outside(Lock("n1"))) == []
    assert list(outside(Lock("n1", force=30.0, lane=7))) == [("lane", 7, 1, 6), ("weight", 30.0, 0.02, 20.0)]
    assert list(outside(Passage("n1", "n2", keep_back=0.7))) == [("keep back", 0.7, 0.0, 0.6)]
    assert list(outside(Stress(swing=9.0))) == [("swing", 9.0, 0.5, 3.0)]


def test_nothing_that_is_no_number_comes_in() -> None:
    """NaN compares with nothing, so that a range alone would let it pass."""
    data = json.dumps(rig_document(preset("violin"))).replace('"mass_g": 60.0', '"mass_g": NaN')
    with pytest.raises(RigError, match="mass_g is nan; it must be a number"):
        read_rig(data.encode())
