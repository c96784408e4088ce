"""The way back where the data cannot be read: no row of them is needed, only the files beside them."""

import shutil
from pathlib import Path

from sqlalchemy import create_engine

from pathway.errors import DataError
from pathway.store.copies import Copy, copies, copies_folder, copy_named, moment_in_a_name
from pathway.store.database import sound_sqlite

_WITH_IT = ("", "-wal", "-shm")  # files of the data


class Rescue:
    """Sound copies beside damaged data, one of which can take their place."""

    def __init__(self, url: str) -> None:
        self._engine = create_engine(url)  # never connected
        self._data = Path(self._engine.url.database or "")

    @property
    def copies(self) -> list[Copy]:
        """Return the copies that can be read through, the newest first."""
        folder = copies_folder(self._engine)
        return [copy for copy in copies(self._engine) if sound_sqlite(folder / f"{copy.name}.sqlite", alone=True)]

    def go_back(self, name: str = "") -> Path:
        """Lay the damaged files aside and put a copy in their place, or begin anew; return where they lie now.

        Args:
            name: of the copy; empty for an empty shelf.

        Raises:
            NotFound: there is no such copy.
            DataError: there is no room; then the damaged files are where they were.
        """
        chosen = copy_named(self._engine, name) if name else None
        folder = copies_folder(self._engine)
        aside = folder / f"damaged-{moment_in_a_name()}"
        ready = self._data.with_suffix(".part")
        try:
            aside.mkdir(parents=True)
            if chosen is not None:
                shutil.copyfile(chosen, ready)
            for ending in _WITH_IT:
                file = Path(f"{self._data}{ending}")
                if file.exists():
                    file.replace(aside / file.name)
            if chosen is not None:
                ready.replace(self._data)
        except OSError as error:
            ready.unlink(missing_ok=True)
            raise DataError("The copy could not be put there", place=str(folder), advice="Make room there.") from error
        return aside
