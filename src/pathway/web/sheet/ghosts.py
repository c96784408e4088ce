"""Another plan, thin over the sheet: its ribbons, lanes and strings, only where they differ."""

from dataclasses import dataclass

from pathway.core.planning import Plan
from pathway.core.planning.note_plan import NotePlan
from pathway.web.shared.tracks.geometry import PlanIndex, tracks_of
from pathway.web.shared.tracks.svg import draw_ghost
from pathway.web.sheet.view import SheetView

SAME = 0.005  # places closer than this are not told apart [m]


@dataclass(frozen=True, slots=True)
class Ghost:
    """What lies over one system."""

    number: int
    svg: str


def ghosts_of(view: SheetView, other: Plan) -> list[Ghost]:
    """Return what another plan of the same piece does otherwise, for every system at hand in which it does."""
    index = PlanIndex(other)
    bows = {id_ for stroke in other.strokes if _differs(view.plan, other, stroke.id) for id_ in stroke.notes}
    pairs = [(view.plan.note[note.id], note) for note in other.bowed]
    lanes = {note.id for was, note in pairs if note.lane != was.lane}
    strings = {note.id for was, note in pairs if _strings(note) != _strings(was)}
    touched = bows | lanes | strings
    found = []
    for number, system in enumerate(view.systems):
        if not view.holds(number) or touched.isdisjoint(system.notes):
            continue
        tracks = tracks_of(index, system, number, look=view.look)
        ribbons = [ribbon for ribbon in tracks.ribbons if not bows.isdisjoint(ribbon.notes)]
        bars = [bar for bar in tracks.lanes if bar.note in lanes] + [b for b in tracks.strings if b.note in strings]
        found.append(Ghost(number, draw_ghost(tracks, ribbons, bars)))
    return found


def _strings(note: NotePlan) -> set[int]:
    return {voice.string for voice in note.voices}


def _differs(plan: Plan, other: Plan, stroke: str) -> bool:
    one, two = plan.stroke.get(stroke), other.stroke[stroke]
    if one is None or one.direction is not two.direction or one.notes != two.notes:
        return True
    return abs(one.start - two.start) > SAME or abs(one.end - two.end) > SAME
