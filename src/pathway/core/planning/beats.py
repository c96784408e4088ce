"""When the beats of a plan fall."""

from dataclasses import dataclass
from itertools import takewhile

from pathway.core.planning.plan import Plan
from pathway.core.planning.strokes.timing import clock_of

ROUNDING = 1e-6  # of times [s]
LEAST_COUNTED = 2  # beats of a count-in


@dataclass(frozen=True, slots=True)
class Beat:
    """One beat."""

    time: float  # [s]
    first: bool  # of its bar


@dataclass(frozen=True, slots=True)
class Counted:
    """Beats to play some bars by: a bar counted in before them, a beat of rest after them."""

    beats: tuple[Beat, ...]  # from the first that is counted on
    count_in: float  # until the first note [s]
    length: float  # of all [s]


def counted(plan: Plan, begin: float, end: float) -> Counted:
    """Return the beats to play what lies in a span of a plan [s] by."""
    beats = beats_of(plan)
    inside = [beat for beat in beats if begin - ROUNDING <= beat.time < end - ROUNDING]
    apart = inside[1].time - inside[0].time if len(inside) > 1 else end - begin
    first = next((n for n, beat in enumerate(beats) if beat.first and beat.time >= begin - ROUNDING), 0)
    bar = next((n for n, beat in enumerate(beats[first + 1 :], start=1) if beat.first), len(beats) - first)
    pickup = len(list(takewhile(lambda beat: not beat.first, inside)))
    count = max(bar, LEAST_COUNTED) + (bar - pickup if 0 < pickup < bar else 0)
    counts = [Beat(n * apart, first=n % max(bar, 1) == 0) for n in range(count)]
    told = [Beat(count * apart + beat.time - begin, beat.first) for beat in inside]
    return Counted((*counts, *told), count * apart, count * apart + end - begin + apart)


def beats_of(plan: Plan) -> list[Beat]:
    """Return the beats of a plan at its tempo, held and slowed as the part is; a pickup begins inside its bar."""
    clock = clock_of(plan.part, plan.draft.settings)
    found = []
    for measure in plan.part.measures:
        missing = measure.full - measure.length if measure.pickup else 0
        at = measure.onset - missing
        while at < measure.onset + measure.length:
            if at >= measure.onset:
                found.append(Beat(clock.seconds(float(at)), first=at == measure.onset - missing))
            at += measure.beat_length
    return found
