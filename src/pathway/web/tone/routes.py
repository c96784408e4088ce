"""The station Tone: the tone map of a note, and the balance."""

from fastapi import APIRouter, Request
from starlette.responses import Response

from pathway.web.shared.deps import DeskOf, IdOf, PagesOf, SayOf
from pathway.web.tone.view import ToneView

router = APIRouter(prefix="/pieces/{key}/tone")


@router.get("")
def show_tone(
    request: Request, key: IdOf, desk: DeskOf, say: SayOf, pages: PagesOf, note: str | None = None
) -> Response:
    """The tone of a piece; of the note where the player stands, or another one."""
    now = desk.open(key)
    return pages.render(request, "tone/tone.html", {"view": ToneView(now.piece, now.plan, note, say)})


@router.get("/seen")
def show_string(request: Request, key: IdOf, desk: DeskOf, say: SayOf, pages: PagesOf, note: str) -> Response:
    """How the string moves under the bow in a note: as planned, too light, too heavy."""
    now = desk.open(key)
    now.plan.bowed_note(note)
    return pages.render(request, "tone/seen.html", {"view": ToneView(now.piece, now.plan, note, say)})
