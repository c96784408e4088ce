"""Steps of a migration that are left out where they are done: a folder of an older Pathway may hold half of one."""

from typing import Any

import sqlalchemy as sa
from alembic import op


def has_column(table: str, column: str) -> bool:
    """Whether a table has a column."""
    found = sa.inspect(op.get_bind())
    return found.has_table(table) and column in {one["name"] for one in found.get_columns(table)}


def make_table(name: str, *columns: Any) -> None:
    """Make a table that is not there."""
    if not sa.inspect(op.get_bind()).has_table(name):
        op.create_table(name, *columns)


def make_column(table: str, column: "sa.Column[Any]") -> None:
    """Add a column that is not there."""
    if not has_column(table, column.name):
        op.add_column(table, column)


def make_index(name: str, table: str, columns: list[str]) -> None:
    """Make an index that is not there."""
    if name not in {one["name"] for one in sa.inspect(op.get_bind()).get_indexes(table)}:
        op.create_index(name, table, columns)


def take_column(table: str, column: str) -> None:
    """Drop a column that is there."""
    if has_column(table, column):
        op.drop_column(table, column)
