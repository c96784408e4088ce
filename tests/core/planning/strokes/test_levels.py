"""Dynamics as music means them: goals, gestures, swells, steps; no holes between marks, and never off the scale."""

from fractions import Fraction

import numpy as np
import pytest

from pathway.core.music import DYNAMIC_LEVELS, Dynamic, Hairpin, Part
from pathway.core.planning.strokes.levels import GESTURE, HAIRPIN_STEP, LevelCurve
from pathway.core.technique.dynamic_words import DYNAMIC_STEP, dynamic_of
from tests.helpers import part_of, plan_of


def _curve(marks: str, *pins: str) -> LevelCurve:
    """Return the curve of marks such as "0:p 4:f" and hairpins such as "0<4"."""
    dynamics = []
    for mark in marks.split():
        at, text = mark.split(":")
        found = dynamic_of(text.replace("_", " "), Fraction(at))
        assert found is not None
        dynamics.append(found)
    return LevelCurve(Part("t", "p", (), (), dynamics=tuple(dynamics), hairpins=tuple(map(_pin, pins))))


def _pin(text: str) -> Hairpin:
    grows = "<" in text
    start, end = text.split("<" if grows else ">")
    return Hairpin(Fraction(start), Fraction(end), grows)


def _at(name: str) -> float:
    return DYNAMIC_LEVELS[name]


@pytest.mark.parametrize("goal", ["4", "4.5", "5", "3.8"])
def test_a_hairpin_leads_to_its_mark_and_does_not_fall_back_before_it(goal: str) -> None:
    """Though that stands a little after its end: not one place is off the line from p to f."""
    curve = _curve(f"0:p {goal}:f", "0<4")
    levels = curve.along(np.arange(0, 7, 0.1))
    assert (np.diff(levels) >= -1e-9).all()
    assert levels[-1] == _at("f")
    assert curve.at(4) == _at("f")
    assert curve.at(2) == pytest.approx((_at("p") + _at("f")) / 2, abs=0.5)


def test_a_fade_to_a_mark_a_little_later_stays_down() -> None:
    """The opposite."""
    assert (np.diff(_curve("0:f 5:p", "0>4").along(np.arange(0, 7, 0.1))) <= 1e-9).all()


def test_a_step_is_no_spike() -> None:
    """From p to f at once, and nothing above f."""
    levels = _curve("0:p 4:f").along(np.arange(0, 8, 0.25))
    assert set(levels) == {_at("p"), _at("f")}


def test_little_fades_come_back() -> None:
    """Eight of them on pairs of notes, as the ear hears them: none is softer than the one before."""
    curve = _curve("0:mf", *(f"{2 * n}>{2 * n + 1}" for n in range(8)))
    assert [curve.at(2 * n) for n in range(8)] == [0] * 8
    assert min(curve.along(np.arange(0, 16, 0.05))) >= -GESTURE
    assert curve.at(20) == 0
    assert len(curve.gestures) == 8


def test_two_opposite_ones_are_one_swell() -> None:
    """Four swells from mf end at mf, however long they are; a mark inside or after them is still their goal."""
    for long in (2, 8):
        pins = [f"{2 * long * n}{sign}{2 * long * n + long}" for n in range(4) for sign in "<"]
        backs = [f"{2 * long * n + long}>{2 * long * (n + 1)}" for n in range(4)]
        curve = _curve("0:mf", *pins, *backs)
        assert curve.at(8 * long) == 0
        assert max(curve.along(np.arange(0, 8 * long, 0.25))) == pytest.approx(HAIRPIN_STEP if long > 2 else GESTURE)
    assert _curve("0:p 2:f", "0<2", "2>4").at(2) == _at("f")
    assert _curve("0:mf 4:pp", "0<2", "2>4").at(4) == _at("pp")


def test_a_long_one_leads_to_a_mark_that_stands_later() -> None:
    """Unless something else begins before; short ones do not."""
    assert _curve("0:p 12:f", "0<8").at(9) == _at("f")
    assert _curve("0:p 6:f", "0<2").at(3) == _at("p")
    assert _curve("0:p 40:f", "0<8").at(9) == _at("p") + HAIRPIN_STEP


def test_a_long_one_without_a_goal_is_a_step_within_the_scale() -> None:
    """Ten in a row end at the loudest there is, and it is said."""
    curve = _curve("0:mf", *(f"{8 * n}<{8 * n + 6}" for n in range(10)))
    assert curve.at(7) == HAIRPIN_STEP
    assert curve.at(200) == max(DYNAMIC_LEVELS.values())
    assert len(curve.steps) == 10


def test_a_mark_against_a_hairpin_takes_over() -> None:
    """A growth to a sudden p."""
    curve = _curve("0:mf 4:p", "0<4")
    assert curve.at(3.9) > 2
    assert curve.at(4) == _at("p")


def test_marks_with_a_start_and_a_level_after_it() -> None:
    """Fp is f at its note and p after it; an accent leaves the level; più f is a step, and steps end with the scale."""
    part = part_of("d4:4 e4 f#4 g4")
    signs = [
        dynamic_of(text, event.onset) for text, event in zip(("p", "sfz", "fp", "più f"), part.events, strict=True)
    ]
    curve = LevelCurve(Part("t", "p", part.measures, part.events, dynamics=tuple(d for d in signs if d)))
    assert [curve.at(event.place) + curve.pulse(event) for event in part.events] == [
        _at("p"), _at("p") + 6, _at("f"), _at("p") + DYNAMIC_STEP,
    ]  # fmt: skip
    assert [curve.at(event.place) for event in part.events] == [_at("p"), _at("p"), _at("p"), _at("p") + DYNAMIC_STEP]
    loud = LevelCurve(
        Part("t", "p", (), (), dynamics=tuple(Dynamic(Fraction(n), None, step_db=DYNAMIC_STEP) for n in range(9)))
    )
    assert loud.at(20) == max(DYNAMIC_LEVELS.values())


def test_hairpins_one_over_the_other() -> None:
    """The later ends the earlier; where a word and a sign begin together the sign counts."""
    pins = (
        Hairpin(Fraction(0), Fraction(8), True, worded=True),
        _pin("4>6"),
        Hairpin(Fraction(4), Fraction(9), True, True),
    )
    curve = LevelCurve(Part("t", "p", (), (), dynamics=(Dynamic(Fraction(0), 0.0),), hairpins=pins))
    levels = curve.along(np.arange(0, 12, 0.1))
    assert np.abs(np.diff(levels)).max() < 1
    assert levels.argmax() == 40


def test_how_hairpins_were_taken_is_said() -> None:
    """By their bars, where it was a choice."""
    told = " ".join(plan_of("[mf] [>] d4:4 e4 [*] f#4 g4 | a4 [<] b4:2 [*] a4:4 | g4:1").notices)
    assert "Bars 1, 2: short hairpins without a mark at their end come back" in told
    assert "hairpins" not in " ".join(plan_of("[p] [<] d4:4 e4 f#4 g4 [*] | [f] a4:1").notices)
