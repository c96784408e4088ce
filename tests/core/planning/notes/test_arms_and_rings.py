"""What is told of strings that ring on, early bows, the bow that falls, the left hand's time, the stick's direction."""

import math
from dataclasses import replace

import pytest

from pathway.core.planning import Settings, plan_part
from pathway.core.planning.advice.shifts import shift_to
from pathway.core.planning.wishes import Style
from pathway.core.rig import preset
from pathway.core.rig.instrument import Rig
from pathway.core.technique.limbs import Limb
from tests.helpers import part_of, plan_of


def test_an_open_string_rings_longer_than_a_stopped_one_and_a_harmonic_between() -> None:
    """By the string's own decay, which the rig has; the crossing tells it of the string that was left."""
    notes = plan_of("[mf] g3:4 a3 d4 e4").notes
    assert notes[0].rings == 0.9
    assert notes[1].rings == pytest.approx(0.35 * 0.9)
    cello = plan_of("[mf] c2:4 a3 c2 a3", "cello")
    assert cello.crossings[0].rings == cello.notes[0].rings == 2.2
    longer = replace(preset("violin").instrument.strings[0], ring=2.0)
    rig = preset("violin")
    rig = replace(rig, instrument=replace(rig.instrument, strings=(longer, *rig.instrument.strings[1:])))
    assert plan_part(part_of("[mf] g3:4 a3 d4 e4"), rig).notes[0].rings == 2.0


def test_dots_rebound_on_an_early_bow() -> None:
    """Slow and quick ones; on a modern bow they are thrown, or stopped."""
    text = "[mf] d4:8. e4. f4. g4. a4. g4. f4. e4."
    kinds = {
        rig: plan_part(part_of(text), preset(rig), Settings(90)).strokes[2].kind for rig in ("violin", "early-violin")
    }
    assert kinds["early-violin"] == "rebound" != kinds["violin"]
    slow = plan_part(part_of(text), preset("early-violin"), Settings(40)).strokes[2].kind
    assert slow == "rebound"


def test_in_early_style_the_weak_bow_comes_out_of_the_ring_of_the_strong() -> None:
    """The strong stroke is left ringing, and the weak one speaks sooner for it; in modern style they join."""
    part, rig = part_of("[mf] d4:4 e4 f4 g4 | a4 g4 f4 e4"), preset("early-violin")
    early, modern = (plan_part(part, rig, Settings(80, style=style)) for style in (Style.EARLY, Style.MODERN))
    strong = [
        k for k in range(7) if early.strokes[k].direction is rig.strong and early.strokes[k + 1].entry.word == "change"
    ]
    assert strong
    assert {early.strokes[k].exit for k in strong} == {"ringing"}
    assert modern.strokes[0].exit == "joined"
    assert {early.strokes[k].limb for k in strong} <= {Limb.UPPER_ARM, Limb.FOREARM, Limb.FINGERS}


def test_on_viols_the_bow_falls_to_the_next_higher_string() -> None:
    """By its own weight; back it is lifted, and on a cello both are."""
    part = part_of("[mf] g2:4 c3 g2 c3", "cello")
    viol = plan_part(part, preset("bass-viol"))
    assert [crossing.falls for crossing in viol.crossings][:2] in ([True, False], [False, True])
    cello = plan_of("[mf] g2:4 d3 g2 d3", "cello")
    assert not any(crossing.falls for crossing in cello.crossings)


@pytest.mark.parametrize(
    ("text", "through", "stopped"),
    [
        ("[mf] b4:4! f6! f6 f6", "gap", True),
        ("[mf] b4:4 e5 f6 f6", "open string", False),
        ("[mf] (d4:8 e4 f4 b4 f6 g6 f6 g6)", "note", False),
    ],
)
def test_the_left_hand_is_told_what_time_the_bow_gives_it(text: str, through: str, stopped: bool) -> None:
    """The gap of a stopped note, an open string, or only the end of the note before; none where the hand stays."""
    plan = plan_of(text, tempo=60)
    at = next(note for note in plan.bowed if shift_to(plan, note))
    shift = shift_to(plan, at)
    assert shift is not None
    assert shift.semitones > 2
    assert (shift.through, shift.stopped_before) == (through, stopped)
    assert shift.time > 0.1
    assert shift_to(plan, plan.bowed[0]) is None
    assert shift_to(plan, plan.bowed[-1]) is None


def _turned(rig: Rig, degrees: float) -> Rig:
    strings = list(rig.instrument.strings)
    strings[-1] = replace(strings[-1], aside=math.radians(degrees))
    return replace(rig, instrument=replace(rig.instrument, strings=tuple(strings)))


def test_the_direction_of_the_stick_is_the_rigs_own_string_by_string() -> None:
    """On a violin too; more of it is more drift, signed, and where it matters more than one place is told."""
    text = "[f] " + " | ".join(["g3:16 e5:2d", "e5:1", "g3:16 e5:4d", "d5:1"])
    part, violin = part_of(text), preset("violin")
    plain, turned, back = (
        plan_part(part, rig, Settings(60)) for rig in (violin, _turned(violin, 12), _turned(violin, -12))
    )
    assert abs(plain.crossings[0].drift) < abs(turned.crossings[0].drift)
    assert turned.crossings[0].turn > 0 > back.crossings[0].turn
    assert "angle-carried" in {f.code for f in turned.findings}
