"""What of a piece can be taken home: the score with its bow marks, the plan as documents."""

from fastapi import APIRouter
from starlette.responses import Response

from pathway.desk import OpenPiece
from pathway.errors import ScoreError
from pathway.formats.marked import write_mei_marks, write_mxl
from pathway.formats.musicxml import write_bow_marks
from pathway.formats.plan_exchange import bow_marks, document_of
from pathway.formats.plan_table import to_csv
from pathway.formats.score import ScoreFile
from pathway.web.shared.deps import DeskOf, IdOf
from pathway.web.shared.files import as_file

router = APIRouter(prefix="/pieces/{key}")


@router.get("/plan.json")
def take_json(key: IdOf, desk: DeskOf) -> Response:
    """The plan document."""
    now = desk.open(key)
    return _file(document_of(now.plan).to_json(), "application/json", now, "plan.json")


@router.get("/plan.csv")
def take_csv(key: IdOf, desk: DeskOf) -> Response:
    """The notes as a table."""
    now = desk.open(key)
    return _file(to_csv(document_of(now.plan)), "text/csv; charset=utf-8", now, "plan.csv")


@router.get("/marked.musicxml")
def take_marked(key: IdOf, desk: DeskOf) -> Response:
    """The player's own score with the bow marks in it."""
    now = desk.open(key)
    return _file(_marked(now), "application/vnd.recordare.musicxml+xml", now, "bowed.musicxml")


@router.get("/marked.mxl")
def take_packed(key: IdOf, desk: DeskOf) -> Response:
    """The same, compressed."""
    now = desk.open(key)
    return _file(write_mxl(_marked(now)), "application/vnd.recordare.musicxml", now, "bowed.mxl")


@router.get("/marked.mei")
def take_mei(key: IdOf, desk: DeskOf) -> Response:
    """The part as MEI with the bow marks in it, whatever it came as."""
    now = desk.open(key)
    return _file(write_mei_marks(now.piece.mei, bow_marks(now.plan)), "application/mei+xml", now, "bowed.mei")


def _marked(now: OpenPiece) -> bytes:
    """Return the player's own document with the bow marks in it."""
    score = ScoreFile(now.piece.source, now.piece.source_name)
    if not score.takes_marks:
        raise ScoreError(
            "Bow marks can be written into MusicXML scores only; this one came in another format",
            place=now.piece.source_name,
            advice="Take it as MEI, the plan as JSON or CSV, or bring the part in as MusicXML.",
        )
    return write_bow_marks(score.document, bow_marks(now.plan))


def _file(content: str | bytes, kind: str, now: OpenPiece, suffix: str) -> Response:
    return as_file(content, kind, f"{now.piece.title} {now.piece.part_name}", f"-{suffix}")
