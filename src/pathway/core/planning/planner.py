"""The one door in: a part, a rig and wishes become a plan."""

from collections.abc import Collection, Iterable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import replace

import numpy as np

from pathway.core.music import Part
from pathway.core.planning.carried import Carried
from pathway.core.planning.draft import Draft
from pathway.core.planning.findings import find
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.notes.crossings import crossings_of
from pathway.core.planning.notes.from_path import strokes_and_notes
from pathway.core.planning.notes.totals import total_up
from pathway.core.planning.path.grid import COARSE, Impasse, grid_path
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.path.refine import ROUGH, refine
from pathway.core.planning.path.search import best_path, path_around
from pathway.core.planning.plan import Known, Plan
from pathway.core.planning.strokes.stroke import Stroke
from pathway.core.planning.strokes.timing import clock_of
from pathway.core.planning.validate import problems_of
from pathway.core.planning.wish_checks import checked_locks
from pathway.core.planning.wishes import Lock, Settings
from pathway.core.rig.instrument import Rig
from pathway.errors import PlanError

_FREE = Lock("")
MOST_ASKED = 0.5  # of the strokes that are asked for otherwise: with more of them nothing is near anything
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
            path = best_path(problem, draft.company)
    return _checked(draft, problem, path, kept)


def replan(plan: Plan, locks: Iterable[Lock], settings: Settings | None = None) -> Plan:
    """Return the plan after the player changed locks or passages: searched again around the change, the rest kept.

    What asks for most of a piece otherwise, or changes its time or its strings, is planned whole.

    Args:
        plan: stays as it is.
        locks: the player's.
        settings: None leaves them as they are.

    Raises:
        PlanError: the wishes contradict each other or leave no way.
        OutOfRange: a locked place off the hair, or a passage with a number no player can mean.
    """
    kept = checked_locks(plan.part, locks)
    settings = settings or plan.draft.settings
    if replace(settings, passages=plan.draft.settings.passages) != plan.draft.settings:
        return plan_part(plan.part, plan.rig, settings, kept.values())
    draft, carried = plan.draft.under(kept, settings.passages)
    if settings != plan.draft.settings and carried.new.stop - carried.new.start > MOST_ASKED * carried.count:
        return plan_part(plan.part, plan.rig, settings, kept.values())
    problem, path = _problem(draft, kept), carried.path_of(plan.path)
    if changed := _to_search(plan, draft, carried, kept):
        with _naming(draft):
            path = path_around(problem, draft.company, path, changed)
    return _checked(draft, problem, path, kept, (plan, carried))


def _to_search(plan: Plan, draft: Draft, carried: Carried, locks: Mapping[str, Lock]) -> slice | None:
    """Return the strokes that are new or steered otherwise, from the first to the last of them."""
    changed = {*range(carried.new.start, carried.new.stop)}
    for note in {*plan.locks, *locks} & draft.stroke_of.keys():
        k = draft.stroke_of[note]
        if _path_wish(plan.locks, note, draft.strokes[k]) != _path_wish(locks, note, draft.strokes[k]):
            changed.add(k)
    return slice(min(changed), max(changed) + 1) if changed else None


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
        search = plan.draft.company.kept_by(problem, plan.path, span)
    with _naming(draft):
        path = refine(search, grid_path(search, COARSE), ROUGH)
    return assemble(draft, problem, path, plan.locks)


def _path_wish(locks: Mapping[str, Lock], note: str, stroke: Stroke) -> tuple[object, ...]:
    """Return what a lock asks of the path; lane and tilt move a stroke that bounces."""
    lock = locks.get(note, _FREE)
    spring = (lock.lane, lock.tilt) if stroke.kind.bounces and stroke.id == note else ()
    return (lock.direction, lock.start, lock.end, lock.link, *spring)


def revisit(plan: Plan, locks: Iterable[Lock], path: Path) -> Plan:
    """Return another state of the same draft, whose path is known: an earlier or later one in its history.

    Raises:
        PlanError: the locks contradict the path.
        OutOfRange: a locked place off the hair.
    """
    kept = checked_locks(plan.part, locks)
    draft, carried = plan.draft.under(kept, plan.draft.settings.passages)
    if len(path.links) != len(draft.strokes):
        return plan_part(plan.part, plan.rig, plan.draft.settings, kept.values())
    return _checked(draft, _problem(draft, kept), path, kept, (plan, carried))


