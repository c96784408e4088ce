"""The rules that every plan obeys. A broken one is a fault of whoever made the plan."""

from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise

from pathway.core.physics.geometry import contact_shift
from pathway.core.planning.crossing import Crossing
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import Link
from pathway.core.rig.instrument import Rig

_TOUCH = 1e-4  # places closer than this are the same [m]
_AT_ONCE = 1e-6  # [s]
MOST_TOLD = 5


def problems_of(plan: Plan) -> list[str]:
    """Return what breaks the rules, at most a handful, with the stroke or note named; empty if all is well.

    What is carried over from a plan that was found sound is not looked at again.
    """
    anew = plan.carried.anew
    strokes = [plan.strokes[k] for k in anew]
    notes = [plan.note[id_] for stroke in strokes for id_ in stroke.notes]
    following = sorted({k + by for k in anew for by in (0, 1) if k + by < len(plan.strokes)})
    pairs = [(plan.strokes[k - 1] if k else None, plan.strokes[k]) for k in following]
    rolls = [crossing for k in following for crossing in plan.crossed.at(plan.draft.notes_at(k)) if crossing.shift]
    shifts = {crossing.to_note: crossing.shift for crossing in rolls}
    missing = _missing(plan) if plan.carried.new.start < plan.carried.new.stop else ()
    return [
        *_strokes(pairs, plan.note, plan.rig.bow.hair, shifts),
        *_notes(notes),
        *_in_time(pairs, plan.note),
        *_marks(plan, strokes),
        *_rolls(plan.rig, rolls),
        *missing,
    ][:MOST_TOLD]


def problems_in(
    strokes: Sequence[StrokePlan], notes: Sequence[NotePlan], hair: float, shifts: Mapping[str, float]
) -> list[str]:
    """Return the broken rules that show without the part.

    Args:
        strokes: of the plan.
        notes: of the plan.
        hair: its length [m].
        shifts: how far the contact moves along the hair before a note, where the bow rolls over strings [m].
    """
    return [*_strokes(_pairs(strokes), {note.id: note for note in notes}, hair, shifts), *_notes(notes)][:MOST_TOLD]


def _rolls(rig: Rig, rolls: Sequence[Crossing]) -> Iterator[str]:
    """A roll moves the contact no further than the strings lie apart, and the way they lie."""
    for crossing in rolls:
        most = contact_shift(rig.instrument, crossing.from_string, crossing.to_string)
        if not -_TOUCH <= crossing.shift * (1 if most > 0 else -1) <= abs(most) + _TOUCH:
            yield f"note {crossing.to_note} lies off where the bow comes to over the strings between"


def _pairs(strokes: Sequence[StrokePlan]) -> list[tuple[StrokePlan | None, StrokePlan]]:
    """Every stroke after the one before it."""
    return list(zip([None, *strokes[:-1]], strokes, strict=True))


def _strokes(
    pairs: Sequence[tuple[StrokePlan | None, StrokePlan]],
    notes: Mapping[str, NotePlan],
    hair: float,
    shifts: Mapping[str, float],
) -> Iterator[str]:
    for before, stroke in pairs:
        name = f"stroke {stroke.id}"
        if not (-_TOUCH <= stroke.start <= hair + _TOUCH and -_TOUCH <= stroke.end <= hair + _TOUCH):
            yield f"{name} leaves the hair"
        if (stroke.end - stroke.start) * stroke.direction <= 0:
            yield f"{name} does not move as its direction says"
        if any(id_ not in notes for id_ in stroke.notes):
            yield f"{name} names a note that is not there"
        else:
            rolled = stroke.direction * sum(shifts.get(id_, 0.0) for id_ in stroke.notes[1:])
            if abs(sum(notes[id_].length for id_ in stroke.notes) + rolled - stroke.length) > _TOUCH:
                yield f"{name} is not as long as its notes together"
        if before is not None:
            yield from _link(name, before, stroke, shifts.get(stroke.notes[0], 0.0))


def _link(name: str, before: StrokePlan, stroke: StrokePlan, shift: float) -> Iterator[str]:
    if stroke.entry in (Link.CHANGE, Link.HOOK) and abs(stroke.start - before.left_at - shift) > _TOUCH:
        yield f"{name} does not start where the one before ended"
    if stroke.entry is Link.CHANGE and stroke.direction is before.left_by:
        yield f"{name} is called a change and goes on in the same direction"
    if stroke.entry is Link.HOOK and stroke.direction is not before.left_by:
        yield f"{name} is called a hook and turns"


def _in_time(pairs: Sequence[tuple[StrokePlan | None, StrokePlan]], notes: Mapping[str, NotePlan]) -> Iterator[str]:
    """The bow plays one note after the other."""
    for before, stroke in pairs:
        played = [notes[id_] for id_ in (*(before.notes[-1:] if before else ()), *stroke.notes)]
        for one, other in pairwise(played):
            if one.onset + one.sounding > other.onset + _AT_ONCE:
                yield f"note {one.id} still sounds as note {other.id} begins"


def _notes(notes: Sequence[NotePlan]) -> Iterator[str]:
    for note in notes:
        if note.stroke is None:
            continue
        yield from _note(note)


def _note(note: NotePlan) -> Iterator[str]:
    name = f"note {note.id}"
    if note.sounding <= 0:
        yield f"{name} has no time to sound"
    if abs(note.speed * note.sounding - note.bows * note.length) > _TOUCH:
        yield f"{name}: speed × time is not its length"
    for voice in note.voices:
        if abs(voice.beta * voice.vibrating - note.contact) > _TOUCH:
            yield f"{name}: β is not contact over length"
        if voice.force <= 0:
            yield f"{name} has a voice without force"
    if sum(voice.lead for voice in note.voices) != 1:
        yield f"{name} needs one leading voice"
    if note.chord and abs(sum(piece.hair for piece in note.chord.pieces) - note.length) > _TOUCH:
        yield f"{name}: the pieces of the chord are not as long as it is"
    if not 1 <= note.lane <= 6:
        yield f"{name} lies in no lane"


def _marks(plan: Plan, strokes: Sequence[StrokePlan]) -> Iterator[str]:
    """Printed signs and slurs hold unless the player overrode them."""
    for stroke in strokes:
        for id_ in stroke.notes:
            event = plan.part.event[id_]
            if event.bow is not None and event.bow is not stroke.direction and not stroke.locked:
                yield f"stroke {stroke.id} goes against the printed sign at {plan.part.place(event)}"


def _missing(plan: Plan) -> Iterator[str]:
    owned = {id_ for stroke in plan.strokes for id_ in stroke.notes}
    for event in plan.draft.played.events:
        if event.bowed and event.id not in owned:
            yield f"the note at {plan.part.place(event)} has no stroke"
