"""Makes the app: database, desk, pages and routes, joined once."""

import asyncio
import logging
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress

from fastapi import FastAPI
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError
from starlette.concurrency import run_in_threadpool

from pathway.demo.loader import load_demo
from pathway.desk import Desk
from pathway.desk.exchange import Exchange
from pathway.desk.hearing import Hearing
from pathway.desk.practising import Practising
from pathway.desk.simulating import Simulating
from pathway.desk.taking import Taking
from pathway.errors import PathwayError
from pathway.store import ChoiceStore, Notebook, Pieces, Rigs, Waiting, copy_daily, fold, open_database
from pathway.store.away import Away
from pathway.store.keeper import keep_private, sweep
from pathway.store.practice import PracticeLog
from pathway.store.takes import Takes
from pathway.web import (
    bench,
    help,
    music,
    paper,
    practice,
    rigs,
    settings,
    share,
    sheet,
    shelf,
    sound,
    stand,
    strokes,
    tone,
)
from pathway.web import takes as takes_room
from pathway.web.config import AppSettings
from pathway.web.errors import add_error_pages
from pathway.web.guards import Guards
from pathway.web.share.sharing import Sharing
from pathway.web.shared.assets import Assets, address
from pathway.web.shared.pages import Pages
from pathway.web.shared.turns import Turns

log = logging.getLogger("pathway")
BETWEEN = 1800  # times of looking after the data [s]
ROOMS = (
    shelf,
    sheet,
    stand,
    paper,
    sound,
    music,
    tone,
    practice,
    takes_room,
    bench,
    rigs,
    strokes,
    share,
    settings,
    help,
)


def create_app(config: AppSettings | None = None) -> FastAPI:
    """Return the app on its data; the demo pieces are added where asked for and missing."""
    config = config or AppSettings()
    config.data.mkdir(parents=True, exist_ok=True)
    keep_private(config.data)
    engine = open_database(config.database_url)
    pieces = Pieces(engine)
    played = PracticeLog(engine)
    new = load_demo(pieces, played) if config.demo else {}
    app = FastAPI(title="Pathway", docs_url=None, redoc_url=None, openapi_url=None, lifespan=_kept_safe)
    choices = ChoiceStore(engine)
    recordings = Takes(engine, config.data / "takes")
    pages = Pages(choices, {"Practise": played.state, "Takes": recordings.state})
    desk = Desk(pieces, Notebook(engine), Rigs(engine))
    hearing = Hearing(desk)
    app.state.desk, app.state.hearing, app.state.pages = desk, hearing, pages
    taking = Taking(desk, recordings)
    app.state.turns = Turns(desk.hands)
    app.state.waiting, app.state.away = Waiting(engine), Away(engine, recordings)
    app.state.taking, app.state.simulating, app.state.new_demo = taking, Simulating(desk, taking), new
    app.state.exchange = Exchange(desk, played, recordings, engine)
    app.state.practising = Practising(desk, hearing, played)
    app.state.ends = lambda: False  # whoever serves it knows
    app.state.choices, app.state.config, app.state.engine = choices, config, engine
    app.state.sharing = Sharing(app, config.data / "share")
    pages.show_always("sharing", app.state.sharing)
    app.add_middleware(Guards, hosts=config.hosts)
    app.mount(address(), Assets(), name="static")
    for room in ROOMS:
        for router in room.routers:
            app.include_router(router)
    add_error_pages(app, pages)
    return app


@asynccontextmanager
async def _kept_safe(app: FastAPI) -> AsyncIterator[None]:
    """Copy the data once a day while the app runs, and leave one whole file at its end."""
    engine: Engine = app.state.engine

    async def look_after() -> None:
        while True:
            try:
                await run_in_threadpool(keep_private, app.state.config.data)
                await run_in_threadpool(sweep, engine, app.state.config.data / "takes")
                await run_in_threadpool(copy_daily, engine)
                await run_in_threadpool(fold, engine)
            except (PathwayError, SQLAlchemyError, OSError):
                log.exception("The daily copy could not be made.")
            await asyncio.sleep(BETWEEN)

    task = asyncio.create_task(look_after())
    yield
    task.cancel()
    with suppress(asyncio.CancelledError):
        await task
    app.state.sharing.stop()
    app.state.desk.stop_engraving()
    app.state.turns.stop()
    fold(engine)
    engine.dispose()
