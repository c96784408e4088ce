"""The plan made audible: when beats, notes and bows fall, and any bars of it as sound."""

from typing import Annotated

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel, Field
from starlette.responses import Response

from pathway.core.music import pitch_name
from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.plan import Plan
from pathway.core.rig.instrument import frequency
from pathway.core.sound.spans import Scope
from pathway.desk.hearing import HeardOther
from pathway.web.shared.deps import DeskOf, HearingOf, IdOf, PagesOf
from pathway.web.shared.files import as_sound, as_times
from pathway.web.shared.turns import LongWork, in_turn

router = APIRouter(prefix="/pieces/{key}")


def drones_of(plan: Plan) -> list[tuple[float, str]]:
    """Return pitches [Hz] and names to choose a drone from: an octave from the lowest open string on."""
    low = min(string.midi for string in plan.rig.instrument.strings)
    return [(frequency(midi), pitch_name(midi)) for midi in range(low, low + 12)]


Seconds = Annotated[float, Query(ge=-60, le=100_000, allow_inf_nan=False)]  # in the time of the plan


class Asked(BaseModel):
    """What of a piece is to be heard, and how."""

    begin: Annotated[float, Field(ge=-60, le=100_000, allow_inf_nan=False)] = 0.0
    end: Annotated[float, Field(ge=-60, le=100_000, allow_inf_nan=False)] = 0.0
    scope: Scope | None = None  # around the note, in place of begin and end
    version: int = 0  # of the piece that the page has: another address for other sound
    alone: bool = False  # as it sounds without the hand's help
    note: Annotated[str, Field(max_length=100)] = ""
    code: Annotated[str, Field(max_length=60)] = ""
    fix: Annotated[str, Field(max_length=60)] = ""
    variant: Annotated[int, Field(ge=0, le=2**63 - 1)] = 0
    anew: bool = False
    heard: Heard | None = None
    should: bool = False
    lane: Annotated[float, Field(ge=0, le=6)] | None = None  # of a point on the tone map, with its weight
    force: Annotated[float, Field(ge=0.001, le=30)] | None = None

    @property
    def other(self) -> HeardOther:
        """Return which plan is asked for."""
        point = None if self.lane is None or self.force is None else (self.lane, self.force)
        return HeardOther(self.note, self.code, self.fix, self.variant, self.anew, self.heard, self.should, point)


@router.get("/sound")
def show_menu(request: Request, key: IdOf, desk: DeskOf, hearing: HearingOf, pages: PagesOf) -> Response:
    """What can sound beside the plan, to be chosen once."""
    context = {"key": key, "drones": drones_of(desk.open(key).plan), "others": hearing.others(key)}
    return pages.render(request, "sound/menu.html", context)


@router.get("/sound.wav")
@in_turn(LongWork.SOUND)
def hear(key: IdOf, asked: Annotated[Asked, Query()], hearing: HearingOf) -> Response:
    """Some seconds of a piece as sound; where the file begins, in the time of the plan, is told in a header."""
    clip = hearing.clip(key, asked.scope or (asked.begin, asked.end), asked.other, helped=not asked.alone)
    return as_sound(clip)


@router.get("/second.wav")
@in_turn(LongWork.SOUND)
def hear_second(
    key: IdOf,
    begin: Seconds,
    end: Seconds,
    part: Annotated[int, Query(ge=1, le=10_000)],
    hearing: HearingOf,
    plain: bool = False,
) -> Response:
    """Another part of the same score, to be played along with."""
    return as_sound(hearing.second(key, part, (begin, end), plain=plain))


@router.get("/beats.json")
def show_beats(key: IdOf, desk: DeskOf) -> Response:
    """When the beats fall, where the bow is, and in which stretches it can be heard."""
    now = desk.open(key)
    return as_times(now.plan, now.piece.version)
