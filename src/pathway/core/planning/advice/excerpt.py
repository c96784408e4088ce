"""A change tried on a few strokes: the plan around them stays as it is."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import reduce

import numpy as np

from pathway.core.physics.string import SoundingString
from pathway.core.planning.draft import Draft
from pathway.core.planning.findings import find
from pathway.core.planning.notes.crossings import crossings_of
from pathway.core.planning.notes.from_path import strokes_and_notes
from pathway.core.planning.path.grid import COARSE, Impasse, grid_path
from pathway.core.planning.path.refine import ROUGH, refine
from pathway.core.planning.plan import Finding, Plan
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.segments import Note
from pathway.core.planning.strokes.stroke import Stroke, divided
from pathway.core.planning.wishes import Lock
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import PathwayError

MARGIN = 4  # strokes on each side that may move with the change
Change = Callable[["Cut"], "Cut"]


@dataclass(frozen=True)
class Cut:
    """Some strokes of a plan, taken out to be changed."""

    plan: Plan
    strokes: Sequence[Stroke]
    locks: Mapping[str, Lock]

    def at(self, stroke: str) -> int:
        """Return the index of a stroke among these."""
        return next(i for i, one in enumerate(self.strokes) if one.id == stroke)

    def locked(self, lock: Lock) -> "Cut":
        """Return them with one more lock."""
        return replace(self, locks={**self.locks, lock.note: lock})

    def with_strokes(self, span: slice, *strokes: Stroke) -> "Cut":
        """Return them with some exchanged for others."""
        return replace(self, strokes=[*self.strokes[: span.start], *strokes, *self.strokes[span.stop :]])

    def changed(self, stroke: str, change: Callable[[Stroke], Stroke]) -> "Cut":
        """Return them with one changed."""
        i = self.at(stroke)
        return self.with_strokes(slice(i, i + 1), change(self.strokes[i]))

    def holding(self, note: str) -> tuple[int, int]:
        """Return which stroke holds a note, and at which place in it."""
        return next(
            (i, j)
            for i, stroke in enumerate(self.strokes)
            for j, one in enumerate(stroke.notes)
            if one.event.id == note
        )

    def placed(self, note: str, change: Callable[[Placement], Placement]) -> "Cut":
        """Return them with one note placed otherwise."""
        i, j = self.holding(note)
        placements = list(self.strokes[i].placements)
        placements[j] = change(placements[j])
        return self.with_strokes(slice(i, i + 1), replace(self.strokes[i], placements=tuple(placements)))


@dataclass(frozen=True)
class Trial:
    """What became of a change."""

    findings: tuple[Finding, ...]
    notes: frozenset[str]  # that were planned again


def try_change(plan: Plan, strokes: Sequence[str], change: Change) -> Trial | None:
    """Return what a change around some strokes of a plan brings, or None if it cannot be.

    Args:
        plan: stays as it is.
        strokes: the ones the change is about.
        change: makes other strokes or other locks of the ones cut out.
    """
    at = [plan.stroke_index[id_] for id_ in strokes]
    first, last = max(0, min(at) - MARGIN), min(len(plan.strokes), max(at) + MARGIN + 1)
    draft, span = plan.draft, slice(first, last)
    try:
        changed = change(Cut(plan, draft.strokes[span], plan.locks))
        part = Draft(draft.part, draft.rig, draft.settings, draft.shapes, changed.strokes)
        problem = part.problem_with(changed.locks).held(plan.path, span)
        path = refine(problem, grid_path(problem, COARSE), ROUGH)
        if not np.isfinite(problem.total(path)):
            return None
        tried, notes = strokes_and_notes(part, problem, path, changed.locks)
    except (PathwayError, Impasse):
        return None
    crossings = crossings_of(part, tried, notes)
    return Trial(
        find(part, problem, path, tried, notes, crossings, changed.locks), frozenset(note.id for note in notes)
    )


def split_at(note: str) -> Change:
    """Return the change that begins a new bow with a note inside a stroke."""

    def change(cut: Cut) -> Cut:
        i, j = cut.holding(note)
        one, other = divided(cut.plan.part, cut.strokes[i], j)
        return cut.with_strokes(slice(i, i + 1), one, replace(other, proposed=False))

    return change


def accept(strokes: Sequence[str]) -> Change:
    """Return the change that takes proposed bow changes for good."""
    return _each(strokes, lambda stroke: replace(stroke, proposed=False))


def join(stroke: str) -> Change:
    """Return the change that takes a stroke into the bow of the one before."""

    def change(cut: Cut) -> Cut:
        i = cut.at(stroke)
        one, other = cut.strokes[i - 1], cut.strokes[i]
        kind = STROKE_TYPES["legato"] if one.kind.gap == 0 or len(one.notes) > 1 else one.kind
        notes = tuple(_full(note) for note in one.notes) + other.notes
        joined = replace(one, notes=notes, placements=one.placements + other.placements, kind=kind, upbeat=False)
        return cut.with_strokes(slice(i - 1, i + 1), joined)

    return change


def _full(note: Note) -> Note:
    return replace(note, sounding=note.end - note.begin)


def _each(strokes: Sequence[str], change: Callable[[Stroke], Stroke]) -> Change:
    """Return the change of some strokes, one by one."""
    return lambda cut: reduce(lambda done, id_: done.changed(id_, change), strokes, cut)


def retype(strokes: Sequence[str], key: str) -> Change:
    """Return the change that plays strokes in another manner."""
    kind = STROKE_TYPES[key]

    def retyped(stroke: Stroke) -> Stroke:
        last = len(stroke.notes) - 1
        notes = tuple(
            replace(n, sounding=(n.end - n.begin) * (1 - kind.gap * (kind.stops_inside or j == last)))
            for j, n in enumerate(stroke.notes)
        )
        return replace(stroke, kind=kind, notes=notes)

    return _each(strokes, retyped)


def softer(strokes: Sequence[str], by_db: float) -> Change:
    """Return the change that plays strokes at another level."""

    def levelled(stroke: Stroke) -> Stroke:
        notes = tuple(
            replace(n, level_db=n.level_db + by_db, level_ends=(n.level_ends[0] + by_db, n.level_ends[1] + by_db))
            for n in stroke.notes
        )
        return replace(stroke, notes=notes)

    return _each(strokes, levelled)


def at_tempo(factor: float) -> Change:
    """Return the change that plays everything at another speed, more than 1 faster."""

    def slower(note: Note) -> Note:
        return replace(note, begin=note.begin / factor, end=note.end / factor, sounding=note.sounding / factor)

    def change(cut: Cut) -> Cut:
        strokes = [
            replace(s, notes=tuple(map(slower, s.notes)), rest_before=s.rest_before / factor) for s in cut.strokes
        ]
        return replace(cut, strokes=strokes)

    return change


def on_string(note: str, string: int) -> Change:
    """Return the change that plays a single note on another string."""

    def change(cut: Cut) -> Cut:
        instrument = cut.plan.rig.instrument

        def moved(placed: Placement) -> Placement:
            pitch = placed.pitches[0]
            sounding = SoundingString.of(instrument, string, pitch - instrument.strings[string].midi)
            return replace(placed, pitches=(pitch,), strings=(string,), sounding=(sounding,))

        return cut.placed(note, moved)

    return change


def led_by(note: str, lead: Leading) -> Change:
    """Return the change that lets another voice of a double stop lead."""
    return lambda cut: cut.placed(note, lambda placed: placed.led(lead))


def with_lock(lock: Lock) -> Change:
    """Return the change that adds a lock on a stroke."""
    return lambda cut: cut.locked(lock)


def without_lock(note: str) -> Change:
    """Return the change that takes a lock back."""
    return lambda cut: replace(cut, locks={n: lock for n, lock in cut.locks.items() if n != note})
