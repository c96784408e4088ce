"""The practice log as documents: JSON out and in, a table, and the plan of days as a calendar."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta
from typing import Annotated, Literal

from icalendar import Calendar, Event
from pydantic import Field, ValidationError

from pathway.core.practice.log import PlayedSet, in_our_time
from pathway.errors import ScoreError
from pathway.formats.codec import Codec, Doc, model_of
from pathway.formats.misread import first_fault
from pathway.formats.tables import csv_text

MOST_SETS = 60_000
BEGINS = time(17, 0)  # of a day's work in a calendar, our choice
SETS = Codec(PlayedSet, model_of(PlayedSet, "SetDoc", "One set."))
_COLUMNS: Mapping[str, Callable[[PlayedSet], object]] = {
    "when": lambda one: one.begun.isoformat(timespec="seconds"),
    "piece": lambda one: one.title,
    "bars": lambda one: one.bars,
    "drill": lambda one: one.drill,
    "rung": lambda one: one.rung_name,
    "tempo": lambda one: f"{one.tempo:.0f}",
    "notes_a_second": lambda one: f"{one.rate:.2f}",
    "tries": lambda one: " ".join(one.tries),
    "clean": lambda one: one.clean,
    "passed": lambda one: "yes" if one.passed else "no",
    "hand": lambda one: one.hand or "",
    "minutes": lambda one: f"{one.seconds / 60:.1f}",
    "note": lambda one: one.note,
}


class LogDoc(Doc):
    """A log."""

    format: Literal["pathway-log"] = "pathway-log"
    version: Literal[1] = 1
    sets: Annotated[list[Annotated[PlayedSet, SETS]], Field(max_length=MOST_SETS)]


def log_json(sets: Iterable[PlayedSet]) -> str:
    """Return sets as a JSON document."""
    return LogDoc(sets=list(sets)).model_dump_json(indent=1) + "\n"


def read_log(data: bytes) -> list[PlayedSet]:
    """Return the sets of a JSON document; a time without a zone is taken for universal time.

    Raises:
        ScoreError: it is no log, or something in it cannot be read; says what and where.
    """
    try:
        document = LogDoc.model_validate_json(data)
    except ValidationError as error:
        raise ScoreError(
            f"This is no practice log: {first_fault(error)}", advice="Choose one that was saved here."
        ) from error
    for one in document.sets:
        if not in_our_time(one.begun):
            raise ScoreError(
                f"A set of this log was begun in the year {one.begun.year}",
                place=one.token,
                advice="Take it out.",
            )
    return [one if one.begun.tzinfo else replace(one, begun=one.begun.replace(tzinfo=UTC)) for one in document.sets]


def log_csv(sets: Iterable[PlayedSet]) -> str:
    """Return sets as a table, a row each."""
    return csv_text([*_COLUMNS], ({name: column(one) for name, column in _COLUMNS.items()} for one in sets))


@dataclass(frozen=True, slots=True)
class PlannedDoc:
    """A day's work for a calendar."""

    day: date
    minutes: float
    title: str
    lines: Sequence[str]


def days_ics(days: Iterable[PlannedDoc], now: datetime) -> bytes:
    """Return days of work as a calendar."""
    calendar = Calendar()
    calendar.add("prodid", "-//Pathway//practice//EN")
    calendar.add("version", "2.0")
    for planned in days:
        event = Event()
        begin = datetime.combine(planned.day, BEGINS)
        event.add("uid", f"{planned.day.isoformat()}@pathway.local")
        event.add("dtstamp", now.astimezone(UTC))
        event.add("dtstart", begin)
        event.add("dtend", begin + timedelta(minutes=planned.minutes))
        event.add("summary", planned.title)
        event.add("description", "\n".join(planned.lines))
        calendar.add_component(event)
    return bytes(calendar.to_ical())
