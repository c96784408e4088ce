"""Where the beats fall."""

import pytest

from pathway.core.planning.beats import beats_of
from tests.helpers import plan_of


def test_beats_follow_meter_and_tempo() -> None:
    """Four in a bar at 60, the first of each bar told apart; dotted beats in compound time."""
    beats = beats_of(plan_of("d4:1 | e4:1", tempo=60))
    assert [beat.time for beat in beats] == pytest.approx(list(range(8)))
    assert [beat.first for beat in beats] == [True, False, False, False] * 2
    compound = beats_of(plan_of("d4:4d e4:4d", meter="6/8", tempo=90))
    assert len(compound) == 2


def test_held_beats_come_later() -> None:
    """Slowing down moves every beat after it."""
    plain = beats_of(plan_of("d4:1 | e4:1 | f4:1", tempo=60))
    slowed = beats_of(plan_of("d4:1 | {rit.} e4:1 | f4:1", tempo=60))
    assert slowed[8].time > plain[8].time + 0.3
    assert slowed[3].time == pytest.approx(plain[3].time)
