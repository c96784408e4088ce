"""Which drills there are: for a note and what is heard on it, for a stroke type, or chosen freely."""

from typing import Annotated

from fastapi import APIRouter, Query, Request
from starlette.responses import Response

from pathway.core.planning.advice.symptoms import Heard
from pathway.core.practice import FAMILIES
from pathway.core.practice.drill import Stage
from pathway.core.practice.offers import drills_for_type, freely
from pathway.web.practice.lines import lines_of
from pathway.web.shared.deps import ChoicesOf, DeskOf, IdOf, PagesOf, PractisingOf, SayOf

router = APIRouter()


@router.get("/pieces/{key}/practise/for")
def show_for_note(
    request: Request,
    key: IdOf,
    note: Annotated[str, Query(max_length=100)],
    desk: DeskOf,
    practising: PractisingOf,
    say: SayOf,
    pages: PagesOf,
    last: Annotated[str, Query(max_length=100)] = "",
    heard: Heard | None = None,
) -> Response:
    """Drills for a note, for what is heard on it, or for the notes from it to another one."""
    plan = desk.open(key).plan
    if heard is not None:
        found = practising.offers_heard(key, note, heard)
    elif last:
        found = practising.offers_between(key, note, last)
    else:
        found = practising.offers_at(key, note)
    return pages.render(request, "practice/for.html", {"lines": lines_of(practising, found, key, plan, say)})


@router.get("/strokes/{kind}/practise")
def show_for_type(request: Request, kind: str, practising: PractisingOf, say: SayOf, pages: PagesOf) -> Response:
    """Drills for a stroke type, on the player's own rig."""
    lines = lines_of(practising, drills_for_type(kind), None, None, say)
    return pages.render(request, "practice/for.html", {"lines": lines})


@router.get("/practise/drills")
def show_all(request: Request, practising: PractisingOf, choices: ChoicesOf, say: SayOf, pages: PagesOf) -> Response:
    """Every family of drills, to be chosen freely."""
    made = {key: [s for s in row.stages if s < Stage.BARS] for key, row in FAMILIES.items()}
    found = [freely(key, stages[0]) for key, stages in made.items() if stages]
    lines = lines_of(practising, found, None, None, say)
    grouped: dict[str, list[object]] = {}
    for one in sorted(lines, key=lambda one: one.varies):
        grouped.setdefault(one.varies, []).append(one)
    return pages.render(request, "practice/drills.html", {"groups": grouped, "rig": choices.get().rig})


@router.get("/practise/due/{key}")
def show_due(request: Request, key: IdOf, practising: PractisingOf, pages: PagesOf) -> Response:
    """How many drills of a piece are due, for its card on the shelf."""
    return pages.render(request, "practice/due.html", {"key": key, "due": practising.due(key)})
