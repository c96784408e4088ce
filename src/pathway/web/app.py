"""Makes the app: database, desk, pages and routes, joined once."""

from pathlib import Path

from fastapi import FastAPI
from fastapi.staticfiles import StaticFiles
from starlette.middleware.gzip import GZipMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware

from pathway.demo.loader import load_demo
from pathway.desk import Desk
from pathway.store import ChoiceStore, Notebook, Pieces, Rigs, open_database
from pathway.web import bench, help, music, rigs, settings, sheet, shelf, strokes, tone
from pathway.web.config import AppSettings
from pathway.web.errors import add_error_pages
from pathway.web.guards import Guards
from pathway.web.shared.pages import Pages

ROOMS = (shelf, sheet, music, tone, bench, rigs, strokes, settings, help)


def create_app(config: AppSettings | None = None) -> FastAPI:
    """Return the app on its data; the demo pieces are added where asked for and missing."""
    config = config or AppSettings()
    config.data.mkdir(parents=True, exist_ok=True)
    engine = open_database(config.database_url)
    pieces = Pieces(engine)
    pieces.forget_removed()
    if config.demo:
        load_demo(pieces)
    app = FastAPI(title="Pathway", docs_url=None, redoc_url=None, openapi_url=None)
    choices = ChoiceStore(engine)
    pages = Pages(choices)
    app.state.desk, app.state.pages = Desk(pieces, Notebook(engine), Rigs(engine)), pages
    app.state.choices, app.state.config, app.state.engine = choices, config, engine
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=list(config.hosts))
    app.add_middleware(Guards)
    app.add_middleware(GZipMiddleware, minimum_size=4000, compresslevel=3)
    app.mount("/static", StaticFiles(directory=Path(__file__).parent / "static"), name="static")
    for room in ROOMS:
        for router in room.routers:
            app.include_router(router)
    add_error_pages(app, pages)
    return app
