"""The door attacked: nothing without a code, codes that cannot be guessed, cookies that cannot be moved, one host."""

import asyncio
import re
import stat
import threading
import time
from pathlib import Path

import httpx2
import pytest
from cryptography import x509
from fastapi import FastAPI
from fastapi.testclient import TestClient

from pathway.errors import NotFound, PathwayError
from pathway.web.share import network
from pathway.web.share.certificate import certificate_for
from pathway.web.share.codes import CODE_WORDS, COUNT, LASTS, MOST_WRONG, TRIES, Codes
from pathway.web.share.devices import MOST_DEVICES, Devices
from pathway.web.share.door import COOKIE, Door
from pathway.web.share.network import home_address
from pathway.web.shared.assets import address
from tests.web.asking import HTMX

AT = "https://192.168.7.7:8443"
HOST = "192.168.7.7:8443"
TABLET = {"User-Agent": "Tablet of a test"}


class _Hall:
    """An app behind its door; wrong codes are answered at once, and how long they would have taken is noted."""

    def __init__(self, folder: Path, app: FastAPI) -> None:
        self.codes, self.devices, self.pauses = Codes(), Devices(folder), list[float]()
        self.app = app
        self.door = Door(app, {HOST}, self.codes, self.devices, self._wait)

    async def _wait(self, pause: float) -> None:
        self.pauses.append(pause)

    def visitor(self, address: str = "192.168.7.20", agent: str = "Tablet of a test") -> TestClient:
        return TestClient(
            self.door, base_url=AT, headers={"User-Agent": agent}, client=(address, 50_000), follow_redirects=False
        )


@pytest.fixture
def hall(tmp_path: Path, shelf: TestClient) -> _Hall:
    """The app with the demo pieces behind its door."""
    return _Hall(tmp_path / "share", shelf.app)  # type: ignore[arg-type]


def _come_in(hall: _Hall, visitor: TestClient, name: str = "Tablet") -> None:
    entered = visitor.post("/enter", data={"code": hall.codes.new(), "name": name})
    assert entered.status_code == 303
    said = entered.headers["set-cookie"]
    for part in (f"{COOKIE}=", "Secure", "HttpOnly", "SameSite=strict", "Path=/"):
        assert part in said


@pytest.mark.parametrize(
    "path",
    ["/pieces/1", "/pieces/1/stand", "/pieces/1/live", "/pieces/1/plan.json", f"{address()}/css/app.css",
     "/static/js/x.js", "/settings", "/settings/backup", "/practise", "/enter/", "/enter/../pieces/1",
     "//pieces/1", "/ENTER", "/nothing"],
)  # fmt: skip
@pytest.mark.parametrize("method", ["GET", "POST", "PUT", "DELETE", "OPTIONS", "HEAD"])
def test_without_a_code_a_device_gets_nothing(hall: _Hall, method: str, path: str) -> None:
    """Neither pages nor files nor the names of pieces, whatever is asked and however."""
    hall.codes.new()
    answer = hall.visitor().request(method, path)
    assert answer.status_code == 403
    assert "Slack" not in answer.text
    assert answer.headers["content-security-policy"].startswith("default-src 'none'")
    assert answer.headers["cache-control"] == "no-store"


def test_the_page_at_the_door_asks_for_the_code_and_shows_nothing_else(hall: _Hall) -> None:
    """Its looks and its script come with it; the front page leads to it; the code is not in it."""
    visitor, words = hall.visitor(), hall.codes.new()
    assert visitor.get("/").headers["location"] == "/enter"
    page = visitor.get("/enter").text
    assert "six words" in page
    assert words not in page
    assert visitor.get("/enter.css").headers["content-type"].startswith("text/css")
    assert "location.hash" in visitor.get("/enter.js").text


def test_the_right_code_lets_one_device_in_once(hall: _Hall) -> None:
    """Capitals and spaces do not matter; the same code lets in nobody else."""
    first, second, words = hall.visitor(), hall.visitor("192.168.7.21"), hall.codes.new()
    assert first.post("/enter", data={"code": f"  {words.upper()} ", "name": "On the stand"}).status_code == 303
    assert "Slack Water" in first.get("/").text
    assert first.get(f"{address()}/css/app.css").status_code == 200
    assert second.post("/enter", data={"code": words}).status_code == 403
    assert second.get("/").headers["location"] == "/enter"
    assert [device.name for device in hall.devices.all] == ["On the stand"]
    assert first.get("/enter").headers["location"] == "/"


