"""The day's drills as they are printed: each with its lines, at the rung where the player is."""

from dataclasses import dataclass

from pathway.core.guide.drills import DRILL_WORDS
from pathway.core.guide.speech import Speech
from pathway.desk import Desk
from pathway.desk.practising import OpenDrill, Practising
from pathway.web.paper.sheet import Wish, one_picture
from pathway.web.practice.today import DayView, pieces_of_day
from pathway.web.practice.words import name_of, tempo_of, where_of
from pathway.web.shared.tracks.geometry import PlanIndex, tracks_of
from pathway.web.shared.tracks.svg import draw_tracks


@dataclass(frozen=True, slots=True)
class PrintedDrill:
    """One drill on paper."""

    name: str
    watch: str
    lines: tuple[str, ...]  # pictures


def printed_drills(practising: Practising, desk: Desk, wish: Wish, say: Speech) -> list[PrintedDrill]:
    """Return the drills of the day over all pieces."""
    day = DayView(practising, desk, say, pieces_of_day(desk, None))
    found = []
    for entry in day.entries:
        if entry.ask is not None:
            drill = practising.drill(entry.piece, entry.ask.key, "violin")
            found.append(_printed(practising, drill, wish))
    return found


def _printed(practising: Practising, drill: OpenDrill, wish: Wish) -> PrintedDrill:
    rung = practising.climb(drill).rung
    one = drill.ready.at(rung)
    index, lines = PlanIndex(one.plan), []
    for number, system in enumerate(practising.lines(drill, rung, wish.width)):
        drawn = draw_tracks(tracks_of(index, system, number, look=wish.look))
        lines.append(one_picture(system, drawn, wish))
    told = f"{drill.title} · {where_of(drill.ask)} · {one.rung.name}, {tempo_of(one)}. Watch: "
    return PrintedDrill(name_of(drill.ask), told + DRILL_WORDS[drill.ask.family].watch, tuple(lines))
