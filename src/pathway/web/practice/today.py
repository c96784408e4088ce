"""Today: what to do with the minutes there are, as the player changes it; and the piece's own page."""

from dataclasses import dataclass
from datetime import date, datetime, time
from enum import StrEnum
from functools import cached_property
from typing import Annotated

from fastapi import APIRouter, Form, Request
from starlette.responses import Response

from pathway.core.guide.speech import Speech
from pathway.core.planning.plan import Plan
from pathway.core.practice import FAMILIES
from pathway.core.practice.drill import AskedBy, Strain
from pathway.core.practice.ladder import SHARES
from pathway.core.practice.offers import SEVERITIES
from pathway.core.practice.today import NEVER, DayPlace, Entry, Milestone, tempo_by_week
from pathway.desk import Desk
from pathway.desk.practising import PIECES, Practising
from pathway.errors import OutOfRange, PlanError
from pathway.formats.log_document import PlannedDoc, days_ics
from pathway.store.practice import Day
from pathway.web.practice.lines import lines_of
from pathway.web.practice.pictures import draw_day
from pathway.web.practice.words import drill_link, link_of, name_of, state_of, where_of, why_of
from pathway.web.shared.deps import DeskOf, IdOf, PagesOf, PractisingOf, SayOf, go_to
from pathway.web.shared.files import as_file
from pathway.web.shared.pages import Pages
from pathway.web.shared.way import way_of

router = APIRouter()
USUAL_MINUTES = (15, 30, 45, 60, 90)
MINUTES = (5.0, 240.0)
_LADDERS = {"tempo-ladder", "arrive", "two-tempi"}  # families of drills that lead to the tempo


class Change(StrEnum):
    """What a player does to the day."""

    PIN = "pin"
    FREE = "free"
    SWAP = "swap"
    DROP = "drop"
    EARLIER = "earlier"
    LATER = "later"
    DONE = "done"
    ANEW = "anew"


@dataclass(frozen=True, slots=True)
class EntryView:
    """One line of the day."""

    number: int
    key: str
    name: str
    where: str
    piece: str
    why: str
    need: str
    minutes: str
    href: str
    state: str
    load: Strain
    pinned: bool
    done: bool
    drill: bool  # it can be swapped and pinned
    thumb: str = ""  # address of its picture


class DayView:
    """The day as a page shows it."""

    def __init__(
        self, practising: Practising, desk: Desk, say: Speech, pieces: list[int], only: int | None = None
    ) -> None:
        self._practising, self._desk, self._say, self.only = practising, desk, say, only
        self.pieces, self.today = pieces, date.today()
        self.wanted = practising.log.day(self.today)
        self.limits = practising.log.limits()
        self.minutes = self.wanted.minutes or self.limits.minutes
        room = max(self.minutes - self.wanted.less, MINUTES[0])
        self.entries = practising.today(pieces, room, datetime.now().astimezone(), self.wanted) if pieces else []

    @cached_property
    def lines(self) -> list[EntryView]:
        """Return the entries in words."""
        return [self._line(n, entry) for n, entry in enumerate(self.entries, start=1)]

    def _plan(self, piece: int) -> Plan:
        return self._desk.open(piece).plan

    def _line(self, number: int, entry: Entry) -> EntryView:
        title = self._desk.open(entry.piece).piece.title if entry.piece else ""
        done = entry.key in self.wanted.done or self._played(entry)
        minutes = f"{entry.minutes:.0f} min" if entry.minutes >= 1 else f"{60 * entry.minutes:.0f} s"
        if entry.ask is None or entry.offer is None:
            why = "the whole piece, without stopping: what the drills are for"
            href = f"/pieces/{entry.piece}"
            return EntryView(
                number, entry.key, "Run-through", "", title, why, "", minutes, href, "", Strain.NORMAL, False, done,
                False,
            )  # fmt: skip
        why = {
            DayPlace.WARM_UP: "the day begins with the rig it is played on: tone before speed",
            DayPlace.BARS: "the drills go back to where they came from",
        }.get(entry.place) or why_of(entry.offer, self._plan(entry.piece), self._say)
        climb = self._practising.log.climbs(entry.piece).get(entry.ask.key)
        link = (
            drill_link(entry.piece, entry.ask)
            if entry.place is not DayPlace.DRILL
            else link_of(entry.piece, entry.offer)
        )
        return EntryView(
            number, entry.key, name_of(entry.ask), where_of(entry.ask), title, why, _need(entry), minutes, link,
            state_of(climb, None), FAMILIES[entry.ask.family].load, entry.pinned, done, entry.place is DayPlace.DRILL,
            link.replace("/practise/drill?", "/practise/drill/thumb?"),
        )  # fmt: skip

    def _played(self, entry: Entry) -> bool:
        """Whether a drill of the day was played today."""
        if entry.ask is None:
            return False
        return (entry.piece or None, entry.ask.key) in self._of_today

    @cached_property
    def _of_today(self) -> set[tuple[int | None, str]]:
        """Return which drills were played today."""
        since = datetime.combine(self.today, time()).astimezone()
        return {(one.piece, one.drill) for one in self._practising.log.sets(since=since) if one.tries}

    @property
    def drawn(self) -> str:
        """Return the day as bows."""
        pairs = zip(self.lines, self.entries, strict=True)
        return draw_day([(entry.minutes, one.load, one.done) for one, entry in pairs])

    @property
    def usual(self) -> tuple[int, ...]:
        """Return minutes to choose from."""
        return USUAL_MINUTES

    @property
    def titles(self) -> list[tuple[int, str, date | None]]:
        """Return the pieces that the day is made from, and when each is to be ready."""
        days = self._practising.log.ready_by()
        return [(piece, self._desk.open(piece).piece.title, days.get(piece)) for piece in self.pieces]


