"""What a row of each table may hold: types, lengths, tokens and dates, for rows that come from outside."""

import re
from collections.abc import Mapping
from datetime import UTC, date, datetime
from functools import cache
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, create_model
from sqlalchemy import JSON, Boolean, Column, Date, Float, Integer, LargeBinary, String, Table

from pathway.core.practice.load import HandAfter
from pathway.core.practice.log import in_our_time
from pathway.core.practice.staircase import Verdict
from pathway.store.models import Moment

TOKEN = re.compile(r"[A-Za-z0-9_-]{1,40}")
_ROOM = 10  # times the length of a column: the database holds longer words too, such as the ids of notes of some scores
MOST_NUMBER = 2**63 - 1  # that the store can hold


def _in_our_time(value: Any) -> Any:
    """Return a date that every page can show, whatever the zone."""
    if not in_our_time(value):
        raise ValueError(f"cannot be in the year {value.year}")
    return value


def _aware(value: datetime) -> datetime:
    return value if value.tzinfo else value.replace(tzinfo=UTC)


_TYPES: Mapping[type, Any] = {
    Boolean: bool,
    Integer: Annotated[int, Field(ge=-MOST_NUMBER, le=MOST_NUMBER)],
    Float: Annotated[float, Field(allow_inf_nan=False)],
    Moment: Annotated[datetime, AfterValidator(_in_our_time), AfterValidator(_aware)],
    Date: Annotated[date, AfterValidator(_in_our_time)],
    JSON: dict[str, Any],
    LargeBinary: bytes,
}


_OWN: Mapping[tuple[str, str], Any] = {
    ("practice_set", "token"): Annotated[str, Field(min_length=1, max_length=40)],  # a name in a log, never a file's
    ("practice_set", "tries"): Annotated[list[Verdict], Field(max_length=500)],
    ("practice_set", "hand"): HandAfter | Literal[""],
    ("practice_set", "seconds"): Annotated[float, Field(ge=0, le=14_400, allow_inf_nan=False)],
    ("practice_set", "rung"): Annotated[int, Field(ge=0, le=100)],
}


@cache
def row_model(table: Table) -> type[BaseModel]:
    """Return the model of the rows of a table; its validation errors name the column."""
    fields: dict[str, Any] = {column.name: (_type_of(column), ...) for column in table.columns}
    return create_model(f"{table.name}_row", __config__=ConfigDict(extra="forbid"), **fields)


def _type_of(column: Column[Any]) -> Any:
    if (column.table.name, column.name) in _OWN:
        return _OWN[column.table.name, column.name]
    if column.name == "token":
        return Annotated[str, Field(pattern=rf"^{TOKEN.pattern}$")]
    if isinstance(column.type, String):
        most = column.type.length and _ROOM * column.type.length
        kind: Any = Annotated[str, Field(max_length=most)] if most else str
    else:
        kind = next(found for known, found in _TYPES.items() if isinstance(column.type, known))
    return kind | None if column.nullable else kind
