"""Where the beats fall."""

import pytest

from pathway.core.planning.beats import beats_of, counted
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


def test_bars_are_counted_in() -> None:
    """With a bar before them and a beat after; before a pickup with what is missing of its bar too."""
    plan = plan_of("d4:1 | e4:1 | f4:1", tempo=60)
    found = counted(plan, 4.0, 8.0)
    assert [beat.time for beat in found.beats] == pytest.approx(list(range(8)))
    assert [beat.first for beat in found.beats] == [True, False, False, False] * 2
    assert (found.count_in, found.length) == pytest.approx((4, 9))
    upbeat = plan_of("a4:4 | d4:1 | e4:1", tempo=60, pickup="1/4")
    found = counted(upbeat, 0.0, 9.0)
    assert [beat.first for beat in found.beats][:9] == [True, False, False, False, True, False, False, False, True]
    assert found.count_in == pytest.approx(7)
