"""The shelf: all pieces, and new ones by drop."""

from collections.abc import Mapping, Sequence
from pathlib import PurePath
from typing import Annotated

from fastapi import APIRouter, Form, Request, UploadFile
from pydantic import BeforeValidator
from starlette.responses import Response

from pathway.desk import Desk
from pathway.formats.piece_file import is_piece_file
from pathway.formats.safe_files import MOST_BYTES
from pathway.formats.score import ScoreFile
from pathway.store import ShelfEntry, is_packed, unpack_piece
from pathway.web.shared.deps import (
    ChoicesOf,
    DeskOf,
    EngineOf,
    ExchangeOf,
    IdOf,
    PagesOf,
    PractisingOf,
    WaitingOf,
    go_to,
)
from pathway.web.shared.files import as_file
from pathway.web.shared.thumb import draw_thumbnail
from pathway.web.shared.turns import LongWork, in_turn
from pathway.web.shelf.as_read import AsRead

router = APIRouter()


class Card:
    """A piece as the shelf shows it."""

    def __init__(self, entry: ShelfEntry, rigs: Mapping[str, str]) -> None:
        self.id, self.title, self.part = entry.id, entry.title, entry.part_name
        self.rig = rigs.get(entry.rig, entry.rig)
        self.fault, self.plan = entry.fault, entry.summary
        self.thumbnail = draw_thumbnail(entry.summary.strokes) if entry.summary else ""
        found = entry.summary.findings if entry.summary else {}
        self.state = _state(found)
        self.needs_a_look = bool(found.get("high") or found.get("medium"))


def _state(found: Mapping[str, int]) -> str:
    count = sum(found.values())
    if not count:
        return "nothing in the way"
    worst = "needs a look" if found.get("high") or found.get("medium") else "small matters"
    return f"{count} {'finding' if count == 1 else 'findings'} · {worst}"


@router.get("/")
def show_shelf(request: Request, desk: DeskOf, choices: ChoicesOf, pages: PagesOf) -> Response:
    """All pieces."""
    names, entries = dict(desk.rigs.names()), desk.pieces.shelf()
    cards = [Card(entry, names) for entry in entries]
    steps = first_steps(desk, entries) if choices.get().tips else []
    return pages.render(request, "shelf/shelf.html", {"cards": cards, "steps": steps, "most_bytes": MOST_BYTES})


def first_steps(desk: Desk, entries: Sequence[ShelfEntry]) -> list[tuple[bool, str, str, str, str]]:
    """Return the three steps of the first run, whether each is done; none once a piece was worked on."""
    rig, solved = bool(desk.rigs.own()), desk.pieces.any_changed()
    first = f"/pieces/{entries[0].id}" if entries else "/"
    steps = [
        (
            rig,
            "Your rig",
            "Weigh your bow and mark its balance point, or begin with the typical one.",
            "/rigs",
            "Open the rig room",
        ),
        (
            bool(entries),
            "A piece",
            "Bring in the part you work on, or take one of the demo pieces.",
            "#drop",
            "Bring in a part",
        ),
        (
            solved,
            "A finding solved",
            "Open a piece, choose a finding on the right, and take the help that fits you.",
            first,
            "Open a piece",
        ),
    ]
    return [] if entries and solved else steps


@router.post("/imports")
@in_turn(LongWork.READING)
def take_score(
    request: Request,
    file: UploadFile,
    desk: DeskOf,
    choices: ChoicesOf,
    exchange: ExchangeOf,
    pages: PagesOf,
    engine: EngineOf,
    waiting: WaitingOf,
) -> Response:
    """Read which parts a dropped score has, and ask which to plan; a piece with its history is put on the shelf."""
    data, filename = file.file.read(), file.filename or "score"
    if is_packed(data):
        return go_to(request, f"/pieces/{unpack_piece(engine, data)}")
    if is_piece_file(data):
        inside = exchange.look(data)
        token = waiting.keep(filename, data)
        return pages.render(request, "shelf/inside.html", {"token": token, "inside": inside})
    score = ScoreFile(data, filename)
    chosen, parts = score.find(), score.parts
    token = waiting.keep(filename, data)
    context = {
        "token": token,
        "title": score.title,
        "parts": parts,
        "chosen": chosen.number,
        "rigs": desk.rigs.names(),
        "tempo_printed": score.tempo_printed,
        "doubt": score.tempo_doubt,
        "guesses": {part.number: desk.rigs.like(part.guess.rig, choices.get().rig) for part in parts},
        "unnamed": [part.number for part in parts if part.notes and not part.guess.named],
    }
    return pages.render(request, "shelf/import_choice.html", context)


@router.post("/imports/stop")
def stop_reading(desk: DeskOf) -> Response:
    """Do not wait any longer for scores that are being read."""
    desk.stop_engraving()
    return Response(status_code=204)


@router.post("/imports/{token}")
@in_turn(LongWork.READING)
def plan_score(
    request: Request,
    token: str,
    part: Annotated[int, Form()],
    rig: Annotated[str, Form()],
    desk: DeskOf,
    pages: PagesOf,
    waiting: WaitingOf,
    tempo: Annotated[float | None, Form(), BeforeValidator(lambda value: value or None)] = None,
) -> Response:
    """Plan the chosen part and open it."""
    filename, data = waiting.find(token)
    key = desk.add(ScoreFile(data, filename), data, filename, part, rig, tempo)
    waiting.drop(token)
    read = AsRead.of(desk.open(key).plan)
    if read.unread:
        return pages.render(request, "shelf/read.html", {"piece": desk.open(key).piece, "read": read})
    return go_to(request, f"/pieces/{key}")


@router.post("/imports/{token}/forget")
def forget_score(token: str, waiting: WaitingOf) -> Response:
    """Let a waiting score go."""
    waiting.drop(token)
    return Response("")


@router.post("/pieces/{key}/remove")
def remove_piece(request: Request, key: IdOf, desk: DeskOf, practising: PractisingOf, pages: PagesOf) -> Response:
    """Take a piece off the shelf; it can be put back. What was practised of it is asked about."""
    title, played = desk.pieces.remove(key), practising.log.count(key)
    return pages.render(request, "shelf/removed.html", {"key": key, "title": title, "played": played})


@router.post("/pieces/{key}/mend")
def mend_piece(request: Request, key: IdOf, desk: DeskOf) -> Response:
    """Make a piece that cannot be read one that can, and open it."""
    desk.mend(key)
    return go_to(request, f"/pieces/{key}")


@router.get("/pieces/{key}/score")
def take_score_back(key: IdOf, desk: DeskOf) -> Response:
    """The score as it was brought in, also where its plan cannot be read."""
    brought = desk.pieces.brought(key)
    name = PurePath(brought.filename)
    return as_file(brought.data, "application/octet-stream", name.stem, name.suffix)


@router.post("/pieces/{key}/put-back")
def put_back(request: Request, key: IdOf, desk: DeskOf) -> Response:
    """Put a piece back on the shelf."""
    desk.pieces.remove(key, back=True)
    return go_to(request, "/")
