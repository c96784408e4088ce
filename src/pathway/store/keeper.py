"""Looks after the folder of the data, at the start and daily: it is the player's alone, and holds nothing unused."""

import contextlib
import os
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import Engine, select

from pathway.store.away import KEPT_FOR, Away
from pathway.store.copies import tokens_in_copies
from pathway.store.models import TakeRow
from pathway.store.takes import Takes

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
    """Let go of what was put away, and of sounds and recordings that nothing knows of; return how many of these.

    A sound that a copy of the data knows of stays: that copy can be gone back to.

    Args:
        engine: of the data.
        takes: where sounds lie.
        now: at this moment.
    """
    Away(engine, Takes(engine, takes)).sweep(now)
    before = ((now or datetime.now(UTC)) - KEPT_FOR).timestamp()
    with engine.connect() as data:
        known = set(data.scalars(select(TakeRow.token)))
    known |= tokens_in_copies(engine)
    unfinished = [path for ending in ("pcm", "away") for path in takes.glob(f"unfinished/*.{ending}")]
    orphans = [path for path in takes.glob("*.flac") if path.stem not in known] + unfinished
    gone = [path for path in orphans if path.stat().st_mtime < before]
    for path in gone:
        path.unlink(missing_ok=True)
    return len(gone)
