"""What every request passes: size, origin, and the headers of every answer."""

import re
from collections.abc import Collection
from contextlib import suppress
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from pathway.formats.piece_file import MOST_FILE as MOST_PIECE
from pathway.formats.recording import MOST_SOUND
from pathway.formats.safe_files import MOST_BYTES
from pathway.web.shared.headers import HEADERS

_PORT = re.compile(r":\d+$")
FORM_ROOM = 200_000  # for the form around an upload
ROOMY = (  # where more may come in than a score has [bytes]
    (re.compile(r"/settings/restore"), 500_000_000),
    (re.compile(r"/imports"), MOST_PIECE),
    (re.compile(r"/pieces/\d+/takes"), MOST_SOUND),
)


class Guards:
    """Refuses bodies that are too large and what other sites ask for; adds the safety headers."""

    def __init__(self, app: ASGIApp, hosts: Collection[str]) -> None:
        self.app, self._hosts = app, frozenset(hosts)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse it."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)

        async def send_safely(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).update(HEADERS)
            await send(message)

        most = next((most for path, most in ROOMY if path.fullmatch(scope["path"])), MOST_BYTES)
        refusal = self._elsewhere(scope, headers) or _refusal(scope["method"], headers, most)
        if refusal is not None:
            await refusal(scope, receive, send_safely)
            return
        body = _Limited(receive, most + FORM_ROOM)

        async def send_or_refuse(message: Message) -> None:  # whoever read the body may have made another fault of it
            if not body.too_large:
                await send_safely(message)

        with suppress(_BodyTooLargeError):
            await self.app(scope, body, send_or_refuse)
        if body.too_large:
            await _too_large(most + FORM_ROOM, most)(scope, receive, send_safely)

    def _elsewhere(self, scope: Scope, headers: Headers) -> PlainTextResponse | None:
        """Refuse names that are not this computer's: a page of another site may have been given its address."""
        host = headers.get("host", "")
        shared_at = scope.get("shared_at")
        known = host == shared_at if shared_at else _PORT.sub("", host) in self._hosts
        return None if known else PlainTextResponse("Invalid host header", 400)


class _BodyTooLargeError(Exception):
    """More came than was announced."""


def _refusal(method: str, headers: Headers, most: int) -> PlainTextResponse | None:
    length = headers.get("content-length", "0")
    if not length.isdigit():
        return PlainTextResponse("The request does not say how long it is.", 400)
    if int(length) > most + FORM_ROOM:
        return _too_large(int(length), most)
    if method in {"GET", "HEAD"} and _computed_for_others(headers):
        return PlainTextResponse("This was asked for by another site. Open Pathway itself.", 403)
    if method not in {"GET", "HEAD"} and not _asked_here(headers):
        return PlainTextResponse("This change was asked for by another site. Open Pathway itself and try again.", 403)
    return None


def _computed_for_others(headers: Headers) -> bool:
    """Whether a page of another site asks for something for itself: a link, or the way back, may lead here."""
    led_here = headers.get("sec-fetch-mode") == "navigate" and headers.get("sec-fetch-dest") == "document"
    return headers.get("sec-fetch-site") in {"cross-site", "same-site"} and not led_here


def _asked_here(headers: Headers) -> bool:
    """Whether a change was asked for by a page of the app: no other site can, whatever browser shows it."""
    site, from_ = headers.get("sec-fetch-site"), headers.get("origin") or headers.get("referer")
    if site not in {None, "same-origin", "none"}:
        return False
    if from_ is not None:
        return urlsplit(from_).netloc == headers.get("host")
    return site is not None or "hx-request" in headers  # which no form of another site can send


def _too_large(size: int, most: int) -> PlainTextResponse:
    advice = "Export the part alone, without pictures or sound." if most == MOST_BYTES else "Take less of it at a time."
    return PlainTextResponse(
        f"The file has {size / 1e6:.0f} MB or more; Pathway takes up to {most / 1e6:.0f}. {advice}", 413
    )


class _Limited:
    """What comes in, up to so many bytes."""

    def __init__(self, receive: Receive, most: int) -> None:
        self._receive, self._left = receive, most

    @property
    def too_large(self) -> bool:
        """Whether more came."""
        return self._left < 0

    async def __call__(self) -> Message:
        """Return the next of it.

        Raises:
            _BodyTooLargeError: it is too much.
        """
        message = await self._receive()
        self._left -= len(message.get("body", b""))
        if self.too_large:
            raise _BodyTooLargeError
        return message
