"""Piece files (.pathway): a piece as open parts in one zip, for a teacher, a pupil or a desk partner.

`contents.json` says what is inside; the rest are the open formats: the score as it came, plan.json, wishes.json,
rig.json, variants, findings laid aside, and, if chosen, log.json, the sound of takes, and history.json.
"""

import json
import re
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from io import BytesIO
from pathlib import PurePath
from typing import Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from pathway.errors import ScoreError, TooLarge
from pathway.formats.misread import first_fault
from pathway.formats.safe_files import DAMAGED, MOST_BYTES

CONTENTS, PLAN, WISHES, RIG, ASIDE, LOG, HISTORY = (
    "contents.json", "plan.json", "wishes.json", "rig.json", "aside.json", "log.json", "history.json"
)  # fmt: skip
MOST_FILE = 150_000_000  # as it comes [bytes]
_MOST, _MOST_TIMES, _MOST_FILES = 300_000_000, 200, 400  # unpacked [bytes]; of the packed size; files
_VARIANT, _TAKE = re.compile(r"variants/(\d{1,3})\.json"), re.compile(r"takes/(\d{1,4})\.flac")


_Doc = TypeVar("_Doc", bound=BaseModel)


class _Model(BaseModel):
    model_config = ConfigDict(frozen=True)


class FileDoc(_Model):
    """One file, in words."""

    name: str = Field(max_length=200)
    what: str = Field(max_length=200)


class ContentsDoc(_Model):
    """What a piece file holds."""

    format: Literal["pathway-piece"] = "pathway-piece"
    version: Literal[1] = 1
    title: str = Field(max_length=300)
    part: str = Field(max_length=200)
    number: int = Field(default=1, ge=1, le=500, description="of the part in the score")
    score: str = Field(max_length=300, description="name of the score's file, in score/")
    made: str = Field(default="", max_length=40)
    files: list[FileDoc] = []


class AsideDoc(_Model):
    """A finding laid aside."""

    code: str = Field(max_length=60)
    note: str = Field(max_length=100)
    reason: str = Field(max_length=300)


class AsidesDoc(_Model):
    """Findings laid aside."""

    aside: list[AsideDoc] = Field(default=[], max_length=5000)


class TakeDoc(_Model):
    """A recording."""

    name: str = Field(default="", max_length=100)
    begun: str = Field(max_length=40)
    first: str = Field(default="", max_length=100)
    last: str = Field(default="", max_length=100)
    seconds: float = Field(default=0.0, ge=0, le=7200)


@dataclass(frozen=True)
class PieceFile:
    """A piece as open parts; documents as they are written."""

    title: str
    part: str
    number: int  # of the part in the score
    score_name: str
    score: bytes
    plan: bytes
    wishes: bytes
    rig: bytes
    made: str = ""
    variants: Sequence[tuple[str, bytes]] = ()  # name and wishes
    asides: Sequence[AsideDoc] = ()
    log: bytes | None = None
    history: bytes | None = None
    takes: Sequence[tuple[TakeDoc, bytes]] = ()
    files: Mapping[str, str] = field(default_factory=dict)  # what is inside, by name


def is_piece_file(data: bytes) -> bool:
    """Whether this is a piece file, by its contents' name alone."""
    try:
        return CONTENTS in zipfile.ZipFile(BytesIO(data)).namelist()
    except DAMAGED:
        return False


