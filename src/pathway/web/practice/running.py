"""A drill while it is played: its page, its tries, its sound, the hand afterwards."""

from datetime import date, datetime, timedelta
from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from pydantic import BaseModel, Field
from starlette.concurrency import run_in_threadpool
from starlette.responses import JSONResponse, Response

from pathway.core.guide.speech import Speech
from pathway.core.practice.drill import AskedBy
from pathway.core.practice.load import HandAfter
from pathway.core.practice.staircase import Verdict
from pathway.core.takes.listening import RATES
from pathway.desk.practising import OpenDrill, Practising, Told, Try
from pathway.errors import NotFound
from pathway.store import ChoiceStore
from pathway.store.summary import summary_of
from pathway.web.practice.stand import Stand
from pathway.web.practice.words import day_told
from pathway.web.shared.deps import MOST_ID, ChoicesOf, PagesOf, PractisingOf, SayOf
from pathway.web.shared.files import as_file, as_sound, as_times
from pathway.web.shared.pages import Pages
from pathway.web.shared.room import room_of
from pathway.web.shared.thumb import draw_thumbnail
from pathway.web.shared.turns import LongWork, in_turn

router = APIRouter(prefix="/practise/drill")
_LATE = timedelta(hours=48)  # a try that the page kept so long is taken as new


class Which(BaseModel):
    """Which drill, and what asks for it."""

    drill: Annotated[str, Field(min_length=1, max_length=400)]
    piece: Annotated[int | None, Field(ge=1, le=MOST_ID)] = None
    why: AskedBy = AskedBy.PLAYER
    what: Annotated[str, Field(max_length=120)] = ""
    bars: Annotated[str, Field(max_length=200)] = ""
    rig: Annotated[str, Field(max_length=100)] = ""

    @property
    def told(self) -> Told:
        """Return what asks for it."""
        return Told(self.why, self.what, tuple(filter(None, self.bars.split(", "))))


class RungShown(Which):
    """One rung of a drill."""

    rung: Annotated[int, Field(ge=0, le=100)] = 0
    fault: bool = False
    version: int = 0  # another address for other sound


