"""The log: what was played, what has come of it, the player's limits; out as files and back."""

from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Annotated

from fastapi import APIRouter, Form, Query, Request, UploadFile
from starlette.responses import Response

from pathway.core.practice.load import CAPS, Cap
from pathway.core.practice.log import PlayedSet
from pathway.core.practice.making import ask_in
from pathway.core.practice.progress import Settled, WeekOf, calendar, marks, monday_of, settled, week_of
from pathway.desk import Desk
from pathway.desk.practising import Practising
from pathway.formats.log_document import log_csv, log_json, read_log
from pathway.store.practice import known_cap
from pathway.web.practice.pictures import draw_calendar, draw_way
from pathway.web.practice.words import drill_link, minutes_of, name_of
from pathway.web.shared.deps import DeskOf, IdOf, PagesOf, PractisingOf, go_to
from pathway.web.shared.files import as_file
from pathway.web.shared.pages import Pages

router = APIRouter(prefix="/practise")
_WEEKS = 5  # of the calendar
A_PAGE = 30  # sets
MOST_CAP = 3600.0  # [s]
MOST_NAMES, MOST_NAME = 8, 40  # of drills that there are not, that are told; letters of each
_NO_DRILL = "{} (not a drill here any more)"


@dataclass(frozen=True, slots=True)
class SetView:
    """One line of the log."""

    played: PlayedSet
    when: str
    name: str
    rung: str
    tries: str
    long: str
    href: str  # none where there is no such drill any more


@dataclass(frozen=True, slots=True)
class WayView:
    """One drill over days."""

    name: str
    piece: str
    now: str
    href: str
    drawn: str
    told: str


