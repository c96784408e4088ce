"""Settings: units, words and school, where things are kept, backup and restore."""

from datetime import UTC, datetime
from typing import Annotated, cast

from fastapi import APIRouter, Form, Request, UploadFile
from pydantic import BaseModel, Field
from sqlalchemy import Engine
from starlette.responses import Response

from pathway.core.guide.cues import School
from pathway.core.guide.speech import Lengths, Weights
from pathway.store.backup import back_up, contents_of, look_into, put_in_place, take_in
from pathway.store.copies import copies, copies_folder
from pathway.web.shared.deps import ChoicesOf, DeskOf, PagesOf, go_to
from pathway.web.shared.pages import Pages

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
    engine = _engine(request)
    context = {
        "now": choices.get(),
        "rigs": desk.rigs.names(),
        "data": request.app.state.config.data,
        "copies": copies(engine),
        "copies_folder": copies_folder(engine),
    }
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
def take_back(request: Request, file: UploadFile, pages: PagesOf) -> Response:
    """Read a backup through, and ask whether it should take the place of everything there is."""
    return _ask(request, pages, take_in(_engine(request), file.file.read()))


@router.get("/copies/{name}")
def ask_about(request: Request, name: str, pages: PagesOf) -> Response:
    """What a copy holds beside what is here."""
    return _ask(request, pages, name)


@router.post("/copies/{name}/return")
def go_back(request: Request, name: str, desk: DeskOf, choices: ChoicesOf, pages: PagesOf) -> Response:
    """Put a copy in the place of everything there is, which is copied first."""
    count = put_in_place(_engine(request), name)
    desk.forget_all()
    choices.forget()
    return pages.render(request, "settings/restored.html", {"count": count})


def _ask(request: Request, pages: Pages, name: str) -> Response:
    engine = _engine(request)
    context = {"name": name, "here": contents_of(engine), "there": look_into(engine, name)}
    return pages.render(request, "settings/ask.html", context)


def _engine(request: Request) -> Engine:
    return cast(Engine, request.app.state.engine)