class Sent(Which):
    """A try as the page sends it."""

    token: Annotated[str, Field(min_length=8, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
    number: Annotated[int, Field(ge=1, le=500)]
    verdict: Verdict
    seconds: Annotated[float, Field(ge=0, le=14400, allow_inf_nan=False)]
    ago: Annotated[float, Field(ge=0, allow_inf_nan=False)] = 0.0  # since the set was begun [s]


def _drill(practising: Practising, which: Which, choices: ChoiceStore) -> OpenDrill:
    return practising.drill(which.piece, which.drill, which.rig or choices.get().rig)


def _stand(request: Request, practising: Practising, which: Which, choices: ChoiceStore, say: Speech) -> Stand:
    drill = _drill(practising, which, choices)
    day = practising.place_in_day(drill.piece, drill.ask, date.today())
    return Stand(practising, drill, which.told, say, room_of(request), day_told(*day) if day else "")


def _body(request: Request, pages: Pages, stand: Stand) -> Response:
    return pages.render(request, "practice/stand.html", {"stand": stand})


@router.get("")
def show_drill(
    request: Request,
    which: Annotated[Which, Query()],
    practising: PractisingOf,
    choices: ChoicesOf,
    say: SayOf,
    pages: PagesOf,
) -> Response:
    """A drill on the stand."""
    return pages.render(
        request, "practice/run.html", {"stand": _stand(request, practising, which, choices, say), "which": which}
    )


@router.get("/stand")
def show_stand(
    request: Request,
    which: Annotated[Which, Query()],
    practising: PractisingOf,
    choices: ChoicesOf,
    say: SayOf,
    pages: PagesOf,
) -> Response:
    """What stands on the stand now."""
    return _body(request, pages, _stand(request, practising, which, choices, say))


@router.get("/thumb")
def show_thumb(which: Annotated[Which, Query()], practising: PractisingOf, choices: ChoicesOf) -> Response:
    """The bows of a drill at the rung where the player is, small."""
    drill = _drill(practising, which, choices)
    plan = drill.ready.at(practising.climb(drill).rung).plan
    return Response(draw_thumbnail(summary_of(plan).strokes, 150, 44), media_type="text/html")


@router.post("/try")
def keep_try(
    request: Request,
    sent: Annotated[Sent, Form()],
    practising: PractisingOf,
    choices: ChoicesOf,
    say: SayOf,
    pages: PagesOf,
) -> Response:
    """Keep what a try was like, and show where it leads; one that was kept already changes nothing."""
    drill = _drill(practising, sent, choices)
    begun = datetime.now().astimezone() - min(timedelta(seconds=min(sent.ago, 1e6)), _LATE)
    practising.tried(drill, sent.told, Try(sent.token, sent.number, sent.verdict, sent.seconds, begun))
    return _body(request, pages, _stand(request, practising, sent, choices, say))


@router.post("/listen")
async def judge_try(
    request: Request,
    which: Annotated[RungShown, Query()],
    rate: Annotated[int, Query(ge=RATES[0], le=RATES[1])],
    practising: PractisingOf,
    choices: ChoicesOf,
) -> Response:
    """What the microphone says of a try; nothing where that cannot be known: the player may overrule it."""
    pcm = await request.body()
    drill = _drill(practising, which, choices)
    found = await run_in_threadpool(practising.judged, drill, which.rung, pcm, rate)
    if found is None:
        return JSONResponse(
            {"verdict": "", "text": "What this drill is passed by cannot be heard here: say it yourself."}
        )
    return JSONResponse({"verdict": found.verdict.value, "text": found.text})


@router.post("/rung")
def go_to_rung(
    request: Request,
    which: Annotated[RungShown, Form()],
    practising: PractisingOf,
    choices: ChoicesOf,
    say: SayOf,
    pages: PagesOf,
) -> Response:
    """Go to a rung by hand."""
    practising.step_to(_drill(practising, which, choices), which.rung)
    return _body(request, pages, _stand(request, practising, which, choices, say))


class Ended(Which):
    """How a set ended."""

    token: Annotated[str, Field(min_length=8, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
    seconds: Annotated[float, Field(ge=0, le=14400, allow_inf_nan=False)] = 0.0
    hand: HandAfter | None = None
    note: Annotated[str, Field(max_length=1000)] = ""


@router.post("/end")
def end_set(
    request: Request,
    ended: Annotated[Ended, Form()],
    practising: PractisingOf,
    choices: ChoicesOf,
    say: SayOf,
    pages: PagesOf,
) -> Response:
    """Say how the hand was after a set."""
    practising.ended(ended.token, ended.seconds, ended.hand, ended.note)
    return _body(request, pages, _stand(request, practising, ended, choices, say))


@router.get("/times.json")
def show_times(which: Annotated[RungShown, Query()], practising: PractisingOf, choices: ChoicesOf) -> Response:
    """When the beats and notes of a rung fall, and where the bow is."""
    drill = _drill(practising, which, choices)
    return as_times(drill.ready.at(which.rung).plan, which.version)


@router.get("/sound.wav")
@in_turn(LongWork.SOUND)
def hear_rung(which: Annotated[RungShown, Query()], practising: PractisingOf, choices: ChoicesOf) -> Response:
    """A rung as the model sounds it; with its fault, where that is asked for."""
    return as_sound(practising.clip(_drill(practising, which, choices), which.rung, fault=which.fault))


@router.get("/second.wav")
@in_turn(LongWork.SOUND)
def hear_second(which: Annotated[RungShown, Query()], practising: PractisingOf, choices: ChoicesOf) -> Response:
    """The second part of the score, in the bars and at the tempo of a rung."""
    clip = practising.second(_drill(practising, which, choices), which.rung)
    if clip is None:
        raise NotFound("This score has no other part", advice="Bring in the whole score, or take the tempo ladder.")
    return as_sound(clip)


@router.get("/drill.musicxml")
def take_drill(which: Annotated[RungShown, Query()], practising: PractisingOf, choices: ChoicesOf) -> Response:
    """A rung as a score."""
    score = practising.score(_drill(practising, which, choices), which.rung)
    return as_file(score.data, "application/vnd.recordare.musicxml+xml", which.drill, ".musicxml")
