"""What every request passes: size, origin, and the headers of every answer."""

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from pathway.formats.safe_files import MOST_BYTES

FORM_ROOM = 200_000  # for the form around an upload
RESTORE, MOST_BACKUP = "/settings/restore", 500_000_000  # where a backup comes back, and how large it may be
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; "
    "connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}


class Guards:
    """Refuses bodies that are too large and changes asked for by other sites; adds the safety headers."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

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

        most = MOST_BACKUP if scope["path"] == RESTORE else MOST_BYTES
        refusal = _refusal(scope["method"], headers, most)
        if refusal is not None:
            await refusal(scope, receive, send_safely)
            return
        try:
            await self.app(scope, _limited(receive, most), send_safely)
        except _BodyTooLargeError:
            await _too_large(most + FORM_ROOM, most)(scope, receive, send_safely)


class _BodyTooLargeError(Exception):
    """More came than was announced."""


def _refusal(method: str, headers: Headers, most: int) -> PlainTextResponse | None:
    length = headers.get("content-length", "0")
    if not length.isdigit():
        return PlainTextResponse("The request does not say how long it is.", 400)
    if int(length) > most + FORM_ROOM:
        return _too_large(int(length), most)
    if method not in {"GET", "HEAD"} and headers.get("sec-fetch-site", "same-origin") not in {"same-origin", "none"}:
        return PlainTextResponse("This change was asked for by another site.", 403)
    return None


def _too_large(size: int, most: int) -> PlainTextResponse:
    text = f"The file has {size / 1e6:.0f} MB or more; Pathway takes up to {most / 1e6:.0f}. "
    return PlainTextResponse(text + "Export the part alone, without pictures or sound.", 413)


def _limited(receive: Receive, most: int) -> Receive:
    seen = 0

    async def receive_some() -> Message:
        nonlocal seen
        message = await receive()
        seen += len(message.get("body", b""))
        if seen > most + FORM_ROOM:
            raise _BodyTooLargeError
        return message

    return receive_some
