"""Notes of one part found again in another: of a newer edition, of somebody else's file, of another part of a score."""

from collections.abc import Callable, Hashable, Iterable, Mapping, Sequence
from dataclasses import dataclass, fields, replace
from difflib import SequenceMatcher
from fractions import Fraction

from pathway.core.music import Event, Part
from pathway.core.planning.passages import taken_away
from pathway.core.planning.wishes import Lock, Passage, Settings, identified

_Bar = Sequence[tuple[Hashable, str]]
Key = Callable[[Event, Fraction], Hashable]  # by what an event is known again, with its place in the bar


def by_pitch(event: Event, place: Fraction) -> Hashable:
    """Tell an event by beat, value and pitches."""
    return place, event.duration, tuple(sorted(event.pitches))


def by_rhythm(event: Event, place: Fraction) -> Hashable:
    """Tell an event by beat and value alone."""
    return place, event.duration, event.grace


@dataclass(frozen=True)
class Matched:
    """Which note of one part is which of another."""

    notes: Mapping[str, str]
    left: tuple[str, ...]  # places of bowed notes that are not found again

    @property
    def share(self) -> float:
        """Return which share of the bowed notes is found again."""
        return len(self.notes) / max(len(self.notes) + len(self.left), 1)


def matched(part: Part, other: Part, key: Key = by_pitch) -> Matched:
    """Return which notes of a part are found again in another one: bars are laid beside each other first."""
    mine, theirs = _bars(part, key), _bars(other, key)
    notes: dict[str, str] = {}
    sides = [[tuple(known for known, _ in bar) for bar in bars] for bars in (mine, theirs)]
    for what, a0, a1, b0, b1 in SequenceMatcher(None, sides[0], sides[1], autojunk=False).get_opcodes():
        if what == "equal":
            for bar, like in zip(mine[a0:a1], theirs[b0:b1], strict=True):
                notes |= _pairs(bar, like)
        elif what == "replace":
            notes |= _nearest(mine[a0:a1], theirs[b0:b1])
    left = tuple(part.place(event) for event in part.events if event.bowed and event.id not in notes)
    return Matched(notes, left)


def _bars(part: Part, key: Key) -> list[list[tuple[Hashable, str]]]:
    bars: list[list[tuple[Hashable, str]]] = [[] for _ in part.measures]
    for event in part.events:
        if event.bowed:
            bars[event.measure].append((key(event, event.onset - part.measures[event.measure].onset), event.id))
    return bars


def _nearest(bars: Sequence[_Bar], others: Sequence[_Bar]) -> dict[str, str]:
    """Return the notes of bars that have changed: each laid beside the bar most like it that is still to come."""
    notes: dict[str, str] = {}
    at = 0
    for bar in bars:
        found = [_pairs(bar, other) for other in others[at:]]
        best = max(range(len(found)), key=lambda n: len(found[n]), default=-1)
        if best >= 0 and found[best]:
            notes |= found[best]
            at += best + 1
    return notes


def _pairs(bar: _Bar, like: _Bar) -> dict[str, str]:
    """Return the notes of two bars that are told alike, in order."""
    waiting: dict[Hashable, list[str]] = {}
    for known, id_ in like:
        waiting.setdefault(known, []).append(id_)
    return {id_: waiting[known].pop(0) for known, id_ in bar if waiting.get(known)}


@dataclass(frozen=True)
class CarriedWishes:
    """Wishes on the notes of another part, and how many could not come along."""

    settings: Settings
    locks: tuple[Lock, ...]
    lost: int


def wishes_on(settings: Settings, locks: Iterable[Lock], notes: Mapping[str, str], part: Part) -> CarriedWishes:
    """Return wishes carried over to matched notes; a passage shrinks to what of it is found again.

    Args:
        settings: with passages and tempi.
        locks: of notes.
        notes: which note is which.
        part: that they are of.
    """
    passages, lost = list(identified(settings.passages)), 0
    for passage in passages[:]:
        inside = [e.id for e in part.events[part.index[passage.start] : part.index[passage.end] + 1] if e.id in notes]
        if inside:
            where = passages.index(passage)
            passages[where] = replace(passage, start=notes[inside[0]], end=notes[inside[-1]])
        else:
            passages = list(_without(passages, passage))
            lost += 1
    kept = tuple(replace(lock, note=notes[lock.note]) for lock in locks if lock.note in notes)
    lost += sum(lock.note not in notes for lock in locks)
    tempi = tuple(replace(tempo, note=notes[tempo.note]) for tempo in settings.tempi if tempo.note in notes)
    lost += len(settings.tempi) - len(tempi)
    return CarriedWishes(replace(settings, passages=tuple(passages), tempi=tempi), kept, lost)


def _without(passages: Sequence[Passage], gone: Passage) -> tuple[Passage, ...]:
    return taken_away(passages, gone.id)


BOWING = ("direction", "link", "divide", "kind", "exit", "profile", "from_air")  # of a lock: what another part may take


def bowing_of(lock: Lock) -> Lock | None:
    """Return what of a lock is bowing, not hair, string or weight; None where nothing is."""
    bare = Lock(lock.note, **{name: getattr(lock, name) for name in BOWING})
    return bare if any(getattr(bare, field.name) is not None for field in fields(Lock)[1:]) else None
