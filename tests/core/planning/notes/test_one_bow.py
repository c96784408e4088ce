"""Staccato in one bow: its side, its stretch, its lane, its loads, the player's own rate on each bow."""

import math
from dataclasses import replace

import pytest

from pathway.core.planning import Lock, Passage, Plan, Settings, plan_part
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import OneBow, Rig
from tests.helpers import part_of, plan_of

RUN = "[mf] (d4:16. e4. f4. g4. a4. g4. f4. e4.) d4:2"
SLUR = "[mf] (d4:16 e4 f4 g4 a4 g4 f4 e4) d4:2"
VIOLIN = preset("violin")


UNKNOWN = OneBow()


def _rig(down: OneBow = UNKNOWN, up: OneBow = UNKNOWN) -> Rig:
    return replace(VIOLIN, staccato=(down, up))


def _run(rig: Rig = VIOLIN, kind: str = "staccato", tempo: float = 70, locks: tuple[Lock, ...] = ()) -> Plan:
    passage = Passage("n1", "n8", kind=kind)
    return plan_part(part_of(RUN), rig, Settings(tempo, passages=(passage,)), locks)


def test_it_begins_on_the_weak_side_unless_locked() -> None:
    """A plain slur on the beat goes down; the same notes staccato go up, and down where the player says so."""
    assert plan_of(SLUR, tempo=70).strokes[0].direction is Direction.DOWN
    assert _run().strokes[0].direction is Direction.UP
    assert _run(locks=(Lock("n1", Direction.DOWN),)).strokes[0].direction is Direction.DOWN


def test_a_small_speed_does_not_drag_it_to_the_bridge() -> None:
    """At most a lane further in than the level sung; the start makes up for the speed; the pull is told."""
    sung = plan_of("[mf] d4:4 e4 f4 g4", tempo=35).notes[1]
    short = _run(tempo=35).notes[1]
    assert short.lead.string == sung.lead.string
    assert short.lane <= sung.lane + 1
    assert short.pull > 0.5
    assert short.level_db == pytest.approx(short.target_db, abs=0.1)
    assert sung.pull == 0


@pytest.mark.parametrize("way", list(Direction))
def test_it_keeps_to_the_players_stretch_of_hair(way: Direction) -> None:
    """Another one on each bow."""
    rig = _rig(OneBow(stretch=(0.20, 0.36)), OneBow(stretch=(0.44, 0.60)))
    stroke = _run(rig, locks=(Lock("n1", way),)).strokes[0]
    low, high = rig.one_bow(way).stretch or (0.0, 0.0)
    assert low - 0.01 <= stroke.start <= high + 0.01
    assert low < (stroke.start + stroke.end) / 2 < high


def test_the_own_rate_is_that_of_the_bow_it_goes_on() -> None:
    """Nine a second on the way up, twelve on the way down: the same run fits one and not the other."""
    rig = _rig(OneBow(rate=12.0), OneBow(rate=9.3))
    for way, fits in ((Direction.UP, True), (Direction.DOWN, False)):
        plan = _run(rig, "running-staccato", 140, (Lock("n1", way),))
        assert ("rate-mismatch" not in {f.code for f in plan.findings}) == fits


def test_after_a_crossing_the_hand_loads_anew() -> None:
    """A self-running one is loaded once, and again where it comes to another string; a paced one at every note."""
    text = "[mf] (d4:16. e4. f4. g4. b4. c5. d5. c5.) d4:2"
    passage = Passage("n1", "n8", kind="running-staccato")
    notes = plan_part(part_of(text), VIOLIN, Settings(140, passages=(passage,))).notes[:8]
    assert [note.load is not None for note in notes] == [True, False, False, False, True, False, False, False]
    paced = _run().notes[:8]
    assert all(note.load for note in paced)
    assert paced[0].load is not None
    assert paced[1].load is not None
    assert paced[0].load.time > paced[1].load.time


def test_an_unusual_stretch_of_hair_is_refused() -> None:
    """Off the hair, or turned round."""
    from pathway.errors import RigError
    from pathway.formats.rig_document import revised

    with pytest.raises(RigError, match="stretch"):
        revised(VIOLIN, ["staccato_up.from_cm=50", "staccato_up.to_cm=40"])
    again = revised(VIOLIN, ["staccato_up.from_cm=30", "staccato_up.to_cm=55", "staccato_down.per_second=10.5"])
    assert again.staccato == (OneBow(10.5), OneBow(None, (0.30, 0.55)))
    assert math.isclose(sum(again.staccato[1].stretch or ()), 0.85)
