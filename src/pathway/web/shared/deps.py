"""What routes take from the app."""

from collections.abc import Callable
from typing import Annotated, TypeVar

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
from pathway.store.away import Away
from pathway.web.shared.pages import Pages

_Part = TypeVar("_Part")


def _held(kind: type[_Part], name: str) -> Callable[[Request], _Part]:
    """Return what finds a part of the app under the name that ``web.app`` gave it."""

    def find(request: Request) -> _Part:
        found = getattr(request.app.state, name)
        assert isinstance(found, kind)
        return found

    return find


def go_to(request: Request, path: str) -> Response:
    """Send the browser to another page, whether it asked itself or htmx did."""
    if request.headers.get("HX-Request"):
        return Response(headers={"HX-Redirect": path})
    return RedirectResponse(path, 303)


MOST_ID = 2**63 - 1  # that the store can hold
IdOf = Annotated[int, Path(ge=-MOST_ID, le=MOST_ID)]


ChoicesOf = Annotated[ChoiceStore, Depends(_held(ChoiceStore, "choices"))]


def _say(choices: ChoicesOf) -> Speech:
    return choices.get().speech


SayOf = Annotated[Speech, Depends(_say)]
EngineOf = Annotated[Engine, Depends(_held(Engine, "engine"))]
PractisingOf = Annotated[Practising, Depends(_held(Practising, "practising"))]
ExchangeOf = Annotated[Exchange, Depends(_held(Exchange, "exchange"))]
SimulatingOf = Annotated[Simulating, Depends(_held(Simulating, "simulating"))]
TakingOf = Annotated[Taking, Depends(_held(Taking, "taking"))]
HearingOf = Annotated[Hearing, Depends(_held(Hearing, "hearing"))]
DeskOf = Annotated[Desk, Depends(_held(Desk, "desk"))]
AwayOf = Annotated[Away, Depends(_held(Away, "away"))]
WaitingOf = Annotated[Waiting, Depends(_held(Waiting, "waiting"))]
PagesOf = Annotated[Pages, Depends(_held(Pages, "pages"))]
