"""What lies beside a plan: ghosts, what is heard, findings laid aside, the history, variants, the beat."""

from typing import Annotated

from fastapi import APIRouter, Form, Path, Request
from starlette.responses import Response

from pathway.core.planning.advice.symptoms import Heard
from pathway.desk import Desk
from pathway.web.shared.deps import DeskOf, IdOf, PagesOf
from pathway.web.shared.pages import Pages
from pathway.web.shared.room import systems_of
from pathway.web.sheet.compare import Comparison, Other
from pathway.web.sheet.diagnosis import Diagnosis
from pathway.web.sheet.ghosts import ghosts_of
from pathway.web.sheet.routes import edited
from pathway.web.sheet.seen import sheet_view

router = APIRouter(prefix="/pieces/{key}")


@router.get("/ghost")
def show_ghost(request: Request, key: IdOf, note: str, code: str, fix: str, desk: DeskOf, pages: PagesOf) -> Response:
    """What a fix would make of the sheet, before it is taken."""
    other = desk.with_fix(key, note, code, fix).plan
    view = sheet_view(request, desk, desk.open(key), note)
    return pages.render(request, "sheet/ghosts.html", {"ghosts": ghosts_of(view, other)})


@router.get("/notes/{note}/hear")
def hear(request: Request, key: IdOf, note: str, heard: Heard, desk: DeskOf, pages: PagesOf) -> Response:
    """What may cause what is heard on a note, the likeliest first."""
    return pages.render(request, "sheet/causes.html", {"diagnosis": Diagnosis(desk, key, note, heard)})


@router.post("/notes/{note}/hear")
def choose_cause(
    request: Request,
    key: IdOf,
    note: str,
    heard: Annotated[Heard, Form()],
    cause: Annotated[str, Form(max_length=60)],
    desk: DeskOf,
    pages: PagesOf,
) -> Response:
    """Write down which cause it was, and say what helps against it."""
    diagnosis = Diagnosis(desk, key, note, heard, cause)
    desk.notebook.hear(key, note, heard.value, diagnosis.confirmed.key)
    return pages.render(request, "sheet/causes.html", {"diagnosis": diagnosis})


@router.post("/relief")
def relieve(
    request: Request,
    key: IdOf,
    note: Annotated[str, Form(max_length=100)],
    version: Annotated[int, Form()],
    heard: Annotated[Heard, Form()],
    cause: Annotated[str, Form(max_length=60)],
    fix: Annotated[str, Form(max_length=60)],
    desk: DeskOf,
    pages: PagesOf,
) -> Response:
    """Take a change against a cause of what is heard."""
    confirmed = Diagnosis(desk, key, note, heard, cause).confirmed
    return edited(request, pages, desk, desk.relieve(key, version, note, confirmed, fix), note)


@router.post("/aside")
def lay_aside(
    request: Request,
    key: IdOf,
    code: Annotated[str, Form(max_length=60)],
    note: Annotated[str, Form(max_length=100)],
    desk: DeskOf,
    pages: PagesOf,
    reason: Annotated[str | None, Form(max_length=300)] = None,
) -> Response:
    """Lay a finding aside with a reason, or take it up again without one."""
    now = desk.open(key)
    if reason is None:
        desk.notebook.bring_back(key, code, note)
    else:
        desk.notebook.lay_aside(key, code, note, reason)
    view = sheet_view(request, desk, now, None)
    return pages.render(request, "sheet/preview.html", {"view": view, "systems": view.systems_of([note])})


@router.get("/history")
def show_history(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """Every change of a piece, to go back to."""
    return pages.render(request, "sheet/history_list.html", {"entries": desk.pieces.history(key)[::-1]})


@router.post("/history/to/{number}")
def rewind(
    request: Request, key: IdOf, number: int, version: Annotated[int, Form()], desk: DeskOf, pages: PagesOf
) -> Response:
    """Go back, or forward, to a state of the history."""
    return edited(request, pages, desk, desk.rewind(key, version, number), None)


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
    desk.notebook.let_go(key, id_)
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
    return edited(request, pages, desk, desk.take_variant(key, version, id_), None)


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
    return edited(request, pages, desk, desk.take_bars(key, version, other, variant.name, [bar]), None)


@router.get("/anew/compare")
def compare_anew(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """What planning anew with every wish kept would make of the sheet."""
    return _laid_over(request, key, desk, pages, Other("the one planned anew", "anew", desk.anew(key)))


@router.post("/anew/take")
def take_anew(request: Request, key: IdOf, version: Annotated[int, Form()], desk: DeskOf, pages: PagesOf) -> Response:
    """Plan the piece anew, every wish kept."""
    return edited(request, pages, desk, desk.take_anew(key, version), None)


def _laid_over(request: Request, key: int, desk: Desk, pages: Pages, other: Other) -> Response:
    view = sheet_view(request, desk, desk.open(key), None)
    context = {"ghosts": ghosts_of(view, other.plan), "comparison": Comparison(view.plan, other.plan), "other": other}
    return pages.render(request, "sheet/compare.html", context)


@router.get("/preview")
def preview_tempo(
    request: Request,
    key: IdOf,
    tempo: float,
    desk: DeskOf,
    pages: PagesOf,
    first: int = 0,
    last: int = 10**6,
    whole: bool = False,
) -> Response:
    """The lines in view at another tempo; the whole piece is looked at only while the slider rests."""
    systems = systems_of(request, desk, desk.open(key).piece)[max(first, 0) : last + 1]
    seen = () if whole else [note for system in systems for note in system.notes]
    view = sheet_view(request, desk, desk.glance(key, tempo, seen), None)
    view.scope = frozenset(seen)
    context = {"view": view, "systems": view.held_systems(range(max(first, 0), min(last + 1, len(view.systems))))}
    return pages.render(request, "sheet/preview.html", context)


@router.get("/tempi")
def show_tempi(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """From which tempi the bows fit in their order and at ease; asked for after an edit has been shown."""
    return pages.render(request, "sheet/tempi.html", {"view": sheet_view(request, desk, desk.open(key), None)})
