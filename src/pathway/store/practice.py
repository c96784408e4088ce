"""What was practised: sets one after the other, the ladders of drills, days of performance, and the player's limits."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from typing import Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from sqlalchemy import ColumnElement, Engine, bindparam, func, select, update
from sqlalchemy.orm import Session

from pathway.core.practice.load import CAPS, Cap, HandAfter, Limits
from pathway.core.practice.log import PlayedSet
from pathway.core.practice.staircase import Climb, Verdict
from pathway.core.practice.today import Session as PracticeSession
from pathway.errors import NotFound, PlanError
from pathway.store.database import writing
from pathway.store.models import ChoiceRow, LadderRow, PerformanceRow, PieceRow, PracticeDayRow, SetRow
from pathway.store.rows import columns_from, value_from

_LIMITS = "practice"  # the name of the row of choices
LONGEST_WAY = timedelta(days=3 * 366)  # to when a piece is to be ready
_LOOKED_AT = 30  # sets of a drill: whether it rests and when it is due hang on fewer
_KEPT = SetRow.removed_at.is_(None)
_TRIED = func.json_array_length(SetRow.tries).label("tries")
_NEWEST = (SetRow.begun.desc(), SetRow.id.desc())
_ONCE = {"token", "title", "begun"}  # columns of a set that stay as they were first kept


class Day(BaseModel):
    """What a player wants of a day; keys name its entries."""

    model_config = ConfigDict(frozen=True)

    minutes: float | None = Field(default=None, ge=2, le=480)
    less: float = Field(default=0, ge=0, le=480)  # minutes that were given back
    pinned: tuple[str, ...] = ()
    dropped: tuple[str, ...] = ()
    order: tuple[str, ...] = ()
    done: tuple[str, ...] = ()


class LimitsDoc(BaseModel):
    """The player's own limits, and the minutes that a day usually has."""

    model_config = ConfigDict(frozen=True)

    minutes: float = Field(default=30, ge=2, le=480)
    beginner: bool = False
    caps_s: dict[Cap, float] = {}
    raised: tuple[str, ...] = ()  # when which cap was raised, and from where

    @property
    def limits(self) -> Limits:
        """Return them as the core takes them."""
        return Limits(self.beginner, dict(self.caps_s))

    def with_cap(self, cap: Cap, seconds: float, today: date) -> "LimitsDoc":
        """Return them with another cap; one that is raised is noted."""
        before = self.limits.of(cap)
        noted = (f"{today}: {cap.value} from {before:.0f} to {seconds:.0f} s",) if seconds > before else ()
        return self.model_copy(update={"caps_s": {**self.caps_s, cap: seconds}, "raised": (*self.raised, *noted)})