def test_codes_cannot_be_guessed(hall: _Hall) -> None:
    """After five wrong ones an address is out, also with the right one; there are enough of them."""
    assert len(set(CODE_WORDS)) ** COUNT > 10**15
    visitor, words = hall.visitor(), hall.codes.new()
    for _ in range(TRIES):
        assert visitor.post("/enter", data={"code": "acorn " * COUNT}).status_code == 403
    assert visitor.post("/enter", data={"code": words}).status_code == 403
    for nonsense in ("", "x" * 100_000, "\x00", words + " yew"):
        assert hall.visitor().post("/enter", data={"code": nonsense}).status_code == 403
    assert hall.visitor().post("/enter", data={f"field{n}": "x" for n in range(50)}).status_code == 403
    assert hall.devices.all == []


def test_wrong_codes_are_answered_ever_more_slowly_and_codes_end_by_themselves() -> None:
    """Twice as long each time; after five minutes it is over."""
    now = 0.0
    codes = Codes(lambda: now)
    words, pauses = codes.new(), []
    for _ in range(TRIES - 1):
        pauses.append(codes.pause("a"))
        assert not codes.take("wrong", "a")
    assert pauses == [1, 2, 4, 8]
    now = LASTS - 1
    assert codes.words == words
    assert codes.left == pytest.approx(1)
    now = LASTS
    assert codes.words == ""
    assert not codes.take(words, "a")
    fresh = codes.new()
    assert fresh != words
    assert codes.pause("a") == 1
    codes.end()
    assert not codes.take(fresh, "a")


def test_the_slow_answers_come_one_after_the_other(hall: _Hall) -> None:
    """The pause is the one that the code says: nobody gets round it."""
    hall.codes.new()
    for _ in range(3):
        hall.visitor().post("/enter", data={"code": "no"})
    assert hall.pauses == [1, 2, 4]


def test_the_wrong_guesses_of_a_stranger_keep_no_tablet_out(hall: _Hall) -> None:
    """Each address has its own tries and its own turn; all together have so many, then the code is worth nothing."""
    words = hall.codes.new()
    for _ in range(3 * TRIES):
        hall.visitor("192.168.7.66").post("/enter", data={"code": "no"})
    hall.pauses.clear()
    tablet = hall.visitor()
    assert tablet.post("/enter", data={"code": "a slip"}).status_code == 403
    assert hall.pauses == [1]
    assert tablet.post("/enter", data={"code": words}).status_code == 303
    codes = Codes()
    words = codes.new()
    for n in range(MOST_WRONG):
        assert codes.words == words
        codes.take("no", f"192.168.7.{n}")
    assert codes.words == ""


def test_who_waits_for_the_answer_to_a_wrong_code_holds_up_no_other_address(hall: _Hall) -> None:
    """A tablet comes in while a stranger is answered slowly."""
    words, stranger_waits, go_on = hall.codes.new(), threading.Event(), threading.Event()

    async def wait(pause: float) -> None:
        stranger_waits.set()
        while not go_on.is_set():
            await asyncio.sleep(0.01)

    async def both() -> None:
        door = Door(hall.app, {HOST}, hall.codes, hall.devices, wait)

        def ask(client: str) -> httpx2.AsyncClient:
            transport = httpx2.ASGITransport(door, client=(client, 1))  # type: ignore[arg-type]
            return httpx2.AsyncClient(transport=transport, base_url=AT)

        async with ask("192.168.7.66") as stranger, ask("192.168.7.20") as tablet:
            guess = asyncio.create_task(stranger.post("/enter", data={"code": "no"}))
            while not stranger_waits.is_set():
                await asyncio.sleep(0.01)
            assert (await tablet.post("/enter", data={"code": words})).status_code == 303
            assert not guess.done()
            go_on.set()
            assert (await guess).status_code == 403

    asyncio.run(both())


