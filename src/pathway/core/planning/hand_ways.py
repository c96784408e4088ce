"""Other ways for the left hand through some notes, each planned, with what it costs the bow."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import groupby

from pathway.core.guide.positions import costs_text, position_name
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.advice.shifts import shift_to
from pathway.core.planning.helped import with_fix
from pathway.core.planning.plan import Plan
from pathway.core.planning.strokes.other_lies import other_lies, with_harmonic
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.wishes import Lock
from pathway.core.technique.crossings import Sense
from pathway.core.technique.fingers import NAMES
from pathway.errors import OutOfRange, PathwayError

MOST_WAYS, MOST_LAID = 4, 64


@dataclass(frozen=True, slots=True)
class HandCosts:
    """What the left hand's way through some notes asks of the bow."""

    crossings: int  # among the notes, and to the first and from the last of them
    easy: int  # of these: round the easy way
    hard: int
    shifts: int
    least_time: float | None  # that the bow leaves for a shift [s]; None without one
    open_strings: int
    harmonics: int

    @property
    def text(self) -> str:
        """Return them in words."""
        return costs_text(
            self.crossings, self.hard, self.easy, self.shifts, self.least_time, self.open_strings, self.harmonics
        )

    @classmethod
    def of(cls, plan: Plan, notes: Sequence[str]) -> "HandCosts":
        """Return those of a plan."""
        at = {plan.draft.note_index[id_] for id_ in notes}
        to = [plan.bowed[i].id for i in range(min(at), min(max(at) + 2, len(plan.bowed)))]
        ways = [plan.crossing_to[id_] for id_ in to if id_ in plan.crossing_to]
        shifts = [shift for id_ in to if (shift := shift_to(plan, plan.note[id_]))]
        fingers = [(voice.finger, voice.loops) for id_ in notes for voice in plan.note[id_].voices]
        return cls(
            crossings=len(ways),
            easy=sum(way.sense is Sense.EASY for way in ways),
            hard=sum(way.sense is Sense.HARD for way in ways),
            shifts=len(shifts),
            least_time=min((shift.time for shift in shifts), default=None),
            open_strings=sum(finger == 0 and loops == 1 for finger, loops in fingers),
            harmonics=sum(loops > 1 for _, loops in fingers),
        )


@dataclass(frozen=True, slots=True)
class HandWay:
    """Another way for the left hand: its wishes, the plan with it, and what it costs."""

    fix: Fix
    plan: Plan
    costs: HandCosts
    lies: str  # its fingers, string by string


def hand_ways(plan: Plan, first: str, last: str) -> list[HandWay]:
    """Return up to four other ways through the notes from one to another; each begins at another place.

    Raises:
        NotFound: no such note under the bow.
        OutOfRange: too many notes at once.
    """
    span = _span(plan, first, last)
    line, instrument = plan.draft.line, plan.rig.instrument
    now = tuple(plan.draft.placement(i) for i in range(span.start, span.stop))
    tried = [lies for lies in other_lies(line, instrument, span) if _held(lies) != _held(now)]
    touched = with_harmonic(line, instrument, span, now)
    chosen = tried[: MOST_WAYS - (touched is not None)] + ([tuple(touched)] if touched else [])
    return [*_planned(plan, span, chosen)]


def costs_now(plan: Plan, first: str, last: str) -> HandCosts:
    """Return what the way that is planned through some notes costs.

    Raises:
        NotFound: no such note under the bow.
        OutOfRange: too many notes at once.
    """
    span = _span(plan, first, last)
    return HandCosts.of(plan, [plan.bowed[i].id for i in range(span.start, span.stop)])


def lies_text(plan: Plan, notes: Sequence[str]) -> str:
    """Return the fingers of some notes, string by string as the line goes over them: A 1 2 · E 0 1."""
    strings = plan.rig.instrument.strings
    runs = groupby((plan.note[id_].lead for id_ in notes), key=lambda voice: voice.string)
    return " · ".join(
        " ".join([strings[string].letter, *("–" if voice.finger is None else NAMES[voice.finger] for voice in run)])
        for string, run in runs
    )


def _span(plan: Plan, first: str, last: str) -> slice:
    ends = sorted(plan.draft.note_index[plan.bowed_note(id_).id] for id_ in (first, last))
    count = ends[1] + 1 - ends[0]
    if count > MOST_LAID:
        raise OutOfRange("the number of notes tried in other positions", count, 1, MOST_LAID)
    return slice(ends[0], ends[1] + 1)


def _held(lies: Sequence[Placement]) -> list[tuple[object, ...]]:
    return [(placed.strings, placed.fingers) for placed in lies]


def _planned(plan: Plan, span: slice, chosen: Sequence[Sequence[Placement]]) -> Iterator[HandWay]:
    """Yield ways in which the whole piece can be planned."""
    notes = [plan.bowed[i].id for i in range(span.start, span.stop)]
    for lies in chosen:
        fix = _fix(plan, span, lies)
        try:
            other = with_fix(plan, fix)
        except PathwayError:
            continue
        yield HandWay(fix, other, HandCosts.of(other, notes), lies_text(other, notes))


def _fix(plan: Plan, span: slice, lies: Sequence[Placement]) -> Fix:
    """Return the wishes of a way: the string and the finger of every note's top head."""
    strings = plan.rig.instrument.strings
    locks = []
    for i, placed in zip(range(span.start, span.stop), lies, strict=True):
        id_ = plan.bowed[i].id
        old = plan.locks.get(id_, Lock(id_))
        locks.append(replace(old, string=placed.strings[0], finger=placed.fingers[0]))
    begins = next((placed for placed in lies if placed.position), lies[0])
    harmonic = next((placed for placed in lies if placed.lead.loops > 1), None)
    now = [plan.draft.placement(i) for i in range(span.start, span.stop)]
    way = "hand" if begins.position else "hand-open"
    if harmonic is not None and all(placed.lead.loops == 1 for placed in now):
        way, begins = "hand-harmonic", harmonic
    facts = {
        "finger": NAMES[begins.fingers[0] or 0],
        "string": strings[begins.strings[0]].letter,
        "position": position_name(begins.position, plan.rig.instrument),
    }
    id_ = f"hand-{begins.strings[0]}-{begins.position}-{facts['finger']}-{begins.lead.loops}"
    return Fix(id_, way, facts, tuple(locks))
