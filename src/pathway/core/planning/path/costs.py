"""From segments to the numbers the path's cost needs: speeds, zones, and what speaks for each direction.

A cost that is *paid against* a direction is added to the other.
"""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray
from pathway.core.physics.geometry import ALTERNATING, contact_shift, is_hard_way
from pathway.core.planning.path.problem import TOUCH, Path, PathProblem
from pathway.core.planning.path.weights import (
    ACCENT,
    BAR_START,
    CHORD,
    EARLY_EVENNESS,
    EARLY_STRENGTH,
    EARLY_WEAK,
    EVEN,
    EVEN_MEMORY,
    EVEN_WEAK,
    FIRST_STROKE,
    FORGET,
    GROWTH,
    GROWTH_FROM,
    HARD_WAY,
    HOOK,
    HOOK_BASE,
    HOOK_LONG,
    HOOK_PAIR,
    HOOK_SHORT,
    LIFT_IN_LEGATO,
    LINK_MEMORY,
    LONG_SHORT,
    LONG_STROKE,
    ONE_BOW,
    PHRASE_START,
    RETAKE,
    RETAKE_BASE,
    RETAKE_STRONG,
    ROLL,
    SHORT_NOTE,
    SLOWING_RATIO,
    TURNED,
    UPBEAT,
    UPBEAT_AFTER_REST,
    WEAK_ENTRY,
)
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.columns import StrokeColumns, of_kinds
from pathway.core.planning.strokes.placement import nearest_strings, rolls
from pathway.core.planning.strokes.segments import HALF_BAR
from pathway.core.planning.strokes.speeds import speeds_of
from pathway.core.planning.strokes.stroke import Stroke
from pathway.core.planning.strokes.zones import rebounding, zones_of
from pathway.core.planning.wishes import Link, Lock
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import Rig
from pathway.core.technique.chords import REST, start_band
from pathway.errors import OutOfRange

_ONE_BOW, _JOINS = of_kinds(lambda kind: kind.one_bow), of_kinds(lambda kind: kind.joins)
_GAPPED, _FACTOR = of_kinds(lambda kind: kind.gap > 0), of_kinds(lambda kind: kind.attack * kind.breadth)
_BY_TYPE = of_kinds(lambda kind: kind.hair_a_note is not None or kind.whole_bow)


def problem_of(asked: StrokesAsked, rig: Rig) -> PathProblem:
    """Return the path problem of a part, before any sign or lock.

    Args:
        asked: K strokes.
        rig: instrument, bow and hand.
    """
    strokes, columns, kinds = asked.strokes, asked.columns, asked.columns.kind
    speeds = speeds_of(asked, rig)
    drives, preferred = speeds.drive, speeds.preferred
    moving, bows, rest = columns.moving, columns.bows, columns.rest
    zones = zones_of(asked, speeds.level_db, preferred * moving / bows, rig)
    factors = _FACTOR[kinds]
    step = np.zeros(len(strokes))
    step[1:] = 0.5 * np.log(drives[1:] / drives[:-1]) + np.log(factors[1:] / factors[:-1]) + np.diff(speeds.pace)
    by_type = _BY_TYPE[kinds]
    step[1:] = np.where(by_type[1:] | by_type[:-1], np.log(preferred[1:] / preferred[:-1]), step[1:])
    speeding, slowing = _evenness(columns)
    shift = _shifts(asked, rig)
    low, high = rig.usable
    nowhere = np.full(len(strokes), np.nan)
    return PathProblem(
        moving=moving,
        bows=bows,
        preferred=preferred,
        slowest=speeds.slowest,
        fastest=speeds.fastest,
        zone_low=zones[:, 0],
        zone_high=zones[:, 1],
        direction_costs=_direction_costs(asked, rig),
        start_bands=_start_bands(asked, preferred * moving / bows, rig),
        rest=rest,
        settle=np.where(columns.chord, REST, 0.0),
        shift=shift,
        change=ROLL * np.abs(shift) / rig.instrument.spacing,
        hook=_hook_costs(columns) + ROLL * np.abs(shift) / rig.instrument.spacing,
        retake=_retake_costs(columns),
        speeding=speeding,
        slowing=slowing,
        wanted_step=step,
        keep=columns.keep_back,
        pinned_start=nowhere,
        pinned_end=nowhere,
        low=low,
        high=high,
    )