def _need(entry: Entry) -> str:
    """Return what the need of an entry is made of."""
    if not entry.why:
        return ""
    names = {value: key.value for key, value in SEVERITIES.items()}
    why = entry.why
    asked = entry.offer is not None and entry.offer.why is AskedBy.FINDING
    told = [f"{names[round(why['severity'])]} finding"] if asked else []
    share = max(why["share"] - 0.2, 0.0)
    told += [f"{100 * share:.0f} % of the piece"] if share >= 0.005 else []
    days = round(why["days"] ** 2)
    told += [] if days >= NEVER else [f"{days} day{'s' * (days > 1)} ago"]
    if why["near"] > 1:
        told.append("the day of performance is near")
    return " · ".join(told)


def pieces_of_day(desk: Desk, only: int | None) -> list[int]:
    """Return the pieces that a day is made from: one, or those opened last."""
    if only is not None:
        return [desk.open(only).piece.id]
    return [entry.id for entry in desk.pieces.shelf() if not entry.fault][:PIECES]


@router.get("/practise")
def show_today(request: Request, desk: DeskOf, practising: PractisingOf, say: SayOf, pages: PagesOf) -> Response:
    """The day over all pieces."""
    view = DayView(practising, desk, say, pieces_of_day(desk, None))
    return pages.render(request, "practice/today.html", {"view": view})


@router.get("/pieces/{key}/practise")
def show_piece(
    request: Request, key: IdOf, desk: DeskOf, practising: PractisingOf, say: SayOf, pages: PagesOf
) -> Response:
    """The day of one piece, what it asks for, and when it is to be ready."""
    now = desk.open(key)
    view = DayView(practising, desk, say, [key], key)
    context = {
        "view": view,
        "piece": now.piece,
        "way": way_of(key, now.plan, "Practise"),
        "offers": lines_of(practising, practising.offers(key), key, now.plan, say),
        "ready_by": practising.log.ready_by().get(key),
        "weeks": weeks_of(practising, now.plan, key),
        "reached": round(reached_in(practising, now.plan, key) * now.plan.draft.tempo_bpm),
        "beat_tempo": now.plan.draft.tempo_bpm,
    }
    return pages.render(request, "practice/piece.html", context)


def weeks_of(practising: Practising, plan: Plan, key: int) -> list[tuple[Milestone, int]]:
    """Return the tempo to reach each week until the performance, with its beats a minute."""
    ready = practising.log.ready_by().get(key)
    if ready is None or ready < date.today():
        return []
    return [
        (one, round(one.share * plan.draft.tempo_bpm))
        for one in tempo_by_week(reached_in(practising, plan, key), date.today(), ready)
    ]


def reached_in(practising: Practising, plan: Plan, key: int) -> float:
    """Return the share of the tempo at which bars of a piece were passed; the first rung's before any was."""
    fastest = practising.log.fastest(key).items()
    reached = (tempo / plan.draft.tempo_bpm for drill, tempo in fastest if drill.split(".", 1)[0] in _LADDERS)
    return min(max(reached, default=SHARES[0]), 1.0)


