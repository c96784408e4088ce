"""Every crossing of a plan: its manner, its cost to the hand, and what it does to the hair."""

import math
from itertools import pairwise

import pytest

from pathway.core.physics.geometry import (
    ROLL_TIME,
    contact_shift,
    free_band,
    stick_turn,
    strings_at,
)
from pathway.core.physics.string import SoundingString
from pathway.core.planning import Plan
from pathway.core.planning.wishes import Lock
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.core.technique.hand_loops import Figure, Step, alternating, hand_loop
from tests.helpers import HEADS, broken_rules_of, plan_of

VIOLIN, CELLO, VIOL = preset("violin"), preset("cello"), preset("treble-viol")
HEADS["treble-viol"] = {"part": "Treble Viol", "clef": "treble"}


HIGH = [Lock(note, string=5) for note in ("n2", "n4", "n5", "n7")]  # the top string of six


def _codes(plan: Plan) -> list[str]:
    return [finding.code for finding in plan.findings]


def test_the_bow_hand_lies_on_the_high_side_of_a_violin_and_the_low_side_of_a_cello() -> None:
    """Levels are positive towards the bow hand."""
    assert VIOLIN.instrument.level(3) > 0 > VIOLIN.instrument.level(0)
    assert CELLO.instrument.level(0) > 0 > CELLO.instrument.level(3)


def test_weight_narrows_the_free_band() -> None:
    """Half a step of 15.7° without weight; a hard-pressed soft string leaves less, never more."""
    string = SoundingString.of(VIOLIN.instrument, 1, 0)
    stiffness = string.stiffness(0.03)
    assert math.degrees(free_band(VIOLIN.instrument, stiffness, 0.0)) == pytest.approx(7.84, abs=0.02)
    bend = 1.0 / stiffness / 0.0115
    assert free_band(VIOLIN.instrument, stiffness, 1.0) == pytest.approx(
        free_band(VIOLIN.instrument, stiffness, 0.0) - math.asin(bend)
    )


def test_levels_touch_one_string_or_two() -> None:
    """In a string's band that one, between two bands both, beyond the last the last."""
    instrument, band = VIOLIN.instrument, math.radians(5)
    assert strings_at(instrument, instrument.level(1), band) == (1,)
    assert strings_at(instrument, instrument.level(1.5), band) == (1, 2)
    assert strings_at(instrument, instrument.level(3) + 0.5, band) == (3,)


def test_every_string_has_its_own_direction_of_the_stick() -> None:
    """Held down by half the level; held up by a degree a string, the other way; there and back cancel out."""
    assert math.degrees(stick_turn(VIOLIN.instrument, 0, 3)) == pytest.approx(3)
    step = CELLO.instrument.angle_step
    assert stick_turn(CELLO.instrument, 1, 2) == pytest.approx(-0.5 * step, abs=0.001)
    assert stick_turn(CELLO.instrument, 1, 2) == -stick_turn(CELLO.instrument, 2, 1)


def test_a_skip_shifts_the_hair_by_the_strings_distance() -> None:
    """Over one string by two spacings; towards the tip away from the bow hand; neighbours do not count."""
    assert contact_shift(VIOLIN.instrument, 3, 1) == pytest.approx(0.023)
    assert contact_shift(VIOLIN.instrument, 1, 3) == pytest.approx(-0.023)
    assert contact_shift(CELLO.instrument, 0, 3) == pytest.approx(3 * 0.0158)
    assert contact_shift(VIOLIN.instrument, 1, 2) == 0


def test_a_viol_rolls_over_silent_strings_and_its_hair_lies_shifted() -> None:
    """Nothing is lifted; where it rolls, the next stroke begins by the shift away from where the last one ended."""
    plan = plan_of("[mf] g3:4 d5 g3 d5 | e5 a3 e5 a3", "treble-viol", locks=HIGH)
    rolls = [crossing for crossing in plan.crossings if crossing.how == "roll"]
    assert rolls
    assert broken_rules_of(plan) == []
    for crossing in rolls:
        slower = min(plan.note[crossing.from_note].speed, plan.note[crossing.to_note].speed)
        assert crossing.dip == pytest.approx(0.4 * slower)
        assert crossing.over == pytest.approx(0.040 * crossing.skips)
        before, after = plan.note[crossing.from_note], plan.note[crossing.to_note]
        wanted = contact_shift(VIOL.instrument, crossing.from_string, crossing.to_string)
        assert after.start - before.end == pytest.approx(wanted, abs=1e-6)


def test_a_roll_inside_a_slur_takes_its_shift_from_the_stroke() -> None:
    """Lengths and shift add up to the stroke; the plan keeps its rules."""
    plan = plan_of("[mf] (g3:2 d5:2) | a4:2 a4", "treble-viol", locks=HIGH[:1])
    inner = next(crossing for crossing in plan.crossings if crossing.to_note == "n2")
    assert inner.how == "roll"
    assert inner.shift != 0
    assert broken_rules_of(plan) == []