def test_a_tablet_sees_no_link_that_it_may_not_open(hall: _Hall) -> None:
    """On no page of the app."""
    tablet = hall.visitor()
    _come_in(hall, tablet)
    seen, left = set[str](), ["/"]
    while left:
        path = left.pop()
        page = tablet.get(path)
        assert page.status_code != 403, path
        seen.add(path)
        if not page.headers["content-type"].startswith("text/html"):
            continue
        links = re.findall(r'(?:href|hx-get|hx-post|action|src)="(/[^"#?]*)', page.text)
        assert not [link for link in links if link.startswith("/settings")], path
        rooms = [link for link in links if not re.search(r"\.|/pieces/(?!1\b)|/strokes/.|/rigs/.", link)]
        left += [link for link in dict.fromkeys(rooms) if link not in seen and link not in left and _is_page(link)]
    assert len(seen) > 8


def _is_page(path: str) -> bool:
    return path.count("/") <= 3 and path not in {"/pieces/1/live", "/pieces/1/here"}


def test_a_cookie_cannot_be_moved_to_another_device(hall: _Hall) -> None:
    """Neither to another address nor to another browser; changed by a letter it is worth nothing."""
    tablet = hall.visitor()
    _come_in(hall, tablet)
    cookie = tablet.cookies[COOKIE]
    moves = [hall.visitor("192.168.7.99"), hall.visitor(agent="Another browser"), hall.visitor()]
    values = [cookie, cookie, cookie[:-1] + ("a" if cookie[-1] != "a" else "b")]
    for thief, value in zip(moves, values, strict=True):
        stolen = thief.get("/pieces/1", headers={"Cookie": f"{COOKIE}={value}"})
        assert stolen.status_code == 403
    for value in ("", ".", f"{cookie.partition('.')[0]}.", "x" * 5000, '"; drop'):
        assert hall.visitor().get("/pieces/1", headers={"Cookie": f"{COOKIE}={value}"}).status_code == 403
    assert tablet.get("/pieces/1").status_code == 200


def test_a_device_that_is_shut_out_is_out(hall: _Hall) -> None:
    """At once, and only that one."""
    one, other = hall.visitor(), hall.visitor("192.168.7.21")
    _come_in(hall, one, "One")
    _come_in(hall, other, "Other")
    first = next(device for device in hall.devices.all if device.name == "One")
    hall.devices.revoke(first.id)
    assert one.get("/pieces/1").status_code == 403
    assert other.get("/pieces/1").status_code == 200
    with pytest.raises(NotFound):
        hall.devices.revoke(first.id)


def test_a_stream_ends_when_its_device_is_shut_out(hall: _Hall) -> None:
    """What is open is closed too."""
    tablet = hall.visitor()
    _come_in(hall, tablet)
    (device,) = hall.devices.all
    shared = hall.app.state.sharing
    shared.devices = hall.devices
    threading.Timer(0.6, lambda: hall.devices.revoke(device.id)).start()
    begun = time.monotonic()
    assert '"version"' in tablet.get("/pieces/1/live").text
    assert time.monotonic() - begun < 10


@pytest.mark.parametrize(
    "host", ["evil.example", "evil.example:8443", "192.168.7.7", "192.168.7.7:8000", "localhost", ""]
)
def test_other_names_for_the_address_are_refused(hall: _Hall, host: str) -> None:
    """A page of another site that had its name pointed here gets nothing, also with a device that is in."""
    tablet = hall.visitor()
    _come_in(hall, tablet)
    assert tablet.get("/pieces/1", headers={"Host": host}).status_code == 403
    assert hall.visitor().get("/enter", headers={"Host": host}).status_code == 403


def test_other_sites_cannot_act_for_a_device_that_is_in(hall: _Hall) -> None:
    """Neither on a piece nor at the door."""
    tablet = hall.visitor()
    _come_in(hall, tablet)
    evil = {"Origin": "https://evil.example", "Sec-Fetch-Site": "cross-site"}
    assert tablet.post("/pieces/1/here", data={"note": "n1"}, headers=evil).status_code == 403
    mine = {"Origin": AT, "Sec-Fetch-Site": "same-origin"}
    assert tablet.post("/pieces/1/here", data={"note": "n1"}, headers=mine).status_code == 204
    words = hall.codes.new()
    assert hall.visitor("192.168.7.30").post("/enter", data={"code": words}, headers=evil).status_code == 403
    assert hall.codes.words == words


