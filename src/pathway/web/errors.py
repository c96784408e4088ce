"""Error class → HTTP status in one table, and the answer the browser gets."""

import logging
import secrets

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from sqlalchemy.exc import DatabaseError
from starlette.exceptions import HTTPException
from starlette.responses import Response

from pathway.errors import (
    Busy,
    Conflict,
    DamagedData,
    DataError,
    NoTake,
    NotFound,
    NotHere,
    NotYet,
    OutOfRange,
    PathwayError,
    PlanError,
    RigError,
    ScoreError,
    Stopped,
    TooLarge,
)
from pathway.formats.misread import fault_in_words
from pathway.web.shared.headers import HEADERS
from pathway.web.shared.pages import Pages

_BROKEN = {"SQLITE_CORRUPT", "SQLITE_NOTADB", "SQLITE_CORRUPT_VTAB", "SQLITE_CORRUPT_INDEX"}
log = logging.getLogger("pathway")
STATUS: dict[type[PathwayError], int] = {
    TooLarge: 413,
    Stopped: 422,
    ScoreError: 422,
    RigError: 422,
    OutOfRange: 422,
    PlanError: 422,
    NoTake: 422,
    DamagedData: 503,
    DataError: 503,
    NotYet: 503,
    Busy: 503,
    Conflict: 409,
    NotHere: 404,
    NotFound: 404,
    PathwayError: 400,
}


def status_of(error: PathwayError) -> int:
    """Return the HTTP status of an error."""
    return next(STATUS[cls] for cls in type(error).__mro__ if cls in STATUS)


def add_error_pages(app: FastAPI, pages: Pages) -> None:
    """Answer every refusal in words: a message where a fragment was asked for, else a page."""

    def answer(request: Request, text: str, status: int) -> Response:
        name = "shared/message.html" if request.headers.get("HX-Request") else "shared/error.html"
        response = pages.render(request, name, {"message": text, "status": status}, status_code=status)
        response.headers["HX-Retarget"] = "#message"
        response.headers["HX-Reswap"] = "innerHTML"
        return response

    @app.exception_handler(PathwayError)
    def refuse(request: Request, error: PathwayError) -> Response:
        return answer(request, error.text, status_of(error))

    @app.exception_handler(NotYet)
    def wait(request: Request, error: NotYet) -> Response:
        context = {"key": request.path_params["key"], "message": error.message}
        return pages.render(request, "shared/engraving.html", context, status_code=status_of(error))

    @app.exception_handler(RequestValidationError)
    def misread(request: Request, error: RequestValidationError) -> Response:
        first = error.errors()[0]
        where = ".".join(str(step) for step in first["loc"][1:]) or "what was sent"
        return answer(request, f"The field “{where}” {fault_in_words(first)}. Correct it and try again.", 422)

    @app.exception_handler(HTTPException)
    def missing(request: Request, error: HTTPException) -> Response:
        text = "There is no such page. Go back to the shelf." if error.status_code == 404 else str(error.detail)
        return answer(request, text, error.status_code)

    @app.exception_handler(DatabaseError)
    def damaged(request: Request, error: DatabaseError) -> Response:
        if getattr(error.orig, "sqlite_errorname", "") not in _BROKEN:
            raise error
        log.error("The data are damaged at %s", request.url.path, exc_info=error)
        text = "The data are damaged. End Pathway and start it again: it shows the copies there are."
        return answer(request, text, 503)

    @app.exception_handler(Exception)
    def fail(request: Request, error: Exception) -> Response:
        number = secrets.token_hex(3)
        log.error("Fault %s at %s %s", number, request.method, request.url.path, exc_info=error)
        text = f"Something went wrong in Pathway itself (fault {number}, in the log). What you had set is kept."
        response = answer(request, f"{text} Reload the page and try again.", 500)
        response.headers.update(HEADERS)  # this answer is given outside the guards
        return response
