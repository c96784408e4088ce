"""How far a note is from each limit, read off its plan: 0 at the limit, 1 far from it. Our estimates."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import TypeAlias

from pathway.core.physics.bounce import HIGHEST_FLIGHT
from pathway.core.physics.geometry import FASTEST_HAND, free_band, square_tolerance
from pathway.core.physics.hair import MOST_TILT, wood_force
from pathway.core.physics.string import AIRY, CLOSEST, FURTHEST, LANES, PRESSED
from pathway.core.planning.advice.shifts import Shift, shift_to
from pathway.core.planning.crossing import Crossing
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.notes.landings import rebounds_under
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.strokes.rebound import homes_of, room_of
from pathway.core.technique.crossings import Sense
from pathway.core.technique.stroke_types import STROKE_TYPES

GENEROUS_SLANT, GENEROUS_LEVEL = math.radians(10), math.radians(8)  # angles off that nothing betrays
LONG_DIP = 0.2  # of a join [s]
QUIET_SHIFT = 0.25  # that no one hears [s]
CARRIED_LANES = 2.0  # by which a carried-over angle is at its limit
HOOK_HEARD = 0.2  # margin of any hook
_NEAR_FROG = 0.3  # of the hair


def within(value: float) -> float:
    """Return a margin between 0 and 1."""
    return min(1.0, max(0.0, value))


@dataclass(frozen=True)
class NoteInPlan:
    """A note in its plan, with what is around it."""

    plan: Plan
    note: NotePlan
    stroke: StrokePlan
    before: StrokePlan | None

    @classmethod
    def of(cls, plan: Plan, note: str) -> "NoteInPlan":
        """Return the place of a bowed note.

        Raises:
            NotFound: there is no bowed note there.
        """
        found = plan.bowed_note(note)
        stroke = plan.stroke[found.stroke or ""]
        k = plan.stroke_index[stroke.id]
        return cls(plan, found, stroke, plan.strokes[k - 1] if k else None)

    @cached_property
    def arrival(self) -> Crossing | None:
        """Return the crossing that leads to it."""
        return self.plan.crossing_to.get(self.note.id)

    @cached_property
    def departure(self) -> Crossing | None:
        """Return the crossing that leads away from it."""
        after = self.plan.draft.note_index[self.note.id] + 1
        return self.plan.crossed.to[after] if after < len(self.plan.bowed) else None

    @cached_property
    def shift(self) -> Shift | None:
        """Return the way of the left hand to it."""
        return shift_to(self.plan, self.note)

    @property
    def thinness(self) -> float:
        """Return how thin its string is among the others, 0 the thickest to 1 the thinnest."""
        return self.note.lead.string / max(len(self.plan.rig.instrument.strings) - 1, 1)

    @property
    def on_open(self) -> bool:
        """Whether its string is open."""
        lead = self.note.lead
        return lead.midi == self.plan.rig.instrument.strings[lead.string].midi

    @property
    def middle(self) -> float:
        """Return the middle of it on the hair [m]."""
        return (self.note.start + self.note.end) / 2


Margin: TypeAlias = Callable[[NoteInPlan], float]


def under_window(p: NoteInPlan) -> float:
    """Margin above the least weight."""
    return within(p.note.lead.place - AIRY)


def over_window(p: NoteInPlan) -> float:
    """Margin below the greatest weight; thick strings betray it first."""
    return within((PRESSED - p.note.lead.place) * (0.8 + 0.2 * p.thinness))


def start(p: NoteInPlan) -> float:
    """Margin of the start: clean, and soon enough."""
    onset = p.note.onset_of_tone
    if onset is None:
        return 1.0
    return 0.0 if not onset.clean else within(1 - onset.speak / max(p.note.sounding, 1e-3))


def load(p: NoteInPlan) -> float:
    """Margin of a load: how much of the note is left when it should be gone."""
    return within(1 - p.note.load.gone / max(p.note.sounding, 1e-3)) if p.note.load else 1.0


def whistle(p: NoteInPlan) -> float:
    """Margin of an open string against whistling: the thinner, and the lighter it is played, the less."""
    return within((1 - 0.7 * p.thinness) * (0.4 + p.note.lead.place)) if p.on_open else 1.0


def slant(p: NoteInPlan) -> float:
    """Margin of the stick's squareness over the stroke; thin strings betray it first."""
    reach = min(p.plan.rig.instrument.gap / p.note.lead.vibrating, FURTHEST)
    step = math.log(reach / CLOSEST) / LANES
    tolerance = square_tolerance(max(p.stroke.length, 0.02), p.note.contact, step)
    return within(tolerance / GENEROUS_SLANT * (1 - 0.3 * p.thinness))


def carried(p: NoteInPlan) -> float:
    """Margin of the angle that is carried over from the string before."""
    if p.arrival is None:
        return 1.0
    reach = min(p.plan.rig.instrument.gap / p.note.lead.vibrating, FURTHEST)
    lanes = abs(p.arrival.drift) / (p.note.contact * math.expm1(math.log(reach / CLOSEST) / LANES))
    return within((1 - lanes / CARRIED_LANES) * (1 - 0.3 * p.thinness))


