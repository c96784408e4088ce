"""The log as documents."""

import json
from datetime import UTC, date, datetime

import pytest
from icalendar import Calendar

from pathway.core.practice.load import HandAfter
from pathway.core.practice.log import PlayedSet
from pathway.core.practice.staircase import Verdict
from pathway.errors import PathwayError, ScoreError
from pathway.formats.log_document import MOST_SETS, PlannedDoc, days_ics, log_csv, log_json, read_log

SET = PlayedSet(
    token="token-1", drill="arrive..6.n1.n2", begun=datetime(2026, 11, 20, 17, 5, tzinfo=UTC), title="Slack, “Water”",
    why="finding", what="runs-out", bars="13–14", rung=2, rung_name="80 % of the tempo", rate=2.2, tempo=67.0,
    share=0.8, passed=True, tries=(Verdict.CLEAN, Verdict.NOT_YET), seconds=95.0, hand=HandAfter.FIRM, note="=1+1",
)  # fmt: skip


def test_a_log_comes_back_as_it_was() -> None:
    """Every field of every set."""
    assert read_log(log_json([SET]).encode()) == [SET]


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda t: t.replace('"pathway-log"', '"other"'), "format"),
        (lambda t: t.replace('"firm"', '"bruised"'), "hand"),
        (lambda t: t.replace('"seconds": 95.0', '"seconds": -5'), "seconds"),
        (lambda t: t.replace('"why"', '"wy"'), "wy"),
        (lambda _: "[]", ""),
        (lambda _: "no", ""),
    ],
)
def test_what_is_no_log_is_refused(change, says: str) -> None:  # type: ignore[no-untyped-def]
    """With what is wrong."""
    with pytest.raises(PathwayError) as refused:
        read_log(change(log_json([SET])).encode())
    assert says in refused.value.text


def test_the_table_has_a_row_a_set() -> None:
    """Nothing in it is taken for a formula."""
    head, row = log_csv([SET]).splitlines()
    assert head == "when,piece,bars,drill,rung,tempo,notes_a_second,tries,clean,passed,hand,minutes,note"
    assert "'=1+1" in row
    assert "clean not yet" in row
    assert ",67,2.20," in row


def test_days_go_to_a_calendar() -> None:
    """With what is to be done in each."""
    day = PlannedDoc(date(2026, 12, 5), 45, "Slack Water: 70 a minute", ["the tempo, to reach; this week"])
    (event,) = Calendar.from_ical(days_ics([day], datetime(2026, 11, 28, tzinfo=UTC))).walk("VEVENT")
    assert event["summary"] == "Slack Water: 70 a minute"
    assert event["description"] == "the tempo, to reach; this week"
    assert event["dtstart"].dt.date() == date(2026, 12, 5)
    assert (event["dtend"].dt - event["dtstart"].dt).total_seconds() == 45 * 60


def test_too_many_sets_are_refused() -> None:
    """A log of a lifetime is smaller."""
    one = json.loads(log_json([SET]))
    with pytest.raises(ScoreError):
        read_log(json.dumps(one | {"sets": one["sets"] * (MOST_SETS + 1)}).encode())