def _start_bands(asked: StrokesAsked, lengths: FloatArray, rig: Rig) -> FloatArray:
    """Where chords begin at best, and a staccato in one bow on the player's own stretch of hair; shape (K, 2, 2).

    Args:
        asked: K strokes.
        lengths: that each would take by habit [m].
        rig: instrument, bow and hand.
    """
    columns = asked.columns
    bands = np.full((len(columns.chord), 2, 2), (-np.inf, np.inf))
    for k in np.flatnonzero(columns.chord | _ONE_BOW[columns.kind]).tolist():
        if columns.chord[k]:
            bands[k] = [start_band(way, float(columns.level[k]), rig) for way in Direction]
        else:
            bands[k] = [_own_band(way, float(lengths[k]), rig) for way in Direction]
    return bands


def _own_band(way: Direction, length: float, rig: Rig) -> tuple[float, float]:
    """Return where a staccato of a length [m] begins so that it stays on the player's stretch in a direction."""
    stretch = rig.one_bow(way).stretch
    if stretch is None:
        return -np.inf, np.inf
    low, high = stretch
    return (low, max(low, high - length)) if way is Direction.DOWN else (min(high, low + length), high)


def _shifts(asked: StrokesAsked, rig: Rig) -> FloatArray:
    """How far the contact moves between strokes where the bow rolls over silent strings [m]; shape (K,)."""
    strokes, string, here = asked.strokes, asked.notes.string, asked.columns.firsts[1:]
    shifts = np.zeros(len(strokes))
    leaps = (
        np.abs(string[here] - string[here - 1]) > 1
    )  # strings nearer to each other than their leads may be neighbours
    for k in (np.flatnonzero(leaps) + 1).tolist():
        before, stroke = strokes[k - 1], strokes[k]
        way = nearest_strings(before.placements[-1], stroke.placements[0])
        last = before.notes[-1]
        silence = stroke.begin - last.begin - last.sounding
        if way and rolls(rig, *way, slurred=False, silence=silence):
            shifts[k] = contact_shift(rig.instrument, *way)
    return shifts


def _evenness(columns: StrokeColumns) -> FloatArray:
    """Weights of speeding up and of slowing down; shape (2, K)."""
    memory, moving = np.exp(-columns.rest / EVEN_MEMORY), columns.moving
    memory[memory < FORGET] = 0.0
    memory[0] = 0.0
    ratio = np.append(0.0, np.log(moving[1:] / moving[:-1]))
    speeding = np.where(columns.weak, EVEN_WEAK, EVEN) * memory
    slowing = EVEN * np.exp(-((ratio / SLOWING_RATIO) ** 2)) * memory
    both: FloatArray = np.stack([speeding, slowing])
    both *= np.where(columns.early, EARLY_EVENNESS, 1.0)
    return both


def with_wishes(
    problem: PathProblem, strokes: Mapping[int, Stroke], locks: Mapping[str, Lock], rig: Rig
) -> PathProblem:
    """Return the problem with printed signs and locks kept; locks win.

    A lane or tilt that the player set for a bouncing stroke changes its spring, and so where it is at home.

    Args:
        problem: of K strokes.
        strokes: those of them with a sign or a lock, on their strings, in order.
        locks: the player's, by the id of a stroke's first note.
        rig: instrument, bow and hand.

    Raises:
        OutOfRange: a locked place off the hair.
    """
    costs = problem.direction_costs.copy()
    links = {Link.CHANGE: problem.change.copy(), Link.HOOK: problem.hook.copy(), Link.RETAKE: problem.retake.copy()}
    starts, ends = problem.pinned_start.copy(), problem.pinned_end.copy()
    zones = np.stack([problem.zone_low, problem.zone_high], axis=1)
    for k, stroke in strokes.items():
        lock = locks.get(stroke.id, _FREE)
        if stroke.kind.bounces and not (lock.lane is None and lock.tilt is None):
            contact = None if lock.lane is None else stroke.placements[0].lead.lane_middle(lock.lane)
            zones[k] = rebounding(StrokesAsked.of([stroke]), rig, problem.preferred[k], contact, lock.tilt)[0]
        fixed = lock.direction or stroke.printed
        if fixed is not None:
            costs[k, 1 if fixed is Direction.DOWN else 0] = np.inf
        if lock.link in links:
            for link in links.keys() - {lock.link}:
                links[link][k] = np.inf
        starts[k] = _on_hair(lock.start, problem, starts[k])
        ends[k] = _on_hair(lock.end, problem, ends[k])
        if k and np.isnan(starts[k]) and lock.link in (Link.CHANGE, Link.HOOK):
            left = starts[k - 1] if problem.returns[k - 1] else ends[k - 1]
            starts[k] = left + problem.shift[k]  # a joined stroke begins where a locked one ends, to the millimetre
    return replace(
        problem,
        zone_low=zones[:, 0],
        zone_high=zones[:, 1],
        direction_costs=costs,
        change=links[Link.CHANGE],
        hook=links[Link.HOOK],
        retake=links[Link.RETAKE],
        pinned_start=starts,
        pinned_end=ends,
    )


