"""The bench: a double stop, a crossing or a chord taken apart, and patterns of open strings to keep."""

from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from starlette.responses import Response

from pathway.core.sound import held
from pathway.formats.patterns import Pattern, pattern_score
from pathway.formats.score import ScoreFile
from pathway.web.bench.ask import BenchAsk, ask_of, figure_of
from pathway.web.bench.view import BenchView
from pathway.web.shared.deps import DeskOf, HearingOf, PagesOf, SayOf, go_to
from pathway.web.shared.files import as_sound
from pathway.web.shared.turns import LongWork, in_turn

router = APIRouter(prefix="/bench")


@router.get("")
def show_bench(
    request: Request,
    ask: Annotated[BenchAsk, Query()],
    desk: DeskOf,
    say: SayOf,
    pages: PagesOf,
    piece: int | None = None,
    note: str | None = None,
) -> Response:
    """The bench with what its fields say, or with a note of a piece on it."""
    title, planned, figure = "", None, None
    ask = ask.meant(say)
    if piece is not None:
        now = desk.open(piece)
        planned = now.plan.bowed_note(note or "")
        ask, title, figure = ask_of(now.plan, planned), now.piece.title, figure_of(now.plan, planned)
    view = BenchView(ask, desk.rigs.find(ask.rig).rig, say, planned, figure)
    context = {"view": view, "rigs": desk.rigs.names(), "piece": piece, "piece_title": title}
    return pages.render(request, "bench/bench.html", context)


@router.get("/figures")
def show_figures(
    request: Request, ask: Annotated[BenchAsk, Query()], desk: DeskOf, say: SayOf, pages: PagesOf
) -> Response:
    """The pictures and figures alone, as the sliders move."""
    return pages.render(
        request, "bench/figures.html", {"view": BenchView(ask.meant(say), desk.rigs.find(ask.rig).rig, say)}
    )


@router.get("/sound.wav")
@in_turn(LongWork.SOUND)
def hear_bench(ask: Annotated[BenchAsk, Query()], desk: DeskOf, hearing: HearingOf, say: SayOf) -> Response:
    """The double stop as it lies on the bench."""
    ask = ask.meant(say)
    known = desk.rigs.find(ask.rig)
    view = BenchView(ask, known.rig)
    return as_sound(hearing.whole((ask, known.version), lambda: held(view.two, view.chosen)))


@router.post("/patterns")
def keep_pattern(request: Request, ask: Annotated[BenchAsk, Form()], desk: DeskOf, say: SayOf) -> Response:
    """Put the pattern of open strings on the shelf as a piece, and open it."""
    two = ask.meant(say).two(desk.rigs.find(ask.rig).rig)
    strings = two.rig.instrument.strings
    pattern = Pattern(
        low=strings[ask.lower].midi,
        high=strings[ask.lower + 1].midi,
        names=(strings[ask.lower].letter, strings[ask.lower + 1].letter),
        notes_a_bow=ask.notes,
        begins_high=ask.begins == "higher",
        up_bow=ask.bow == "up",
        octave_down=two.rig.instrument.octave_down,
    )
    source = pattern_score(pattern)
    key = desk.add(ScoreFile(source, "pattern.musicxml"), source, "pattern.musicxml", None, ask.rig)
    return go_to(request, f"/pieces/{key}")
