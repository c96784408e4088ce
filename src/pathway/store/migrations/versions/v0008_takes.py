"""Recordings of pieces; the sound itself lies in files beside the database."""

import sqlalchemy as sa

from pathway.store.migrations.steps import make_table

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    make_table(
        "take",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("token", sa.String(40), nullable=False, unique=True),
        sa.Column("piece_id", sa.Integer, sa.ForeignKey("piece.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("name", sa.String(100), nullable=False, server_default=""),
        sa.Column("first", sa.String(100), nullable=False, server_default=""),
        sa.Column("last", sa.String(100), nullable=False, server_default=""),
        sa.Column("state", sa.Integer, nullable=False, server_default="0"),
        sa.Column("seconds", sa.Float, nullable=False, server_default="0"),
        sa.Column("begun_at", sa.DateTime(timezone=True), nullable=False),
    )
