"""Lines made for drills: bars, ties, slurs, rests, keys."""

from fractions import Fraction

import pytest

from pathway.core.music import Mark
from pathway.core.practice.material import EIGHTH, HALF, QUARTER, DrillTone, key_of, line, rest, scale, tones
from pathway.core.rig.bow import Direction
from tests.helpers import part_of


def test_a_line_fills_its_bars() -> None:
    """And the last one is as long as the others."""
    part = line("Test", tones([60] * 5))
    assert [m.onset for m in part.measures] == [0, 4]
    assert [event.measure for event in part.events] == [0, 0, 0, 0, 1]


def test_a_tone_over_a_bar_line_is_tied() -> None:
    """In pieces that end at it."""
    part = line("Test", [*tones([60] * 3), DrillTone((62,), HALF)])
    assert [(event.duration, event.tied) for event in part.events[-2:]] == [(1, False), (1, True)]
    assert part.events[-1].measure == 1


def test_bows_hold_so_many_notes() -> None:
    """In turn, as the counts say; a rest ends a bow; the last one may be shorter."""
    part = line("Test", [*tones([60] * 3), rest(), *tones([60] * 4)], a_bow=(2, 3))
    spans = [(part.index[s.start], part.index[s.end]) for s in part.slurs]
    assert spans == [(0, 1), (3, 4)] or spans[0] == (0, 1)
    assert line("Test", tones([60] * 4)).slurs == ()


def test_marks_and_the_first_direction_are_written() -> None:
    """On the first piece of a tone only."""
    part = line("Test", tones([60, 62], QUARTER, Mark.DOT), begins=Direction.UP)
    assert part.events[0].marks == {Mark.DOT}
    assert part.events[0].bow is Direction.UP
    assert part.events[1].bow is None


@pytest.mark.parametrize(("fifths", "low"), [(0, 55), (2, 50), (-3, 36)])
def test_a_scale_goes_up_and_down_in_its_key(fifths: int, low: int) -> None:
    """From the lowest tonic on."""
    found = scale(low, fifths)
    tonic = 7 * fifths % 12
    assert found[0] % 12 == tonic
    assert found[7] == found[0] + 12
    assert all(((pitch - tonic) % 12) in (0, 2, 4, 5, 7, 9, 11) for pitch in found)
    assert max(scale(low, fifths, 15, highest=low + 10)) <= low + 10


@pytest.mark.parametrize(
    ("text", "fifths"),
    [("c4:4 d4 e4 f4 | g4 a4 b4 c5", 0), ("d4:4 e4 f#4 g4 | a4 b4 c#5 d5", 2), ("f4:4 g4 a4 bb4", -1)],
)
def test_the_key_is_that_of_most_of_the_time(text: str, fifths: int) -> None:
    """The plainest of those that fit."""
    assert key_of(part_of(text)) == fifths


def test_values_are_exact() -> None:
    """Fractions of a quarter."""
    assert Fraction(1, 2) == EIGHTH
    assert line("Test", tones([60] * 6, Fraction(1, 3)), meter=(2, 4)).measures[-1].onset == 0
