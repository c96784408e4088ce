"""The station Music: bars, passages, contrasts."""

from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, Form, Request
from pydantic import BaseModel, BeforeValidator, Field
from starlette.responses import Response

from pathway.core.planning.wishes import Colour, Profile, Settings, Style, TempoChange
from pathway.core.technique.chords import Form as ChordForm
from pathway.core.technique.double_stops import Leading
from pathway.desk import OpenPiece
from pathway.formats.wishes_document import PassageDoc, WishesDoc, note_at, passage_document, passages_of
from pathway.web.music.view import MusicView
from pathway.web.shared.deps import DeskOf, IdOf, PagesOf, go_to

router = APIRouter(prefix="/pieces/{key}/music")
_EMPTY = BeforeValidator(lambda value: value or None)  # an empty field asks for nothing


class PassageForm(BaseModel):
    """One passage as the page sends it; empty fields are left to the notation."""

    version: int
    number: int = 0  # which one is changed, counted from 1; 0: a new one
    start: Annotated[str, Field(max_length=60)]
    end: Annotated[str, Field(max_length=60)]
    character: Annotated[str, Field(max_length=80)] = ""
    type: Annotated[str | None, _EMPTY] = None
    colour: Colour = Colour.PLAIN
    colour_end: Annotated[Colour | None, _EMPTY] = None
    offset_db: float = 0.0
    style: Annotated[Style | None, _EMPTY] = None
    profile: Annotated[Profile | None, _EMPTY] = None
    lead: Annotated[Leading | None, _EMPTY] = None
    chords: Annotated[ChordForm | None, _EMPTY] = None

    @property
    def document(self) -> PassageDoc:
        """Return it as a document."""
        return PassageDoc(
            from_=self.start,
            to=self.end,
            character=self.character.strip(),
            type=self.type,
            colour=self.colour,
            colour_end=self.colour_end,
            offset_db=self.offset_db,
            style=self.style,
            profile=self.profile,
            lead=self.lead,
            chords=self.chords,
        )


@router.get("")
def show_music(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """The piece as a map of bars."""
    now = desk.visit(key)
    return pages.render(request, "music/music.html", {"view": MusicView(now.piece, now.plan)})


def _documents(now: OpenPiece) -> list[PassageDoc]:
    return [passage_document(passage) for passage in MusicView(now.piece, now.plan).passages]


def _with_passages(now: OpenPiece, documents: list[PassageDoc]) -> Settings:
    passages = passages_of(WishesDoc(passages=documents), now.plan.part)
    return replace(now.plan.draft.settings, passages=passages)


@router.post("/passages")
def set_passage(request: Request, key: IdOf, form: Annotated[PassageForm, Form()], desk: DeskOf) -> Response:
    """Add a passage, or change one."""
    now = desk.open(key)
    documents = _documents(now)
    if 1 <= form.number <= len(documents):
        documents[form.number - 1] = form.document
    else:
        documents.append(form.document)
    name = form.character.strip() or "passage"
    desk.choose(key, form.version, f"{name}: {form.start} to {form.end}", _with_passages(now, documents))
    return _again(request, key)


@router.post("/passages/{number}/remove")
def remove_passage(request: Request, key: IdOf, number: int, version: Annotated[int, Form()], desk: DeskOf) -> Response:
    """Take a passage away."""
    now = desk.open(key)
    documents = [doc for n, doc in enumerate(_documents(now), 1) if n != number]
    desk.choose(key, version, f"Passage {number} taken away", _with_passages(now, documents))
    return _again(request, key)


@router.post("/tempi")
def set_tempo_from(
    request: Request,
    key: IdOf,
    version: Annotated[int, Form()],
    at: Annotated[str, Form(max_length=60)],
    bpm: Annotated[float, Form()],
    desk: DeskOf,
) -> Response:
    """Play from a place on at a tempo of one's own, told at the piece's tempo now."""
    now = desk.open(key)
    view = MusicView(now.piece, now.plan)
    note = note_at(at, now.plan.part)
    others = tuple(tempo for tempo in now.plan.draft.settings.tempi if tempo.note != note)
    tempi = (*others, TempoChange(note, bpm / view.tempo_factor))
    desk.choose(key, version, f"{at}: tempo {bpm:g}", replace(now.plan.draft.settings, tempi=tempi))
    return _again(request, key)


@router.post("/tempi/{note}/remove")
def remove_tempo(request: Request, key: IdOf, note: str, version: Annotated[int, Form()], desk: DeskOf) -> Response:
    """Take a tempo of one's own back."""
    now = desk.open(key)
    tempi = tuple(tempo for tempo in now.plan.draft.settings.tempi if tempo.note != note)
    place = now.plan.note[note].where if note in now.plan.note else note
    desk.choose(key, version, f"{place}: tempo as printed", replace(now.plan.draft.settings, tempi=tempi))
    return _again(request, key)


def _again(request: Request, key: IdOf) -> Response:
    """Show the map anew."""
    return go_to(request, f"/pieces/{key}/music")
