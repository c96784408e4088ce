"""Recordings of pieces: what is known of them in the database, their sound as FLAC in a folder beside it."""

import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from secrets import token_urlsafe
from typing import Annotated

from pydantic import BaseModel, ConfigDict, ValidationError
from sqlalchemy import ColumnElement, Engine, bindparam, select, update
from sqlalchemy.orm import Session

from pathway.core.says import Says
from pathway.errors import DataError, NotFound, ScoreError
from pathway.store.database import writing
from pathway.store.models import PieceRow, TakeRow
from pathway.store.rows import columns_from, value_from

_NEWEST = (TakeRow.begun.desc(), TakeRow.id.desc())
_OF = (TakeRow.piece_id == bindparam("of"), TakeRow.removed_at.is_(None))
_HEARD = select(TakeRow.begun, TakeRow.figures).where(*_OF).order_by(*_NEWEST)
_TOKEN = re.compile(r"^[A-Za-z0-9_-]{8,40}$")
PACKED_SOUND = re.compile(r"takes/([A-Za-z0-9_-]{8,40})\.flac")
MOST_IN_BACKUP = 400_000_000  # bytes of all sounds
MOST_UNFINISHED = 100_000_000  # bytes of a recording that is on its way: a quarter of an hour
MOST_ON_THEIR_WAY, MOST_WAITING = 40, 500_000_000  # unfinished recordings; bytes of all


@dataclass(frozen=True, slots=True)
class NewTake:
    """A recording about to be kept."""

    piece: int
    name: Annotated[str, Says(within=(0, 100))]
    state: int  # of the plan, in its history
    seconds: float
    first: Annotated[str, Says(within=(0, 100))] = ""
    last: Annotated[str, Says(within=(0, 100))] = ""
    begun: datetime | None = None


class Figures(BaseModel):
    """What was heard in a take, in a few numbers."""

    model_config = ConfigDict(frozen=True)

    down_db: float | None = None  # down-bows over up-bows
    error_db: float | None = None
    said: dict[str, list[str]]  # words, by note
    could: dict[str, list[str]]  # be said if they came again
    found: int = 0
    count: int = 0
    tempo: float = 1.0  # over the plan's

    @property
    def counts(self) -> Counter[str]:
        """Return on how many notes each word was said."""
        return Counter(word for words in self.said.values() for word in words)


@dataclass(frozen=True, slots=True)
class StoredTake:
    """A recording that is kept."""

    id: int
    token: str
    piece: int
    name: str
    first: str
    last: str
    state: int
    seconds: float
    begun: datetime
    figures: Figures | None = None  # once it was listened to


@dataclass(frozen=True, slots=True)
class Unfinished:
    """A recording whose end has not come."""

    token: str
    begun: datetime
    size: int  # [bytes]


