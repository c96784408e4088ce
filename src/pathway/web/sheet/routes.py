"""The sheet: a piece's plan under its engraved line, edits, and what can be taken home."""

from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from pydantic import BaseModel, Field
from starlette.concurrency import run_in_threadpool
from starlette.responses import Response, StreamingResponse

from pathway.core.planning.edits import Edit, What
from pathway.core.planning.hand_ways import costs_now
from pathway.core.sound.otherwise import sounds_otherwise
from pathway.desk import HANDS, AtTempo, ByHand, Desk, Edited, HelpTaken
from pathway.errors import NotYet
from pathway.web.shared.deps import MOST_ID, DeskOf, IdOf, PagesOf, go_to
from pathway.web.shared.live import changes
from pathway.web.shared.pages import Pages
from pathway.web.shared.room import numbers_in, room_named, room_of
from pathway.web.sheet.changes import what_changed
from pathway.web.sheet.seen import sheet_view

router = APIRouter(prefix="/pieces/{key}")
Variant = Annotated[int, Query(ge=0, le=MOST_ID)]


@router.get("")
def show_sheet(
    request: Request, key: IdOf, desk: DeskOf, pages: PagesOf, note: str | None = None, variant: Variant = 0
) -> Response:
    """The sheet of one piece, opened where it was left; with a variant laid over it if wished."""
    view = sheet_view(request, desk, desk.open(key), note)
    context = {"view": view, "room_for_lines": room_named(request), "laid": variant}
    return pages.render(request, "sheet/sheet.html", context)


@router.get("/live")
async def tell_changes(request: Request, key: IdOf, desk: DeskOf) -> Response:
    """Server-sent events: what changes in a piece, on whichever device."""
    await run_in_threadpool(desk.pieces.where, key)  # or it is not there
    device, devices = request.scope.get("device"), request.app.state.sharing.devices

    async def gone() -> bool:  # or shut out meanwhile, or the app ends
        shut_out = device is not None and device not in devices
        return shut_out or request.app.state.ends() or await request.is_disconnected()

    events = changes(desk.pieces, key, gone)
    return StreamingResponse(events, media_type="text/event-stream", headers={"Cache-Control": "no-store"})


@router.get("/now")
def show_now(
    request: Request, key: IdOf, desk: DeskOf, pages: PagesOf, note: Annotated[str | None, Query(max_length=100)] = None
) -> Response:
    """Everything of the sheet as it is now, for a page that has fallen behind."""
    now = desk.open(key)
    return edited(request, pages, desk, Edited(now, now.plan), note, whole=True)


@router.post("/here")
def stand_here(key: IdOf, desk: DeskOf, note: Annotated[str | None, Form(max_length=100)] = None) -> Response:
    """Remember that a piece is open, and the note at which the player stands."""
    desk.stand(key, note)
    return Response(status_code=204)


