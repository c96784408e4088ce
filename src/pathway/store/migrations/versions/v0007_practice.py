"""What was practised: sets, ladders, the days of performance and what a day was to hold."""

import sqlalchemy as sa

from pathway.store.migrations.steps import make_index, make_table

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    make_table(
        "practice_set",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("token", sa.String(40), nullable=False, unique=True),
        sa.Column("piece_id", sa.Integer, sa.ForeignKey("piece.id", ondelete="SET NULL")),
        sa.Column("piece_title", sa.String(300), nullable=False, server_default=""),
        sa.Column("drill", sa.String(400), nullable=False),
        sa.Column("why", sa.String(60), nullable=False, server_default=""),
        sa.Column("what", sa.String(120), nullable=False, server_default=""),
        sa.Column("bars", sa.String(200), nullable=False, server_default=""),
        sa.Column("rung", sa.Integer, nullable=False),
        sa.Column("rung_name", sa.String(200), nullable=False, server_default=""),
        sa.Column("rate", sa.Float, nullable=False, server_default="0"),
        sa.Column("tempo", sa.Float, nullable=False, server_default="0"),
        sa.Column("share", sa.Float, nullable=False, server_default="0"),
        sa.Column("passed", sa.Boolean, nullable=False, server_default="0"),
        sa.Column("top", sa.Boolean, nullable=False, server_default="0"),
        sa.Column("tries", sa.JSON, nullable=False, server_default="[]"),
        sa.Column("seconds", sa.Float, nullable=False, server_default="0"),
        sa.Column("hand", sa.String(20), nullable=False, server_default=""),
        sa.Column("note", sa.String(1000), nullable=False, server_default=""),
        sa.Column("begun_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("removed_at", sa.DateTime(timezone=True)),
    )
    make_index("ix_practice_set_piece_id", "practice_set", ["piece_id"])
    make_index("ix_practice_set_begun_at", "practice_set", ["begun_at"])
    make_table(
        "ladder",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("piece_id", sa.Integer, sa.ForeignKey("piece.id", ondelete="CASCADE"), index=True),
        sa.Column("drill", sa.String(400), nullable=False),
        sa.Column("climb", sa.JSON, nullable=False),
    )
    make_table(
        "performance",
        sa.Column(
            "piece_id", sa.Integer, sa.ForeignKey("piece.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
        ),
        sa.Column("day", sa.Date, nullable=False),
    )
    make_table(
        "practice_day",
        sa.Column("day", sa.Date, primary_key=True),
        sa.Column("value", sa.JSON, nullable=False),
    )
