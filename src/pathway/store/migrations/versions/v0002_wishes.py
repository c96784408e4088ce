"""Locks of more than directions, and passages: settings and locks as lists of wishes."""

import sqlalchemy as sa
from alembic import op

from pathway.store.migrations.steps import has_column, make_column, take_column

revision = "0002"
down_revision = "0001"

_DIRECTIONS = {"down": 1, "up": -1}
_TABLE = sa.table(
    "revision",
    sa.column("id", sa.Integer),
    sa.column("tempo_bpm", sa.Float),
    sa.column("settings", sa.JSON),
    sa.column("locks", sa.JSON),
)


def upgrade() -> None:
    make_column("revision", sa.Column("settings", sa.JSON, nullable=False, server_default="{}"))
    connection = op.get_bind()
    if not has_column("revision", "tempo_bpm"):
        return
    for row in connection.execute(sa.select(_TABLE.c.id, _TABLE.c.tempo_bpm, _TABLE.c.locks)).all():
        if not isinstance(row.locks, dict):
            continue  # done before a crash
        locks = [{"note": note, "direction": _DIRECTIONS[word]} for note, word in row.locks.items()]
        values = {"settings": {"tempo_bpm": row.tempo_bpm}, "locks": locks}
        connection.execute(sa.update(_TABLE).where(_TABLE.c.id == row.id).values(values))
    take_column("revision", "tempo_bpm")
