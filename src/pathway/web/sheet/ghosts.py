"""Another plan's ribbons, thin over the sheet: only where its bows differ."""

from dataclasses import dataclass

from pathway.core.planning import Plan
from pathway.web.sheet.geometry import PlanIndex, tracks_of
from pathway.web.sheet.svg import draw_ghost
from pathway.web.sheet.view import SheetView

SAME = 0.005  # places closer than this are not told apart [m]


@dataclass(frozen=True, slots=True)
class Ghost:
    """What lies over one system."""

    number: int
    svg: str


def ghosts_of(view: SheetView, other: Plan) -> list[Ghost]:
    """Return the ribbons of another plan of the same piece for every system in which a bow differs."""
    index = PlanIndex(other)
    differs = {id_ for stroke in other.strokes if _differs(view.plan, other, stroke.id) for id_ in stroke.notes}
    found = []
    for number, system in enumerate(view.systems):
        if not view.holds(number) or differs.isdisjoint(system.notes):
            continue
        tracks = tracks_of(index, system, number, look=view.look)
        ribbons = [ribbon for ribbon in tracks.ribbons if not differs.isdisjoint(ribbon.notes)]
        found.append(Ghost(number, draw_ghost(tracks, ribbons)))
    return found


def _differs(plan: Plan, other: Plan, stroke: str) -> bool:
    one, two = plan.stroke.get(stroke), other.stroke[stroke]
    if one is None or one.direction is not two.direction or one.notes != two.notes:
        return True
    return abs(one.start - two.start) > SAME or abs(one.end - two.end) > SAME
