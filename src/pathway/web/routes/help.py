"""Help for players: getting started, schools and their differences, hand causes, cautions."""

from fastapi import APIRouter, Request
from starlette.responses import Response

from pathway.core.technique.teaching import CAUTIONS, DISAGREEMENTS, HAND_CAUSES
from pathway.web.routes.parts import PagesOf

router = APIRouter(prefix="/help")


@router.get("")
def show_help(request: Request, pages: PagesOf) -> Response:
    """How to use the app, for players."""
    return pages.render(request, "help.html", {"cautions": CAUTIONS})


@router.get("/schools")
def show_schools(request: Request, pages: PagesOf) -> Response:
    """Where practitioners disagree, and what each choice changes."""
    return pages.render(request, "schools.html", {"disagreements": DISAGREEMENTS, "causes": HAND_CAUSES})
