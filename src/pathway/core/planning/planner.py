"""The one door in: a part, a rig and wishes become a plan."""

from collections.abc import Collection, Iterable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import replace

import numpy as np

from pathway.core.music import Part
from pathway.core.planning.draft import Draft, shapes_in, shared_ends
from pathway.core.planning.findings import find
from pathway.core.planning.notes.crossings import crossings_of
from pathway.core.planning.notes.from_path import strokes_and_notes
from pathway.core.planning.notes.totals import total_up
from pathway.core.planning.path.company import company_costs, with_company
from pathway.core.planning.path.costs import with_inertia
from pathway.core.planning.path.grid import COARSE, Impasse, grid_path
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.path.refine import ROUGH, refine
from pathway.core.planning.path.search import find_path, find_path_around
from pathway.core.planning.plan import NotePlan, Plan
from pathway.core.planning.strokes.timing import clock_of
from pathway.core.planning.validate import problems_of
from pathway.core.planning.wish_checks import checked_locks
from pathway.core.planning.wishes import Lock, Settings
from pathway.core.rig.instrument import Rig
from pathway.errors import PlanError

SEEN_BEYOND = 8  # strokes on each side of those that a glance is about


def plan_part(
    part: Part,
    rig: Rig,
    settings: Settings | None = None,
    locks: Iterable[Lock] = (),
    path: Path | None = None,
) -> Plan:
    """Return the plan of a part; a known path is kept as it is, otherwise the best one is searched.

    Raises:
        ScoreError: the part cannot be planned on this rig.
        PlanError: the wishes contradict each other, leave no way, or the result breaks a rule of plans.
        OutOfRange: a wish with a number no player can mean, or a place off the hair.
    """
    kept = checked_locks(part, locks)
    draft = Draft.of(part, rig, settings or Settings(), kept)
    problem = _problem(draft, kept)
    if path is None or len(path.links) != len(problem):
        with _naming(draft):
            path = best_path(draft, problem)
    return _checked(draft, problem, path, kept, None)


def replan(plan: Plan, locks: Iterable[Lock]) -> Plan:
    """Return the plan after the player changed locks: searched again around the change, the rest kept.

    Raises:
        PlanError: the locks contradict each other or leave no way.
        OutOfRange: a locked place off the hair.
    """
    kept = checked_locks(plan.part, locks)
    draft, path, changed = _reshaped(plan, kept)
    for note in {*plan.locks, *kept} & draft.stroke_of.keys():
        if _path_wish(plan.locks, note) != _path_wish(kept, note):
            k = draft.stroke_of[note]
            changed = slice(min(changed.start, k), max(changed.stop, k + 1)) if changed else slice(k, k + 1)
    problem = _problem(draft, kept)
    if changed:
        search = with_inertia(with_company(problem, draft.twins, draft.seams, path), path)
        with _naming(draft):
            path = find_path_around(search, path, changed)
    return _checked(draft, problem, path, kept, plan)


def glance(plan: Plan, tempo_bpm: float, notes: Collection[str] = ()) -> Plan:
    """Return about what a plan becomes at another tempo: on the same strings, like figures bowed as they are now.

    For while a tempo is being chosen: half the work of ``plan_part``, which may still find other strings.

    Args:
        plan: stays as it is.
        tempo_bpm: in the part's own beat unit.
        notes: only the strokes around these are looked at, held at both ends where they are now; all without any.

    Raises:
        PlanError: the locks leave no way at this tempo.
    """
    span = plan.draft.around(notes, SEEN_BEYOND)
    draft = plan.draft.at_tempo(tempo_bpm, span)
    problem = draft.problem_with(plan.locks).held(plan.path, span)
    search = problem
    if len(problem) == span.stop - span.start:
        company = company_costs(plan.draft.twins, plan.draft.seams, plan.path)[span]
        search = replace(problem, direction_costs=problem.direction_costs + company)
    with _naming(draft):
        path = refine(search, grid_path(search, COARSE), ROUGH)
    return assemble(draft, problem, path, plan.locks)


def _reshaped(plan: Plan, locks: Mapping[str, Lock]) -> tuple[Draft, Path, slice | None]:
    """Return the draft under other locks, a path that carries the old one over, and which of its strokes are new."""
    if shapes_in(locks) == plan.draft.shapes:
        return plan.draft, plan.path, None
    draft = plan.draft.reshaped(locks)
    before, after = shared_ends(plan.draft.segments, draft.segments)
    for i, (one, other) in enumerate(zip(plan.draft.placements, draft.placements, strict=True)):
        if one is not other and one != other:  # another string or lead: its stroke has other speeds and another way in
            k = draft.stroke_at(i)
            before, after = min(before, k), min(after, len(draft.segments) - 1 - k)
    fresh = len(draft.segments) - before - after
    old, new = len(plan.draft.segments), len(draft.segments)
    if not fresh and old == new:
        return draft, plan.path, None
    places = np.minimum(np.arange(fresh) + before, old - 1)  # stand-ins that the search replaces
    index = np.concatenate([np.arange(before), places, np.arange(old - after, old)]).astype(np.int64)
    return draft, plan.path.at(index), slice(before, before + fresh)