def write_piece_file(piece: PieceFile) -> bytes:
    """Return a piece as one file."""
    name = PurePath(piece.score_name).name or "score"
    parts: list[tuple[str, str, bytes]] = [
        (f"score/{name}", "the score as it came in", piece.score),
        (PLAN, "the plan, every stroke and note", piece.plan),
        (WISHES, "what was wished: passages and locks", piece.wishes),
        (RIG, "instrument, bow and hold", piece.rig),
    ]
    for n, (told, wishes) in enumerate(piece.variants, start=1):
        doc = json.dumps({"name": told, "wishes": json.loads(wishes)}, ensure_ascii=False, indent=1)
        parts.append((f"variants/{n}.json", f"variant {told}", doc.encode()))
    if piece.asides:
        asides = AsidesDoc(aside=list(piece.asides)).model_dump_json(indent=1)
        parts.append((ASIDE, "findings laid aside, with reasons", asides.encode()))
    if piece.log is not None:
        parts.append((LOG, "what was practised", piece.log))
    if piece.history is not None:
        parts.append((HISTORY, "every state of the plan, what was heard, where drills stand", piece.history))
    for n, (take, flac) in enumerate(piece.takes, start=1):
        parts.append((f"takes/{n}.json", f"take {take.name}".strip(), take.model_dump_json(indent=1).encode()))
        parts.append((f"takes/{n}.flac", "its sound", flac))
    files = [FileDoc(name=name, what=what[:200]) for name, what, _ in parts]
    contents = ContentsDoc(
        title=piece.title, part=piece.part, number=piece.number, score=name, made=piece.made, files=files
    )
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(CONTENTS, contents.model_dump_json(indent=1))
        for path, _, data in parts:
            archive.writestr(path, data, zipfile.ZIP_STORED if path.endswith(".flac") else zipfile.ZIP_DEFLATED)
    return out.getvalue()


def read_piece_file(data: bytes) -> PieceFile:
    """Return a piece file's parts; names beyond those of the format are left alone.

    Raises:
        ScoreError: not one, damaged, or a part of it is missing or wrong; says which.
        TooLarge: it unpacks to more than is sound.
    """
    try:
        archive = zipfile.ZipFile(BytesIO(data))
        members = archive.infolist()
        most = min(_MOST, MOST_BYTES + _MOST_TIMES * len(data))
        if len(members) > _MOST_FILES or sum(member.file_size for member in members) > most:
            raise TooLarge("The file unpacks to more than a piece can be", advice="Take out the takes.")
        files = {member.filename: archive.read(member) for member in members if not member.is_dir()}
    except DAMAGED as error:
        raise ScoreError("This piece file is damaged", advice="Ask for it again.") from error
    contents = _of(ContentsDoc, files, CONTENTS)
    score = files.get(f"score/{contents.score}")
    if score is None or len(score) > MOST_BYTES:
        raise _missing(f"score/{contents.score}")
    takes = []
    for number, path in _numbered(files, _TAKE):
        if not files[path].startswith(b"fLaC"):
            raise ScoreError(f"This piece file is not sound: {path} is no recording", advice="Take it out.")
        takes.append((_of(TakeDoc, files, f"takes/{number}.json"), files[path]))
    return PieceFile(
        title=contents.title,
        part=contents.part,
        number=contents.number,
        score_name=contents.score,
        score=score,
        plan=_part(files, PLAN),
        wishes=_part(files, WISHES),
        rig=_part(files, RIG),
        made=contents.made,
        variants=[_variant(files[path], path) for _, path in _numbered(files, _VARIANT)],
        asides=_of(AsidesDoc, files, ASIDE).aside if ASIDE in files else [],
        log=files.get(LOG),
        history=files.get(HISTORY),
        takes=takes,
        files={doc.name: doc.what for doc in contents.files if doc.name in files},
    )


class _VariantDoc(_Model):
    name: str = Field(max_length=100)
    wishes: dict[str, object]


def _variant(data: bytes, path: str) -> tuple[str, bytes]:
    doc = _of(_VariantDoc, {path: data}, path)
    return doc.name, json.dumps(doc.wishes).encode()


def _numbered(files: Mapping[str, bytes], kind: re.Pattern[str]) -> list[tuple[str, str]]:
    """Return the numbers and paths of the files of a kind, by number: the tenth comes after the ninth."""
    found = [(match[1], path) for path in files if (match := kind.fullmatch(path))]
    return sorted(found, key=lambda one: (int(one[0]), one[0]))


def _part(files: Mapping[str, bytes], path: str) -> bytes:
    if path not in files:
        raise _missing(path)
    return files[path]


def _of(kind: type[_Doc], files: Mapping[str, bytes], path: str) -> _Doc:
    try:
        return kind.model_validate_json(_part(files, path))
    except ValidationError as error:
        where, what = first_fault(error)
        raise ScoreError(f"This piece file is not sound: {where} {what}", place=path) from error


def _missing(path: str) -> ScoreError:
    return ScoreError(f"This piece file is not whole: {path} is missing", advice="Ask for it again.")
