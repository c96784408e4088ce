"""The app that shows the way back: it opens no database."""

from collections.abc import Callable
from typing import Annotated

from fastapi import FastAPI, Form, Request
from starlette.responses import Response

from pathway.store.choices import Choices
from pathway.store.rescue import Rescue
from pathway.web.config import AppSettings
from pathway.web.errors import add_error_pages
from pathway.web.guards import Guards
from pathway.web.shared.assets import Assets, address
from pathway.web.shared.pages import Pages


class _AsUsual:
    """The choices that nobody has made yet, for those that were made cannot be read."""

    def get(self) -> Choices:
        """Return them."""
        return Choices()


def create_rescue(config: AppSettings, done: Callable[[], object]) -> FastAPI:
    """Return an app that shows what happened and lets the player choose what the app begins with.

    Args:
        config: where the damaged data lie.
        done: called once something else stands in their place.
    """
    rescue, pages = Rescue(config.database_url), Pages(_AsUsual(), {})
    pages.show_always("sharing", None)
    app = FastAPI(title="Pathway", docs_url=None, redoc_url=None, openapi_url=None)
    app.add_middleware(Guards, hosts=config.hosts)
    app.mount(address(), Assets(), name="static")
    add_error_pages(app, pages)

    @app.post("/rescue")
    def go_back(request: Request, name: Annotated[str, Form(max_length=100)] = "") -> Response:
        """Put a copy in the place of the data, or begin with an empty shelf; what is damaged is kept aside."""
        aside = rescue.go_back(name)
        done()
        return pages.render(request, "rescue/done.html", {"aside": aside})

    @app.get("/{_path:path}")
    def show_rescue(request: Request, _path: str) -> Response:
        """What happened, and what can be done."""
        context = {"copies": rescue.copies, "folder": config.data}
        return pages.render(request, "rescue/rescue.html", context, status_code=503)

    return app
