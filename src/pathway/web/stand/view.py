"""What stands on the stand: lines as large as asked, in the order in which they are played."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from pathway.core.guide.speech import Speech
from pathway.core.music import Part
from pathway.core.planning.finding import Finding
from pathway.core.planning.plan import Plan
from pathway.core.technique.played import played_bars
from pathway.formats.staves import STAFF, System
from pathway.web.shared.tracks.geometry import SIGNS, PlanIndex, tracks_of
from pathway.web.shared.tracks.look import Look
from pathway.web.shared.tracks.pencil import with_pencil
from pathway.web.shared.tracks.svg import draw_tracks

STAFF_MM = (7.0, 9.0, 11.5, 14.0)  # as it stands on a tablet of ten inches
PER_MM = 5.05  # CSS px of such a tablet
LEAST_WIDTH, MOST_WIDTH, _STEP = 300, 1400, 20  # widths that lines are engraved at [CSS px]
RIBBONS = Look(lanes=False, strings=False, hair=72.0)
SIGNS_ONLY = Look(lanes=False, strings=False, hair=0.0)


def width_for(wide: float, size: int) -> int:
    """Return the width to engrave at, so that a line that fills a screen has its staff in the size asked for.

    Args:
        wide: what a line may take of the screen [CSS px].
        size: of the staff, the smallest 0.
    """
    exact = wide * STAFF / (STAFF_MM[size] * PER_MM)
    return int(min(max(_STEP * round(exact / _STEP), LEAST_WIDTH), MOST_WIDTH))


@dataclass(frozen=True, slots=True)
class StandLine:
    """One line with what is drawn on it."""

    number: int
    engraved: str
    drawn: str
    signs: str  # room for the signs above it, in % of its width
    bars: tuple[str, str]  # the first and the last


def lines_of(
    plan: Plan, systems: Sequence[System], findings: Sequence[Finding], look: Look, say: Speech
) -> list[StandLine]:
    """Return the lines of a plan."""
    index = PlanIndex(plan, findings)
    found = []
    for number, system in enumerate(systems):
        tracks = tracks_of(index, system, number, look=look, say=say)
        drawn = with_pencil(draw_tracks(tracks), tracks, system, plan, say)
        bars = [note.measure for note in index.notes_in(system)] or [""]
        room = f"{100 * SIGNS / system.width:.2f}"
        found.append(StandLine(number, system.svg, drawn, room, (bars[0], bars[-1])))
    return found


def played_order(part: Part, systems: Sequence[System]) -> list[int]:
    """Return the lines in the order in which they are played, repeats and all."""
    home = {note: number for number, system in enumerate(systems) for note in system.notes}
    first = {event.measure: home[event.id] for event in reversed(part.events) if event.id in home}
    lines = [first[bar] for bar in played_bars(part) if bar in first]
    return [line for line, _ in groupby(lines)]
