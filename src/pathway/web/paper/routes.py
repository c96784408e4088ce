"""The printed part: a page made for paper, and the same as PDF; the day's drills on paper."""

from importlib.util import find_spec
from typing import Annotated

from fastapi import APIRouter, Depends, Request
from starlette.responses import Response

from pathway.desk import Desk
from pathway.desk.home import BY_SUFFIX
from pathway.web.paper.part import Printed
from pathway.web.paper.pdf import LEGEND, drills_pdf
from pathway.web.paper.practice import printed_drills
from pathway.web.paper.sheet import Paper, Wish
from pathway.web.shared.deps import DeskOf, IdOf, PagesOf, PractisingOf, SayOf
from pathway.web.shared.files import as_file
from pathway.web.shared.turns import LongWork, in_turn

router = APIRouter(prefix="/pieces/{key}")
practice = APIRouter(prefix="/practise/print")


def _wish(
    paper: Paper = Paper.A4, lying: bool = False, strip: bool = True, strings: bool = False, fingers: bool = True
) -> Wish:
    return Wish(paper, lying, strip, strings, fingers)


WishOf = Annotated[Wish, Depends(_wish)]


def _printed(desk: Desk, key: int, wish: Wish, say: SayOf) -> Printed:
    now = desk.open(key)
    systems = desk.drawings.of(now.piece, wish.width).systems()
    aside = desk.notebook.asides(key)
    findings = [finding for finding in now.plan.findings if finding.key not in aside]
    return Printed.of(now.plan, systems, findings, wish, say, now.piece.title)


@router.get("/print")
def show_print(request: Request, key: IdOf, desk: DeskOf, wish: WishOf, say: SayOf, pages: PagesOf) -> Response:
    """The part as pages of paper, and what can be set about them."""
    printed = _printed(desk, key, wish, say)
    legend = LEGEND.format(unit="centimetres" if printed.unit == "cm" else "inches")
    context = {"piece": desk.open(key).piece, "printed": printed, "wish": wish, "legend": legend, "papers": list(Paper)}
    return pages.render(request, "paper/part.html", context | {"can_pdf": find_spec("typst") is not None})


@router.get("/part.pdf")
@in_turn(LongWork.LISTENING)
def take_pdf(key: IdOf, desk: DeskOf, wish: WishOf, say: SayOf) -> Response:
    """The part as PDF."""
    piece = desk.open(key).piece
    data = _printed(desk, key, wish, say).pdf
    return as_file(data, BY_SUFFIX[".pdf"].kind, f"{piece.title} {piece.part_name}", ".pdf")


@router.get("/sheet.svg")
def take_picture(key: IdOf, desk: DeskOf, wish: WishOf, say: SayOf) -> Response:
    """The part as one picture that stands alone."""
    piece = desk.open(key).piece
    data = _printed(desk, key, wish, say).svg
    return as_file(data, BY_SUFFIX[".svg"].kind, f"{piece.title} {piece.part_name}", ".svg")


@practice.get("")
def show_drills(
    request: Request, practising: PractisingOf, desk: DeskOf, wish: WishOf, say: SayOf, pages: PagesOf
) -> Response:
    """The day's drills as a page of paper."""
    drills = printed_drills(practising, desk, wish, say)
    return pages.render(request, "paper/drills.html", {"drills": drills, "wish": wish, "can_pdf": find_spec("typst")})


@practice.get("/drills.pdf")
def take_drills(practising: PractisingOf, desk: DeskOf, wish: WishOf, say: SayOf) -> Response:
    """The day's drills as PDF."""
    drills = [(one.name, one.watch, one.lines) for one in printed_drills(practising, desk, wish, say)]
    return as_file(drills_pdf("Today", drills, wish), "application/pdf", "today", "-drills.pdf")
