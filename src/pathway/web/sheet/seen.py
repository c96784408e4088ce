"""The sheet as a page has it before it: how wide its lines are, which of them are there, how it is looked at."""

from fastapi import Request

from pathway.core.takes.words import symptoms_of
from pathway.desk import Desk, OpenPiece
from pathway.web.shared.room import lines_held, systems_of
from pathway.web.shared.tracks.look import Look
from pathway.web.sheet.view import SheetView


def _look(request: Request) -> Look:
    """Return how the sheet is looked at: as the page was sent, or as was chosen last."""
    said = request.headers.get("Look")
    if said is not None:
        colour, _, folded = said.partition(" ")
        return Look.of(colour, folded)
    return Look.of(request.cookies.get("colour", ""), request.cookies.get("folded", ""))


def sheet_view(request: Request, desk: Desk, now: OpenPiece, selected: str | None) -> SheetView:
    """The sheet as wide as the page says it has room for."""
    asides = desk.notebook.asides(now.piece.id)
    choices = request.app.state.choices.get()
    systems = systems_of(request, desk, now.piece)
    note = selected or now.piece.last_note
    look, held = _look(request), lines_held(request)
    view = SheetView(now.piece, now.plan, systems, note, asides, look, choices, held, now.told)
    said = request.app.state.taking.takes.said_of(now.piece.id, view.selected)
    if said is not None:
        begun, words = said
        heard = symptoms_of(words)
        view.from_take = (f"{begun.astimezone():%-d %b}", heard) if heard else None
    return view
