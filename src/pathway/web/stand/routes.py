"""The stand of a piece: its page, its lines as large as asked, and the card of a note that comes from below."""

from typing import Annotated

from fastapi import APIRouter, Path, Query, Request
from starlette.responses import Response

from pathway.web.shared.deps import ChoicesOf, DeskOf, IdOf, PagesOf, SayOf
from pathway.web.sheet.card import NoteCard
from pathway.web.stand.view import RIBBONS, SIGNS_ONLY, STAFF_MM, lines_of, played_order, width_for

router = APIRouter(prefix="/pieces/{key}/stand")


@router.get("")
def show_stand(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf, note: str = "") -> Response:
    """The page; its lines come when it knows how wide it is."""
    now = desk.open(key)
    at = note or now.piece.last_note or now.plan.strokes[0].notes[0]
    return pages.render(request, "stand/stand.html", {"piece": now.piece, "at": at, "sizes": len(STAFF_MM)})


@router.get("/lines")
def show_lines(
    request: Request,
    key: IdOf,
    desk: DeskOf,
    say: SayOf,
    pages: PagesOf,
    wide: Annotated[float, Query(ge=200, le=6000)] = 1000,
    size: Annotated[int, Query(ge=0, lt=len(STAFF_MM))] = 0,
    signs: bool = False,
) -> Response:
    """All lines, with ribbons or with signs only."""
    now = desk.open(key)
    systems = desk.drawings.of(now.piece, width_for(wide, size)).systems()
    aside = desk.notebook.asides(key)
    findings = [finding for finding in now.plan.findings if finding.key not in aside]
    lines = lines_of(now.plan, systems, findings, SIGNS_ONLY if signs else RIBBONS, say)
    order = " ".join(map(str, played_order(now.plan.part, systems)))
    return pages.render(
        request, "stand/lines.html", {"lines": lines, "order": order, "version": now.piece.version, "signs": signs}
    )


@router.get("/notes/{note}")
def show_note(
    request: Request,
    key: IdOf,
    note: Annotated[str, Path(max_length=100)],
    desk: DeskOf,
    choices: ChoicesOf,
    pages: PagesOf,
) -> Response:
    """A note as a sheet from below: its values, why, how, and its sound."""
    now, chosen = desk.open(key), choices.get()
    card = NoteCard(now.plan, now.plan.bowed_note(note), chosen.school, chosen.speech)
    return pages.render(request, "stand/note.html", {"card": card, "piece": now.piece})
