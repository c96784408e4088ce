"""Glances at what the plan would be: with a fix, or at another tempo."""

from fastapi import APIRouter, Request
from starlette.responses import Response

from pathway.web.shared.deps import DeskOf, IdOf, PagesOf
from pathway.web.shared.room import systems_of
from pathway.web.sheet.ghosts import ghosts_of
from pathway.web.sheet.seen import sheet_view

router = APIRouter(prefix="/pieces/{key}")


@router.get("/ghost")
def show_ghost(request: Request, key: IdOf, note: str, code: str, fix: str, desk: DeskOf, pages: PagesOf) -> Response:
    """What a fix would make of the sheet, before it is taken."""
    other = desk.with_fix(key, note, code, fix).plan
    view = sheet_view(request, desk, desk.open(key), note)
    return pages.render(request, "sheet/ghosts.html", {"ghosts": ghosts_of(view, other)})


@router.get("/preview")
def preview_tempo(
    request: Request,
    key: IdOf,
    tempo: float,
    desk: DeskOf,
    pages: PagesOf,
    first: int = 0,
    last: int = 10**6,
    whole: bool = False,
) -> Response:
    """The lines in view at another tempo; the whole piece is looked at only while the slider rests."""
    systems = systems_of(request, desk, desk.open(key).piece)[max(first, 0) : last + 1]
    seen = () if whole else [note for system in systems for note in system.notes]
    view = sheet_view(request, desk, desk.glance(key, tempo, seen), None)
    view.scope = frozenset(seen)
    context = {"view": view, "systems": view.held_systems(range(max(first, 0), min(last + 1, len(view.systems))))}
    return pages.render(request, "sheet/preview.html", context)


@router.get("/tempi")
def show_tempi(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """From which tempi the bows fit in their order and at ease; asked for after an edit has been shown."""
    return pages.render(request, "sheet/tempi.html", {"view": sheet_view(request, desk, desk.open(key), None)})
