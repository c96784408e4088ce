"""Pieces, their history, and scores that wait for a choice."""

import sqlalchemy as sa

from pathway.store.migrations.steps import make_index, make_table

revision = "0001"
down_revision = None


def upgrade() -> None:
    make_table(
        "piece",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("title", sa.String(300), nullable=False),
        sa.Column("part_name", sa.String(200), nullable=False),
        sa.Column("source_name", sa.String(300), nullable=False),
        sa.Column("source", sa.LargeBinary, nullable=False),
        sa.Column("mei", sa.Text, nullable=False),
        sa.Column("rig", sa.String(100), nullable=False),
        sa.Column("demo_key", sa.String(100), unique=True),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("opened_at", sa.DateTime(timezone=True)),
        sa.Column("last_note", sa.String(100)),
        sa.Column("at", sa.Integer, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
    )
    make_table(
        "revision",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("piece_id", sa.Integer, sa.ForeignKey("piece.id", ondelete="CASCADE"), nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("label", sa.String(300), nullable=False),
        sa.Column("tempo_bpm", sa.Float),
        sa.Column("locks", sa.JSON, nullable=False),
        sa.Column("path", sa.JSON, nullable=False),
        sa.Column("summary", sa.JSON, nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("piece_id", "number"),
    )
    make_index("ix_revision_piece_id", "revision", ["piece_id"])
    make_table(
        "pending",
        sa.Column("token", sa.String(40), primary_key=True),
        sa.Column("filename", sa.String(300), nullable=False),
        sa.Column("data", sa.LargeBinary, nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
    )
