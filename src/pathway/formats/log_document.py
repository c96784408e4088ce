"""The practice log as documents: JSON out and in, a table, and the plan of days as a calendar."""

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Annotated, Literal

from icalendar import Calendar, Event
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from pathway.core.practice import FAMILIES
from pathway.core.practice.drill import DrillAsk
from pathway.core.practice.load import HandAfter
from pathway.core.practice.log import PlayedSet
from pathway.core.practice.staircase import Verdict
from pathway.errors import ScoreError
from pathway.formats.misread import first_fault

MOST_SETS = 20_000
BEGINS = time(17, 0)  # of a day's work in a calendar, our choice
Number = Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]
LOG_COLUMNS = (
    "when", "piece", "bars", "drill", "rung", "tempo", "notes_a_second", "tries", "clean", "passed", "hand", "minutes",
    "note",
)  # fmt: skip


class SetDoc(BaseModel):
    """One set."""

    model_config = ConfigDict(extra="forbid")

    id: Annotated[str, Field(min_length=1, max_length=40)]
    when: datetime
    piece: Annotated[str, Field(max_length=300)] = ""
    bars: Annotated[str, Field(max_length=200)] = ""
    drill: Annotated[str, Field(max_length=400)]
    why: Annotated[str, Field(max_length=60)] = ""
    what: Annotated[str, Field(max_length=120)] = ""
    rung: Annotated[int, Field(ge=0, le=100)] = 0
    rung_name: Annotated[str, Field(max_length=200)] = ""
    notes_a_second: Number = 0.0
    tempo: Number = 0.0
    share: Annotated[float, Field(ge=0, le=1)] = 0.0
    passed: bool = False
    last_rung_passed: bool = False
    tries: Annotated[list[Verdict], Field(max_length=500)] = []
    seconds: Annotated[float, Field(ge=0, le=14400, allow_inf_nan=False)] = 0.0
    hand: HandAfter | None = None
    note: Annotated[str, Field(max_length=1000)] = ""


class LogDoc(BaseModel):
    """A log."""

    model_config = ConfigDict(extra="forbid")

    format: Literal["pathway-log"] = "pathway-log"
    version: Literal[1] = 1
    sets: Annotated[list[SetDoc], Field(max_length=MOST_SETS)]


def log_json(sets: Iterable[PlayedSet]) -> str:
    """Return sets as a JSON document."""
    return LogDoc(sets=[_doc(one) for one in sets]).model_dump_json(indent=1) + "\n"


def read_log(data: bytes) -> list[PlayedSet]:
    """Return the sets of a JSON document.

    Raises:
        ScoreError: it is no log, or something in it cannot be read; says what and where.
    """
    try:
        document = LogDoc.model_validate_json(data)
    except ValidationError as error:
        raise ScoreError(
            f"This is no practice log: {first_fault(error)}", advice="Choose one that was saved here."
        ) from error
    return [_set(one) for one in document.sets]


def log_csv(sets: Iterable[PlayedSet]) -> str:
    """Return sets as a table, a row each."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(LOG_COLUMNS)
    for one in sets:
        told = " ".join(verdict.value for verdict in one.tries)
        row = (
            one.begun.isoformat(timespec="seconds"), one.title, one.bars, one.drill, one.rung_name,
            f"{one.tempo:.0f}", f"{one.rate:.2f}", told, one.clean, "yes" if one.passed else "no",
            one.hand.value if one.hand else "", f"{one.seconds / 60:.1f}", one.note,
        )  # fmt: skip
        writer.writerow([_harmless(str(field)) for field in row])
    return out.getvalue()


def _harmless(text: str) -> str:
    """Return a field that no table program takes for a formula."""
    return f"'{text}" if text[:1] in "=+-@\t\r" and text[1:] else text


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


def _doc(one: PlayedSet) -> SetDoc:
    return SetDoc(
        id=one.token,
        when=one.begun,
        piece=one.title,
        bars=one.bars,
        drill=one.drill,
        why=one.why,
        what=one.what,
        rung=one.rung,
        rung_name=one.rung_name,
        notes_a_second=one.rate,
        tempo=one.tempo,
        share=one.share,
        passed=one.passed,
        last_rung_passed=one.top,
        tries=list(one.tries),
        seconds=one.seconds,
        hand=one.hand,
        note=one.note,
    )


def _set(doc: SetDoc) -> PlayedSet:
    if DrillAsk.of(doc.drill).family not in FAMILIES:
        raise ScoreError("The log names a drill that there is not", place=doc.drill[:60], advice="Take that set out.")
    begun = doc.when if doc.when.tzinfo else doc.when.replace(tzinfo=UTC)
    return PlayedSet(
        token=doc.id, drill=doc.drill, begun=begun, title=doc.piece, why=doc.why, what=doc.what, bars=doc.bars,
        rung=doc.rung, rung_name=doc.rung_name, rate=doc.notes_a_second, tempo=doc.tempo, share=doc.share,
        passed=doc.passed, top=doc.last_rung_passed, tries=tuple(doc.tries), seconds=doc.seconds, hand=doc.hand,
        note=doc.note,
    )  # fmt: skip
