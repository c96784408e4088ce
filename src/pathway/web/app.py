"""Makes the app: database, desk, pages and routes, joined once."""

from pathlib import Path

from fastapi import FastAPI
from fastapi.staticfiles import StaticFiles
from starlette.middleware.gzip import GZipMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware

from pathway.demo.loader import load_demo
from pathway.store import ChoiceStore, Notebook, Pieces, Rigs, open_database
from pathway.web.desk import Desk
from pathway.web.errors import add_error_pages
from pathway.web.guards import Guards
from pathway.web.pages import Pages
from pathway.web.routes import (
    bench,
    beside,
    bowing,
    help,
    music,
    rig,
    rigs,
    shelf,
    strokes,
    tone,
)
from pathway.web.routes import (
    settings as settings_room,
)
from pathway.web.settings import AppSettings


def create_app(settings: AppSettings | None = None) -> FastAPI:
    """Return the app on its data; the demo pieces are added where asked for and missing."""
    settings = settings or AppSettings()
    settings.data.mkdir(parents=True, exist_ok=True)
    engine = open_database(settings.database_url)
    pieces = Pieces(engine)
    pieces.forget_removed()
    if settings.demo:
        load_demo(pieces)
    app = FastAPI(title="Pathway", docs_url=None, redoc_url=None, openapi_url=None)
    choices = ChoiceStore(engine)
    pages = Pages(choices)
    app.state.desk, app.state.pages = Desk(pieces, Notebook(engine), Rigs(engine)), pages
    app.state.choices, app.state.settings, app.state.engine = choices, settings, engine
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=list(settings.hosts))
    app.add_middleware(Guards)
    app.add_middleware(GZipMiddleware, minimum_size=4000, compresslevel=3)
    app.mount("/static", StaticFiles(directory=Path(__file__).parent / "static"), name="static")
    app.include_router(shelf.router)
    app.include_router(bowing.router)
    app.include_router(beside.router)
    app.include_router(music.router)
    app.include_router(tone.router)
    app.include_router(bench.router)
    app.include_router(rigs.router)
    app.include_router(rig.router)
    app.include_router(strokes.router)
    app.include_router(settings_room.router)
    app.include_router(help.router)
    add_error_pages(app, pages)
    return app
