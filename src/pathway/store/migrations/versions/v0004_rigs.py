"""The player's own rigs and choices; which rig a plan was made for; pieces taken off the shelf."""

import sqlalchemy as sa

from pathway.store.migrations.steps import make_column, make_table

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    make_table(
        "rig",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(100), nullable=False),
        sa.Column("base", sa.String(100), nullable=False),
        sa.Column("document", sa.JSON, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("removed_at", sa.DateTime(timezone=True)),
    )
    make_table(
        "choice",
        sa.Column("name", sa.String(60), primary_key=True),
        sa.Column("value", sa.JSON, nullable=False),
    )
    make_column("piece", sa.Column("rig_version", sa.Integer, nullable=False, server_default="0"))
    make_column("piece", sa.Column("removed_at", sa.DateTime(timezone=True)))
