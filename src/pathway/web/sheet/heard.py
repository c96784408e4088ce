"""What is heard on a note: its causes, and what helps against the one that it was."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from starlette.responses import Response

from pathway.core.planning.advice.symptoms import Heard
from pathway.desk import Relieved
from pathway.web.shared.deps import DeskOf, IdOf, PagesOf
from pathway.web.sheet.diagnosis import Diagnosis
from pathway.web.sheet.routes import edited

router = APIRouter(prefix="/pieces/{key}")


@router.get("/notes/{note}/hear")
def hear(request: Request, key: IdOf, note: str, heard: Heard, desk: DeskOf, pages: PagesOf) -> Response:
    """What may cause what is heard on a note, the likeliest first."""
    return pages.render(request, "sheet/causes.html", {"diagnosis": Diagnosis(desk, key, note, heard)})


@router.post("/notes/{note}/hear")
def choose_cause(
    request: Request,
    key: IdOf,
    note: str,
    heard: Annotated[Heard, Form()],
    cause: Annotated[str, Form(max_length=60)],
    desk: DeskOf,
    pages: PagesOf,
) -> Response:
    """Write down which cause it was, and say what helps against it."""
    diagnosis = Diagnosis(desk, key, note, heard, cause)
    desk.notebook.hear(key, note, heard.value, diagnosis.confirmed.key)
    return pages.render(request, "sheet/causes.html", {"diagnosis": diagnosis})


@router.post("/relief")
def relieve(
    request: Request,
    key: IdOf,
    note: Annotated[str, Form(max_length=100)],
    version: Annotated[int, Form()],
    heard: Annotated[Heard, Form()],
    cause: Annotated[str, Form(max_length=60)],
    fix: Annotated[str, Form(max_length=60)],
    desk: DeskOf,
    pages: PagesOf,
) -> Response:
    """Take a change against a cause of what is heard."""
    confirmed = Diagnosis(desk, key, note, heard, cause).confirmed
    return edited(request, pages, desk, desk.apply(key, version, Relieved(note, confirmed, fix)), note)
