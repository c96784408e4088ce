"""When a take or a variant was put away: it can be brought back."""

import sqlalchemy as sa

from pathway.store.migrations.steps import make_column, make_index

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    for table in ("take", "variant"):
        make_column(table, sa.Column("removed_at", sa.DateTime(timezone=True)))
    make_index("ix_practice_set_drill", "practice_set", ["piece_id", "drill", "begun_at"])
