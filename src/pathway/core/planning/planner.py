"""The one door in: a part, a rig and wishes become a plan."""

from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager

import numpy as np

from pathway.core.music import Part
from pathway.core.planning.assemble import assemble
from pathway.core.planning.company import with_company
from pathway.core.planning.draft import Draft, shapes_in
from pathway.core.planning.hair_path import find_path, find_path_around
from pathway.core.planning.path_grid import COARSE, Impasse, grid_path
from pathway.core.planning.path_problem import Path, PathProblem
from pathway.core.planning.path_wishes import with_inertia
from pathway.core.planning.plan import Plan
from pathway.core.planning.validate import problems_of
from pathway.core.planning.wishes import Lock, Settings, checked_locks
from pathway.core.rig.instrument import Rig
from pathway.errors import PlanError


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
    """
    draft, kept = plan.draft, checked_locks(plan.part, locks)
    if shapes_in(kept) != draft.shapes:
        return plan_part(plan.part, plan.rig, draft.settings, kept.values())
    changed = [k for k, s in enumerate(draft.segments) if _path_wish(plan.locks, s.id) != _path_wish(kept, s.id)]
    path, problem = plan.path, _problem(draft, kept)
    if changed:
        search = with_inertia(with_company(problem, draft.twins, draft.seams, path), path)
        with _naming(draft):
            path = find_path_around(search, path, slice(min(changed), max(changed) + 1))
    return _checked(draft, problem, path, kept, plan)


def _path_wish(locks: Mapping[str, Lock], note: str) -> tuple[object, ...] | None:
    """Return what a lock asks of the path, if anything."""
    lock = locks.get(note)
    return (lock.direction, lock.start, lock.end, lock.link) if lock and lock.steers else None


def revisit(plan: Plan, locks: Iterable[Lock], path: Path) -> Plan:
    """Return another state of the same draft, whose path is known: an earlier or later one in its history.

    Raises:
        PlanError: the locks contradict the path.
    """
    kept = checked_locks(plan.part, locks)
    if shapes_in(kept) != plan.draft.shapes:
        return plan_part(plan.part, plan.rig, plan.draft.settings, kept.values(), path)
    return _checked(plan.draft, _problem(plan.draft, kept), path, kept, plan)


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
