"""How much room for an engraved line a page has."""

import re

from fastapi import Request

from pathway.desk import NARROW, WIDE, Desk
from pathway.formats.staves import System
from pathway.store import StoredPiece

AT_ONCE = 3.0  # so long a page waits for its lines before it says that they are being engraved [s]
_ROOMS = {"wide": WIDE, "narrow": NARROW}


def room_named(request: Request) -> str:
    """Return how much room for a line the page has: as it was sent, or as the last page said."""
    said = request.headers.get("Room") or request.cookies.get("room", "")
    return said if said in _ROOMS else "wide"


def room_of(request: Request) -> int:
    """Return the width of a system of the page [CSS px]."""
    return _ROOMS[room_named(request)]


def systems_of(request: Request, desk: Desk, piece: StoredPiece) -> tuple[System, ...]:
    """Return the engraved lines of a piece as wide as the page has room.

    Raises:
        NotYet: a whole page is asked for, and they take long; it can be told so meanwhile.
        ScoreError: they cannot be engraved.
    """
    part_of_a_page = "HX-Request" in request.headers or "Room" in request.headers
    return desk.drawings.of(piece, room_of(request)).systems(None if part_of_a_page else AT_ONCE)


def lines_held(request: Request) -> frozenset[int] | None:
    """Return the lines that the page already has; None where it does not say: all of them."""
    said = request.headers.get("Lines")
    return None if said is None else frozenset(numbers_in(said))


def numbers_in(text: str) -> list[int]:
    """Return the numbers of lines in a text, other words left out."""
    return [int(word) for word in re.findall(r"(?<!\S)[0-9]{1,6}(?!\S)", text)]
