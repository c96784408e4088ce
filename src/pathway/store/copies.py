"""Copies of everything beside the data: before a change of form or a return to another, and one a day."""

import shutil
import sqlite3
import threading
from collections.abc import Sequence
from contextlib import closing, suppress
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from urllib.parse import quote

from sqlalchemy import Engine

from pathway.errors import DataError, NotFound

FOLDER = "backups"
OTHERS = 10  # copies of other occasions are kept
_DAYS, _WEEKS = 7, 4  # so many daily copies are kept, and after them one for each of so many weeks
_DAILY, _ARRIVED = "day-", "arrived-"
_COPYING_TODAY = threading.Lock()  # two copies of a day would grow in one file


@dataclass(frozen=True, slots=True)
class Copy:
    """A copy of everything at a moment."""

    name: str
    made: datetime
    size: int  # [bytes]
    pieces: int | None  # on its shelf; None where it cannot be read

    @property
    def occasion(self) -> str:
        """Return why it was made."""
        words = {"day": "of the day", "arrived": "a backup that was brought in"}
        first, _, rest = self.name.partition("-")
        if first != "before":
            return words.get(first, "put there by hand")
        return "before going back to another" if rest.startswith("return") else "before an update"


def copies_folder(engine: Engine) -> Path:
    """Return where the copies of a database lie."""
    return Path(engine.url.database or ".").parent / FOLDER


def copy_before(engine: Engine, what: str) -> Path:
    """Copy everything before something that changes it all; return the copy."""
    made = _copy(engine, f"before-{what}-{moment_in_a_name()}")
    _let_go(engine)
    return made


def sounds_of(engine: Engine, name: str) -> Path:
    """Return the file with the sounds that came along with a copy; it is there for arrived ones alone."""
    return copies_folder(engine) / f"{name}.zip"


def keep_arrived(engine: Engine, file: Path, sounds: bytes | None = None) -> str:
    """Lay a file of data that came from outside beside the copies, with its sounds in a zip; return its name."""
    copies_folder(engine).mkdir(exist_ok=True)
    name = f"{_ARRIVED}{moment_in_a_name()}"
    whole, growing = copies_folder(engine) / f"{name}.sqlite", copies_folder(engine) / f"{name}.part"
    if sounds is not None:
        sounds_of(engine, name).write_bytes(sounds)
    shutil.copyfile(file, growing)
    growing.replace(whole)
    _let_go(engine)
    return name


def moment_in_a_name() -> str:
    """Return this moment as names of files tell it."""
    return f"{datetime.now(UTC):%Y%m%d-%H%M%S-%f}"


def _let_go(engine: Engine) -> None:
    """Keep only the last copies that are not daily ones."""
    others = [path for path in copies_folder(engine).glob("*.sqlite") if not path.name.startswith(_DAILY)]
    for old in sorted(others, key=lambda path: path.stat().st_mtime)[:-OTHERS]:
        old.unlink(missing_ok=True)
        sounds_of(engine, old.stem).unlink(missing_ok=True)


def copy_daily(engine: Engine, today: date | None = None) -> Path | None:
    """Copy everything once a day, and let go of old daily copies; return the copy, if one was made."""
    if engine.dialect.name != "sqlite" or not engine.url.database:
        return None
    today = today or datetime.now(UTC).date()
    name = f"{_DAILY}{today:%Y-%m-%d}"  # of sound data alone: a damaged copy would push a sound one out
    with _COPYING_TODAY:
        made = None if (copies_folder(engine) / f"{name}.sqlite").exists() else _copy(engine, name)
    for old in _too_old([path.stem for path in copies_folder(engine).glob(f"{_DAILY}*.sqlite")], today):
        (copies_folder(engine) / f"{old}.sqlite").unlink(missing_ok=True)
    return made


def _too_old(names: Sequence[str], today: date) -> list[str]:
    """Return which daily copies go: beyond the last days only the first of each of the last weeks stays."""
    days = {name: date.fromisoformat(name.removeprefix(_DAILY)) for name in names}
    kept = {name for name, day in days.items() if today - day < timedelta(days=_DAYS)}
    for back in range(_WEEKS + 1):
        week = (today - timedelta(weeks=back)).isocalendar()[:2]
        of_week = sorted(name for name, day in days.items() if day.isocalendar()[:2] == week)
        kept |= {*of_week[:1]}
    return [name for name in names if name not in kept]


def copies(engine: Engine) -> list[Copy]:
    """Return the copies there are, the newest first."""
    folder = copies_folder(engine)
    found = [
        Copy(path.stem, datetime.fromtimestamp(path.stat().st_mtime, UTC), path.stat().st_size, _pieces_in(path))
        for path in folder.glob("*.sqlite")
    ]
    return sorted(found, key=lambda copy: copy.made, reverse=True)


def copy_named(engine: Engine, name: str) -> Path:
    """Return the file of a copy.

    Raises:
        NotFound: there is none of that name.
    """
    if name not in {copy.name for copy in copies(engine)}:
        raise NotFound("There is no such copy", advice="Choose one of the list.")
    return copies_folder(engine) / f"{name}.sqlite"


def tokens_in_copies(engine: Engine) -> set[str]:
    """Return the tokens of all takes that a copy knows of."""
    found: set[str] = set()
    for path in copies_folder(engine).glob("*.sqlite"):
        with (
            suppress(sqlite3.Error),
            closing(sqlite3.connect(f"file:{quote(str(path))}?mode=ro&immutable=1", uri=True)) as data,
        ):
            found |= {token for (token,) in data.execute("SELECT token FROM take")}
    return found


def _pieces_in(path: Path) -> int | None:
    try:
        with closing(sqlite3.connect(f"file:{quote(str(path))}?mode=ro&immutable=1", uri=True)) as connection:
            count: int = connection.execute("SELECT count(*) FROM piece WHERE removed_at IS NULL").fetchone()[0]
            return count
    except sqlite3.Error:
        return None


def _copy(engine: Engine, name: str) -> Path:
    folder = copies_folder(engine)
    whole, growing = folder / f"{name}.sqlite", folder / f"{name}.part"
    try:
        folder.mkdir(exist_ok=True)
        growing.unlink(missing_ok=True)
        with closing(sqlite3.connect(str(engine.url.database))) as source, closing(sqlite3.connect(growing)) as target:
            source.backup(target)
            if target.execute("PRAGMA quick_check(1)").fetchone() != ("ok",):
                raise sqlite3.DatabaseError("damaged")
        growing.replace(whole)
    except (OSError, sqlite3.Error) as error:
        growing.unlink(missing_ok=True)
        raise DataError(
            "A copy of the data could not be made: there is no room, or they are damaged",
            place=str(folder),
            advice="Make room there, or go back to a copy in the settings.",
        ) from error
    return whole
