"""Looks after the folder of the data, at the start and daily: it is the player's alone, and holds nothing unused."""

import contextlib
import os
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sqlalchemy import Engine, select

from pathway.store.models import TakeRow

KEPT_FOR = timedelta(days=30)  # a sound that no take has any more: a copy that still knows of it may be gone back to
_FOLDER, _FILE = 0o700, 0o600


def keep_private(folder: Path) -> None:
    """Let nobody but its owner read or change what lies in the folder of the data: music, log, recordings, keys."""
    if os.name != "posix":
        return
    for path in (folder, *folder.rglob("*")):
        if not path.is_symlink():
            with contextlib.suppress(OSError):  # somebody else's, or gone meanwhile
                path.chmod(_FOLDER if path.is_dir() else _FILE)


def sweep(engine: Engine, takes: Path, now: datetime | None = None) -> int:
    """Let go of sounds and unfinished recordings that nothing knows of any more; return how many.

    Args:
        engine: of the data.
        takes: where sounds lie.
        now: at this moment.
    """
    before = ((now or datetime.now(UTC)) - KEPT_FOR).timestamp()
    with engine.connect() as data:
        known = set(data.scalars(select(TakeRow.token)))
    orphans = [path for path in takes.glob("*.flac") if path.stem not in known] + [*takes.glob("unfinished/*.pcm")]
    gone = [path for path in orphans if path.stat().st_mtime < before]
    for path in gone:
        path.unlink(missing_ok=True)
    return len(gone)
