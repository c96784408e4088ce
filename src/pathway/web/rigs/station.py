"""The station Rig: on what a piece is played."""

from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, Form, Request
from starlette.responses import Response

from pathway.desk import OnRig, Tuned
from pathway.web.rigs.view import RigView, TuningView
from pathway.web.shared.deps import ChoicesOf, DeskOf, IdOf, PagesOf, go_to
from pathway.web.shared.way import way_of

router = APIRouter(prefix="/pieces/{key}/rig")


@router.get("")
def show_rig(request: Request, key: IdOf, desk: DeskOf, choices: ChoicesOf, pages: PagesOf) -> Response:
    """The rig of a piece in pictures, and others to play it on."""
    now = desk.open(key)
    known = desk.rigs.find(now.piece.rig)
    context = {
        "piece": now.piece,
        "way": way_of(key, now.plan, "Rig"),
        "view": RigView(replace(known, rig=now.plan.rig), choices.get().rig, choices.get().speech),
        "rigs": desk.rigs.names(),
        "tuning": TuningView(known.rig, now.plan.rig),
    }
    return pages.render(request, "rigs/station.html", context)


@router.post("")
def play_on(
    request: Request, key: IdOf, version: Annotated[int, Form()], rig: Annotated[str, Form()], desk: DeskOf
) -> Response:
    """Play the piece on another rig: every bow is planned anew."""
    desk.apply(key, version, OnRig(desk.rigs.find(rig)))
    return go_to(request, f"/pieces/{key}/rig")


@router.post("/tuning")
def tune(
    request: Request,
    key: IdOf,
    version: Annotated[int, Form()],
    desk: DeskOf,
    pitch: Annotated[list[int], Form(max_length=8)] = [],  # noqa: B006
) -> Response:
    """Tune the strings for this piece, the lowest first; without pitches as the rig has them."""
    own = desk.rigs.find(desk.open(key).piece.rig)
    desk.apply(key, version, Tuned(own, tuple(pitch)))
    return go_to(request, f"/pieces/{key}/rig")
