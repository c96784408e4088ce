"""Stroke types: a page each, to search and to compare."""

from fastapi import APIRouter, Request
from starlette.responses import Response

from pathway.core.sound import playable
from pathway.core.technique.stroke_types import STROKE_TYPES, StrokeType
from pathway.errors import NotFound
from pathway.formats.samples import type_sample
from pathway.web.shared.deps import ChoicesOf, DeskOf, HearingOf, PagesOf
from pathway.web.shared.files import as_sound
from pathway.web.shared.turns import LongWork, in_turn
from pathway.web.strokes.view import StrokeView

router = APIRouter(prefix="/strokes")


@router.get("")
def show_strokes(
    request: Request, desk: DeskOf, choices: ChoicesOf, pages: PagesOf, search: str = "", one: str = "", other: str = ""
) -> Response:
    """All stroke types, those that a word is found in, or two side by side."""
    rig = desk.rigs.find(choices.get().rig)
    views = [StrokeView(kind, rig, choices.get().speech) for kind in STROKE_TYPES.values()]
    beside = [StrokeView(_kind(key), rig, choices.get().speech) for key in (one, other) if key]
    context = {"views": [v for v in views if v.has(search)], "search": search, "beside": beside, "all": views}
    return pages.render(request, "strokes/strokes.html", context)


@router.get("/{key}/sound.wav")
@in_turn(LongWork.SOUND)
def hear_stroke(key: str, desk: DeskOf, choices: ChoicesOf, hearing: HearingOf) -> Response:
    """Eight notes of a stroke type on the player's own rig, at its usual rate."""
    kind, known = _kind(key), desk.rigs.find(choices.get().rig)
    about = (kind.key, known.key, known.version)
    return as_sound(hearing.whole(about, lambda: playable(type_sample(kind, known.rig))))


@router.get("/{key}")
def show_stroke(request: Request, key: str, desk: DeskOf, choices: ChoicesOf, pages: PagesOf) -> Response:
    """One stroke type on the player's own rig."""
    view = StrokeView(_kind(key), desk.rigs.find(choices.get().rig), choices.get().speech, desk.pieces.shelf())
    return pages.render(request, "strokes/stroke.html", {"view": view, "all": list(STROKE_TYPES.values())})


def _kind(key: str) -> StrokeType:
    if key not in STROKE_TYPES:
        raise NotFound("There is no such stroke type", advice="Choose one from the list.")
    return STROKE_TYPES[key]
