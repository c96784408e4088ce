"""Bars, beats, the clock, and levels between dynamic marks."""

from fractions import Fraction

import numpy as np
import pytest

from pathway.core.music import Clock, Dynamic, Hairpin, Mark, Measure, Part, TempoMark, pitch_name
from pathway.core.planning.strokes.levels import LevelCurve
from tests.helpers import part_of


@pytest.mark.parametrize(
    ("beats", "unit", "onset", "beat"),
    [(4, 4, 2, 3.0), (6, 8, 1.5, 2.0), (3, 4, 0.5, 1.5), (2, 2, 2, 2.0), (12, 8, 4.5, 4.0)],
)
def test_beats_of_simple_and_compound_bars(beats: int, unit: int, onset: float, beat: float) -> None:
    """Compound time counts dotted beats."""
    measure = Measure("1", Fraction(0), Fraction(4 * beats, unit), beats, unit)
    assert measure.beat_of(onset) == beat


def test_a_pickup_counts_from_the_full_bar() -> None:
    """One quarter before a bar of four is its fourth beat."""
    measure = Measure("0", Fraction(0), Fraction(1), 4, 4, pickup=True)
    assert measure.beat_of(0) == 4


def test_the_clock_keeps_the_proportion_of_later_marks() -> None:
    """Half the chosen tempo makes every stretch last twice as long."""
    marks = (TempoMark(Fraction(0), 120), TempoMark(Fraction(4), 60))
    part = Part("t", "p", (), (), tempos=marks)
    assert Clock(part).seconds(8) == pytest.approx(2 + 4)
    assert Clock(part, 60).seconds(8) == pytest.approx(4 + 8)


def test_the_beat_unit_counts() -> None:
    """60 dotted quarters a minute are 90 quarters."""
    part = Part("t", "p", (), (), tempos=(TempoMark(Fraction(0), 90, Fraction(3, 2)),))
    assert Clock(part, 60).seconds(3) == pytest.approx(2)


def test_many_places_are_as_each_of_them() -> None:
    """Before all marks, in hairpins, at their edges and after them, one without a length too; and on the clock."""
    pins = ((1, 3, True), (3, 4, False), (6, 6, True), (7, 9, False))
    part = Part(
        "t", "p", (), (), dynamics=(Dynamic(Fraction(1, 2), -9), Dynamic(Fraction(4), 4)),
        hairpins=tuple(Hairpin(Fraction(a), Fraction(b), grows=grows) for a, b, grows in pins),
        tempos=(TempoMark(Fraction(0), 60, Fraction(1)), TempoMark(Fraction(5), 90, Fraction(1))),
    )  # fmt: skip
    curve, clock, places = LevelCurve(part), Clock(part), np.arange(0, 12, 0.25)
    assert len({*curve.along(places).tolist()}) > 8
    assert curve.along(places).tolist() == pytest.approx([curve.at(place) for place in places.tolist()])
    assert clock.times(places).tolist() == pytest.approx([clock.seconds(place) for place in places.tolist()])
    assert LevelCurve(Part("t", "p", (), ())).along(places).tolist() == [0.0] * len(places)


def test_accents_are_pulses_on_top() -> None:
    """An accent does not change the note's own level."""
    part = part_of("[p] d4:4> e4 f4^ g4")
    curve = LevelCurve(part)
    assert [curve.pulse(event) for event in part.events] == [3, 0, 4.5, 0]
    assert curve.at(part.events[0].place) == -9


def test_places_are_named_for_the_player() -> None:
    """Bar, beat and pitch."""
    part = part_of("d4:4 e4 f#4 g4 | a4:2 bb4")
    assert part.place(part.events[-1]) == "bar 2, beat 3, B♭4"
    assert pitch_name(60) == "C4"
    assert part.events[2].marks == frozenset()
    assert Mark.DOT not in part.events[0].marks