class Takes:
    """Keeps recordings."""

    def __init__(self, engine: Engine, folder: Path) -> None:
        self._engine, self._folder = engine, folder

    def add(self, take: NewTake, flac: bytes, token: str = "") -> int:
        """Keep a recording; return its id.

        Args:
            take: what is known of it.
            flac: its sound.
            token: that it came under, unless another has it; else a new one.

        Raises:
            NotFound: there is no such piece.
            DataError: the file cannot be written.
        """
        token = token if token and not self._file(token).exists() else token_urlsafe(16)
        self.keep_sound(token, flac)
        with writing(self._engine) as session:
            if session.get(PieceRow, take.piece) is None:
                self._file(token).unlink(missing_ok=True)
                raise NotFound("There is no such piece on the shelf", advice="Go back to the shelf.")
            row = TakeRow(
                **columns_from(take, TakeRow, token=token, piece_id=take.piece, begun=take.begun or datetime.now(UTC))
            )
            session.add(row)
            session.flush()
            return row.id

    def of(self, piece: int) -> list[StoredTake]:
        """Return the recordings of a piece, the newest first."""
        query = select(TakeRow).where(*_OF).order_by(*_NEWEST)
        with Session(self._engine) as session:
            return [_take(row) for row in session.scalars(query, {"of": piece})]

    def by_token(self, piece: int, token: str) -> int | None:
        """Return the id of the recording of a piece that is kept under a token; None where there is none."""
        query = select(TakeRow.id).where(*_OF, TakeRow.token == token)
        with Session(self._engine) as session:
            return session.scalar(query, {"of": piece})

    def said_of(self, piece: int, note: str) -> tuple[datetime, list[str]] | None:
        """Return when a note was last said something of, and what; None if it never was."""
        with self._engine.connect() as data:
            for begun, kept in data.execute(_HEARD, {"of": piece}):
                figures = _figures(kept)
                if figures and (words := figures.said.get(note)):
                    return begun, words
        return None

    def state(self, piece: int) -> str:
        """Return how far the station is: in work where there are takes."""
        return "in work" if self.of(piece) else "untouched"

    def take(self, piece: int, id_: int) -> StoredTake:
        """Return one recording.

        Raises:
            NotFound: it is not kept.
        """
        found = next((take for take in self.of(piece) if take.id == id_), None)
        if found is None:
            raise NotFound("This take is not kept any more", advice="Reload the page.")
        return found

    def note(self, id_: int, figures: Figures) -> None:
        """Keep what was heard in a take."""
        with writing(self._engine) as session:
            row = session.get(TakeRow, id_)
            if row is not None:
                row.figures = figures.model_dump(mode="json")

    def put_away_older(self, piece: int, than: datetime) -> None:
        """Put the takes of a piece away that were made before a time."""
        self._put_away(TakeRow.piece_id == piece, TakeRow.begun < than)

    def sound(self, take: StoredTake) -> bytes:
        """Return a recording as FLAC.

        Raises:
            NotFound: its file is gone.
        """
        return self.sound_by(take.token)

    def sound_by(self, token: str) -> bytes:
        """Return a recording by the token of its take.

        Raises:
            NotFound: its file is gone.
        """
        try:
            return self._file(token).read_bytes()
        except OSError as error:
            raise NotFound("The sound of this take is not there any more", advice="Take it out of the list.") from error

    def drop_sound(self, token: str) -> None:
        """Let a sound go whose take was not kept."""
        self._file(token).unlink(missing_ok=True)

    def put_away(self, piece: int, id_: int) -> None:
        """Put a recording away; it can be brought back.

        Raises:
            NotFound: it is not kept.
        """
        self.take(piece, id_)
        self._put_away(TakeRow.piece_id == piece, TakeRow.id == id_)

    def _put_away(self, *which: ColumnElement[bool]) -> None:
        where = (*which, TakeRow.removed_at.is_(None))
        with writing(self._engine) as session:
            session.execute(update(TakeRow).where(*where).values(removed_at=datetime.now(UTC)))

    @property
    def size(self) -> int:
        """Return the room that all recordings take [bytes]."""
        return sum(file.stat().st_size for file in self._folder.glob("*.flac")) if self._folder.is_dir() else 0

    def packed(self) -> Iterator[tuple[str, bytes]]:
        """Yield the sound of every recording, under its name in a backup.

        Raises:
            DataError: together they are more than a backup holds.
        """
        if self.size > MOST_IN_BACKUP:
            raise DataError(
                f"The takes need {self.size / 1e6:.0f} MB; a backup holds up to {MOST_IN_BACKUP / 1e6:.0f}",
                advice="Let older ones go, or back up without them and copy their folder.",
            )
        with Session(self._engine) as session:
            tokens = session.scalars(select(TakeRow.token)).all()
        for token in tokens:
            if self._file(token).is_file():
                yield f"takes/{token}.flac", self._file(token).read_bytes()

    def keep_sound(self, token: str, flac: bytes) -> None:
        """Write a sound under the token of its take.

        Raises:
            DataError: there is no room for it.
        """
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            self._file(token).write_bytes(flac)
        except OSError as error:
            raise DataError("The recording could not be kept", place=str(self._folder), advice="Make room.") from error

    def add_piece(self, token: str, offset: int, data: bytes) -> None:
        """Keep a piece of a recording that is on its way; sent again it is the same.

        Raises:
            ScoreError: not a recording's name, or longer than a quarter of an hour.
        """
        file = self._unfinished(token)
        if offset < 0 or offset + len(data) > MOST_UNFINISHED:
            raise ScoreError("The recording is longer than a quarter of an hour", advice="Record some bars at a time.")
        self._check_room(file, offset + len(data))
        file.parent.mkdir(parents=True, exist_ok=True)
        with file.open("r+b" if file.exists() else "w+b") as out:
            out.seek(offset)
            out.write(data)

    def _check_room(self, file: Path, size: int) -> None:
        """Refuse more recordings on their way than can be looked after.

        Raises:
            ScoreError: there are too many, or they are too long together.
        """
        others = [path.stat().st_size for path in file.parent.glob("*.pcm") if path != file]
        if len(others) >= MOST_ON_THEIR_WAY or sum(others) + size > MOST_WAITING:
            raise ScoreError(
                f"{len(others)} recordings were begun and never finished",
                advice="Finish them or put them away, at the takes of a piece, then record again.",
            )

    def finished(self, token: str) -> bytes:
        """Return a recording that has come in pieces: 16 bits, one channel.

        Raises:
            NotFound: nothing of it has come.
        """
        try:
            return self._unfinished(token).read_bytes()
        except OSError as error:
            raise NotFound("Nothing of this recording has come", advice="Record again.") from error

    def drop_unfinished(self, token: str) -> None:
        """Let the pieces of a recording go for good."""
        for away in (False, True):
            self._unfinished(token, away=away).unlink(missing_ok=True)

    def put_away_unfinished(self, token: str, *, back: bool = False) -> None:
        """Put a recording away that was never finished, or bring it back.

        Raises:
            NotFound: it is not there.
        """
        now, then = self._unfinished(token, away=back), self._unfinished(token, away=not back)
        try:
            now.replace(then)
            then.touch()
        except OSError as error:
            raise NotFound("This recording is not there any more", advice="Reload the page.") from error

    def unfinished(self, *, away: bool = False) -> list[Unfinished]:
        """Return recordings that were never finished: those on their way, or those put away."""
        files = sorted((self._folder / "unfinished").glob("*.away" if away else "*.pcm"))
        stats = [(file.stem, file.stat()) for file in files]
        return [Unfinished(name, datetime.fromtimestamp(stat.st_mtime, UTC), stat.st_size) for name, stat in stats]

    def _file(self, token: str) -> Path:
        if not _TOKEN.fullmatch(token):
            raise DataError("A take has no name that can be one", advice="Go back to a copy in the settings.")
        return self._folder / f"{token}.flac"

    def _unfinished(self, token: str, *, away: bool = False) -> Path:
        if not _TOKEN.fullmatch(token):
            raise ScoreError("This is no name of a recording", advice="Record again.")
        return self._folder / "unfinished" / f"{token}.{'away' if away else 'pcm'}"


def _take(row: TakeRow) -> StoredTake:
    return value_from(StoredTake, row, piece=row.piece_id, figures=_figures(row.figures))


def _figures(kept: object) -> Figures | None:
    """Return what was heard; nothing where it was not listened to, or cannot be read: then it is listened to anew."""
    try:
        return Figures.model_validate(kept) if kept else None
    except ValidationError:
        return None
