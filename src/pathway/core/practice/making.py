"""A drill from what is asked for: made for a rig, from a place of a piece or without one."""

from dataclasses import dataclass, replace
from statistics import median

from pathway.core.planning.plan import Plan
from pathway.core.practice.drill import Drill, DrillAsk, PlannedWork, Quantity, Stage, Still
from pathway.core.practice.excerpt import Bars
from pathway.core.practice.families import FAMILIES
from pathway.core.practice.ground import Ground
from pathway.core.practice.ladder import planned
from pathway.core.practice.row import FamilyRow
from pathway.core.rig.instrument import Rig
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import NotFound

SINGLE_STAGES = {Stage.BARS, Stage.AROUND}


def row_of(ask: DrillAsk) -> FamilyRow:
    """Return what is known of a drill's family.

    Raises:
        NotFound: no such family, stage or stroke type.
    """
    row = FAMILIES.get(ask.family)
    if row is None or ask.stage not in row.stages or (ask.kind and ask.kind not in STROKE_TYPES):
        raise NotFound("There is no such drill", advice="Choose one from the list.")
    return row


def ask_in(key: str) -> DrillAsk | None:
    """Return the drill that a word in a log means; None where there is no such drill any more."""
    try:
        ask = DrillAsk.of(key)
        row_of(ask)
    except NotFound:
        return None
    return ask


def whole_ask(key: str) -> DrillAsk:
    """Return which drill a word means; without a way of it the first one.

    Raises:
        NotFound: it means none.
    """
    ask = DrillAsk.of(key)
    return ask if ask.member else replace(ask, member=row_of(ask).members[0])


def drill_of(ask: DrillAsk, rig: Rig, plan: Plan | None = None) -> Drill:
    """Return a drill with its rungs.

    Args:
        ask: which one.
        rig: that it is for.
        plan: of the piece that it belongs to.

    Raises:
        NotHere: it makes no sense on this rig, or at this place.
        NotFound: no such drill, or its notes are not there any more.
    """
    row = row_of(ask)
    ground = Ground(ask, rig, plan)
    ground.one_of(row.members)
    own = ask.stage in SINGLE_STAGES
    rungs = tuple(row.make(ground))
    return Drill(ask, rig, rungs, strict=row.strict or not own, known=_known(ground) if own else frozenset())


def _known(ground: Ground) -> frozenset[str]:
    """Return the findings that the piece has in the bars anyway: they are no reason not to practise them."""
    return frozenset(finding.code.value for finding in ground.known_plan.findings)


@dataclass(frozen=True)
class Opened:
    """A drill ready to be played."""

    drill: Drill
    row: FamilyRow
    rungs: tuple[PlannedWork, ...]
    bars: Bars | None  # of the piece, where it is made from them
    place: Bars | None = None  # that asked for it

    def at(self, rung: int) -> PlannedWork:
        """Return a rung; the nearest one there is."""
        return self.rungs[min(max(rung, 0), len(self.rungs) - 1)]

    @property
    def top(self) -> int:
        """Return the last rung."""
        return len(self.rungs) - 1

    def share(self, rung: int) -> float:
        """Return how near a rung is to the aim: by its rate where the ladder gets quicker, else by its place."""
        rates = [one.rate for one in self.rungs]
        at = min(max(rung, 0), self.top)
        if rates[-1] == max(rates) > rates[0]:
            return rates[at] / rates[-1]
        return (at + 1) / len(rates)

    @property
    def holds_from(self) -> int | None:
        """Return the first rung from which on the bowing is that of the piece; None where it never is."""
        held = [one.holds for one in self.rungs]
        return next((i for i in range(len(held)) if all(held[i:])), None)


def opened(ask: DrillAsk, rig: Rig, plan: Plan | None = None) -> Opened:
    """Return a drill with its rungs planned; those that cannot be bowed are left out.

    Raises:
        NotHere: it makes no sense on this rig, or no rung of it can be bowed.
        NotFound: no such drill, or its notes are not there any more.
    """
    drill = drill_of(ask, rig, plan)
    own = ask.stage in SINGLE_STAGES
    rungs = planned(drill, plan if own else None)
    bars = Bars(*span) if own and (span := rungs[0].rung.work.bars) else None
    ground = Ground(ask, rig, plan)
    place = None
    if plan is not None and ground.notes:
        events = plan.part.event
        place = Bars(events[ground.notes[0].id].measure, events[ground.notes[-1].id].measure)
    return Opened(drill, row_of(ask), rungs, bars, place)


def stills(row: FamilyRow, one: PlannedWork) -> list[Still]:
    """Return what must not move on a rung, with the values of its plan."""
    notes = one.plan.bowed
    values = {
        Quantity.LANE: lambda: median(note.lane for note in notes),
        Quantity.LEVEL: lambda: median(note.level_db for note in notes),
        Quantity.SPEED: lambda: median(note.speed for note in notes),
        Quantity.HAIR: lambda: max(note.length for note in notes),
    }
    return [Still(quantity, float(values[quantity]()), within) for quantity, within in row.still]
