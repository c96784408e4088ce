"""One part bowed after another: directions, changes, slurs and manner, where rhythm and slurs agree."""

from collections.abc import Sequence
from dataclasses import replace

from pathway.core.music import Part
from pathway.core.planning.matched import Matched, bowing_of, by_rhythm, matched
from pathway.core.planning.plan import Plan
from pathway.core.planning.taken import bows_as_locks
from pathway.core.planning.wishes import Lock


def bowed_after(leader: Plan, part: Part) -> Matched:
    """Return which notes of a leading part have a note of the same rhythm, under slurs alike, in another part."""
    found = matched(leader.part, part, by_rhythm)
    mine, theirs = _slurred(leader.part), _slurred(part)
    agree = {a: b for a, b in found.notes.items() if (a in mine) == (b in theirs)}
    left = [leader.part.place(leader.part.event[a]) for a in found.notes if a not in agree]
    return Matched(agree, (*found.left, *left))


def _slurred(part: Part) -> set[str]:
    """Return the notes that are tied to the one before by a slur."""
    inside = set[str]()
    for slur in part.slurs:
        a, b = part.index[slur.start], part.index[slur.end]
        inside |= {event.id for event in part.events[a + 1 : b + 1]}
    return inside


def after(leader: Plan, found: Matched, own: Sequence[Lock]) -> tuple[Lock, ...]:
    """Return the bowings of a leading part on another one's notes; what that one has set itself stays."""
    mine = {lock.note: lock for lock in own}
    for lock in bows_as_locks(leader):
        bowing = bowing_of(lock)
        note = found.notes.get(lock.note)
        if bowing is not None and note is not None and note not in mine:
            mine[note] = replace(bowing, note=note)
    return tuple(mine.values())
