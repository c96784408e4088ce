"""Styles, scripts and fonts, at an address that changes with them: kept by browsers, and never older than the page."""

import hashlib
import os
from functools import cache
from pathlib import Path

from starlette.responses import Response
from starlette.staticfiles import StaticFiles
from starlette.types import Scope

_FOLDER = Path(__file__).parents[1] / "static"
_FOR_GOOD = "public, max-age=31536000, immutable"  # a year is the most that browsers know


@cache
def address(folder: Path = _FOLDER) -> str:
    """Return the path at which the files of a folder are served, told by what is in them."""
    told = hashlib.sha256()
    for path in sorted(path for path in folder.rglob("*") if path.is_file()):
        told.update(path.relative_to(folder).as_posix().encode() + b"\0" + path.read_bytes())
    return f"/static/{told.hexdigest()[:12]}"


class Assets(StaticFiles):
    """The files, to be kept."""

    def __init__(self) -> None:
        super().__init__(directory=_FOLDER)

    def file_response(
        self, full_path: str | os.PathLike[str], stat_result: os.stat_result, scope: Scope, status_code: int = 200
    ) -> Response:
        """Return a file that a browser need not ask for again."""
        answer = super().file_response(full_path, stat_result, scope, status_code)
        answer.headers["Cache-Control"] = _FOR_GOOD
        return answer
