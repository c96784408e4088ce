"""When the beats of a plan fall."""

from dataclasses import dataclass

from pathway.core.planning.plan import Plan
from pathway.core.planning.strokes.timing import clock_of


@dataclass(frozen=True, slots=True)
class Beat:
    """One beat."""

    time: float  # [s]
    first: bool  # of its bar


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
