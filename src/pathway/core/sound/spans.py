"""Which notes are heard together: stretches of a plan one after the other, or what belongs to a note."""

from collections.abc import Collection
from enum import StrEnum

from pathway.core.planning.beats import ROUNDING
from pathway.core.planning.plan import Plan
from pathway.core.sound.playable import Playable
from pathway.errors import NotFound

_FIRST, _THEN = 1.2, 5.0  # about so long [s]


class Scope(StrEnum):
    """What of a piece is heard around a note."""

    NOTE = "note"
    STROKE = "stroke"
    BARS = "bars"


def spans_of(plan: Plan) -> list[tuple[float, float]]:
    """Return stretches one after the other, each from a bow's beginning on, the first of them short [s]."""
    onsets = sorted({plan.note[stroke.notes[0]].onset for stroke in plan.strokes} | {n.onset for n in plan.notes[:1]})
    if not onsets:
        return []
    starts, long = [onsets[0]], _FIRST
    for onset in onsets[1:]:
        if onset - starts[-1] >= long:
            starts.append(onset)
            long = _THEN
    return list(zip(starts, [*starts[1:], plan.notes[-1].onset + 1.0], strict=True))


def span_of_bars(played: Playable, bars: str) -> tuple[float, float]:
    """Return from where to where the notes of some bars begin [s].

    Args:
        played: bows and notes.
        bars: "3-8", or a single one, by their printed numbers.

    Raises:
        NotFound: there are no such bars.
    """
    first, _, last = (text.strip() for text in bars.partition("-"))
    order = list(dict.fromkeys(note.measure for note in played.notes))
    if first not in order or (last or first) not in order:
        raise NotFound(f"There are no bars {bars!r}", advice=f"Bars: {order[0]} to {order[-1]}, such as 3-8.")
    wanted = set(order[order.index(first) : order.index(last or first) + 1])
    onsets = [note.onset for note in played.notes if note.measure in wanted]
    if not onsets:
        raise NotFound(f"Bar {first} comes after bar {last}", advice="Write the earlier one first, such as 3-8.")
    return min(onsets) - ROUNDING, max(onsets) + ROUNDING


def span_around(plan: Plan, notes: Collection[str], scope: Scope) -> tuple[float, float]:
    """Return from where to where something begins that is heard with some notes [s].

    Raises:
        NotFound: one of the notes is not there.
    """
    found = [plan.any_note(id_) for id_ in notes]
    if scope is Scope.STROKE:
        strokes = {note.stroke for note in found if note.stroke}
        found += [note for note in plan.notes if note.stroke in strokes]
    elif scope is Scope.BARS:
        events = plan.part.event
        bars = {events[note.id].measure for note in found}
        found += [note for note in plan.notes if events[note.id].measure in bars]
    onsets = [note.onset for note in found]
    return min(onsets) - ROUNDING, max(onsets) + ROUNDING
