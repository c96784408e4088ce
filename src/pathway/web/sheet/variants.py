"""Other plans of a piece: variants, and the one planned anew; laid over the sheet, taken whole or by the bar."""

from typing import Annotated

from fastapi import APIRouter, Form, Path, Request
from starlette.responses import Response

from pathway.desk import Anew, BarsTaken, Desk, VariantTaken
from pathway.web.shared.deps import DeskOf, IdOf, PagesOf
from pathway.web.shared.pages import Pages
from pathway.web.sheet.compare import Comparison, Other
from pathway.web.sheet.ghosts import ghosts_of
from pathway.web.sheet.routes import edited
from pathway.web.sheet.seen import sheet_view

router = APIRouter(prefix="/pieces/{key}")


@router.get("/variants")
def show_variants(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """The variants of a piece."""
    return pages.render(request, "sheet/variants.html", {"variants": desk.notebook.variants(key), "key": key})


@router.post("/variants")
def keep_variant(
    request: Request, key: IdOf, name: Annotated[str, Form(max_length=100)], desk: DeskOf, pages: PagesOf
) -> Response:
    """Keep the plan as it is now under a name."""
    desk.notebook.keep(key, name.strip(), desk.open(key).piece.revision)
    return show_variants(request, key, desk, pages)


@router.post("/variants/{id_}/name")
def name_variant(
    request: Request, key: IdOf, id_: IdOf, name: Annotated[str, Form(max_length=100)], desk: DeskOf, pages: PagesOf
) -> Response:
    """Give a variant another name."""
    desk.notebook.rename(key, id_, name.strip())
    return show_variants(request, key, desk, pages)


@router.post("/variants/{id_}/forget")
def forget_variant(request: Request, key: IdOf, id_: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """Let a variant go."""
    desk.notebook.put_away(key, id_)
    return show_variants(request, key, desk, pages)


@router.get("/variants/{id_}/compare")
def compare(request: Request, key: IdOf, id_: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """A variant beside the plan: its ribbons over the sheet, its figures beside the plan's."""
    variant, other = desk.variant(key, id_)
    return _laid_over(request, key, desk, pages, Other(variant.name, f"variants/{id_}", other))


@router.post("/variants/{id_}/take")
def take_variant(
    request: Request, key: IdOf, id_: IdOf, version: Annotated[int, Form()], desk: DeskOf, pages: PagesOf
) -> Response:
    """Make a variant the plan; the plan before it stays in the history."""
    return edited(request, pages, desk, desk.apply(key, version, VariantTaken(lambda: desk.variant(key, id_))), None)


@router.post("/variants/{id_}/take/{bar}")
def take_bar(
    request: Request,
    key: IdOf,
    id_: IdOf,
    bar: Annotated[str, Path(max_length=20)],
    version: Annotated[int, Form()],
    desk: DeskOf,
    pages: PagesOf,
) -> Response:
    """Take one bar of a variant; what is wished elsewhere stays, and the bows around it follow."""
    variant, other = desk.variant(key, id_)
    return edited(request, pages, desk, desk.apply(key, version, BarsTaken(other, variant.name, [bar])), None)


@router.get("/anew/compare")
def compare_anew(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """What planning anew with every wish kept would make of the sheet."""
    return _laid_over(request, key, desk, pages, Other("the one planned anew", "anew", desk.anew(key)))


@router.post("/anew/take")
def take_anew(request: Request, key: IdOf, version: Annotated[int, Form()], desk: DeskOf, pages: PagesOf) -> Response:
    """Plan the piece anew, every wish kept."""
    return edited(request, pages, desk, desk.apply(key, version, Anew(lambda: desk.anew(key))), None)


def _laid_over(request: Request, key: int, desk: Desk, pages: Pages, other: Other) -> Response:
    view = sheet_view(request, desk, desk.open(key), None)
    context = {"ghosts": ghosts_of(view, other.plan), "comparison": Comparison(view.plan, other.plan), "other": other}
    return pages.render(request, "sheet/compare.html", context)