@router.post("/practise/day")
def change_day(
    request: Request,
    change: Annotated[Change, Form()],
    desk: DeskOf,
    practising: PractisingOf,
    say: SayOf,
    pages: PagesOf,
    key: Annotated[str, Form(max_length=500)] = "",
    piece: Annotated[int | None, Form()] = None,
) -> Response:
    """Pin an entry, swap it for the next, drop it with its minutes, move it, or begin the day anew."""
    view = DayView(practising, desk, say, pieces_of_day(desk, piece), piece)
    practising.log.keep_day(view.today, changed(view.wanted, view.entries, change, key))
    return _entries(request, desk, practising, say, pages, piece)


def changed(wanted: Day, entries: list[Entry], change: Change, key: str) -> Day:
    """Return what a player wants of a day after a change."""
    if change is Change.ANEW:
        return Day(minutes=wanted.minutes, done=wanted.done)
    entry = next((one for one in entries if one.key == key), None)
    if entry is None:
        return wanted
    keys = [one.key for one in entries]
    at = keys.index(key)
    if change in {Change.EARLIER, Change.LATER}:
        to = min(max(at + (1 if change is Change.LATER else -1), 0), len(keys) - 1)
        keys.insert(to, keys.pop(at))
        return wanted.model_copy(update={"order": tuple(keys)})
    without = tuple(one for one in wanted.pinned if one != key)
    changes: dict[Change, dict[str, object]] = {
        Change.PIN: {"pinned": (*without, key)},
        Change.FREE: {"pinned": without},
        Change.SWAP: {"dropped": (*wanted.dropped, key), "pinned": without},
        Change.DROP: {"dropped": (*wanted.dropped, key), "pinned": without, "less": wanted.less + entry.minutes},
        Change.DONE: {"done": (*wanted.done, key)},
    }
    return wanted.model_copy(update=changes[change])


@router.post("/practise/minutes")
def set_minutes(
    request: Request,
    minutes: Annotated[float, Form()],
    desk: DeskOf,
    practising: PractisingOf,
    say: SayOf,
    pages: PagesOf,
    piece: Annotated[int | None, Form()] = None,
) -> Response:
    """Say how many minutes there are today; they are proposed tomorrow too."""
    if not MINUTES[0] <= minutes <= MINUTES[1]:
        raise OutOfRange("the time you have", minutes, *MINUTES, "minutes")
    log = practising.log
    log.keep_day(date.today(), log.day(date.today()).model_copy(update={"minutes": minutes, "less": 0.0}))
    log.set_limits(log.limits().model_copy(update={"minutes": minutes}))
    return _entries(request, desk, practising, say, pages, piece)


def _entries(
    request: Request, desk: Desk, practising: Practising, say: Speech, pages: Pages, piece: int | None
) -> Response:
    view = DayView(practising, desk, say, pieces_of_day(desk, piece), piece)
    return pages.render(request, "practice/entries.html", {"view": view})


@router.post("/pieces/{key}/practise/ready")
def set_ready(
    request: Request,
    key: IdOf,
    practising: PractisingOf,
    day: Annotated[str, Form(max_length=20)] = "",
) -> Response:
    """Say when a piece is to be ready."""
    practising.log.set_ready_by(key, _day(day))
    return go_to(request, f"/pieces/{key}/practise")


def _day(text: str) -> date | None:
    """Return a day from a form; none from an empty one.

    Raises:
        PlanError: it is no day.
    """
    if not text:
        return None
    try:
        return date.fromisoformat(text)
    except ValueError as error:
        raise PlanError("This is no day", advice="Write it as year, month and day: 2026-12-05.") from error


@router.get("/practise/days.ics")
def take_calendar(desk: DeskOf, practising: PractisingOf, say: SayOf) -> Response:
    """The days ahead as a calendar: today as it is laid out, and the weeks until each performance."""
    view = DayView(practising, desk, say, pieces_of_day(desk, None))
    lines = [f"{one.minutes}  {one.name}, {one.piece}: {one.why}" for one in view.lines]
    days = [PlannedDoc(view.today, view.minutes, "Practise", lines)]
    for piece, title, ready in view.titles:
        plan = desk.open(piece).plan
        for milestone, tempo in weeks_of(practising, plan, piece):
            days.append(
                PlannedDoc(milestone.day, view.minutes, f"{title}: {tempo} a minute", ["the tempo to reach this week"])
            )
        if ready:
            days.append(PlannedDoc(ready, view.minutes, f"{title}: ready", []))
    return as_file(days_ics(days, datetime.now().astimezone()), "text/calendar", "practice", ".ics")
