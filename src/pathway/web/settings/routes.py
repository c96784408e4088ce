"""Settings: units, words and school, where things are kept, backup and restore."""

from datetime import UTC, datetime
from typing import Annotated

import typer
from fastapi import APIRouter, Form, Request, UploadFile
from pydantic import BaseModel, Field
from sqlalchemy import Engine
from starlette.responses import Response

from pathway.core.guide.cues import School
from pathway.core.guide.speech import Lengths, Weights
from pathway.store.backup import back_up, contents_of, look_into, put_in_place, take_in
from pathway.store.copies import copies, copies_folder
from pathway.web.shared.deps import ChoicesOf, DeskOf, EngineOf, PagesOf, TakingOf, go_to
from pathway.web.shared.pages import Pages
from pathway.web.shared.turns import LongWork, in_turn

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
def show_settings(
    request: Request, engine: EngineOf, desk: DeskOf, taking: TakingOf, choices: ChoicesOf, pages: PagesOf
) -> Response:
    """Everything that is set once."""
    context = {
        "now": choices.get(),
        "rigs": desk.rigs.names(),
        "data": request.app.state.config.data,
        "size": sum(file.stat().st_size for file in request.app.state.config.data.rglob("*") if file.is_file()),
        "takes_size": taking.takes.size,
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
@in_turn(LongWork.LISTENING)
def take_backup(engine: EngineOf, taking: TakingOf, takes: bool = False) -> Response:
    """Everything in one file, the sound of the takes too if that is wished for."""
    name = f"pathway-{datetime.now(UTC):%Y-%m-%d}.zip"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(
        back_up(engine, taking.takes.packed() if takes else ()), media_type="application/zip", headers=headers
    )


@router.post("/restore")
@in_turn(LongWork.LISTENING)
def take_back(request: Request, file: UploadFile, engine: EngineOf, pages: PagesOf) -> Response:
    """Read a backup through, and ask whether it should take the place of everything there is."""
    return _ask(request, pages, engine, take_in(engine, file.file.read()))


@router.post("/folder")
def open_folder(request: Request, pages: PagesOf) -> Response:
    """Show the folder of the data in the file manager of this computer, where there is one."""
    folder = request.app.state.config.data.resolve()
    opened = typer.launch(str(folder)) == 0
    return pages.render(request, "settings/folder.html", {"opened": opened, "folder": folder})


@router.get("/copies/{name}")
@in_turn(LongWork.LISTENING)
def ask_about(request: Request, name: str, engine: EngineOf, pages: PagesOf) -> Response:
    """What a copy holds beside what is here."""
    return _ask(request, pages, engine, name)


@router.post("/copies/{name}/return")
@in_turn(LongWork.LISTENING)
def go_back(
    request: Request, name: str, engine: EngineOf, desk: DeskOf, taking: TakingOf, choices: ChoicesOf, pages: PagesOf
) -> Response:
    """Put a copy in the place of everything there is, which is copied first."""
    count = put_in_place(engine, name, taking.takes)
    desk.forget_all()
    choices.forget()
    return pages.render(request, "settings/restored.html", {"count": count})


def _ask(request: Request, pages: Pages, engine: Engine, name: str) -> Response:
    context = {"name": name, "here": contents_of(engine), "there": look_into(engine, name)}
    return pages.render(request, "settings/ask.html", context)
