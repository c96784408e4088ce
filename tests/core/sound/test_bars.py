"""Bars to be heard, and a click on their beats."""

import numpy as np
import pytest

from pathway.core.planning.beats import beats_of
from pathway.core.sound import playable
from pathway.core.sound.click import with_click
from pathway.core.sound.spans import span_of_bars
from pathway.errors import NotFound
from tests.helpers import plan_of

PLAN = plan_of("[mf] d4:4 e4 f#4 g4 | a4:2 b4:2 | c#5:1", tempo=60)


@pytest.mark.parametrize(("bars", "notes"), [("1", 4), ("2-3", 3), ("1 - 3", 7)])
def test_bars_by_their_printed_numbers(bars: str, notes: int) -> None:
    """One, or from one to another."""
    begin, end = span_of_bars(playable(PLAN), bars)
    assert sum(begin <= note.onset < end for note in PLAN.notes) == notes


@pytest.mark.parametrize("bars", ["9", "2-9", "", "two", "3-2"])
def test_bars_that_are_not_there(bars: str) -> None:
    """The error says which there are."""
    with pytest.raises(NotFound, match="such as 3-8"):
        span_of_bars(playable(PLAN), bars)


def test_every_beat_clicks_and_the_first_of_a_bar_otherwise() -> None:
    """In time; beats outside are left out."""
    silent = np.zeros(3 * 8000)
    clicked = with_click(silent, 2.0, beats_of(PLAN), 8000)
    starts = [i for i in range(1, len(clicked)) if clicked[i] != 0 and not np.abs(clicked[max(0, i - 200) : i]).any()]
    assert [round(i / 8000 + 2.0, 2) for i in starts] == [2.0, 3.0, 4.0]
    first, other = (np.abs(np.fft.rfft(clicked[i : i + 400])).argmax() for i in (starts[2], starts[1]))
    assert first > other
    assert not silent.any(), "what it is mixed into stays"
