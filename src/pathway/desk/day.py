"""The day's work, straight from the data of a folder, without any page."""

from collections.abc import Mapping
from contextlib import suppress
from datetime import datetime
from pathlib import Path

from filelock import FileLock, Timeout
from platformdirs import user_data_path

from pathway.core.practice.today import Entry
from pathway.desk.desk import Desk
from pathway.desk.hearing import Hearing
from pathway.desk.practising import PIECES, Practising
from pathway.errors import NotFound
from pathway.store import Notebook, Pieces, Rigs, open_database
from pathway.store.practice import Day, PracticeLog


def day_on_disk(folder: Path | None, minutes: float) -> tuple[list[Entry], Mapping[int, str]]:
    """Return the day's entries and the titles of the pieces.

    Raises:
        NotFound: there are no data in the folder.
        DataError: they are damaged, or of another Pathway.
    """
    folder = folder or user_data_path("pathway", appauthor=False)
    database = folder / "pathway.sqlite"
    if not database.is_file():
        raise NotFound("There are no data of Pathway", place=str(folder), advice="Name their folder with --data.")
    lock = FileLock(folder / "pathway.lock")
    with suppress(Timeout):
        lock.acquire(timeout=0)
    engine = None
    try:
        engine = open_database(f"sqlite:///{database}", as_it_is=not lock.is_locked)  # the app that runs has its form
        desk = Desk(Pieces(engine), Notebook(engine), Rigs(engine))
        practising = Practising(desk, Hearing(desk), PracticeLog(engine))
        shelf = [entry for entry in desk.pieces.shelf() if not entry.fault]
        pieces = [entry.id for entry in shelf][:PIECES]
        entries = practising.today(pieces, minutes, datetime.now().astimezone(), Day()) if pieces else []
        return entries, {entry.id: entry.title for entry in shelf}
    finally:
        if engine is not None:
            engine.dispose()
        lock.release()
