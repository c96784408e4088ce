"""Scores that wait for a choice: what was dropped on the shelf, until its part and rig are chosen."""

import secrets
from datetime import UTC, datetime, timedelta

from sqlalchemy import Engine, delete
from sqlalchemy.orm import Session

from pathway.errors import NotFound
from pathway.store.database import writing
from pathway.store.models import PendingRow

WAITS_FOR = timedelta(hours=24)


class Waiting:
    """The scores that wait."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def keep(self, filename: str, data: bytes) -> str:
        """Keep a score; return a token for it. Those that have waited too long go."""
        token, now = secrets.token_urlsafe(16), datetime.now(UTC)
        with writing(self._engine) as session:
            session.execute(delete(PendingRow).where(PendingRow.created_at < now - WAITS_FOR))
            session.add(PendingRow(token=token, filename=filename[:300], data=data, created_at=now))
        return token

    def find(self, token: str) -> tuple[str, bytes]:
        """Return the file name and bytes of a score.

        Raises:
            NotFound: it is not waiting any more.
        """
        with Session(self._engine) as session:
            row = session.get(PendingRow, token)
            if row is None:
                raise NotFound("This score is not waiting any more", advice="Drop the file on the shelf again.")
            return row.filename, row.data

    def drop(self, token: str) -> None:
        """Forget a score."""
        with writing(self._engine) as session:
            session.execute(delete(PendingRow).where(PendingRow.token == token))
