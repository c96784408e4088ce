"""What was heard in a take, in a few numbers."""

import sqlalchemy as sa

from pathway.store.migrations.steps import make_column

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    make_column("take", sa.Column("figures", sa.JSON, nullable=False, server_default="{}"))
