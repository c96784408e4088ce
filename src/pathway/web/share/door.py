"""The door for other devices: without a cookie of its own a device sees nothing but the page that asks for the code."""

import asyncio
from collections.abc import Awaitable, Callable, Collection
from html import escape
from http.cookies import CookieError, SimpleCookie
from pathlib import Path
from urllib.parse import parse_qs, urlsplit
from weakref import WeakValueDictionary

from starlette.datastructures import Headers
from starlette.responses import HTMLResponse, PlainTextResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from pathway.web.share.codes import Codes
from pathway.web.share.devices import Devices
from pathway.web.shared.headers import HEADERS

COOKIE = "__Host-pathway-device"
ENTER = "/enter"
AT_THE_COMPUTER = ("/settings",)  # what is set only where the data lie
MOST_FORM = 2_000  # bytes of the form with the code
YEAR = 365 * 24 * 3600
Wait = Callable[[float], Awaitable[None]]
_OPEN = Path(__file__).parent / "enter"
FILES = {"/enter.css": ("enter.css", "text/css"), "/enter.js": ("enter.js", "text/javascript")}


class Door:
    """Lets devices in that are known, at the shared address only."""

    def __init__(
        self, app: ASGIApp, hosts: Collection[str], codes: Codes, devices: Devices, wait: Wait = asyncio.sleep
    ) -> None:
        self._app, self._hosts, self._codes, self._devices = app, hosts, codes, devices
        self._wait = wait
        self._turns: WeakValueDictionary[str, asyncio.Lock] = (
            WeakValueDictionary()
        )  # by address, while it is waited for

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse it."""
        if scope["type"] != "http":
            return
        headers = Headers(scope=scope)
        device = self._devices.known(_cookie_in(headers), scope["client"][0], headers.get("user-agent", ""))
        answer = await self._answer(scope, receive, known=device is not None)
        if answer is None:
            told = {"shared_at": headers["host"], "device": device.id if device else ""}
            await self._app({**scope, **told}, receive, send)
            return
        answer.headers.update(HEADERS)
        answer.headers["Cache-Control"] = "no-store"
        await answer(scope, receive, send)

    async def _answer(self, scope: Scope, receive: Receive, *, known: bool) -> Response | None:
        """Return what is answered at the door; None lets in."""
        headers, path = Headers(scope=scope), scope["path"]
        if headers.get("host") not in self._hosts:
            return _refused("This is not the address at which Pathway is shared.")
        address, agent = scope["client"][0], headers.get("user-agent", "")
        if known:
            return RedirectResponse("/", 303) if path == ENTER else _kept_home(path)
        asked = (scope["method"], path)
        if asked == ("POST", ENTER) and _from_here(headers):
            return await self._entered(receive, address, agent)
        return _outside(asked, agent)

    async def _entered(self, receive: Receive, address: str, agent: str) -> Response:
        """Look at a code; of each address one after the other, and wrong ones ever more slowly."""
        form = _form(await _body(receive))
        code, name = (form.get(field, [""])[0] for field in ("code", "name"))
        turn = self._turns.setdefault(address, asyncio.Lock())
        async with turn:
            pause = self._codes.pause(address)
            if self._codes.take(code, address):
                answer = RedirectResponse("/", 303)
                cookie = self._devices.add(name or _kind(agent), address, agent)
                answer.set_cookie(COOKIE, cookie, max_age=YEAR, path="/", secure=True, httponly=True, samesite="strict")
                return answer
            await self._wait(pause)
        return _page("That was not it, or it has run out. Make a new code at the computer if this goes on.", agent, 403)


def _refused(why: str) -> Response:
    return PlainTextResponse(why, 403)


def _kept_home(path: str) -> Response | None:
    """Refuse a device that is in what is set at the computer alone."""
    return _refused("This is set at the computer itself.") if path.startswith(AT_THE_COMPUTER) else None


def _outside(asked: tuple[str, str], agent: str) -> Response:
    """Return what a device gets that is not let in."""
    if asked == ("GET", ENTER):
        return _page("Enter the code that the computer shows.", agent)
    if asked == ("GET", "/"):
        return RedirectResponse(ENTER, 303)
    if asked[0] == "GET" and asked[1] in FILES:
        name, kind = FILES[asked[1]]
        return Response((_OPEN / name).read_bytes(), media_type=kind)
    return _refused("This device is not let in.")


def _page(told: str, agent: str, status: int = 200) -> Response:
    page = (_OPEN / "enter.html").read_text(encoding="utf-8")
    return HTMLResponse(page.format(told=escape(told), name=escape(_kind(agent), quote=True)), status)


def _kind(agent: str) -> str:
    """Return what a device may be called."""
    kinds = (("iPad", "Tablet"), ("Tablet", "Tablet"), ("Mobile", "Phone"), ("Android", "Tablet"))
    return next((kind for mark, kind in kinds if mark in agent), "Laptop")


def _cookie_in(headers: Headers) -> str:
    try:
        found = SimpleCookie(headers.get("cookie", "")).get(COOKIE)
    except CookieError:
        return ""
    return found.value if found else ""


def _from_here(headers: Headers) -> bool:
    """Whether the form that was sent is ours."""
    if headers.get("sec-fetch-site", "same-origin") != "same-origin":
        return False
    origin = headers.get("origin")
    return origin is None or urlsplit(origin).netloc == headers.get("host")


def _form(body: bytes) -> dict[str, list[str]]:
    """Return the fields of a form; none where it is not ours."""
    try:
        return parse_qs(body.decode("utf-8", "replace"), max_num_fields=4)
    except ValueError:
        return {}


async def _body(receive: Receive) -> bytes:
    """Return what was sent; nothing if it is too long."""
    whole, more = b"", True
    while more:
        message = await receive()
        if message["type"] != "http.request":
            return b""
        whole, more = whole + message.get("body", b""), message.get("more_body", False)
        if len(whole) > MOST_FORM:
            return b""
    return whole
