"""Settings: units, words and school, where things are kept, backup and restore."""

from datetime import UTC, datetime
from typing import Annotated, cast

from fastapi import APIRouter, Form, Request, UploadFile
from pydantic import BaseModel, Field
from sqlalchemy import Engine
from starlette.responses import Response

from pathway.core.guide.cues import School
from pathway.core.guide.speech import Lengths, Weights
from pathway.store.backup import back_up, restore
from pathway.web.shared.deps import ChoicesOf, DeskOf, PagesOf, go_to

router = APIRouter(prefix="/settings")


class ChoicesForm(BaseModel):
    """The choices as the page sends them."""

    rig: Annotated[str, Field(max_length=60)]
    school: School
    lengths: Lengths
    weights: Weights
    tips: bool = False
    sharp_name: Annotated[str, Field(max_length=40)] = "martelé"


@router.get("")
def show_settings(request: Request, desk: DeskOf, choices: ChoicesOf, pages: PagesOf) -> Response:
    """Everything that is set once."""
    context = {"now": choices.get(), "rigs": desk.rigs.names(), "data": request.app.state.config.data}
    return pages.render(request, "settings/settings.html", context)


@router.post("")
def choose(request: Request, form: Annotated[ChoicesForm, Form()], desk: DeskOf, choices: ChoicesOf) -> Response:
    """Keep other choices."""
    desk.rigs.find(form.rig)
    choices.set(choices.get().model_copy(update=form.model_dump()))
    return go_to(request, "/settings")


@router.get("/backup")
def take_backup(request: Request) -> Response:
    """Everything in one file."""
    name = f"pathway-{datetime.now(UTC):%Y-%m-%d}.zip"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(back_up(_engine(request)), media_type="application/zip", headers=headers)


@router.post("/restore")
def take_back(request: Request, file: UploadFile, desk: DeskOf, choices: ChoicesOf, pages: PagesOf) -> Response:
    """Put a backup in the place of everything there is, once it has been read through."""
    count = restore(_engine(request), file.file.read())
    desk.forget_all()
    choices.forget()
    return pages.render(request, "settings/restored.html", {"count": count})


def _engine(request: Request) -> Engine:
    return cast(Engine, request.app.state.engine)