class LogView:
    """The log as a page shows it."""

    def __init__(self, practising: Practising, desk: Desk, page: int = 0) -> None:
        self._practising, self._desk, self.page = practising, desk, page
        self.limits = practising.log.limits()
        self.today = date.today()
        first = monday_of(self.today) - timedelta(weeks=_WEEKS)
        self._recent = practising.log.sets(since=datetime.combine(first, time()).astimezone())
        self.count = practising.log.count()

    @property
    def calendar(self) -> str:
        """Return the last weeks, drawn."""
        first = monday_of(self.today) - timedelta(weeks=_WEEKS - 1)
        return draw_calendar(calendar(self._recent, first, first + timedelta(days=7 * _WEEKS - 1)))

    @property
    def weeks(self) -> tuple[WeekOf, WeekOf]:
        """Return this week and the last one."""
        monday = monday_of(self.today)
        return week_of(self._recent, monday), week_of(self._recent, monday - timedelta(days=7))

    @property
    def ways(self) -> list[WayView]:
        """Return the drills of the last weeks, the last played first."""
        first = self.today - timedelta(weeks=_WEEKS)
        by_drill: dict[tuple[int | None, str], list[PlayedSet]] = {}
        for one in self._recent:
            by_drill.setdefault((one.piece, one.drill), []).append(one)
        found = []
        for (piece, key), sets in by_drill.items():
            recent = [mark for mark in marks(sets) if mark.day >= first]
            if not recent:
                continue
            last, ask = sets[-1], ask_in(key)
            if ask is None:
                continue
            told = ", ".join(f"{mark.day:%-d %b} {mark.name}" for mark in recent)
            where = f"{last.title}, bars {last.bars}" if last.bars else last.title
            href = drill_link(piece, ask)
            found.append(
                (
                    last.begun,
                    WayView(name_of(ask), where, recent[-1].name, href, draw_way(recent, first, self.today), told),
                )
            )
        return [view for _, view in sorted(found, key=lambda one: one[0], reverse=True)]

    @property
    def settled(self) -> list[tuple[int, str, Settled]]:
        """Return what every piece that was practised has settled."""
        found, log = [], self._practising.log
        practised = log.practised()
        for entry in self._desk.pieces.shelf():
            if entry.id in practised and not entry.fault:
                at_first, plan = self._desk.pieces.findings_at_first(entry.id), self._desk.open(entry.id).plan
                found.append((entry.id, entry.title, settled(plan, at_first, log.topped(entry.id))))
        return found

    @property
    def lines(self) -> list[SetView]:
        """Return the sets of the page, the newest first."""
        return [set_view(one) for one in self._practising.log.page(self.page, A_PAGE)]

    @property
    def removed(self) -> list[SetView]:
        """Return what was taken out and can be brought back."""
        return [set_view(one) for one in self._practising.log.page(0, A_PAGE, removed=True)]

    @property
    def pages(self) -> int:
        """Return how many pages there are."""
        return max(-(-self.count // A_PAGE), 1)

    @property
    def caps(self) -> list[tuple[str, int, int]]:
        """Return the limits of the day [s], and what we propose."""
        limits = self.limits.limits
        return [(cap.value, round(limits.of(cap)), round(CAPS[cap] * (0.5 if limits.beginner else 1))) for cap in Cap]


def set_view(one: PlayedSet) -> SetView:
    """Return a set as a line."""
    ask = ask_in(one.drill)
    return SetView(
        played=one,
        when=f"{one.begun.astimezone():%a %-d %b, %H:%M}",
        name=name_of(ask) if ask else _NO_DRILL.format(one.family.replace("-", " ")),
        rung=f"{one.rung_name} · {one.rate:.1f} a second",
        tries=f"{one.clean} of {len(one.tries)} clean" + (", rung passed" if one.passed else ""),
        long=minutes_of(one.seconds),
        href=drill_link(one.piece, ask) if ask else "",
    )


@router.get("/log")
def show_log(
    request: Request,
    desk: DeskOf,
    practising: PractisingOf,
    pages: PagesOf,
    page: Annotated[int, Query(ge=0, le=10_000)] = 0,
) -> Response:
    """What was played, and what has come of it."""
    return pages.render(request, "practice/log.html", {"view": LogView(practising, desk, page)})


def _list(request: Request, desk: Desk, practising: Practising, pages: Pages) -> Response:
    return pages.render(request, "practice/sets.html", {"view": LogView(practising, desk)})


@router.post("/log/{key}/note")
def annotate(
    request: Request,
    key: IdOf,
    note: Annotated[str, Form(max_length=1000)],
    desk: DeskOf,
    practising: PractisingOf,
    pages: PagesOf,
) -> Response:
    """Write a note beside a set."""
    practising.log.annotate(key, note)
    return _list(request, desk, practising, pages)


@router.post("/log/{key}/remove")
def remove_set(request: Request, key: IdOf, desk: DeskOf, practising: PractisingOf, pages: PagesOf) -> Response:
    """Take a set out of the log."""
    practising.log.remove(key)
    return _list(request, desk, practising, pages)


@router.post("/log/{key}/back")
def bring_back(request: Request, key: IdOf, desk: DeskOf, practising: PractisingOf, pages: PagesOf) -> Response:
    """Bring a set back."""
    practising.log.remove(key, back=True)
    return _list(request, desk, practising, pages)


@router.post("/log/piece/{key}/remove")
def remove_log_of(request: Request, key: IdOf, practising: PractisingOf, pages: PagesOf) -> Response:
    """Take all that was played of a piece out of the log."""
    practising.log.remove_piece(key)
    return pages.render(request, "practice/log_removed.html", {"key": key, "back": False})


@router.post("/log/piece/{key}/back")
def bring_log_back(request: Request, key: IdOf, practising: PractisingOf, pages: PagesOf) -> Response:
    """Bring the log of a piece back."""
    practising.log.remove_piece(key, back=True)
    return pages.render(request, "practice/log_removed.html", {"key": key, "back": True})


@router.get("/log.csv")
def take_csv(practising: PractisingOf) -> Response:
    """The log as a table."""
    return as_file(log_csv(practising.log.sets()), "text/csv", "practice-log", ".csv")


@router.get("/log.json")
def take_json(practising: PractisingOf) -> Response:
    """The log as a document that can come back."""
    return as_file(log_json(practising.log.sets()), "application/json", "practice-log", ".json")


@router.post("/log")
def bring_log(request: Request, file: UploadFile, practising: PractisingOf, pages: PagesOf) -> Response:
    """Add the sets of a saved log that are not there yet."""
    sets = read_log(file.file.read())
    added = practising.log.bring(sets)
    told = f"{added} sets were added." if added else "All of them were there already."
    unknown = sorted({one.family[:MOST_NAME] for one in sets if ask_in(one.drill) is None})
    if unknown:
        told += f" Some are of drills that are not here: {', '.join(unknown[:MOST_NAMES])}; they stay as they are."
    context = {"message": told}
    return pages.render(request, "practice/brought.html", context)


@router.post("/limits")
def set_limits(
    request: Request,
    practising: PractisingOf,
    pages: PagesOf,
    cap: Annotated[str, Form(max_length=60)] = "",
    seconds: Annotated[float, Form(ge=0, le=MOST_CAP)] = 0.0,
    beginner: Annotated[bool, Form()] = False,
    sure: Annotated[bool, Form()] = False,
) -> Response:
    """Lower a limit freely; raise one after being asked once. Without a limit's name: whether the player begins."""
    log = practising.log
    limits = log.limits()
    if not cap:
        log.set_limits(limits.model_copy(update={"beginner": beginner}))
        return go_to(request, "/practise/log")
    which = known_cap(cap)
    if limits.limits.raises(which, seconds) and not sure:
        context = {"cap": which.value, "seconds": round(seconds), "proposed": round(limits.limits.of(which))}
        return pages.render(request, "practice/raise.html", context)
    log.set_limits(limits.with_cap(which, seconds, date.today()))
    return go_to(request, "/practise/log")
