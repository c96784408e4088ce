"""The sheet as a page has it before it: how wide its lines are, which of them are there, how it is looked at."""

import re

from fastapi import Request

from pathway.desk import NARROW, WIDE, Desk, OpenPiece
from pathway.web.sheet.look import Look
from pathway.web.sheet.view import SheetView

ROOMS = {"wide": WIDE, "narrow": NARROW}


def room_named(request: Request) -> str:
    """Return how much room for a line the page has: as it was sent, or as the last page said."""
    said = request.headers.get("Room") or request.cookies.get("room", "")
    return said if said in ROOMS else "wide"


def room_of(request: Request) -> int:
    """Return the width of a system of the page [CSS px]."""
    return ROOMS[room_named(request)]


def _held(request: Request) -> frozenset[int] | None:
    """Return the lines that the page already has; None where it does not say: all of them."""
    said = request.headers.get("Lines")
    return None if said is None else frozenset(numbers_in(said))


def numbers_in(text: str) -> list[int]:
    """Return the numbers of lines in a text, other words left out."""
    return [int(word) for word in re.findall(r"(?<!\S)[0-9]{1,6}(?!\S)", text)]


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
    systems = desk.systems(now.piece, room_of(request))
    note = selected or now.piece.last_note
    return SheetView(now.piece, now.plan, systems, note, asides, _look(request), choices, _held(request))