def level(p: NoteInPlan) -> float:
    """Margin of the bow's level: how far a neighbouring string is; less where it has just come, or soon goes."""
    instrument, lead = p.plan.rig.instrument, p.note.lead
    tension = instrument.strings[lead.string].tension
    spring = tension * (1 / p.note.contact + 1 / (lead.vibrating - p.note.contact))
    near = 0.6 if p.arrival else 0.8 if p.departure else 1.0
    return within(free_band(instrument, spring, p.note.force) / GENEROUS_LEVEL * near)


def lane(p: NoteInPlan) -> float:
    """Margin of its lane: how far the first and the last one are."""
    return within(min(p.note.lane - 1, LANES - p.note.lane) / (LANES / 2))


def hurry(p: NoteInPlan) -> float:
    """Margin of its speed against the stroke before: none where it is twice as fast."""
    if p.before is None:
        return 1.0
    speeds = [one.length / max(one.finish - one.begin, 1e-3) for one in (p.stroke, p.before)]
    return within(2 - speeds[0] / speeds[1])


def behind(p: NoteInPlan) -> float:
    """Margin of a short note against the long one before: of levels, and of the gap between."""
    if p.before is None:
        return 1.0
    last = p.plan.note[p.before.notes[-1]]
    over = last.level_at[0] - p.note.level_db
    gap = p.note.onset - last.onset - last.sounding
    return within(1 - over / 6 + gap / 0.1)


def hair_left(p: NoteInPlan) -> float:
    """Margin of the hair: time in hand against the stroke's own."""
    return within(p.stroke.in_hand / max(p.stroke.finish - p.stroke.begin, 1e-3))


def from_tip(p: NoteInPlan) -> float:
    """Margin of the moment that is left at its place on the hair."""
    return within(1 - min(p.note.start, p.note.end) / p.plan.rig.bow.hair)


def moment(p: NoteInPlan) -> float:
    """Margin of the hand's moment."""
    return within(1 - max(map(abs, p.note.torque_at)) / p.plan.rig.torque_limit)


def carrying(p: NoteInPlan) -> float:
    """Margin of the little finger: how little it has to carry."""
    return within(1 + min(p.note.torque_at) / p.plan.rig.torque_limit * 2)


def stick(p: NoteInPlan) -> float:
    """Margin of the stick above the string."""
    return within(1 - p.note.force / float(wood_force(p.middle, p.note.tilt, p.plan.rig.bow)))


def tilted(p: NoteInPlan) -> float:
    """Margin of the tilt."""
    return within(1 - max(p.note.tilt, p.note.tilt_end) / MOST_TILT)


def share(p: NoteInPlan) -> float:
    """Margin of the weight's share on the other strings."""
    return min((within(voice.place) for voice in p.note.voices if not voice.lead), default=1.0)


def crossing(p: NoteInPlan) -> float:
    """Margin of the crossings around it: the hand's speed, and the way round."""
    found = [
        0.0 if c.sense is Sense.HARD else 1 - c.speed / FASTEST_HAND for c in (p.arrival, p.departure) if c is not None
    ]
    return within(min(found, default=1.0))


def home(p: NoteInPlan) -> float:
    """Margin of its place on the hair against where its bounce is at home, or its zone."""
    if p.note.landing:
        k = p.plan.stroke_index[p.stroke.id]
        rate, kind = float(p.plan.draft.columns.rate[k]), STROKE_TYPES[p.stroke.kind]
        if kind.bounces:
            best = float(homes_of(rebounds_under([p.note], p.plan.rig), [kind], rate, p.plan.rig)[0])
            return within(1 - abs(p.middle - best) / (2 * room_of(rate)))
    k = p.plan.stroke_index[p.stroke.id]
    low, high = p.plan.problem.zone_low[k], p.plan.problem.zone_high[k]
    beyond = max(low - p.middle, p.middle - high, 0.0)
    return within(1 - beyond / 0.1)


def flight(p: NoteInPlan) -> float:
    """Margin of its flight against one that falls apart; slow ones are led by the hand."""
    landing = p.note.landing
    if landing is None or landing.led:
        return 1.0
    return within(1 - landing.height / HIGHEST_FLIGHT)


def dip(p: NoteInPlan) -> float:
    """Margin of the join after it; thick strings take longer."""
    return within((1 - p.stroke.dip / LONG_DIP) * (0.8 + 0.2 * p.thinness))


def left_hand(p: NoteInPlan) -> float:
    """Margin of the shift that leads to it."""
    return within(p.shift.time / QUIET_SHIFT) if p.shift else 1.0


def near_frog(p: NoteInPlan) -> float:
    """Margin of the stiff hand: the nearer the frog a turn is, the less."""
    return within(min(p.stroke.start, p.stroke.end) / (_NEAR_FROG * p.plan.rig.bow.hair))