@router.get("/engraving")
def wait_for_lines(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """How far the lines of a piece are; the page is loaded anew when they are there."""
    drawing = desk.drawings.of(desk.open(key).piece, room_of(request))
    try:
        drawing.systems(within=0)
    except NotYet:
        return pages.render(request, "shared/engraving_bar.html", {"key": key, "drawing": drawing})
    return Response(headers={"HX-Refresh": "true"})


@router.post("/engraving/stop")
def stop_engraving(request: Request, key: IdOf, desk: DeskOf) -> Response:
    """Do not wait for the lines of a piece any longer."""
    desk.stop_engraving()
    return go_to(request, "/")


@router.get("/lines")
def show_lines(
    request: Request, key: IdOf, numbers: Annotated[str, Query(max_length=20_000)], desk: DeskOf, pages: PagesOf
) -> Response:
    """Lines that have come near the view, as they are now."""
    view = sheet_view(request, desk, desk.open(key), None)
    wanted = sorted(set(numbers_in(numbers)) & set(range(len(view.systems))))
    return pages.render(request, "sheet/lines.html", {"systems": [view.system(number) for number in wanted]})


@router.get("/notes/{note}")
def show_note(request: Request, key: IdOf, note: str, desk: DeskOf, pages: PagesOf) -> Response:
    """The card of one note."""
    return pages.render(request, "sheet/card.html", {"view": sheet_view(request, desk, desk.open(key), note)})


@router.get("/notes/{note}/helps")
def show_helps(request: Request, key: IdOf, note: str, desk: DeskOf, pages: PagesOf) -> Response:
    """What helps against the findings of a note, each tried on the plan."""
    found, plan = desk.helps(key, note), desk.open(key).plan
    audible = {help.finding.code for help in found if sounds_otherwise(plan, help.finding.place)}
    return pages.render(request, "sheet/helps.html", {"helps": found, "note": note, "audible": audible})


@router.get("/notes/{note}/hand")
def show_hand_ways(
    request: Request, key: IdOf, note: str, last: Annotated[str, Query(max_length=60)], desk: DeskOf, pages: PagesOf
) -> Response:
    """Other ways for the left hand through some notes, each planned, with what it costs the bow."""
    ways, plan = desk.hand_ways(key, note, last), desk.open(key).plan
    context = {"ways": ways, "note": note, "code": f"{HANDS}:{note}:{last}", "now": costs_now(plan, note, last)}
    return pages.render(request, "sheet/hand.html", context)


@router.post("/fix")
def take_fix(
    request: Request,
    key: IdOf,
    note: Annotated[str, Form()],
    version: Annotated[int, Form()],
    code: Annotated[str, Form()],
    fix: Annotated[str, Form()],
    desk: DeskOf,
    pages: PagesOf,
) -> Response:
    """Take a fix of a finding."""
    return edited(
        request,
        pages,
        desk,
        desk.apply(key, version, HelpTaken(note, lambda: desk.with_fix(key, note, code, fix))),
        note,
    )


class EditForm(BaseModel):
    """What the hand asks for."""

    notes: Annotated[str, Field(max_length=200_000)]
    version: int
    what: What
    value: Annotated[str | None, Field(max_length=60)] = None
    step: Annotated[float | None, Field(ge=-100, le=100)] = None
    note: str | None = None  # that stays selected

    @property
    def edit(self) -> Edit:
        """Return it as the core takes it."""
        return Edit(self.what, tuple(self.notes.split()), self.value or None, self.step)


@router.post("/edit")
def edit(request: Request, key: IdOf, form: Annotated[EditForm, Form()], desk: DeskOf, pages: PagesOf) -> Response:
    """Set something of some notes or their strokes, move it by a step, or leave it to the plan again."""
    return edited(request, pages, desk, desk.apply(key, form.version, ByHand(form.edit)), form.note)


@router.post("/tempo")
def set_tempo(
    request: Request,
    key: IdOf,
    tempo: Annotated[float, Form()],
    version: Annotated[int, Form()],
    desk: DeskOf,
    pages: PagesOf,
    note: Annotated[str | None, Form()] = None,
) -> Response:
    """Plan the piece at another tempo; every line is sent, since glances at others may lie over them."""
    return edited(request, pages, desk, desk.apply(key, version, AtTempo(tempo)), note, whole=True)


def edited(
    request: Request, pages: Pages, desk: Desk, change: Edited, note: str | None, *, whole: bool = False
) -> Response:
    """What an edit changed on the page, as fragments for their places."""
    view = sheet_view(request, desk, change.now, note)
    whole = whole or change.now.plan.rig != change.before.rig
    context = {
        "view": view,
        "systems": view.held_systems() if whole else view.changed_since(change.before),
        "change": what_changed(change.before, change.now.plan, view.choices.speech),
        "other_findings": whole or change.before.findings != change.now.plan.findings,
    }
    return pages.render(request, "sheet/edited.html", context)
