"""What a player writes beside a piece: what was heard, findings laid aside, and named variants."""

import sqlalchemy as sa

from pathway.store.migrations.steps import make_table

revision = "0003"
down_revision = "0002"


def _piece() -> sa.Column[int]:
    return sa.Column("piece_id", sa.Integer, sa.ForeignKey("piece.id", ondelete="CASCADE"), nullable=False, index=True)


def upgrade() -> None:
    make_table(
        "heard",
        sa.Column("id", sa.Integer, primary_key=True),
        _piece(),
        sa.Column("note", sa.String(100), nullable=False),
        sa.Column("what", sa.String(60), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
    )
    make_table(
        "aside",
        sa.Column("id", sa.Integer, primary_key=True),
        _piece(),
        sa.Column("code", sa.String(60), nullable=False),
        sa.Column("note", sa.String(100), nullable=False),
        sa.Column("reason", sa.String(300), nullable=False),
        sa.UniqueConstraint("piece_id", "code", "note"),
    )
    make_table(
        "variant",
        sa.Column("id", sa.Integer, primary_key=True),
        _piece(),
        sa.Column("name", sa.String(100), nullable=False),
        sa.Column("settings", sa.JSON, nullable=False),
        sa.Column("locks", sa.JSON, nullable=False),
        sa.Column("path", sa.JSON, nullable=False),
        sa.Column("summary", sa.JSON, nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
    )