def test_manners_of_crossing() -> None:
    """Slurred: early when slow, through both strings when quick; to and fro one oscillation; separate at the change."""
    slow = plan_of("[mf] (d4:2 b4)", tempo=60, locks=[Lock("n2", string=2)]).crossings[0]
    quick = plan_of("[mf] (d4:16 b4 d4 b4) r:2d", tempo=100, locks=[Lock("n2", string=2), Lock("n4", string=2)])
    assert slow.how == "early"
    assert quick.crossings[0].how == "through"
    assert {crossing.how for crossing in quick.crossings[1:]} == {"oscillation"}
    assert plan_of("[mf] d4:2 b4", tempo=60, locks=[Lock("n2", string=2)]).crossings[0].how == "change"


def test_the_hard_way_round_is_told_after_a_few_and_the_other_bow_helps() -> None:
    """Fast separate notes with the higher string on every down-bow."""
    text = "[mf] " + "d4:16 b4 " * 8
    strings = [Lock(f"n{i}", string=2) for i in range(2, 17, 2)]
    turned = {i: Lock(f"n{i}", direction=Direction.UP if i % 2 else Direction.DOWN) for i in range(1, 17)}
    locks = [Lock(f"n{i}", turned[i].direction, string=2 if i % 2 == 0 else None) for i in range(1, 17)]
    free, hard = plan_of(text, locks=strings, tempo=80), plan_of(text, locks=locks, tempo=80)
    assert "crossing-hard" in _codes(hard)
    assert "crossing-hard" not in _codes(free)
    assert sum(c.sense == "hard" for c in free.crossings) < sum(c.sense == "hard" for c in hard.crossings)


def test_far_and_fast_crossings_are_told() -> None:
    """From the lowest string to the highest at speed near the tip: too far for a hand; slowly it is nothing."""
    text = "[mf] g3:16 e5 g3 e5 g3 e5 g3 e5 g3 e5 g3 e5 g3 e5 g3 e5"
    high = [Lock(f"n{i}", string=3) for i in range(2, 17, 2)]
    fast, slow = plan_of(text, locks=high, tempo=90), plan_of(text, locks=high, tempo=15)
    assert {"crossing-fast", "skip-no-time"} & set(_codes(fast))
    assert not {"crossing-fast", "skip-no-time"} & set(_codes(slow))
    assert max(c.speed for c in fast.crossings) > max(c.speed for c in slow.crossings)
    assert all(c.skips == 2 for c in fast.crossings)
    assert pytest.approx(0.08) == 2 * ROLL_TIME


def test_the_old_angle_carried_over_betrays_itself_on_the_cello() -> None:
    """A long bow soon after a crossing; with time to turn the stick it is not told."""
    cello = plan_of("[f] c2:8 a3:2d | a3:1", "cello", tempo=60)
    assert "angle-carried" in _codes(cello)
    assert "angle-carried" not in _codes(plan_of("[f] c2:2 a3:2d | a3:1", "cello", tempo=60))
    assert cello.crossings[0].turn != 0


def test_the_hand_draws_a_loop_that_grows_towards_the_tip() -> None:
    """One bow a note: a closed loop; the other way round with the other string first; higher at the tip."""
    easy, hard = (alternating(1, 1, 0.08, higher_on_down=higher) for higher in (False, True))
    frog, tip = hand_loop(easy, 0.06, VIOLIN), hand_loop(easy, 0.58, VIOLIN)
    assert frog[0] == pytest.approx(frog[-1])
    assert _area(frog) * _area(hand_loop(hard, 0.06, VIOLIN)) < 0
    assert _height(tip) > 2.5 * _height(frog)


def test_the_hand_goes_through_every_string_of_a_figure() -> None:
    """Three strings and back in two bows: the level of each at the middle of its note, for as long as it lasts."""
    figure = Figure([Step(0, 1), Step(1, 1), Step(2, 2)], [Step(2, 1), Step(0, 1)], 0.10)
    loop = hand_loop(figure, 0.3, VIOLIN)
    levels = [math.atan2(y, x) for x, y in loop]
    wanted = {0.125: 0, 0.375: 1, 0.75: 2, 1.25: 2, 1.75: 0}  # phase → string
    for phase, string in wanted.items():
        assert levels[round(phase * 36)] == pytest.approx(VIOLIN.instrument.level(string), abs=0.03)
    assert loop[0] == pytest.approx(loop[-1])


def _area(points: list[tuple[float, float]]) -> float:
    """Twice the signed area inside a closed line."""
    return sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in pairwise(points))


def _height(points: list[tuple[float, float]]) -> float:
    heights = [y for _, y in points]
    return max(heights) - min(heights)
