"""Sharing in the settings: on and off, the code, the devices that are in."""

from typing import Annotated, cast

from fastapi import APIRouter, Depends, Form, Path, Request
from starlette.concurrency import run_in_threadpool
from starlette.responses import Response

from pathway.web.share.sharing import Sharing
from pathway.web.shared.deps import PagesOf, go_to

router = APIRouter(prefix="/settings/sharing")
PAGE = "/settings/sharing"


def _sharing(request: Request) -> Sharing:
    return cast(Sharing, request.app.state.sharing)


SharingOf = Annotated[Sharing, Depends(_sharing)]


@router.get("")
def show_sharing(request: Request, sharing: SharingOf, pages: PagesOf) -> Response:
    """Whether it is on, where, and who is in."""
    return pages.render(request, "share/sharing.html", {"now": sharing})


@router.post("/on")
def turn_on(request: Request, sharing: SharingOf, sure: Annotated[bool, Form()] = False) -> Response:
    """Let other devices of the home network in, by a code; in another network than last time once that was asked."""
    sharing.start(sure=sure)
    return go_to(request, PAGE)


@router.post("/off")
async def turn_off(request: Request, sharing: SharingOf) -> Response:
    """Let nobody in any longer."""
    await run_in_threadpool(sharing.stop)
    return go_to(request, PAGE)


@router.post("/code")
def new_code(request: Request, sharing: SharingOf) -> Response:
    """Make a new code; the one before is worth nothing any more."""
    if sharing.on:
        sharing.codes.new()
    return go_to(request, PAGE)


@router.post("/devices/{id_}/revoke")
def revoke(request: Request, sharing: SharingOf, id_: Annotated[str, Path(max_length=40)]) -> Response:
    """Let a device in no longer."""
    sharing.devices.revoke(id_)
    return go_to(request, PAGE)
