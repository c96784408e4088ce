"""What routes take from the app."""

from typing import Annotated, cast

from fastapi import Depends, Path, Request
from sqlalchemy import Engine
from starlette.responses import RedirectResponse, Response

from pathway.core.guide.speech import Speech
from pathway.desk import Desk
from pathway.desk.exchange import Exchange
from pathway.desk.hearing import Hearing
from pathway.desk.practising import Practising
from pathway.desk.simulating import Simulating
from pathway.desk.taking import Taking
from pathway.store import ChoiceStore, Waiting
from pathway.web.shared.pages import Pages


def _desk(request: Request) -> Desk:
    return cast(Desk, request.app.state.desk)


def _choices(request: Request) -> ChoiceStore:
    return cast(ChoiceStore, request.app.state.choices)


def _hearing(request: Request) -> Hearing:
    return cast(Hearing, request.app.state.hearing)


def _practising(request: Request) -> Practising:
    return cast(Practising, request.app.state.practising)


def _taking(request: Request) -> Taking:
    return cast(Taking, request.app.state.taking)


def _exchange(request: Request) -> Exchange:
    return cast(Exchange, request.app.state.exchange)


def _simulating(request: Request) -> Simulating:
    return cast(Simulating, request.app.state.simulating)


def _engine(request: Request) -> Engine:
    return cast(Engine, request.app.state.engine)


def _waiting(request: Request) -> Waiting:
    found: Waiting = request.app.state.waiting
    return found


def _pages(request: Request) -> Pages:
    return cast(Pages, request.app.state.pages)


def go_to(request: Request, path: str) -> Response:
    """Send the browser to another page, whether it asked itself or htmx did."""
    if request.headers.get("HX-Request"):
        return Response(headers={"HX-Redirect": path})
    return RedirectResponse(path, 303)


MOST_ID = 2**63 - 1  # that the store can hold
IdOf = Annotated[int, Path(ge=-MOST_ID, le=MOST_ID)]


def _say(request: Request) -> Speech:
    return _choices(request).get().speech


SayOf = Annotated[Speech, Depends(_say)]
EngineOf = Annotated[Engine, Depends(_engine)]
PractisingOf = Annotated[Practising, Depends(_practising)]
ExchangeOf = Annotated[Exchange, Depends(_exchange)]
SimulatingOf = Annotated[Simulating, Depends(_simulating)]
TakingOf = Annotated[Taking, Depends(_taking)]
HearingOf = Annotated[Hearing, Depends(_hearing)]
DeskOf = Annotated[Desk, Depends(_desk)]
ChoicesOf = Annotated[ChoiceStore, Depends(_choices)]
WaitingOf = Annotated[Waiting, Depends(_waiting)]
PagesOf = Annotated[Pages, Depends(_pages)]
