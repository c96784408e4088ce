"""Renders templates: a whole page, or only the fragment that htmx asked for."""

import re
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any, Protocol

from fastapi import Request
from jinja2 import Environment, FileSystemLoader
from starlette.responses import Response
from starlette.templating import Jinja2Templates

from pathway import __version__
from pathway.desk.home import EXPORTS
from pathway.store.choices import Choices
from pathway.web.shared.assets import address

_TEMPLATES = Path(__file__).parents[1] / "templates"
_INDENT = re.compile(r"\n +")  # lines keep their numbers


class _Flush(FileSystemLoader):
    """Templates without their indentation: it is for those who write them, and an edit sends what a page shows."""

    def get_source(self, environment: Environment, template: str) -> tuple[str, str, Callable[[], bool]]:
        source, name, fresh = super().get_source(environment, template)
        return _INDENT.sub("\n", source), name, fresh


class HasChoices(Protocol):
    """What knows the player's choices."""

    def get(self) -> Choices:
        """Return them."""


class Pages:
    """The templates."""

    def __init__(self, choices: HasChoices, states: Mapping[str, Callable[[int], str]]) -> None:
        self._choices = choices
        loader = _Flush(_TEMPLATES)
        env = Environment(loader=loader, autoescape=True, trim_blocks=True, lstrip_blocks=True, auto_reload=False)
        self._templates = Jinja2Templates(env=env)
        env.globals |= {
            "version": __version__,
            "assets": address(),
            "exports": EXPORTS,
            "state_of": lambda station, piece: states[station](piece),
        }

    def show_always(self, name: str, value: object) -> None:
        """Let every template see something."""
        self._templates.env.globals[name] = value

    def render(self, request: Request, name: str, context: Mapping[str, Any], status_code: int = 200) -> Response:
        """Return a rendered template."""
        choices = self._choices.get()
        whole = {"choices": choices, "say": choices.speech, **context}
        response = self._templates.TemplateResponse(request, name, whole, status_code=status_code)
        response.headers["Vary"] = "HX-Request"
        return response