def _path_wish(locks: Mapping[str, Lock], note: str) -> tuple[object, ...] | None:
    """Return what a lock asks of the path, if anything."""
    lock = locks.get(note)
    return (lock.direction, lock.start, lock.end, lock.link) if lock and lock.steers else None


def revisit(plan: Plan, locks: Iterable[Lock], path: Path) -> Plan:
    """Return another state of the same draft, whose path is known: an earlier or later one in its history.

    Raises:
        PlanError: the locks contradict the path.
        OutOfRange: a locked place off the hair.
    """
    kept = checked_locks(plan.part, locks)
    draft, _, _ = _reshaped(plan, kept)
    if len(path.links) != len(draft.segments):
        return plan_part(plan.part, plan.rig, plan.draft.settings, kept.values())
    return _checked(draft, _problem(draft, kept), path, kept, plan)


def best_path(draft: Draft, problem: PathProblem) -> Path:
    """Return the best path of a draft: a first search tells how like figures can be bowed alike."""
    return find_path(with_company(problem, draft.twins, draft.seams, grid_path(problem, COARSE)))


def _problem(draft: Draft, locks: Mapping[str, Lock]) -> PathProblem:
    """Return the path problem with the locks in it.

    Raises:
        PlanError: a lock that holds for a whole stroke stands in the middle of one.
    """
    firsts = {segment.id for segment in draft.segments}
    for note, lock in locks.items():
        if note not in firsts and lock.steers:
            raise PlanError(
                "A stroke is locked that does not begin with this note",
                place=draft.part.place(draft.part.event[note]),
                advice="Divide the slur here, or lock the stroke by its first note.",
            )
    return draft.problem_with(locks)


def _checked(draft: Draft, problem: PathProblem, path: Path, locks: Mapping[str, Lock], known: Plan | None) -> Plan:
    costs = np.sum(list(problem.terms(path).values()), axis=0)
    if not np.isfinite(costs).all():
        raise _clash(draft, int(np.flatnonzero(~np.isfinite(costs))[0]))
    plan = assemble(draft, problem, path, locks, known)
    if broken := problems_of(plan, known):
        raise PlanError.of(broken)
    return plan


@contextmanager
def _naming(draft: Draft) -> Iterator[None]:
    """Turn an impasse of the search into an error that names the strokes."""
    try:
        yield
    except Impasse as impasse:
        raise _clash(draft, impasse.stroke) from impasse


def _clash(draft: Draft, k: int) -> PlanError:
    """Name the strokes whose locks cannot be kept together."""
    names = [draft.part.place(draft.segments[i].notes[0].event) for i in (k - 1, k) if i >= 0]
    return PlanError(f"The locks leave no way for the bow at {' and '.join(names)}", advice="Unlock one of them.")


def assemble(
    draft: Draft, problem: PathProblem, path: Path, locks: Mapping[str, Lock], known: Plan | None = None
) -> Plan:
    """Return the plan that a hair path makes of a draft; what a known plan of the same draft says is kept."""
    strokes, bowed = strokes_and_notes(draft, problem, path, locks, known)
    crossings = crossings_of(draft.rig, strokes, bowed, known)
    return Plan(
        draft=draft,
        locks=locks,
        path=path,
        strokes=strokes,
        notes=_with_plucked(draft, bowed),
        crossings=crossings,
        findings=find(draft, problem, path, strokes, bowed, crossings),
        totals=total_up(draft, strokes, bowed),
    )


def _with_plucked(draft: Draft, bowed: tuple[NotePlan, ...]) -> tuple[NotePlan, ...]:
    part = draft.part
    plucked = [event for event in part.events if event.plucked]
    if not plucked:
        return bowed
    clock = clock_of(part, draft.settings)
    rest = []
    for event in plucked:
        measure, onset = part.measures[event.measure], clock.seconds(event.place)
        length = clock.seconds(event.until) - onset
        beat = measure.beat_of(event.place)
        rest.append(NotePlan(event.id, measure.number, beat, onset, length, length, None))
    return tuple(sorted((*bowed, *rest), key=lambda note: part.index[note.id]))
