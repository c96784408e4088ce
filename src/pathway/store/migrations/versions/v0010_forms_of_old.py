"""What some folders of form 0004 lack: those that were made while that form was still written, before it was whole."""

import sqlalchemy as sa

from pathway.store.migrations.steps import make_column

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    make_column("rig", sa.Column("removed_at", sa.DateTime(timezone=True)))
