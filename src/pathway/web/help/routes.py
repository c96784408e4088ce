"""Help for players: getting started, schools and their differences, hand causes, cautions."""

from fastapi import APIRouter, Request
from starlette.responses import Response

from pathway.core.guide.differences import CAUTIONS, DISAGREEMENTS, HAND_CAUSES, ChosenIn
from pathway.web.help.keys import AT_A_DRILL, ON_THE_SHEET
from pathway.web.shared.deps import PagesOf

router = APIRouter()
PAGES = {
    ChosenIn.SETTINGS: "/settings",
    ChosenIn.RIGS: "/rigs",
    ChosenIn.REACH: "/rigs/violin/reach",
    ChosenIn.BENCH: "/bench",
    ChosenIn.STACCATO: "/strokes/staccato",
    ChosenIn.HELP: "/help",
}


@router.get("/help")
def show_help(request: Request, pages: PagesOf) -> Response:
    """How to use the app, for players."""
    return pages.render(request, "help/help.html", {"cautions": CAUTIONS})


@router.get("/help/schools")
def show_schools(request: Request, pages: PagesOf) -> Response:
    """Where players disagree, and what each choice changes."""
    at_hand = {where: path for where, path in PAGES.items() if where is not ChosenIn.SETTINGS or not _far(request)}
    context = {"disagreements": DISAGREEMENTS, "causes": HAND_CAUSES, "pages": at_hand}
    return pages.render(request, "help/schools.html", context)


def _far(request: Request) -> bool:
    """Whether a device asks for whom the settings are not."""
    return bool(request.scope.get("device"))


@router.get("/keys")
def show_keys(request: Request, pages: PagesOf) -> Response:
    """The keys of the sheet: a page, or over the sheet."""
    page = "help/key_list.html" if "HX-Request" in request.headers else "help/keys.html"
    return pages.render(request, page, {"tables": (("", ON_THE_SHEET), ("Keys at a drill", AT_A_DRILL))})