def _problem(draft: Draft, locks: Mapping[str, Lock]) -> PathProblem:
    """Return the path problem with the locks in it.

    Raises:
        PlanError: a lock that holds for a whole stroke stands in the middle of one.
    """
    for note, lock in locks.items():
        if lock.steers and not draft.begins_stroke(note):
            raise PlanError(
                "A stroke is locked that does not begin with this note",
                place=draft.part.place(draft.part.event[note]),
                advice="Divide the slur here, or lock the stroke by its first note.",
            )
    return draft.problem_with(locks)


def _checked(
    draft: Draft, problem: PathProblem, path: Path, locks: Mapping[str, Lock], known: Known | None = None
) -> Plan:
    costs = problem.cost.of(path)
    if not np.isfinite(costs).all():
        raise _clash(draft, int(np.flatnonzero(~np.isfinite(costs))[0]))
    if known and known[0].draft.left_out != draft.left_out:
        known = None  # other notes are under the bow
    if known:
        before, carried = known
        known = before, carried.but(_moved(before, draft, carried, problem, path, locks))
    plan = assemble(draft, problem, path, locks, known)
    if broken := problems_of(plan):
        raise PlanError.of(broken)
    return plan


def _moved(
    plan: Plan, draft: Draft, carried: Carried, problem: PathProblem, path: Path, locks: Mapping[str, Lock]
) -> set[int]:
    """Return which of the carried strokes have other hair, time or wishes than in the plan before."""
    now, then = carried.shared, carried.index[carried.shared]
    times, old_times = problem.times(path), plan.problem.times(plan.path)
    same = (path.starts[now] == plan.path.starts[then]) & (path.ends[now] == plan.path.ends[then])
    same &= (path.links[now] == plan.path.links[then]) & (times[now] == old_times[then])
    changed = {*plan.locks.items()} ^ {*locks.items()}
    return {*now[~same].tolist(), *(draft.stroke_of[note] for note, _ in changed if note in draft.stroke_of)}


@contextmanager
def _naming(draft: Draft) -> Iterator[None]:
    """Turn an impasse of the search into an error that names the strokes."""
    try:
        yield
    except Impasse as impasse:
        raise _clash(draft, impasse.stroke) from impasse


def _clash(draft: Draft, k: int) -> PlanError:
    """Name the strokes whose locks cannot be kept together."""
    names = [draft.part.place(draft.strokes[i].notes[0].event) for i in (k - 1, k) if i >= 0]
    return PlanError(f"The locks leave no way for the bow at {' and '.join(names)}", advice="Unlock one of them.")


def assemble(
    draft: Draft, problem: PathProblem, path: Path, locks: Mapping[str, Lock], known: Known | None = None
) -> Plan:
    """Return the plan that a hair path makes of a draft.

    Args:
        draft: strokes to be.
        problem: their path problem, with signs and locks kept.
        path: their hair.
        locks: the player's, by note.
        known: the plan before an edit, and what of it is carried over.
    """
    strokes, bowed, columns = strokes_and_notes(draft, problem, path, locks, known)
    crossed = crossings_of(draft, path, columns, known)
    return Plan(
        draft=draft,
        locks=locks,
        path=path,
        strokes=strokes,
        bowed=bowed,
        unbowed=known[0].unbowed if known else _unbowed(draft),
        columns=columns,
        crossed=crossed,
        findings=find(draft, problem, path, strokes, bowed, columns, crossed, locks),
        totals=total_up(draft, problem, path, columns),
        carried=known[1] if known else Carried(len(strokes), 0),
    )


def _unbowed(draft: Draft) -> tuple[NotePlan, ...]:
    """Return the notes that are plucked, or silent."""
    if not draft.unbowed:
        return ()
    part, clock = draft.part, clock_of(draft.part, draft.settings)
    rest = []
    for event in draft.unbowed:
        measure, onset = part.measures[event.measure], clock.seconds(event.place)
        length = clock.seconds(event.until) - onset
        beat = measure.beat_of(event.place)
        rest.append(NotePlan(event.id, measure.number, beat, onset, length, length, None))
    return tuple(rest)
