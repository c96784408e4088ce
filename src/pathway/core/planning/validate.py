"""The rules that every plan obeys. A broken one is a fault of whoever made the plan."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.physics.geometry import between_strings, contact_shift
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import Link

_TOUCH = 1e-4  # places closer than this are the same [m]
_AT_ONCE = 2e-5  # documents round times to half of it [s]
MOST_TOLD = 5


def problems_of(plan: Plan) -> list[str]:
    """Return what breaks the rules, at most a handful, with the stroke or note named; empty if all is well."""
    strokes, columns = plan.draft.columns, plan.columns
    odd = strokes.bows % 2 == 1
    laid = _Laid(
        stroke_name=lambda k: plan.draft.strokes[k].id,
        note_name=lambda i: plan.draft.bowed[i].id,
        hair=plan.rig.bow.hair,
        start=plan.path.starts,
        end=plan.path.ends,
        direction=plan.path.directions,
        odd=odd,
        entry=plan.path.links,
        firsts=np.array(plan.draft.first_notes[:-1]),
        onset=columns.onset,
        sounding=columns.sounding,
        note_start=columns.start,
        note_end=columns.end,
        bows=columns.bows,
        speed=columns.speed,
        lane=columns.lane,
        shift=plan.crossed.columns.shift,
    )
    return [*_broken(laid), *_marks(plan), *_rolls(plan), *_missing(plan)][:MOST_TOLD]


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
    by_id = {note.id: note for note in notes if note.stroke is not None}
    absent = [stroke.id for stroke in strokes if any(id_ not in by_id for id_ in stroke.notes)]
    if absent or not strokes:
        return [f"stroke {id_} names a note that is not there" for id_ in absent][:MOST_TOLD]
    carried = [by_id[id_] for stroke in strokes for id_ in stroke.notes]
    left = [f"note {id_} is carried by no stroke" for id_ in by_id.keys() - {note.id for note in carried}]
    laid = _Laid(
        stroke_name=lambda k: strokes[k].id,
        note_name=lambda i: carried[i].id,
        hair=hair,
        start=np.array([stroke.start for stroke in strokes]),
        end=np.array([stroke.end for stroke in strokes]),
        direction=np.array([int(stroke.direction) for stroke in strokes]),
        odd=np.array([stroke.bows % 2 == 1 for stroke in strokes]),
        entry=np.array([int(stroke.entry) for stroke in strokes]),
        firsts=np.cumsum([0, *(len(stroke.notes) for stroke in strokes)])[:-1],
        onset=np.array([note.onset for note in carried]),
        sounding=np.array([note.sounding for note in carried]),
        note_start=np.array([note.start for note in carried]),
        note_end=np.array([note.end for note in carried]),
        bows=np.array([note.bows for note in carried]),
        speed=np.array([note.speed for note in carried]),
        lane=np.array([note.lane for note in carried]),
        shift=np.array([shifts.get(note.id, 0.0) for note in carried]),
    )
    return [*left, *_broken(laid), *(line for note in carried for line in _voices(note))][:MOST_TOLD]


@dataclass(frozen=True)
class _Laid:
    """Strokes and notes as numbers, to be held against the rules: K strokes, and their N notes one after the other."""

    stroke_name: Callable[[int], str]
    note_name: Callable[[int], str]
    hair: float  # [m]
    start: FloatArray  # (K,) of its first bow [m]
    end: FloatArray
    direction: IntArray
    odd: BoolArray  # in bows, so that it is left at its end
    entry: IntArray
    firsts: IntArray  # (K,) its first note
    onset: FloatArray  # (N,) [s]
    sounding: FloatArray
    note_start: FloatArray  # [m]
    note_end: FloatArray
    bows: FloatArray
    speed: FloatArray  # [m/s]
    lane: IntArray
    shift: FloatArray  # (N,) of the contact before it, where the bow rolls over strings [m]


def _broken(laid: _Laid) -> Iterator[str]:
    """Yield what is wrong with strokes, from one to the next, and with their notes."""
    for rules, name in ((_of_strokes(laid), laid.stroke_name), (_of_notes(laid), laid.note_name)):
        for text, broken in rules:
            for at in np.flatnonzero(broken)[:MOST_TOLD].tolist():
                yield text.format(name(at))


def _of_strokes(laid: _Laid) -> Iterator[tuple[str, BoolArray]]:
    start, end, direction, first = laid.start, laid.end, laid.direction, laid.firsts
    low, high = np.minimum(start, end), np.maximum(start, end)
    yield "stroke {} leaves the hair", (low < -_TOUCH) | (high > laid.hair + _TOUCH)
    yield "stroke {} does not move as its direction says", (end - start) * direction <= 0
    inner = laid.shift.copy()
    inner[first] = 0.0
    notes = np.add.reduceat(np.abs(laid.note_end - laid.note_start), first)
    together = notes + direction * np.add.reduceat(inner, first)
    yield "stroke {} is not as long as its notes together", np.abs(together - (high - low)) > _TOUCH
    left_at, left_by = np.where(laid.odd, end, start)[:-1], np.where(laid.odd, direction, -direction)[:-1]
    turns, hooks = laid.entry[1:] == Link.CHANGE, laid.entry[1:] == Link.HOOK
    away = np.abs(start[1:] - left_at - laid.shift[first[1:]]) > _TOUCH
    on = direction[1:] == left_by
    for text, broken in (
        ("stroke {} does not start where the one before ended", (turns | hooks) & away),
        ("stroke {} is called a change and goes on in the same direction", turns & on),
        ("stroke {} is called a hook and turns", hooks & ~on),
    ):
        yield text, np.append(False, broken)


def _of_notes(laid: _Laid) -> Iterator[tuple[str, BoolArray]]:
    onset, sounding = laid.onset, laid.sounding
    late = onset[:-1] + sounding[:-1] > onset[1:] + _AT_ONCE
    yield "note {} begins while the one before it still sounds", np.append(False, late)
    yield "note {} has no time to sound", sounding <= 0
    way = laid.bows * np.abs(laid.note_end - laid.note_start)
    yield "note {}: speed × time is not its length", np.abs(laid.speed * sounding - way) > _TOUCH
    yield "note {} lies in no lane", (laid.lane < 1) | (laid.lane > 6)


def _voices(note: NotePlan) -> Iterator[str]:
    """Yield what is wrong with the strings of a note."""
    name = f"note {note.id}"
    for voice in note.voices:
        if abs(voice.beta * voice.vibrating - note.contact) > _TOUCH:
            yield f"{name}: β is not contact over length"
        if voice.force <= 0:
            yield f"{name} has a voice without force"
    if sum(voice.lead for voice in note.voices) != 1:
        yield f"{name} needs one leading voice"
    if note.chord and abs(sum(piece.hair for piece in note.chord.pieces) - note.length) > _TOUCH:
        yield f"{name}: the pieces of the chord are not as long as it is"


def _rolls(plan: Plan) -> Iterator[str]:
    """A roll moves the contact no further than the strings lie apart, and the way they lie."""
    columns = plan.crossed.columns
    most = between_strings(plan.rig.instrument, contact_shift)[columns.source, columns.target]
    along = columns.shift * np.where(most > 0, 1, -1)
    for i in np.flatnonzero((along < -_TOUCH) | (along > np.abs(most) + _TOUCH)).tolist():
        yield f"note {plan.draft.bowed[i].id} lies off where the bow comes to over the strings between"


def _marks(plan: Plan) -> Iterator[str]:
    """Printed signs and slurs hold unless the player overrode them."""
    for k, event in plan.draft.signs:
        lock = plan.locks.get(plan.draft.strokes[k].id)
        if event.bow != plan.path.directions[k] and not (lock and lock.direction):
            yield f"stroke {plan.draft.strokes[k].id} goes against the printed sign at {plan.part.place(event)}"


def _missing(plan: Plan) -> Iterator[str]:
    """Every bowed note is carried by a stroke."""
    if len(plan.draft.played.bowed) == plan.draft.first_notes[-1]:
        return
    for event in plan.draft.played.bowed:
        if event.id not in plan.draft.stroke_of:
            yield f"the note at {plan.part.place(event)} has no stroke"
