"""Tables of comma-separated values in which no table program takes anything for a formula."""

import csv
import io
from collections.abc import Iterable, Mapping, Sequence


def csv_text(columns: Sequence[str], rows: Iterable[Mapping[str, object]]) -> str:
    """Return rows as a table; what of them is in no column is left out."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(columns)
    writer.writerows([_harmless(row[column]) for column in columns] for row in rows)
    return out.getvalue()


def _harmless(value: object) -> object:
    """Return a text that would be a formula with a sign before it; numbers stay as they are."""
    return f"'{value}" if isinstance(value, str) and value[:1] in "=+-@\t\r" and value[1:] else value
