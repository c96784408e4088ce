"""When a take or a variant was put away, for it can be brought back; and what pages ask of a long log, in order."""

import sqlalchemy as sa

from pathway.store.migrations.steps import make_column, make_index

revision = "0011"
down_revision = "0010"

_INDEXES = {
    "drill": ["piece_id", "drill", "removed_at", "begun_at"],
    "log": ["removed_at", "begun_at"],
    "passed": ["piece_id", "passed", "drill", "tempo", "removed_at"],
    "top": ["piece_id", "top", "drill", "removed_at"],
}


def upgrade() -> None:
    for table in ("take", "variant"):
        make_column(table, sa.Column("removed_at", sa.DateTime(timezone=True)))
    for name, columns in _INDEXES.items():
        make_index(f"ix_practice_set_{name}", "practice_set", columns)
