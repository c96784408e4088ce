"""The rules that every plan obeys. A broken one is a fault of whoever made the plan."""

from collections.abc import Iterator, Sequence

from pathway.core.planning.path_problem import Link
from pathway.core.planning.plan import NotePlan, Plan, StrokePlan

TOUCH = 1e-4  # places closer than this are the same [m]
MOST_TOLD = 5


def problems_of(plan: Plan, known: Plan | None = None) -> list[str]:
    """Return what breaks the rules, at most a handful, with the stroke or note named; empty if all is well.

    Notes that a plan already found sound holds too are not looked at again.
    """
    sound = {id(note) for note in known.notes} if known else set()
    fresh = [note for note in plan.notes if id(note) not in sound]
    hair = plan.rig.bow.hair
    return [*_strokes(plan.strokes, plan.notes, hair), *_notes(fresh), *_marks(plan)][:MOST_TOLD]


def problems_in(strokes: Sequence[StrokePlan], notes: Sequence[NotePlan], hair: float) -> list[str]:
    """Return the broken rules that show without the part: strokes and notes on a hair of some length [m]."""
    return [*_strokes(strokes, notes, hair), *_notes(notes)][:MOST_TOLD]


def _strokes(strokes: Sequence[StrokePlan], notes: Sequence[NotePlan], hair: float) -> Iterator[str]:
    lengths = {note.id: note.length for note in notes}
    before: StrokePlan | None = None
    for stroke in strokes:
        name = f"stroke {stroke.id}"
        if not (-TOUCH <= stroke.start <= hair + TOUCH and -TOUCH <= stroke.end <= hair + TOUCH):
            yield f"{name} leaves the hair"
        if (stroke.end - stroke.start) * stroke.direction <= 0:
            yield f"{name} does not move as its direction says"
        if any(id_ not in lengths for id_ in stroke.notes):
            yield f"{name} names a note that is not there"
        elif abs(sum(lengths[id_] for id_ in stroke.notes) - stroke.length) > TOUCH:
            yield f"{name} is not as long as its notes together"
        joined = stroke.entry in (Link.CHANGE, Link.HOOK)
        if before is not None and joined and abs(stroke.start - before.end) > TOUCH:
            yield f"{name} does not start where the one before ended"
        if before is not None and stroke.entry is Link.CHANGE and stroke.direction is before.direction:
            yield f"{name} is called a change and goes on in the same direction"
        if before is not None and stroke.entry is Link.HOOK and stroke.direction is not before.direction:
            yield f"{name} is called a hook and turns"
        before = stroke


def _notes(notes: Sequence[NotePlan]) -> Iterator[str]:
    for note in notes:
        if note.stroke is None:
            continue
        yield from _note(note)


def _note(note: NotePlan) -> Iterator[str]:
    name = f"note {note.id}"
    if note.sounding <= 0:
        yield f"{name} has no time to sound"
    if abs(note.speed * note.sounding - note.length) > TOUCH:
        yield f"{name}: speed × time is not its length"
    for voice in note.voices:
        if abs(voice.beta * voice.vibrating - note.contact) > TOUCH:
            yield f"{name}: β is not contact over length"
        if voice.force <= 0:
            yield f"{name} has a voice without force"
    if sum(voice.lead for voice in note.voices) != 1:
        yield f"{name} needs one leading voice"
    if not 1 <= note.lane <= 6:
        yield f"{name} lies in no lane"


def _marks(plan: Plan) -> Iterator[str]:
    """Printed signs and slurs hold unless the player overrode them."""
    events = {event.id: event for event in plan.part.events}
    owner = {id_: stroke for stroke in plan.strokes for id_ in stroke.notes}
    for stroke in plan.strokes:
        for id_ in stroke.notes:
            sign = events[id_].bow
            if sign is not None and sign is not stroke.direction and not stroke.locked:
                yield f"stroke {stroke.id} goes against the printed sign at {plan.part.place(events[id_])}"
    missing = [e for e in plan.part.events if not e.plucked and e.id not in owner]
    for event in missing:
        yield f"the note at {plan.part.place(event)} has no stroke"
