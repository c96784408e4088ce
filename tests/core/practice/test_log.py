"""The log: what a set was for the hand."""

import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta

import pytest

from pathway.core.practice.load import Because, HandAfter, allowance
from pathway.core.practice.log import PlayedSet

EVENING = datetime(2026, 11, 29, 1, 0, tzinfo=UTC)  # eight in the evening of the day before, five hours to the west


@pytest.fixture
def five_hours_west(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """A player for whom the day of the evening is not that of Greenwich."""
    monkeypatch.setenv("TZ", "EST5")
    time.tzset()
    yield
    monkeypatch.undo()
    time.tzset()


@pytest.mark.usefixtures("five_hours_west")
def test_a_strained_evening_closes_the_heavy_work_of_that_day() -> None:
    """That where the player is: kept in the time of Greenwich it is still this evening, and not tomorrow."""
    played = PlayedSet(token="token", drill="load-and-test..1", begun=EVENING, seconds=40, hand=HandAfter.STRAINED)
    later = (EVENING + timedelta(hours=1)).astimezone()
    assert allowance("load-and-test", [played.bout], later).because is Because.STRAINED
    assert allowance("load-and-test", [played.bout], later + timedelta(hours=10)).open
