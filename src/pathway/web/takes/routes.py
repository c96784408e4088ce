"""Takes of a piece: recorded in pieces, dropped, simulated; heard, and let go."""

from datetime import datetime, timedelta
from typing import Annotated

from fastapi import APIRouter, Form, Path, Query, Request, UploadFile
from starlette.responses import JSONResponse, Response

from pathway.core.takes.listening import RATES
from pathway.desk.simulating import WEAK, planted
from pathway.web.shared.deps import MOST_ID, DeskOf, IdOf, PagesOf, SayOf, SimulatingOf, TakingOf, go_to
from pathway.web.shared.room import room_named, systems_of
from pathway.web.shared.turns import LongWork, in_turn
from pathway.web.shared.way import way_of
from pathway.web.takes.view import HeardView, OneNote, line_of, trends_of

router = APIRouter(prefix="/pieces/{key}/takes")
TakeId = Annotated[int, Path(ge=1, le=MOST_ID)]
Token = Annotated[str, Query(pattern=r"^[A-Za-z0-9_-]{8,40}$")]
Name = Annotated[str, Form(max_length=100)]
Bar = Annotated[str, Query(max_length=20)]
_SAMPLES = {"ge": RATES[0], "le": RATES[1]}  # a second


@router.get("")
def show_takes(request: Request, key: IdOf, desk: DeskOf, taking: TakingOf, pages: PagesOf) -> Response:
    """The takes of a piece, and how to make one."""
    now = desk.open(key)
    context = {
        "piece": now.piece,
        "way": way_of(key, now.plan, "Takes"),
        "takes": [line_of(take) for take in taking.takes.of(key)],
        "unfinished": taking.takes.unfinished(),
        "size": taking.takes.size,
        "trends": trends_of(taking.takes.of(key)),
        "bars": [m.number for m in now.plan.part.measures],
    }
    return pages.render(request, "takes/takes.html", context)


@router.post("")
@in_turn(LongWork.LISTENING)
def drop_take(request: Request, key: IdOf, file: UploadFile, taking: TakingOf) -> Response:
    """Keep a recording that was dropped."""
    id_ = taking.keep(key, file.file.read(), (file.filename or "")[:100])
    return go_to(request, f"/pieces/{key}/takes/{id_}")


@router.get("/beats.json")
def show_beats(key: IdOf, taking: TakingOf, desk: DeskOf, first_bar: Bar = "", last_bar: Bar = "") -> Response:
    """The beats to record some bars by, with a bar counted in."""
    found = taking.beats(key, _notes_in(desk, key, first_bar, last_bar))
    beats = [[round(beat.time, 4), beat.first] for beat in found.beats]
    return JSONResponse({"beats": beats, "count_in": found.count_in, "length": found.length})


@router.post("/pieces")
async def keep_piece(
    request: Request, key: IdOf, token: Token, offset: Annotated[int, Query(ge=0)], taking: TakingOf
) -> Response:
    """Keep some seconds of a recording that is on its way."""
    taking.takes.add_piece(token, offset, await request.body())
    return Response(status_code=204)


@router.post("/finish")
@in_turn(LongWork.LISTENING)
def finish_take(
    request: Request,
    key: IdOf,
    token: Annotated[str, Form(pattern=r"^[A-Za-z0-9_-]{8,40}$")],
    taking: TakingOf,
    desk: DeskOf,
    rate: Annotated[int, Form(**_SAMPLES)] = 48_000,
    first_bar: Annotated[str, Form(max_length=20)] = "",
    last_bar: Annotated[str, Form(max_length=20)] = "",
) -> Response:
    """Keep a recording whose pieces have come."""
    inside = _notes_in(desk, key, first_bar, last_bar)
    id_ = taking.finish(key, token, rate, inside)
    return go_to(request, f"/pieces/{key}/takes/{id_}")


def _notes_in(desk: DeskOf, key: int, first: str, last: str) -> tuple[str, str]:
    """Return the first and last note of some bars; none for the whole piece."""
    notes = desk.open(key).plan.bowed
    numbers = list(dict.fromkeys(note.measure for note in notes))
    if first not in numbers and last not in numbers:
        return "", ""
    begin = numbers.index(first) if first in numbers else 0
    end = numbers.index(last) if last in numbers else len(numbers) - 1
    wanted = set(numbers[min(begin, end) : max(begin, end) + 1])
    inside = [note.id for note in notes if note.measure in wanted]
    return inside[0], inside[-1]


@router.post("/unfinished/{token}/put-away")
def put_away_unfinished(request: Request, key: IdOf, token: str, taking: TakingOf) -> Response:
    """Put a recording away that was never finished."""
    taking.takes.put_away_unfinished(token)
    return go_to(request, f"/pieces/{key}/takes")


