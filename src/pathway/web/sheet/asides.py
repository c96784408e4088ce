"""Findings that are laid aside, with a reason."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from starlette.responses import Response

from pathway.web.shared.deps import DeskOf, IdOf, PagesOf
from pathway.web.sheet.seen import sheet_view

router = APIRouter(prefix="/pieces/{key}")


@router.post("/aside")
def lay_aside(
    request: Request,
    key: IdOf,
    code: Annotated[str, Form(max_length=60)],
    note: Annotated[str, Form(max_length=100)],
    desk: DeskOf,
    pages: PagesOf,
    reason: Annotated[str | None, Form(max_length=300)] = None,
) -> Response:
    """Lay a finding aside with a reason, or take it up again without one."""
    now = desk.open(key)
    if reason is None:
        desk.notebook.bring_back(key, code, note)
    else:
        desk.notebook.lay_aside(key, code, note, reason)
    view = sheet_view(request, desk, now, None)
    return pages.render(request, "sheet/preview.html", {"view": view, "systems": view.systems_of([note])})
