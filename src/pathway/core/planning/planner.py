"""The one door in: a part, a rig and wishes become a plan."""

from collections.abc import Iterable, Mapping

import numpy as np

from pathway.core.music import Part
from pathway.core.planning.assemble import assemble
from pathway.core.planning.draft import Draft, Settings
from pathway.core.planning.hair_path import find_path, find_path_around
from pathway.core.planning.path_problem import Path, PathProblem
from pathway.core.planning.path_wishes import with_inertia
from pathway.core.planning.plan import Lock, Plan
from pathway.core.planning.validate import problems_of
from pathway.core.rig.bow import Direction
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
        PlanError: the locks leave no way, or the result breaks a rule of plans.
    """
    draft = Draft.of(part, rig, settings or Settings())
    directions = _directions(locks)
    problem = draft.problem_with(directions)
    if path is None or len(path.links) != len(problem):
        path = find_path(problem)
    return _checked(draft, problem, path, directions, None)


def replan(plan: Plan, locks: Iterable[Lock]) -> Plan:
    """Return the plan after the player changed locks: searched again around the change, the rest kept.

    Raises:
        PlanError: the locks leave no way.
    """
    draft, directions = plan.draft, _directions(locks)
    old = _directions(locks_of(plan))
    changed = [k for k, s in enumerate(draft.segments) if old.get(s.id) != directions.get(s.id)]
    path, problem = plan.path, draft.problem_with(directions)
    if changed:
        search = with_inertia(problem, path)
        path = find_path_around(search, path, slice(min(changed), max(changed) + 1))
    return _checked(draft, problem, path, directions, plan)


def revisit(plan: Plan, locks: Iterable[Lock], path: Path) -> Plan:
    """Return another state of the same draft, whose path is known: an earlier or later one in its history.

    Raises:
        PlanError: the locks contradict the path.
    """
    directions = _directions(locks)
    return _checked(plan.draft, plan.draft.problem_with(directions), path, directions, plan)


def locks_of(plan: Plan) -> tuple[Lock, ...]:
    """Return the locks that a plan keeps."""
    return tuple(Lock(stroke.id, stroke.direction) for stroke in plan.strokes if stroke.locked)


def _directions(locks: Iterable[Lock]) -> dict[str, Direction]:
    return {lock.note: lock.direction for lock in locks}


def _checked(
    draft: Draft, problem: PathProblem, path: Path, locks: Mapping[str, Direction], known: Plan | None
) -> Plan:
    if not np.isfinite(problem.total(path)):
        raise PlanError("The locked strokes leave no way for the bow", advice="Unlock one of them.")
    plan = assemble(draft, problem, path, locks, known)
    if broken := problems_of(plan, known):
        raise PlanError.of(broken)
    return plan