@router.post("/simulate")
@in_turn(LongWork.LISTENING)
def simulate(
    request: Request,
    key: IdOf,
    desk: DeskOf,
    simulating: SimulatingOf,
    faults: Annotated[int, Form(ge=0, le=12)] = 0,
    weak_up: Annotated[bool, Form()] = False,
    seed: Annotated[int, Form(ge=0, le=10_000)] = 1,
) -> Response:
    """Let the simulated player play, with faults on wish: to try all this without a microphone."""
    told = (
        ", ".join(filter(None, [f"{faults} faults" if faults else "", "weak up-bows" if weak_up else ""]))
        or "as planned"
    )
    human = planted(desk.open(key).plan, faults, WEAK if weak_up else 0.0, seed)
    id_ = simulating.play(key, human, f"Simulated, {told}", seed)
    return go_to(request, f"/pieces/{key}/takes/{id_}")


@router.post("/demo")
@in_turn(LongWork.LISTENING)
def bring_demo_takes(request: Request, key: IdOf, simulating: SimulatingOf) -> Response:
    """Three takes of the simulated player over some weeks, in which something becomes better."""
    simulating.tell(key, datetime.now().astimezone())
    return go_to(request, f"/pieces/{key}/takes")


@router.get("/{id_}")
def show_take(request: Request, key: IdOf, id_: TakeId, desk: DeskOf, taking: TakingOf, pages: PagesOf) -> Response:
    """A take; what is heard in it comes after it."""
    now, take = desk.open(key), taking.takes.take(key, id_)
    others = [line_of(one) for one in taking.takes.of(key) if one.id != id_]
    context = {
        "piece": now.piece,
        "way": way_of(key, now.plan, "Takes"),
        "take": line_of(take),
        "others": others,
        "room_for_lines": room_named(request),
    }
    return pages.render(request, "takes/take.html", context)


@router.post("/{id_}/heard")
@in_turn(LongWork.LISTENING)
def listen_to(
    request: Request,
    key: IdOf,
    id_: TakeId,
    desk: DeskOf,
    taking: TakingOf,
    say: SayOf,
    pages: PagesOf,
    beside: Annotated[int, Form()] = 0,
) -> Response:
    """Listen to a take: three lines, and the take under the plan; another one beside it, note under note."""
    found = taking.listen(key, id_)
    other = taking.heard(key, beside) if beside else None
    view = HeardView(found, systems_of(request, desk, desk.open(key).piece), other)
    context = {"view": view, "key": key, "id": id_, "proposed": taking.proposals(key, id_, say)}
    return pages.render(request, "takes/heard.html", context | {"version": desk.open(key).piece.version})


@router.get("/{id_}/notes/{note}")
@in_turn(LongWork.LISTENING)
def show_of_note(
    request: Request,
    key: IdOf,
    id_: TakeId,
    note: Annotated[str, Path(max_length=100)],
    taking: TakingOf,
    pages: PagesOf,
) -> Response:
    """What was heard of one note, and what on the sheet may be looked for because of it."""
    return pages.render(request, "takes/note.html", {"one": OneNote(taking.heard(key, id_), note)})


@router.post("/{id_}/take-over")
@in_turn(LongWork.LISTENING)
def take_over(
    request: Request,
    key: IdOf,
    id_: TakeId,
    version: Annotated[int, Form()],
    what: Annotated[str, Form(max_length=40)],
    taking: TakingOf,
) -> Response:
    """Take something of a take over into the plan."""
    taking.take_over(key, version, id_, what)
    return go_to(request, f"/pieces/{key}")


@router.post("/older")
def put_away_older(
    request: Request, key: IdOf, taking: TakingOf, days: Annotated[int, Form(ge=1, le=3650)] = 30
) -> Response:
    """Put the takes of a piece away that are older than so many days."""
    taking.takes.put_away_older(key, datetime.now().astimezone() - timedelta(days=days))
    return go_to(request, f"/pieces/{key}/takes")


@router.get("/{id_}/times.json")
@in_turn(LongWork.LISTENING)
def show_times(key: IdOf, id_: TakeId, taking: TakingOf) -> Response:
    """When every note was played."""
    view = HeardView(taking.heard(key, id_), ())
    return JSONResponse({"notes": view.times})


@router.get("/{id_}/sound.flac")
def take_sound(key: IdOf, id_: TakeId, taking: TakingOf) -> Response:
    """The recording itself."""
    return Response(taking.takes.sound(taking.takes.take(key, id_)), media_type="audio/flac")


@router.post("/{id_}/put-away")
def put_away_take(request: Request, key: IdOf, id_: TakeId, taking: TakingOf) -> Response:
    """Put a take away."""
    taking.takes.put_away(key, id_)
    return go_to(request, f"/pieces/{key}/takes")