@pytest.mark.parametrize("path", ["/settings", "/settings/backup", "/settings/sharing", "/settings/sharing/off"])
def test_what_is_set_at_the_computer_is_set_there_only(hall: _Hall, path: str) -> None:
    """A device that is in neither shares nor takes everything away."""
    tablet = hall.visitor()
    _come_in(hall, tablet)
    assert tablet.get(path).status_code == 403
    assert tablet.post(path, headers={"Origin": AT}).status_code == 403


def test_devices_stay_known_and_their_file_holds_no_cookie(tmp_path: Path) -> None:
    """Read by nobody else, kept over a start; a damaged one lets nobody in; the oldest make room."""
    devices = Devices(tmp_path)
    cookie = devices.add("A\n  <b>tablet</b>" + "x" * 90, "10.0.0.5", "agent")
    file = tmp_path / "devices.json"
    assert cookie.partition(".")[2] not in file.read_text()
    assert stat.S_IMODE(file.stat().st_mode) == 0o600
    again = Devices(tmp_path)
    known = again.known(cookie, "10.0.0.5", "agent")
    assert known is not None
    assert known.name.startswith("A <b>tablet")
    assert len(known.name) == 60
    for n in range(MOST_DEVICES):
        again.add(f"{n}", "10.0.0.6", "agent")
    assert len(again.all) == MOST_DEVICES
    assert again.known(cookie, "10.0.0.5", "agent") is None
    file.write_text("{ no")
    assert Devices(tmp_path).all == []


def test_the_certificate_is_for_this_address_alone(tmp_path: Path) -> None:
    """Made once, its key read by nobody else, and its fingerprint as browsers show it."""
    first, again = (certificate_for(tmp_path, "10.0.0.7") for _ in range(2))
    assert first.fingerprint == again.fingerprint
    assert len(first.fingerprint.split(":")) == 32
    assert stat.S_IMODE(first.key.stat().st_mode) == 0o600
    found = x509.load_pem_x509_certificate(first.certificate.read_bytes())
    names = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    assert [str(name.value) for name in names] == ["10.0.0.7"]
    assert certificate_for(tmp_path, "10.0.0.8").fingerprint != first.fingerprint
    first.certificate.write_text("damaged")
    assert certificate_for(tmp_path, "10.0.0.7").fingerprint != first.fingerprint


@pytest.mark.parametrize(
    ("found", "said"), [("8.8.8.8", "no address of a home network"), ("127.0.0.1", "home network")]
)
def test_the_whole_world_is_never_let_in(monkeypatch: pytest.MonkeyPatch, found: str, said: str) -> None:
    """Only addresses of a home network are shared at."""

    class Sock:
        def __enter__(self) -> "Sock":
            return self

        def __exit__(self, *_: object) -> None:
            return None

        def connect(self, _: object) -> None:
            return None

        def getsockname(self) -> tuple[str, int]:
            return found, 1

    monkeypatch.setattr(network.socket, "socket", lambda *_: Sock())
    with pytest.raises(PathwayError, match=said):
        home_address()


def test_it_is_off_until_it_is_turned_on_and_the_pages_say_so(shelf: TestClient) -> None:
    """The strip, the code and the picture are there while it is on, and nothing listens once it is off."""
    sharing = shelf.app.state.sharing  # type: ignore[attr-defined]
    assert not sharing.on
    assert "shared-strip" not in shelf.get("/").text
    assert "Share with my home network" in shelf.get("/settings/sharing").text
    sharing.start("127.0.0.2")
    try:
        page = shelf.get("/settings/sharing").text
        assert sharing.codes.words in page
        assert sharing.fingerprint in page
        assert "<svg" in page
        assert "shared-strip" in shelf.get("/pieces/2").text
        words = sharing.codes.words
        shelf.post("/settings/sharing/code", headers=HTMX)
        assert sharing.codes.words != words
        assert sharing.address.startswith("https://127.0.0.2:")
    finally:
        shelf.post("/settings/sharing/off", headers=HTMX)
    assert not sharing.on
    assert sharing.codes.words == ""
    begun = time.monotonic()
    sharing.stop()
    assert time.monotonic() - begun < 1
