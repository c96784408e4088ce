"""Renders templates: a whole page, or only the fragment that htmx asked for."""

from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

from fastapi import Request
from starlette.responses import Response
from starlette.templating import Jinja2Templates

from pathway import __version__
from pathway.store import ChoiceStore

_TEMPLATES = Path(__file__).parents[1] / "templates"


class Pages:
    """The templates."""

    def __init__(self, choices: ChoiceStore, states: Mapping[str, Callable[[int], str]]) -> None:
        self._choices = choices
        self._templates = Jinja2Templates(directory=_TEMPLATES)
        self._templates.env.globals |= {
            "version": __version__,
            "state_of": lambda station, piece: states[station](piece),
        }
        self._templates.env.trim_blocks = self._templates.env.lstrip_blocks = True

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
