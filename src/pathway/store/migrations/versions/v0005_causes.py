"""Which cause a player chose for what was heard."""

import sqlalchemy as sa

from pathway.store.migrations.steps import make_column

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    make_column("heard", sa.Column("cause", sa.String(60), nullable=False, server_default=""))
