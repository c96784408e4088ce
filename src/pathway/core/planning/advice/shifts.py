"""The way of the left hand to a note, and the time that the bow leaves it."""

from dataclasses import dataclass

from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan
from pathway.core.planning.strokes.string_weights import LONG_GAP
from pathway.core.technique.endings import Exit

_REACH = 2  # semitones that the fingers reach without a shift
_SOON = 0.04  # less silence than this is none [s]


@dataclass(frozen=True, slots=True)
class Shift:
    """A change of position."""

    semitones: int  # positive: up the string
    time: float  # that the hand has [s]
    through: str  # what gives it: a gap, an open string, or nothing but the end of the note before
    stopped_before: bool  # the bow stands on the string meanwhile, so that the fingers can be there first


def shift_to(plan: Plan, note: NotePlan) -> Shift | None:
    """Return the shift that leads to a note; None where the hand stays.

    The position is kept through open strings; their time is the hand's, too.
    """
    if not note.position:
        return None
    bowed = plan.bowed
    i = next(n for n, one in enumerate(bowed) if one.id == note.id)
    opens, k = 0.0, i - 1
    while k >= 0 and not bowed[k].position:
        opens += bowed[k].sounding
        k -= 1
    if k < 0 or abs(note.position - bowed[k].position) <= _REACH:
        return None
    before = bowed[k]
    silent = sum(bowed[n + 1].onset - bowed[n].onset - bowed[n].sounding for n in range(k, i))
    through = "open string" if opens else "gap" if silent > _SOON else "note"
    time = opens + silent if through != "note" else min(before.sounding / 2, LONG_GAP)
    stroke = plan.stroke[bowed[i - 1].stroke or ""]
    return Shift(note.position - before.position, time, through, stroke.exit is Exit.STOPPED and silent > _SOON)