_FREE = Lock("")


def _on_hair(place: float | None, problem: PathProblem, otherwise: float) -> float:
    if place is None:
        return otherwise
    if not problem.low - TOUCH <= place <= problem.high + TOUCH:
        raise OutOfRange("the locked place on the hair", 100 * place, 100 * problem.low, 100 * problem.high, "cm")
    return min(max(place, problem.low), problem.high)


def with_inertia(problem: PathProblem, before_edit: Path) -> PathProblem:
    """Return the problem in which turning away from the path before an edit costs."""
    costs = problem.direction_costs.copy()
    costs[np.arange(len(costs)), np.where(before_edit.directions > 0, 1, 0)] += TURNED
    return replace(problem, direction_costs=costs)


def _direction_costs(asked: StrokesAsked, rig: Rig) -> FloatArray:
    """Cost of a down-bow and an up-bow for every stroke; shape (K, 2)."""
    columns, early, grows = asked.columns, asked.columns.early, asked.columns.grows
    costs = np.zeros((len(early), 2))
    strong, weak = costs.T if rig.strong is Direction.DOWN else costs.T[::-1]
    light = columns.strength < HALF_BAR
    against = early & light
    strong[against] = EARLY_WEAK
    weak[~against] = (columns.strength * np.where(early, EARLY_STRENGTH, 1.0))[~against]
    weak += BAR_START * columns.first_of_bar + ACCENT * columns.accented
    weak += CHORD * columns.chord + PHRASE_START * columns.starts_phrase
    weak[0] += FIRST_STROKE * ~light[0]
    strong += ONE_BOW * (_ONE_BOW[columns.kind] & columns.slurred)
    after_rest = columns.rest > 0
    after_rest[0] = True
    entries = np.where(after_rest & light, WEAK_ENTRY, 0.0)
    strong += np.where(columns.upbeat, UPBEAT + UPBEAT_AFTER_REST * after_rest, entries)
    swells = (columns.moving > GROWTH_FROM) & (grows != 0)
    costs[swells, np.where(grows > 0, 0, 1)[swells]] += GROWTH
    _add_hard_ways(costs, asked, rig)
    return costs


def _add_hard_ways(costs: FloatArray, asked: StrokesAsked, rig: Rig) -> None:
    """Fast separate notes over two strings: the higher string on a down-bow is the hard way on upheld rigs."""
    if not rig.hard_way:
        return
    columns, string = asked.columns, asked.notes.string
    alone, fast = columns.notes == 1, np.diff(columns.begin) < ALTERNATING
    here = columns.firsts[1:]
    step = string[here] - string[here - 1]
    felt = alone[1:] & alone[:-1] & fast & (columns.rest[1:] == 0) & (step != 0)
    hard = np.where(is_hard_way(step, Direction.DOWN, rig.hard_way), 0, 1)[felt]
    costs[np.flatnonzero(felt) + 1, hard] += HARD_WAY


def _hook_costs(columns: StrokeColumns) -> FloatArray:
    short = (columns.strength < HALF_BAR) & (columns.moving < SHORT_NOTE) & (columns.notes == 1)
    short |= _GAPPED[columns.kind]
    long = (columns.notes >= 3) | (columns.moving > LONG_STROKE)
    ease = np.select([pairs_in(columns), short, long], [HOOK_PAIR, HOOK_SHORT, HOOK_LONG], 1.0)
    costs: FloatArray = HOOK * ease * np.exp(-columns.rest / LINK_MEMORY) + HOOK_BASE
    costs[0] = 0.0
    return costs


def pairs_in(columns: StrokeColumns) -> BoolArray:
    """Return which strokes are a weak short note after a long one; shape (K,)."""
    length, alone = columns.end - columns.begin, columns.notes == 1
    pairs: BoolArray = (columns.strength < HALF_BAR) & alone
    pairs[0] = False
    pairs[1:] &= alone[:-1] & (length[:-1] >= LONG_SHORT * length[1:])
    return pairs


def _retake_costs(columns: StrokeColumns) -> FloatArray:
    ease = np.where(columns.accented | columns.chord, RETAKE_STRONG, 1.0)
    costs: FloatArray = RETAKE * ease * np.exp(-columns.rest / LINK_MEMORY) + RETAKE_BASE
    joins = _JOINS[columns.kind]
    legato = (columns.slurred[1:] | columns.slurred[:-1]) & (columns.rest[1:] == 0) & joins[1:] & joins[:-1]
    costs[1:] += np.where(legato, LIFT_IN_LEGATO, 0.0)
    return costs
