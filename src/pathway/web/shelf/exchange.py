"""Pieces to others and back: the file of a piece, a newer edition, another name, bowings of other parts."""

from typing import Annotated

from fastapi import APIRouter, Form, Request, UploadFile
from starlette.responses import Response

from pathway.desk.exchange import BroughtPiece
from pathway.web.shared.deps import DeskOf, ExchangeOf, IdOf, PagesOf, WaitingOf, go_to
from pathway.web.shared.files import as_file
from pathway.web.shared.turns import LongWork, in_turn
from pathway.web.shelf.as_read import AsRead

router = APIRouter()


@router.get("/pieces/{key}/piece.pathway")
@in_turn(LongWork.LISTENING)
def take_file(
    key: IdOf, desk: DeskOf, exchange: ExchangeOf, log: bool = False, takes: bool = False, history: bool = False
) -> Response:
    """The piece as one file of open parts."""
    piece = desk.open(key).piece
    data = exchange.pack(key, log=log, takes=takes, history=history)
    return as_file(data, "application/zip", f"{piece.title} {piece.part_name}", ".pathway")


@router.post("/imports/{token}/new")
@in_turn(LongWork.READING)
def take_new(request: Request, token: str, waiting: WaitingOf, exchange: ExchangeOf) -> Response:
    """Put what a file holds on the shelf as a piece of its own."""
    _, data = waiting.find(token)
    key = exchange.take_new(data)
    waiting.drop(token)
    return go_to(request, f"/pieces/{key}")


@router.post("/imports/{token}/variant/{key}")
@in_turn(LongWork.READING)
def take_variant(
    request: Request, token: str, key: IdOf, waiting: WaitingOf, exchange: ExchangeOf, pages: PagesOf
) -> Response:
    """Lay the bowing of a file beside a piece with the same notes."""
    _, data = waiting.find(token)
    brought = exchange.take_variant(data, key)
    waiting.drop(token)
    return _told(request, pages, brought, key, f"/pieces/{key}?variant={brought.id}")


@router.post("/pieces/{key}/name")
def rename(
    request: Request,
    key: IdOf,
    title: Annotated[str, Form(max_length=300)],
    part_name: Annotated[str, Form(max_length=200)],
    desk: DeskOf,
) -> Response:
    """Give a piece and its part other names."""
    desk.rename(key, title, part_name)
    return go_to(request, f"/pieces/{key}/about")


@router.get("/pieces/{key}/about")
def show_about(request: Request, key: IdOf, desk: DeskOf, exchange: ExchangeOf, pages: PagesOf) -> Response:
    """What a piece is called, where it came from, and how it goes to others."""
    now = desk.open(key)
    context = {"piece": now.piece, "siblings": exchange.siblings(key), "read": AsRead.of(now.plan)}
    return pages.render(request, "shelf/about.html", context)


@router.post("/pieces/{key}/edition")
@in_turn(LongWork.READING)
def renew(
    request: Request,
    key: IdOf,
    file: UploadFile,
    exchange: ExchangeOf,
    pages: PagesOf,
    version: Annotated[int | None, Form()] = None,
) -> Response:
    """Bring in a newer edition of the score; all that finds its notes again goes along."""
    brought = exchange.renew(key, file.file.read(), file.filename or "score", version)
    return _told(request, pages, brought, key, f"/pieces/{brought.id}")


@router.post("/pieces/{key}/document")
@in_turn(LongWork.READING)
def take_document(request: Request, key: IdOf, file: UploadFile, exchange: ExchangeOf, pages: PagesOf) -> Response:
    """Lay what a wish file or a plan document asks for beside a piece."""
    brought = exchange.take_document(key, file.file.read(), file.filename or "a file")
    return _told(request, pages, brought, key, f"/pieces/{key}?variant={brought.id}")


@router.post("/pieces/{key}/after/{other}")
@in_turn(LongWork.READING)
def bow_after(request: Request, key: IdOf, other: IdOf, exchange: ExchangeOf, pages: PagesOf) -> Response:
    """Lay the bowings of another part of the score beside a piece, where they agree."""
    brought = exchange.bow_after(key, other)
    return _told(request, pages, brought, key, f"/pieces/{key}?variant={brought.id}")


def _told(request: Request, pages: PagesOf, brought: BroughtPiece, key: int, to: str) -> Response:
    """Say what did not find its place, or go on at once where all did."""
    if not brought.lost and not brought.left:
        return go_to(request, to)
    return pages.render(request, "shelf/brought.html", {"brought": brought, "key": key, "to": to})