class PracticeLog:
    """The log, and what goes with it."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def keep(self, played: PlayedSet) -> PlayedSet:
        """Keep a set, or what has become of it since: a set only ever grows."""
        with writing(self._engine) as session:
            row = session.scalar(select(SetRow).where(SetRow.token == played.token))
            columns = _columns(played)
            if row is None:
                of = select(PieceRow.title).where(PieceRow.id == played.piece)
                row = SetRow(**columns | {"title": session.scalar(of) or columns["title"]})
                session.add(row)
            for name in columns.keys() - _ONCE:
                setattr(row, name, columns[name])
            session.flush()
            return _set(row)

    def find(self, token: str) -> PlayedSet | None:
        """Return a set by the name that a page gave it; None where there is none yet."""
        with Session(self._engine) as session:
            row = session.scalar(select(SetRow).where(SetRow.token == token))
            return _set(row) if row else None

    def sets(
        self, piece: int | None = None, since: datetime | None = None, *, removed: bool = False
    ) -> list[PlayedSet]:
        """Return the sets of a piece, or all, in order; those taken out only where asked for."""
        query = select(SetRow).order_by(SetRow.begun, SetRow.id)
        query = query.where(SetRow.removed_at.is_not(None) if removed else _KEPT)
        if piece is not None:
            query = query.where(SetRow.piece_id == piece)
        if since is not None:
            query = query.where(SetRow.begun >= since)
        with Session(self._engine) as session:
            return [_set(row) for row in session.scalars(query)]

    def page(self, number: int, length: int, *, removed: bool = False) -> list[PlayedSet]:
        """Return one page of the sets, the newest first."""
        query = select(SetRow).where(SetRow.removed_at.is_not(None) if removed else _KEPT).order_by(*_NEWEST)
        with Session(self._engine) as session:
            return [_set(row) for row in session.scalars(query.limit(length).offset(number * length))]

    def count(self, piece: int | None = None) -> int:
        """Return how many sets were played, of a piece or of all."""
        query = select(func.count(SetRow.id)).where(_KEPT, *_of(piece))
        with Session(self._engine) as session:
            return session.scalar(query) or 0

    def sessions(self, piece: int) -> dict[str, list[PracticeSession]]:
        """Return what became of every drill of a piece day by day, in order, as far as its last sets reach."""
        columns = (SetRow.begun.label("begun"), SetRow.passed, SetRow.top, _TRIED)
        found = {drill: _by_day(reversed(sets)) for drill, sets in self._newest(piece, columns).items()}
        return {drill: days for drill, days in found.items() if days}

    def last(self, piece: int | None, *, tried: bool = False) -> dict[str, PlayedSet]:
        """Return the last set of every drill of a piece, or of none; the last with a try where that is asked for."""
        found = self._newest(piece, (SetRow.id, _TRIED))
        ids = [next((one.id for one in sets if one.tries or not tried), 0) for sets in found.values()]
        with Session(self._engine) as session:
            return {row.drill: _set(row) for row in session.scalars(select(SetRow).where(SetRow.id.in_(ids)))}

    def _newest(self, piece: int | None, columns: Sequence[Any]) -> dict[str, list[Any]]:
        """Return the last so many sets of every drill of a piece, or of none, the newest first."""
        of = SetRow.piece_id.is_(None) if piece is None else SetRow.piece_id == piece
        sets = select(*columns).where(of, _KEPT, SetRow.drill == bindparam("of")).order_by(*_NEWEST).limit(_LOOKED_AT)
        with self._engine.connect() as data:
            drills = data.scalars(select(SetRow.drill).where(of, _KEPT).distinct()).all()
            return {drill: list(data.execute(sets, {"of": drill})) for drill in drills}

    def topped(self, piece: int) -> set[str]:
        """Return which drills of a piece were passed to their last rung."""
        with self._engine.connect() as data:
            return set(data.scalars(select(SetRow.drill).where(_KEPT, *_of(piece), SetRow.top.is_(True)).distinct()))

    def fastest(self, piece: int) -> dict[str, float]:
        """Return at which tempo a rung of every drill of a piece was passed [beats a minute]."""
        query = select(SetRow.drill, func.max(SetRow.tempo).label("tempo")).where(
            _KEPT, *_of(piece), SetRow.passed.is_(True)
        )
        with self._engine.connect() as data:
            return {row.drill: row.tempo for row in data.execute(query.group_by(SetRow.drill))}

    def practised(self) -> set[int]:
        """Return the pieces of which something was played."""
        with self._engine.connect() as data:
            return set(data.scalars(select(SetRow.piece_id).where(_KEPT, SetRow.piece_id.is_not(None)).distinct()))

    def annotate(self, id_: int, note: str) -> PlayedSet:
        """Write a note beside a set.

        Raises:
            NotFound: there is no such set.
        """
        with writing(self._engine) as session:
            row = _row(session, id_)
            row.note = note[:1000]
            return _set(row)

    def remove(self, id_: int, *, back: bool = False) -> PlayedSet:
        """Take a set out of the log, or bring it back.

        Raises:
            NotFound: there is no such set.
        """
        with writing(self._engine) as session:
            row = _row(session, id_)
            row.removed_at = None if back else datetime.now(UTC)
            return _set(row)

    def remove_piece(self, piece: int, *, back: bool = False) -> None:
        """Take all sets of a piece out of the log, or bring them back."""
        when = None if back else datetime.now(UTC)
        with writing(self._engine) as session:
            session.execute(update(SetRow).where(SetRow.piece_id == piece).values(removed_at=when))

    def bring(self, sets: Sequence[PlayedSet]) -> int:
        """Add sets that are not there yet; return how many were added."""
        added = 0
        with writing(self._engine) as session:
            known = set(session.scalars(select(SetRow.token)))
            pieces: dict[str, int] = {}
            for title, id_ in session.execute(select(PieceRow.title, PieceRow.id)):
                pieces.setdefault(title, id_)
            for played in sets:
                if played.token in known:
                    continue
                known.add(played.token)
                session.add(SetRow(**_columns(replace(played, piece=pieces.get(played.title)))))
                added += 1
        return added

    def climb(self, piece: int | None, drill: str) -> Climb:
        """Return where a player stands on a ladder."""
        return self.climbs(piece).get(drill, Climb())

    def climbs(self, piece: int | None) -> Mapping[str, Climb]:
        """Return where a player stands on every ladder of a piece."""
        query = select(LadderRow).where(LadderRow.piece_id.is_(None) if piece is None else LadderRow.piece_id == piece)
        with Session(self._engine) as session:
            return {row.drill: _climb(row.climb) for row in session.scalars(query)}

    def state(self, piece: int) -> str:
        """Return how far the work at a piece is: every ladder that was begun is passed, some are not, or none was."""
        climbs = self.climbs(piece).values()
        if not climbs:
            return "untouched"
        return "settled" if all(climb.passed for climb in climbs) else "in work"

    def stand(self, piece: int | None, drill: str, climb: Climb) -> None:
        """Remember where a player stands on a ladder."""
        where = LadderRow.piece_id.is_(None) if piece is None else LadderRow.piece_id == piece
        with writing(self._engine) as session:
            row = session.scalar(select(LadderRow).where(where, LadderRow.drill == drill))
            if row is None:
                row = LadderRow(piece_id=piece, drill=drill)
                session.add(row)
            row.climb = _of_climb(climb)

    def ready_by(self) -> dict[int, date]:
        """Return when which piece is to be ready."""
        with Session(self._engine) as session:
            furthest = date.today() + LONGEST_WAY
            return {row.piece_id: min(row.day, furthest) for row in session.scalars(select(PerformanceRow))}

    def set_ready_by(self, piece: int, day: date | None) -> None:
        """Say when a piece is to be ready; nothing takes the day back.

        Raises:
            NotFound: there is no such piece.
            PlanError: a day that no work can be planned to.
        """
        if day is not None and day > date.today() + LONGEST_WAY:
            raise PlanError(f"No work can be planned until {day}", advice="Choose a day within the next three years.")
        with writing(self._engine) as session:
            if session.get(PieceRow, piece) is None:
                raise NotFound("There is no such piece on the shelf", advice="Go back to the shelf.")
            row = session.get(PerformanceRow, piece)
            if day is None:
                if row is not None:
                    session.delete(row)
            elif row is None:
                session.add(PerformanceRow(piece_id=piece, day=day))
            else:
                row.day = day

    def day(self, day: date) -> Day:
        """Return what the player wants of a day."""
        with Session(self._engine) as session:
            row = session.get(PracticeDayRow, day)
            try:
                return Day.model_validate(row.value) if row else Day()
            except ValidationError:
                return Day()

    def keep_day(self, day: date, wanted: Day) -> None:
        """Keep what the player wants of a day."""
        with writing(self._engine) as session:
            session.merge(PracticeDayRow(day=day, value=wanted.model_dump(mode="json")))

    def limits(self) -> LimitsDoc:
        """Return the player's limits."""
        with Session(self._engine) as session:
            row = session.get(ChoiceRow, _LIMITS)
            try:
                return LimitsDoc.model_validate(row.value) if row else LimitsDoc()
            except ValidationError:
                return LimitsDoc()

    def set_limits(self, limits: LimitsDoc) -> None:
        """Keep other limits."""
        with writing(self._engine) as session:
            session.merge(ChoiceRow(name=_LIMITS, value=limits.model_dump(mode="json")))


