"""The station Music: bars, passages, contrasts."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, Form, Request
from pydantic import BaseModel, BeforeValidator, Field
from starlette.responses import Response

from pathway.core.planning.wish_checks import checked_passages
from pathway.core.planning.wishes import Colour, Passage, Profile, Settings, Style, TempoChange, identified
from pathway.core.technique.chords import Form as ChordForm
from pathway.core.technique.double_stops import Leading
from pathway.desk import OpenPiece
from pathway.errors import NotFound
from pathway.formats.wishes_document import PassageDoc, RelationDoc, WishesDoc, note_at, passage_document, passages_of
from pathway.web.music.view import MusicView
from pathway.web.shared.deps import DeskOf, IdOf, PagesOf, go_to

router = APIRouter(prefix="/pieces/{key}/music")
_EMPTY = BeforeValidator(lambda value: value or None)  # an empty field asks for nothing
_EMPTY_NUMBER = BeforeValidator(lambda value: None if value == "" else value)
_LIST = BeforeValidator(lambda values: tuple(" ".join(values).replace(",", " ").split()))  # numbers in one field
_PLAIN = {"type", "colour", "colour_end", "offset_db", "style", "profile", "lead", "chords", "string"}


class PassageForm(BaseModel):
    """One passage as the page sends it; empty fields are left to the notation."""

    version: int
    id: Annotated[int, Field(ge=0, le=9999)] = 0  # which one is changed; 0: a new one
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
    string: Annotated[int | None, _EMPTY_NUMBER] = None
    gap: Annotated[float | None, _EMPTY_NUMBER] = None  # [%]
    keep_back: Annotated[float | None, _EMPTY_NUMBER] = None  # [cm]
    beats: Annotated[tuple[float, ...], _LIST] = ()
    bars: Annotated[tuple[int, ...], _LIST] = ()
    group: Annotated[int, Field(ge=1, le=32)] = 1
    swing: float = 1.0
    like: Annotated[int | None, _EMPTY_NUMBER] = None  # the passage it leans on
    by_db: float = 0.0

    def changed(self, before: PassageDoc) -> PassageDoc:
        """Return the document of a passage with what the page sent; what it did not send stays as it was."""
        sent = self.model_fields_set
        values = {name: getattr(self, name) for name in _PLAIN & sent}
        values |= {"from_": self.start, "to": self.end}
        if "character" in sent:
            values["character"] = self.character.strip()
        if "gap" in sent:
            values["gap"] = None if self.gap is None else self.gap / 100
        if "keep_back" in sent:
            values["keep_back_cm"] = self.keep_back
        if stress := sent & {"beats", "bars", "group", "swing"}:
            asked = {name: list(value) if isinstance(value := getattr(self, name), tuple) else value for name in stress}
            values["stress"] = before.stress.model_copy(update=asked)
        if "like" in sent:
            values["relation"] = None if self.like is None else RelationDoc(to=self.like, by_db=self.by_db)
        return before.model_copy(update=values)


@router.get("")
def show_music(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """The piece as a map of bars."""
    now = desk.visit(key)
    return pages.render(request, "music/music.html", {"view": MusicView(now.piece, now.plan)})


def _documents(now: OpenPiece) -> dict[int, PassageDoc]:
    """Return the passages by id."""
    return {passage.id: passage_document(passage) for passage in identified(now.plan.draft.settings.passages)}


def _with_passages(now: OpenPiece, documents: Mapping[int, PassageDoc]) -> Settings:
    passages = passages_of(WishesDoc(passages=list(documents.values())), now.plan.part)
    return replace(now.plan.draft.settings, passages=passages)


def _levelled(now: OpenPiece) -> tuple[Passage, ...]:
    """Return the passages with their relations worked into their levels."""
    plan = now.plan
    return checked_passages(plan.part, plan.draft.settings.passages, len(plan.rig.instrument.strings))


@router.post("/passages")
def set_passage(request: Request, key: IdOf, form: Annotated[PassageForm, Form()], desk: DeskOf) -> Response:
    """Add a passage, or change one."""
    now = desk.open(key)
    documents = _documents(now)
    id_ = form.id or max(documents, default=0) + 1
    if form.id and form.id not in documents:
        raise NotFound("This passage is not there any more", advice="Look at the map again.")
    documents[id_] = form.changed(documents.get(id_, PassageDoc(from_=form.start, to=form.end, id=id_)))
    name = documents[id_].character or "passage"
    desk.choose(key, form.version, f"{name}: {form.start} to {form.end}", _with_passages(now, documents))
    return _again(request, key)


@router.post("/passages/{id_}/remove")
def remove_passage(request: Request, key: IdOf, id_: IdOf, version: Annotated[int, Form()], desk: DeskOf) -> Response:
    """Take a passage away; those that leaned on it keep the level they had."""
    now = desk.open(key)
    taken = _documents(now).get(id_)
    if taken is None:
        raise NotFound("This passage is not there any more", advice="Look at the map again.")
    levels = {passage.id: passage.offset_db for passage in _levelled(now)}
    documents = {
        other: doc.model_copy(update={"relation": None, "offset_db": levels[other]})
        if doc.relation and doc.relation.to == id_
        else doc
        for other, doc in _documents(now).items()
        if other != id_
    }
    desk.choose(key, version, f"{taken.character or 'passage'}: taken away", _with_passages(now, documents))
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
