"""What asks for which drill: findings, types, what is heard; the neighbour, and what comes next."""

from contextlib import suppress

import pytest

from pathway.core.planning import Passage, Settings, plan_part
from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.findings.catalogue import CATALOGUE
from pathway.core.practice.drill import AskedBy, DrillAsk, Stage
from pathway.core.practice.families import FAMILIES
from pathway.core.practice.making import opened
from pathway.core.practice.offers import (
    BY_CODE,
    BY_HEARD,
    BY_TYPE,
    MOST_OFFERS,
    drills_for,
    drills_for_contrast,
    drills_for_passage,
    drills_for_symptom,
    drills_for_type,
    neighbour,
    offers_of,
    then,
)
from pathway.core.rig import PRESETS
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import NotFound, NotHere
from tests.core.practice.grounds import place, tune_on
from tests.helpers import part_of, plan_of

TIGHT = plan_of(
    "[mf] (d4:1 e4 | f#4 g4) | [p] a4:8 b4 a4 b4 a4 b4 a4 b4 | [f] d4:4. d4. d4. d4. | (a4:1~ | a4:1~ | a4:1)"
)


def test_every_finding_type_and_symptom_names_its_families() -> None:
    """Families that there are; none is left without, and every family is asked for by something."""
    assert set(BY_CODE) == set(CATALOGUE)
    assert set(BY_HEARD) == set(Heard)
    assert set(BY_TYPE) == set(STROKE_TYPES)
    named = {family for table in (BY_CODE, BY_HEARD, BY_TYPE) for row in table.values() for family in row}
    assert named <= set(FAMILIES)
    assert set(FAMILIES) - named <= {"with-second-part"}
    assert all(row for table in (BY_CODE, BY_HEARD, BY_TYPE) for row in table.values())


def test_a_finding_brings_its_drills() -> None:
    """At its place, five at most, the first one the most useful; like places are named."""
    assert TIGHT.findings
    for finding in TIGHT.findings:
        found = drills_for(TIGHT, finding)
        assert 0 < len(found) <= MOST_OFFERS
        assert found[0].ask.family == BY_CODE[finding.code][0]
        assert found[0].ask.first in finding.place
        assert found[0].bars[0] == finding.bar
        assert set(found[0].bars) == {finding.bar, *finding.also}
        assert {offer.why for offer in found} == {AskedBy.FINDING}


def test_the_drills_of_a_finding_can_be_opened() -> None:
    """Or are refused with a reason."""
    for finding in TIGHT.findings:
        for offer in drills_for(TIGHT, finding):
            with suppress(NotHere):
                assert opened(offer.ask, TIGHT.rig, TIGHT).rungs


@pytest.mark.parametrize("heard", Heard)
def test_what_is_heard_brings_its_drills(heard: Heard) -> None:
    """For the bow of the note."""
    note = TIGHT.bowed[3].id
    found = drills_for_symptom(TIGHT, note, heard)
    assert [offer.ask.family for offer in found] == list(BY_HEARD[heard])[:MOST_OFFERS]
    stroke = TIGHT.stroke[TIGHT.note[note].stroke or ""]
    assert (found[0].ask.first, found[0].ask.last) == (stroke.notes[0], stroke.notes[-1])
    with pytest.raises(NotFound):
        drills_for_symptom(TIGHT, "n999", heard)


@pytest.mark.parametrize("kind", STROKE_TYPES)
def test_a_stroke_type_is_learnt_without_any_piece(kind: str) -> None:
    """On the rig alone, in its own type where the drill has one."""
    found = drills_for_type(kind)
    assert found
    for offer in found:
        assert offer.ask.kind == kind
        assert opened(offer.ask, PRESETS["violin"]).rungs
    with pytest.raises(NotFound):
        drills_for_type("juggling")


def test_a_passage_brings_hair_before_crossings_before_shifts() -> None:
    """One aim at a time, all together at last."""
    plan = tune_on("violin")
    found = drills_for_passage(plan, [event.id for event in plan.part.events[2:12]], "the middle")
    aims = [FAMILIES[offer.ask.family].aim for offer in found]
    assert aims == sorted(aims)
    assert len({offer.ask.family for offer in found}) == len(found) <= MOST_OFFERS
    assert drills_for_passage(plan, []) == []


def test_neighbouring_characters_ask_for_a_contrast() -> None:
    """Around the seam, told by their names."""
    part = part_of("[mf] d4:4 e4 f#4 g4 | a4 b4 a4 g4 | d4:4. e4. f#4. g4. | a4. b4. a4. g4.")
    ids = [event.id for event in part.events]
    passages = (Passage(ids[0], ids[7], "calm", id=1), Passage(ids[8], ids[15], "light", id=2))
    plan = plan_part(part, PRESETS["violin"], Settings(passages=passages))
    first, *_ = drills_for_contrast(plan, *plan.draft.settings.passages)
    assert first.ask.family == "contrast"
    assert first.what == "calm against light"
    assert plan.part.index[first.ask.first] < 8 <= plan.part.index[first.ask.last]
    assert any(offer.why is AskedBy.CONTRAST for offer in offers_of(plan))
    assert opened(first.ask, plan.rig, plan).rungs


def test_all_that_a_piece_asks_for_is_named_once() -> None:
    """A drill a family and place."""
    found = offers_of(TIGHT)
    assert len({offer.ask.key for offer in found}) == len(found)
    assert {offer.what for offer in found} <= {finding.code.value for finding in TIGHT.findings}


def test_a_drill_that_sticks_has_a_neighbour() -> None:
    """One stage back; at the first stage another way of it, or another family; never itself."""
    assert neighbour(DrillAsk("crossings", "", Stage.BARS, "n1", "n2")) == DrillAsk(
        "crossings", "", Stage.PITCH, "n1", "n2"
    )
    back = neighbour(DrillAsk("crossings", "low to high", Stage.OPEN))
    assert back is not None
    assert back.member == "high to low"
    for family, row in FAMILIES.items():
        ask = DrillAsk(family, row.members[0], row.stages[0], "n1", "n2")
        assert neighbour(ask) != ask


def test_what_comes_next_is_nearer_to_the_piece() -> None:
    """Until the last stage; own bars only where there is a place."""
    plan = tune_on("violin")
    first, last = place(plan)
    assert then(DrillAsk("long-tones", stage=Stage.OPEN)) == DrillAsk("long-tones", stage=Stage.PITCH)
    assert then(DrillAsk("long-tones", stage=Stage.PITCH)) is None
    assert then(DrillAsk("crossings", stage=Stage.PITCH)) is None
    assert then(DrillAsk("crossings", "", Stage.PITCH, first, last)) == DrillAsk(
        "crossings", "", Stage.BARS, first, last
    )


def test_a_drill_goes_by_one_word() -> None:
    """There and back; nonsense is refused."""
    for ask in (
        DrillAsk("arrive", "", Stage.BARS, "n1", "n2"),
        DrillAsk("bursts", "down", Stage.OPEN, kind="spiccato"),
        DrillAsk("angle", stage=Stage.OPEN),
    ):
        assert DrillAsk.of(ask.key) == ask
    for nonsense in ("", "arrive", "arrive..9", "arrive..x", "a.b.c.d"):
        with pytest.raises(NotFound):
            DrillAsk.of(nonsense)
