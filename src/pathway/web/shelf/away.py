"""What was put away: one list, back again or gone for good."""

from typing import Annotated

from fastapi import APIRouter, Form, Path, Request
from starlette.responses import Response

from pathway.store.away import KEPT_FOR, AwayKind
from pathway.web.shared.deps import AwayOf, PagesOf, go_to

router = APIRouter(prefix="/put-away")
Id = Annotated[str, Path(pattern=r"^[A-Za-z0-9_-]{1,40}$")]
_SHOWN = 200
WORDS = {
    AwayKind.PIECE: "Piece",
    AwayKind.TAKE: "Take",
    AwayKind.VARIANT: "Variant",
    AwayKind.RIG: "Rig",
    AwayKind.SET: "Set of the log",
    AwayKind.RECORDING: "Recording, never finished",
}


@router.get("")
def show_away(request: Request, away: AwayOf, pages: PagesOf) -> Response:
    """Everything that was put away, the last first."""
    found = away.all
    context = {"things": found[:_SHOWN], "more": len(found) - _SHOWN, "words": WORDS, "days": KEPT_FOR.days}
    return pages.render(request, "shelf/away.html", context)


@router.post("/{kind}/{id_}/back")
def bring_back(request: Request, kind: AwayKind, id_: Id, away: AwayOf) -> Response:
    """Bring something back."""
    away.bring_back(kind, id_)
    return go_to(request, "/put-away")


@router.post("/{kind}/{id_}/gone")
def let_go(
    request: Request, kind: AwayKind, id_: Id, away: AwayOf, pages: PagesOf, sure: Annotated[bool, Form()] = False
) -> Response:
    """Let something go for good, once that was asked."""
    if not sure:
        thing = next((one for one in away.all if (one.kind, one.id) == (kind, id_)), None)
        return pages.render(request, "shelf/gone.html", {"thing": thing, "words": WORDS})
    away.for_good(kind, id_)
    return go_to(request, "/put-away")