def _by_day(sets: Iterable[Any]) -> list[PracticeSession]:
    """Return sets of one drill, in order, as days; those without a try are none."""
    days: dict[date, PracticeSession] = {}
    for one in sets:
        if one.tries:
            day = one.begun.astimezone().date()
            before = days.get(day, PracticeSession(day, passed=False))
            days[day] = PracticeSession(day, before.passed or one.passed, before.top or one.top)
    return list(days.values())


def _of(piece: int | None) -> tuple[ColumnElement[bool], ...]:
    return () if piece is None else (SetRow.piece_id == piece,)


def _columns(played: PlayedSet) -> dict[str, Any]:
    return columns_from(played, SetRow, piece_id=played.piece, hand=played.hand or "", begun=played.begun)


def _set(row: SetRow) -> PlayedSet:
    hand = HandAfter(row.hand) if row.hand else None
    return value_from(PlayedSet, row, piece=row.piece_id, hand=hand, removed=row.removed_at is not None)


def _row(session: Session, id_: int) -> SetRow:
    row = session.get(SetRow, id_)
    if row is None:
        raise NotFound("This set is not in the log any more", advice="Reload the page.")
    return row


def _climb(value: Mapping[str, object]) -> Climb:
    """Return where a player stands; at the beginning where it cannot be read."""
    try:
        tries = tuple(Verdict(one) for one in list(value.get("tries", ())))  # type: ignore[call-overload]
        falls = {int(rung): int(count) for rung, count in dict(value.get("falls", {})).items()}  # type: ignore[call-overload]
        rung = int(str(value.get("rung", 0)))
        return Climb(rung, tries, falls, bool(value.get("passed")), bool(value.get("stuck")))
    except (TypeError, ValueError):
        return Climb()


def _of_climb(climb: Climb) -> dict[str, object]:
    return {
        "rung": climb.rung,
        "tries": [one.value for one in climb.tries],
        "falls": {str(rung): count for rung, count in climb.falls.items()},
        "passed": climb.passed,
        "stuck": climb.stuck,
    }


def known_cap(name: str) -> Cap:
    """Return a cap by its name.

    Raises:
        NotFound: there is none.
    """
    found = next((cap for cap in CAPS if cap.value == name), None)
    if found is None:
        raise NotFound("There is no such limit", advice="Reload the page.")
    return found
