"""From the hair path to strokes and notes; what a known plan says of untouched ones is kept."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.physics.geometry import contact_shift
from pathway.core.planning.draft import Draft, shared_ends
from pathway.core.planning.notes.notes import Rows, note_plans
from pathway.core.planning.notes.onsets import Sounds, exit_of, exit_time, join_dips
from pathway.core.planning.notes.sharing import hair_of
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.plan import NotePlan, Plan, StrokePlan
from pathway.core.planning.strokes.fitting import TURNING_ROOM
from pathway.core.planning.strokes.segments import Segment
from pathway.core.planning.strokes.strings import nearest_strings
from pathway.core.planning.wishes import Link, Lock
from pathway.core.rig.bow import Direction

LINKS = {int(link): link for link in Link}


CHANGE = Link.CHANGE  # looked up once: an enumeration looks its members up by name


DIRECTIONS = {int(direction): direction for direction in Direction}


def strokes_and_notes(
    draft: Draft, problem: PathProblem, path: Path, locks: Mapping[str, Lock], known: Plan | None = None
) -> tuple[tuple[StrokePlan, ...], tuple[NotePlan, ...]]:
    """Return the strokes and the bowed notes that a hair path makes of a draft."""
    times = problem.times(path)
    known_at = _kin(draft, known)
    fresh = _fresh(draft, problem, path, times, locks, known, known_at)
    bowed: dict[int, NotePlan] = {} if known is None else dict(enumerate(known.bowed))
    made: dict[int, StrokePlan] = {}
    if fresh:
        segments = [draft.segments[k] for k in fresh]
        rolled = [_rolled(draft, k) for k in fresh]
        hair = hair_of(segments, path.starts[fresh], path.ends[fresh], times[fresh], rolled)
        rows = Rows(draft, path, fresh, hair, locks)
        notes, sounds = note_plans(rows)
        bowed.update(zip(rows.at, notes, strict=True))
        made = dict(zip(fresh, _strokes(rows, problem, sounds.at(rows.lasts)), strict=True))
    if known is not None:
        for note in {*locks, *known.locks} & draft.stroke_of.keys():
            k = draft.stroke_of[note]
            if k not in made and draft.segments[k].id == note:
                made[k] = _relocked(known.strokes[known_at[k]], draft.segments[k], locks)
    strokes = tuple(made.get(k) or known.strokes[at] for k, at in enumerate(known_at))  # type: ignore[union-attr]
    return strokes, tuple(bowed[i] for i in range(draft.first_notes[-1]))


def _rolled(draft: Draft, k: int) -> list[float]:
    """Return how far the contact moves before every inner note of a stroke, where it rolls over strings [m]."""
    if len(draft.segments[k].notes) == 1:
        return []
    placed = draft.placements[draft.first_notes[k] : draft.first_notes[k + 1]]
    ways = [nearest_strings(before, after) for before, after in pairwise(placed)]
    return [contact_shift(draft.rig.instrument, *way) if way else 0.0 for way in ways]


def _kin(draft: Draft, known: Plan | None) -> list[int]:
    """Return at which index a known plan has every stroke; −1 for those that it does not have."""
    count = len(draft.segments)
    if known is None or known.part is not draft.part or known.draft.settings is not draft.settings:
        return [-1] * count
    if known.draft is draft:
        return list(range(count))
    before, after = shared_ends(known.draft.segments, draft.segments)
    shift = len(known.draft.segments) - count
    return [k if k < before else k + shift if k >= count - after else -1 for k in range(count)]


def _fresh(
    draft: Draft,
    problem: PathProblem,
    path: Path,
    times: FloatArray,
    locks: Mapping[str, Lock],
    known: Plan | None,
    known_at: Sequence[int],
) -> list[int]:
    """Return the strokes that a known plan does not show as they are now, and their neighbours."""
    at = np.array(known_at)
    if known is None or (at < 0).all():
        return list(range(len(draft.segments)))
    old, old_times = known.path.at(at), known.problem.times(known.path)[at]
    same = (at >= 0) & (path.starts == old.starts) & (path.ends == old.ends) & (path.links == old.links)
    same &= times == old_times
    for note in {*_sounding(locks), *_sounding(known.locks)}:
        if _tone_wish(locks.get(note)) != _tone_wish(known.locks.get(note)):
            same[draft.stroke_of[note]] = False
    if known.draft is not draft:
        for i, (one, other) in enumerate(zip(draft.placements, known.draft.placements, strict=True)):
            if one is not other and one != other:
                same[draft.stroke_at(i)] = False
    changed = np.flatnonzero(~same)
    near = np.unique(np.concatenate([changed - 1, changed, changed + 1]))
    return [int(k) for k in near if 0 <= k < len(same)]


def _sounding(locks: Mapping[str, Lock]) -> list[str]:
    return [note for note, lock in locks.items() if lock.sounds]


def _tone_wish(lock: Lock | None) -> tuple[float | None, ...]:
    """Return what a lock asks of the tone of its note."""
    return (lock.lane, lock.force, lock.tilt) if lock else (None, None, None)


def _strokes(rows: Rows, problem: PathProblem, last: Sounds) -> list[StrokePlan]:
    """Return the plans of some strokes; their last notes sound as given."""
    draft, path, locks = rows.draft, rows.path, rows.locks
    low, high = draft.rig.usable
    directions, starts, ends, slowest = (
        path.directions.tolist(),
        path.starts.tolist(),
        path.ends.tolist(),
        problem.slowest,
    )
    links = [LINKS[link] for link in path.links.tolist()]
    sounding = last.sounding.tolist()
    result = []
    for k, dip, sounded in zip(rows.strokes, join_dips(last, draft.rig).tolist(), sounding, strict=True):
        segment, slow = draft.segments[k], float(slowest[k])
        final = k + 1 == len(draft.segments)
        following = None if final else links[k + 1]
        lock = locks.get(segment.id)
        names = lock.names if lock else []
        ahead = high - starts[k] if directions[k] > 0 else starts[k] - low
        wish = lock.exit if lock else None
        how = (
            wish.value
            if wish
            else exit_of(segment.kind, following, 1.0 if final else draft.segments[k + 1].rest_before)
        )
        note = segment.notes[-1]
        result.append(
            StrokePlan(
                id=segment.id,
                direction=DIRECTIONS[directions[k]],
                kind=segment.kind.key,
                notes=tuple(note.event.id for note in segment.notes),
                start=starts[k],
                end=ends[k],
                begin=segment.begin,
                finish=note.begin + sounded,
                entry=links[k],
                exit=how,
                printed=segment.printed is not None and "direction" not in names,
                locks=tuple(names),
                profile=segment.profile,
                proposed=segment.proposed,
                in_hand=ahead / slow - segment.moving,
                lowest_tempo=draft.tempo_bpm * segment.moving * slow / 2 / (high - low - TURNING_ROOM),
                dip=dip if how == "joined" and following is CHANGE else 0.0,
                exit_time=exit_time(how, max(0.0, note.end - note.begin - sounded)),
            )
        )
    return result


def _relocked(stroke: StrokePlan, segment: Segment, locks: Mapping[str, Lock]) -> StrokePlan:
    names = tuple(locks[segment.id].names) if segment.id in locks else ()
    if stroke.locks == names:
        return stroke
    return replace(stroke, locks=names, printed=segment.printed is not None and "direction" not in names)
