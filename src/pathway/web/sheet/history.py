"""The history: every change of a piece, to go back to."""

from enum import StrEnum
from typing import Annotated

from fastapi import APIRouter, Form, Request
from starlette.responses import Response

from pathway.web.shared.deps import DeskOf, IdOf, PagesOf
from pathway.web.sheet.routes import edited

router = APIRouter(prefix="/pieces/{key}")


class Way(StrEnum):
    """The two ways through the history."""

    UNDO = "undo"
    REDO = "redo"


@router.post("/history/{way}")
def step_history(
    request: Request,
    key: IdOf,
    way: Way,
    version: Annotated[int, Form()],
    desk: DeskOf,
    pages: PagesOf,
    note: Annotated[str | None, Form()] = None,
) -> Response:
    """Undo or redo."""
    return edited(request, pages, desk, desk.step(key, version, -1 if way is Way.UNDO else 1), note)


@router.get("/history")
def show_history(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """Every change of a piece, to go back to."""
    return pages.render(request, "sheet/history_list.html", {"entries": desk.pieces.history(key)[::-1]})


@router.post("/history/to/{number}")
def rewind(
    request: Request, key: IdOf, number: int, version: Annotated[int, Form()], desk: DeskOf, pages: PagesOf
) -> Response:
    """Go back, or forward, to a state of the history."""
    return edited(request, pages, desk, desk.rewind(key, version, number), None)
