"""The station Music: the music with its passages under it, their steps, the tempi."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Literal

from fastapi import APIRouter, Form, Query, Request
from starlette.responses import Response

from pathway.core.planning.characters import as_character
from pathway.core.planning.passages import carved, taken_away
from pathway.core.planning.wishes import Passage, Settings, Style, TempoChange, identified
from pathway.desk import Chosen, Desk, OpenPiece
from pathway.errors import NotFound
from pathway.formats.wishes_document import note_at, placed_passage
from pathway.web.music.forms import PassageForm
from pathway.web.music.places import name_of
from pathway.web.music.steps import By, louder, steps_of, widened
from pathway.web.music.view import MusicView
from pathway.web.shared.deps import DeskOf, IdOf, PagesOf, SayOf
from pathway.web.shared.pages import Pages
from pathway.web.shared.room import lines_held, numbers_in, room_named, systems_of

router = APIRouter(prefix="/pieces/{key}/music")
GONE = "This passage is not there any more"
LOOK_AGAIN = "Look at the music again."


def _view(request: Request, desk: Desk, now: OpenPiece) -> MusicView:
    say = request.app.state.choices.get().speech
    return MusicView(now.piece, now.plan, systems_of(request, desk, now.piece), lines_held(request), say)


@router.get("")
def show_music(request: Request, key: IdOf, desk: DeskOf, pages: PagesOf) -> Response:
    """The music with its passages."""
    view = _view(request, desk, desk.open(key))
    return pages.render(request, "music/music.html", {"view": view, "room_for_lines": room_named(request)})


@router.get("/lines")
def show_lines(
    request: Request, key: IdOf, numbers: Annotated[str, Query(max_length=20_000)], desk: DeskOf, pages: PagesOf
) -> Response:
    """Lines that have come near the view."""
    view = _view(request, desk, desk.open(key))
    wanted = sorted(set(numbers_in(numbers)) & set(range(len(view.systems))))
    return pages.render(request, "music/lines.html", {"lines": [view.line(number) for number in wanted]})


@router.get("/panel")
def show_panel(
    request: Request,
    key: IdOf,
    desk: DeskOf,
    pages: PagesOf,
    passage: Annotated[int, Query(ge=0, le=9999)] = 0,
    start: Annotated[str, Query(max_length=60)] = "",
    end: Annotated[str, Query(max_length=60)] = "",
) -> Response:
    """The panel of a passage, or of a stretch that may become one."""
    view = _view(request, desk, desk.open(key))
    if passage:
        shown = _by_id(view.passages, passage)
    else:
        part = view.plan.part
        shown = placed_passage(Passage(start, end or start), part)
        if part.index[shown.start] > part.index[shown.end]:
            shown = replace(shown, start=shown.end, end=shown.start)
    return pages.render(request, "music/panel.html", {"view": view, "panel": view.panel(shown)})


def _by_id(passages: Sequence[Passage], id_: int) -> Passage:
    found = next((passage for passage in passages if passage.id == id_), None)
    if found is None:
        raise NotFound(GONE, advice=LOOK_AGAIN)
    return found


@router.post("/passages")
def set_passage(
    request: Request, key: IdOf, form: Annotated[PassageForm, Form()], desk: DeskOf, say: SayOf, pages: PagesOf
) -> Response:
    """Add a passage, or change one."""
    now = desk.open(key)
    passages = {passage.id: passage for passage in identified(now.plan.draft.settings.passages)}
    id_ = form.id or max(passages, default=0) + 1
    if form.id and form.id not in passages:
        raise NotFound(GONE, advice=LOOK_AGAIN)
    changed = placed_passage(form.changed(passages.get(id_, Passage(form.start, form.end, id=id_)), say), now.plan.part)
    passages[id_] = as_character(changed, form.word.strip()) if form.word else changed
    settings = replace(now.plan.draft.settings, passages=carved(now.plan.part, tuple(passages.values()), id_))
    label = f"{name_of(_by_id(settings.passages, id_))}: {form.start} to {form.end}"
    return _changed(request, pages, desk, desk.apply(key, form.version, Chosen(label, settings)).now, id_)


def _with_one(settings: Settings, id_: int, passage: Passage) -> Settings:
    passages = tuple(passage if one.id == id_ else one for one in identified(settings.passages))
    return replace(settings, passages=passages)


@router.post("/passages/{id_}/remove")
def remove_passage(
    request: Request, key: IdOf, id_: IdOf, version: Annotated[int, Form()], desk: DeskOf, pages: PagesOf
) -> Response:
    """Take a passage away; those that leaned on it keep the level they had."""
    settings = desk.open(key).plan.draft.settings
    label = f"{name_of(_by_id(identified(settings.passages), id_))}: taken away"
    settings = replace(settings, passages=taken_away(settings.passages, id_))
    return _changed(request, pages, desk, desk.apply(key, version, Chosen(label, settings)).now)


@router.post("/steps/{id_}")
def set_step(
    request: Request,
    key: IdOf,
    id_: IdOf,
    version: Annotated[int, Form()],
    desk: DeskOf,
    pages: PagesOf,
    what: Annotated[By, Form()] = By.LEVEL,
    by: Annotated[Literal["wider", "narrower"], Form()] = "wider",
    louder_db: Annotated[float | None, Form(ge=-12, le=12)] = None,
) -> Response:
    """Make the step to a passage wider or narrower, or the passage louder by so much."""
    now = desk.open(key)
    view = MusicView(now.piece, now.plan)
    after = _by_id(view.passages, id_)
    if louder_db is not None:
        changed = louder(after, louder_db)
    else:
        at = view.passages.index(after)
        step = next((step for step in steps_of(now.plan, view.passages) if step.after == at), None)
        if step is None:
            raise NotFound("There is no passage before this one", advice=LOOK_AGAIN)
        changed = widened(view.passages[step.before], after, step, what, 1 if by == "wider" else -1)
    settings = _with_one(now.plan.draft.settings, id_, changed)
    label = f"{name_of(after)}: {what.value} {by}"
    if louder_db is not None:
        label = f"{name_of(after)}: {abs(louder_db):g} dB {'louder' if louder_db > 0 else 'softer'}"
    return _changed(request, pages, desk, desk.apply(key, version, Chosen(label, settings)).now)


@router.post("/piece")
def set_piece(
    request: Request,
    key: IdOf,
    version: Annotated[int, Form()],
    desk: DeskOf,
    pages: PagesOf,
    style: Annotated[Style | None, Form()] = None,
    early_chords: Annotated[bool | None, Form()] = None,
) -> Response:
    """Choose for the whole piece: its style, and when chords begin."""
    settings = desk.open(key).plan.draft.settings
    label = f"{settings.style.value} style"
    if style is not None:
        settings, label = replace(settings, style=style), f"{style.value} style"
    if early_chords is not None:
        settings = replace(settings, chords_before_beat=early_chords)
        label = f"Chords {'before' if early_chords else 'on'} the beat"
    return _changed(request, pages, desk, desk.apply(key, version, Chosen(label, settings)).now)


@router.post("/tempi")
def set_tempo_from(
    request: Request,
    key: IdOf,
    version: Annotated[int, Form()],
    at: Annotated[str, Form(max_length=60)],
    bpm: Annotated[float, Form()],
    desk: DeskOf,
    pages: PagesOf,
) -> Response:
    """Play from a place on at a tempo of one's own, told at the piece's tempo now."""
    now = desk.open(key)
    note = note_at(at, now.plan.part)
    others = tuple(tempo for tempo in now.plan.draft.settings.tempi if tempo.note != note)
    tempi = (*others, TempoChange(note, bpm / MusicView(now.piece, now.plan).tempo_factor))
    settings = replace(now.plan.draft.settings, tempi=tempi)
    return _changed(request, pages, desk, desk.apply(key, version, Chosen(f"{at}: tempo {bpm:g}", settings)).now)


@router.post("/tempi/{note}/remove")
def remove_tempo(
    request: Request, key: IdOf, note: str, version: Annotated[int, Form()], desk: DeskOf, pages: PagesOf
) -> Response:
    """Take a tempo of one's own back."""
    now = desk.open(key)
    tempi = tuple(tempo for tempo in now.plan.draft.settings.tempi if tempo.note != note)
    place = now.plan.note[note].where if note in now.plan.note else note
    settings = replace(now.plan.draft.settings, tempi=tempi)
    return _changed(request, pages, desk, desk.apply(key, version, Chosen(f"{place}: tempo as printed", settings)).now)


@router.post("/history/{way}")
def step_history(
    request: Request,
    key: IdOf,
    way: Literal["undo", "redo"],
    version: Annotated[int, Form()],
    desk: DeskOf,
    pages: PagesOf,
) -> Response:
    """Undo or redo."""
    return _changed(request, pages, desk, desk.step(key, version, -1 if way == "undo" else 1).now)


def _changed(request: Request, pages: Pages, desk: Desk, now: OpenPiece, id_: int = 0) -> Response:
    """What a change made of the page, as fragments for their places; the panel of a passage that is worked on."""
    view = _view(request, desk, now)
    shown = next((passage for passage in view.passages if passage.id == id_), None)
    panel = view.panel(shown) if shown else None
    return pages.render(request, "music/changed.html", {"view": view, "panel": panel})
