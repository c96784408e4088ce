"""A change tried on a few strokes: the plan around them stays as it is."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from pathway.core.physics.string import SoundingString
from pathway.core.planning.draft import Draft
from pathway.core.planning.findings import find
from pathway.core.planning.notes.crossings import crossings_of
from pathway.core.planning.notes.from_path import strokes_and_notes
from pathway.core.planning.path.grid import COARSE, Impasse, grid_path
from pathway.core.planning.path.refine import ROUGH, refine
from pathway.core.planning.plan import Finding, Plan
from pathway.core.planning.strokes.segments import Note, Segment, divided
from pathway.core.planning.strokes.strings import Placement
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
    segments: Sequence[Segment]
    placements: Sequence[Sequence[Placement]]  # by stroke
    locks: Mapping[str, Lock]

    def at(self, stroke: str) -> int:
        """Return the index of a stroke among these."""
        return next(i for i, segment in enumerate(self.segments) if segment.id == stroke)

    def locked(self, lock: Lock) -> "Cut":
        """Return them with one more lock."""
        return replace(self, locks={**self.locks, lock.note: lock})

    def with_segment(self, i: int, segment: Segment) -> "Cut":
        """Return them with one stroke exchanged."""
        return replace(self, segments=[*self.segments[:i], segment, *self.segments[i + 1 :]])


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
    draft, firsts = plan.draft, plan.draft.first_notes
    cut = Cut(
        plan,
        draft.segments[first:last],
        [draft.placements[firsts[k] : firsts[k + 1]] for k in range(first, last)],
        plan.locks,
    )
    try:
        changed = change(cut)
        flat = [placed for placements in changed.placements for placed in placements]
        part = Draft(draft.part, draft.rig, draft.settings, {}, changed.segments, flat)
        problem = part.problem_with(changed.locks).held(plan.path, slice(first, last))
        path = refine(problem, grid_path(problem, COARSE), ROUGH)
        if not np.isfinite(problem.total(path)):
            return None
        tried, notes = strokes_and_notes(part, problem, path, changed.locks)
    except (PathwayError, Impasse):
        return None
    crossings = crossings_of(part.rig, tried, notes)
    return Trial(find(part, problem, path, tried, notes, crossings), frozenset(note.id for note in notes))


def split_at(note: str) -> Change:
    """Return the change that begins a new bow with a note inside a stroke."""

    def change(cut: Cut) -> Cut:
        i = next(i for i, s in enumerate(cut.segments) if any(n.event.id == note for n in s.notes))
        j = next(j for j, n in enumerate(cut.segments[i].notes) if n.event.id == note)
        one, other = divided(cut.plan.part, cut.segments[i], j)
        placed = cut.placements[i]
        return replace(
            cut,
            segments=[*cut.segments[:i], one, replace(other, proposed=False), *cut.segments[i + 1 :]],
            placements=[*cut.placements[:i], placed[:j], placed[j:], *cut.placements[i + 1 :]],
        )

    return change


def accept(strokes: Sequence[str]) -> Change:
    """Return the change that takes proposed bow changes for good."""

    def change(cut: Cut) -> Cut:
        for id_ in strokes:
            cut = cut.with_segment(cut.at(id_), replace(cut.segments[cut.at(id_)], proposed=False))
        return cut

    return change


def join(stroke: str) -> Change:
    """Return the change that takes a stroke into the bow of the one before."""

    def change(cut: Cut) -> Cut:
        i = cut.at(stroke)
        one, other = cut.segments[i - 1], cut.segments[i]
        kind = STROKE_TYPES["legato"] if one.kind.gap == 0 or len(one.notes) > 1 else one.kind
        notes = tuple(_full(note) for note in one.notes) + other.notes
        joined = replace(one, notes=notes, kind=kind, upbeat=False)
        return replace(
            cut,
            segments=[*cut.segments[: i - 1], joined, *cut.segments[i + 1 :]],
            placements=[
                *cut.placements[: i - 1],
                [*cut.placements[i - 1], *cut.placements[i]],
                *cut.placements[i + 1 :],
            ],
        )

    return change


def _full(note: Note) -> Note:
    return replace(note, sounding=note.end - note.begin)


def retype(strokes: Sequence[str], key: str) -> Change:
    """Return the change that plays strokes in another manner."""
    kind = STROKE_TYPES[key]

    def change(cut: Cut) -> Cut:
        for id_ in strokes:
            i = cut.at(id_)
            segment = cut.segments[i]
            last = len(segment.notes) - 1
            notes = tuple(
                replace(n, sounding=(n.end - n.begin) * (1 - kind.gap * (kind.stops_inside or j == last)))
                for j, n in enumerate(segment.notes)
            )
            cut = cut.with_segment(i, replace(segment, kind=kind, notes=notes))
        return cut

    return change


def softer(strokes: Sequence[str], by_db: float) -> Change:
    """Return the change that plays strokes at another level."""

    def change(cut: Cut) -> Cut:
        for id_ in strokes:
            i = cut.at(id_)
            notes = tuple(
                replace(n, level_db=n.level_db + by_db, level_ends=(n.level_ends[0] + by_db, n.level_ends[1] + by_db))
                for n in cut.segments[i].notes
            )
            cut = cut.with_segment(i, replace(cut.segments[i], notes=notes))
        return cut

    return change


def at_tempo(factor: float) -> Change:
    """Return the change that plays everything at another speed, more than 1 faster."""

    def slower(note: Note) -> Note:
        return replace(note, begin=note.begin / factor, end=note.end / factor, sounding=note.sounding / factor)

    def change(cut: Cut) -> Cut:
        segments = [
            replace(s, notes=tuple(map(slower, s.notes)), rest_before=s.rest_before / factor) for s in cut.segments
        ]
        return replace(cut, segments=segments)

    return change


def on_string(note: str, string: int) -> Change:
    """Return the change that plays a single note on another string."""

    def change(cut: Cut) -> Cut:
        i = next(i for i, s in enumerate(cut.segments) if any(n.event.id == note for n in s.notes))
        j = next(j for j, n in enumerate(cut.segments[i].notes) if n.event.id == note)
        instrument = cut.plan.rig.instrument
        pitch = cut.placements[i][j].pitches[0]
        sounding = SoundingString.of(instrument, string, pitch - instrument.strings[string].midi)
        placed = replace(cut.placements[i][j], pitches=(pitch,), strings=(string,), sounding=(sounding,))
        row = [*cut.placements[i][:j], placed, *cut.placements[i][j + 1 :]]
        return replace(cut, placements=[*cut.placements[:i], row, *cut.placements[i + 1 :]])

    return change


def led_by(note: str, lead: Leading) -> Change:
    """Return the change that lets another voice of a double stop lead."""

    def change(cut: Cut) -> Cut:
        i = next(i for i, s in enumerate(cut.segments) if any(n.event.id == note for n in s.notes))
        j = next(j for j, n in enumerate(cut.segments[i].notes) if n.event.id == note)
        placed = cut.placements[i][j]
        led = replace(placed, leading=lead.of(len(placed.strings)))
        row = [*cut.placements[i][:j], led, *cut.placements[i][j + 1 :]]
        return replace(cut, placements=[*cut.placements[:i], row, *cut.placements[i + 1 :]])

    return change


def with_lock(lock: Lock) -> Change:
    """Return the change that adds a lock on a stroke."""
    return lambda cut: cut.locked(lock)


def without_lock(note: str) -> Change:
    """Return the change that takes a lock back."""
    return lambda cut: replace(cut, locks={n: lock for n, lock in cut.locks.items() if n != note})
