"""From segments to the numbers the path's cost needs: speeds, zones, and what speaks for each direction.

All weights are our choice, tried out on real parts. A cost that is *paid against* a direction is added to the other.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from pathway.core.physics.bounce import HAND_LEADS_BELOW, Bounce
from pathway.core.physics.geometry import ALTERNATING, contact_shift, is_hard_way
from pathway.core.physics.string import FloatArray
from pathway.core.planning.path_problem import Link, Path, PathProblem
from pathway.core.planning.segments import HALF_BAR, Segment
from pathway.core.planning.strings import Placement, nearest_strings, rolls
from pathway.core.planning.wishes import Lock
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import Rig
from pathway.core.technique.chords import REST, start_band
from pathway.core.technique.notation import ZONES, Half, place_range
from pathway.errors import OutOfRange

PREFERRED, SOFTER = 0.09, -0.35  # v_pref = PREFERRED · D · (D/D_mf)^SOFTER
ABOVE_SLOWEST, BELOW_FASTEST = 1.15, 0.87
CENTRES = ((-9.0, 0.0, 4.0), (0.569, 0.508, 0.446))  # level [dB] → share of the hair
ZONE_EDGES = (0.046, 0.954)
WHOLE_BOW_SPEED = 1.8  # most of a stroke thrown over the whole hair [m/s]
LED_ROOM = 0.08  # and where the hand leads it [m]
BOUNCE_ROOM = 0.03  # about the place where a bow off the string answers best [m]
TOUCH = 1e-9  # [m]
TOWARDS_FROG, ZONE_SLACK = 0.06, 0.03  # accents and chords lie nearer the frog; room about the preferred [m]
BAR_START, ACCENT, CHORD, PHRASE_START = 0.4, 0.8, 1.0, 0.6
UPBEAT, UPBEAT_AFTER_REST = 0.15, 0.9
GROWTH, GROWTH_FROM = 0.25, 0.6  # cost; strokes longer than this [s]
EARLY_STRENGTH, EARLY_WEAK, EARLY_EVENNESS = 3.0, 0.6, 0.5
TURNED = 0.10  # for each direction an edit turns without being asked
HARD_WAY = 0.5
ROLL = 0.15  # over each silent string, where the bow stays on
EVEN, EVEN_WEAK, EVEN_MEMORY, FORGET = 0.8, 1.8, 0.15, 0.05  # memory over a rest [s]
SLOWING_RATIO = 1.1
SHORT_NOTE, LONG_STROKE, LONG_SHORT = 0.45, 0.9, 1.9
HOOK_BASE, HOOK, RETAKE_BASE, RETAKE, LINK_MEMORY = 0.08, 1.6, 0.12, 2.4, 0.3


def problem_of(segments: Sequence[Segment], placements: Sequence[Placement], rig: Rig) -> PathProblem:
    """Return the path problem of a part, before any sign or lock.

    Args:
        segments: K strokes to be.
        placements: of every note of every segment, in order.
        rig: instrument, bow and hand.
    """
    pairs = _with_placements(segments, placements)
    speeds = [speeds_of(segment, placed, rig) for segment, placed in pairs]
    rows = [(s.drive, s.slowest, s.fastest, s.preferred) for s in speeds]
    drives, slowest, fastest, preferred = np.array(rows).T
    moving = np.array([segment.moving for segment in segments])
    zones = np.array([zone_of(s, p[0], v * s.moving, rig) for (s, p), v in zip(pairs, preferred, strict=True)])
    rest = np.array([segment.rest_before for segment in segments])
    factors = np.array([segment.kind.attack * segment.kind.breadth for segment in segments])
    step = np.zeros(len(segments))
    step[1:] = 0.5 * np.log(drives[1:] / drives[:-1]) + np.log(factors[1:] / factors[:-1])
    by_type = np.array([s.kind.hair_a_note is not None or s.kind.whole_bow for s in segments])
    step[1:] = np.where(by_type[1:] | by_type[:-1], np.log(preferred[1:] / preferred[:-1]), step[1:])
    speeding, slowing = _evenness(segments, moving, rest)
    shift = _shifts(pairs, rig)
    low, high = rig.usable
    nowhere = np.full(len(segments), np.nan)
    return PathProblem(
        moving=moving,
        preferred=preferred,
        slowest=slowest,
        fastest=fastest,
        zone_low=zones[:, 0],
        zone_high=zones[:, 1],
        direction_costs=_direction_costs(segments, placements, rig),
        start_bands=_start_bands(segments, rig),
        rest=rest,
        settle=np.array([REST if segment.is_chord else 0.0 for segment in segments]),
        shift=shift,
        change=ROLL * np.abs(shift) / rig.instrument.spacing,
        hook=_hook_costs(segments) + ROLL * np.abs(shift) / rig.instrument.spacing,
        retake=_retake_costs(segments),
        speeding=speeding,
        slowing=slowing,
        wanted_step=step,
        keep=np.array([segment.keep_back for segment in segments]),
        pinned_start=nowhere,
        pinned_end=nowhere,
        low=low,
        high=high,
    )


def _start_bands(segments: Sequence[Segment], rig: Rig) -> FloatArray:
    """Where chords begin at best; shape (K, 2, 2)."""
    bands = np.full((len(segments), 2, 2), (-np.inf, np.inf))
    for k, segment in enumerate(segments):
        if segment.is_chord:
            bands[k] = [start_band(way, segment.level_db, rig) for way in (Direction.DOWN, Direction.UP)]
    return bands


def _shifts(pairs: Sequence[tuple[Segment, Sequence[Placement]]], rig: Rig) -> FloatArray:
    """How far the contact moves between strokes where the bow rolls over silent strings [m]; shape (K,)."""
    shifts = np.zeros(len(pairs))
    for k in range(1, len(pairs)):
        (before, there), (segment, here) = pairs[k - 1], pairs[k]
        way = nearest_strings(there[-1], here[0])
        last = before.notes[-1]
        silence = segment.begin - last.begin - last.sounding
        if way and rolls(rig, *way, slurred=False, silence=silence):
            shifts[k] = contact_shift(rig.instrument, *way)
    return shifts


def _with_placements(
    segments: Sequence[Segment], placements: Sequence[Placement]
) -> list[tuple[Segment, Sequence[Placement]]]:
    result, at = [], 0
    for segment in segments:
        result.append((segment, placements[at : at + len(segment.notes)]))
        at += len(segment.notes)
    return result


@dataclass(frozen=True, slots=True)
class Speeds:
    """What speeds a stroke can have."""

    drive: float  # mean [m/s]
    slowest: float  # v_lo [m/s]
    fastest: float  # v_hi [m/s]
    preferred: float  # [m/s]


def speeds_of(segment: Segment, placed: Sequence[Placement], rig: Rig) -> Speeds:
    """Return drive and speeds of one stroke, weighed by the time of its notes.

    A type with a length of its own is not bound by the speeds of a singing tone: they open around it.
    """
    drive_mf = rig.instrument.drive_mf
    whole = segment.moving
    slowest = fastest = 0.0
    for note, place in zip(segment.notes, placed, strict=True):
        share = note.sounding / whole
        on_string = drive_mf * 10 ** (note.level_db / 20) / place.lead.heaviness
        nearest, furthest = place_range(note.ask.where, place.lead.furthest)
        slowest += share * nearest * on_string
        fastest += share * furthest * on_string
    drive = drive_mf * 10 ** (segment.level_db / 20)
    kind = segment.kind
    if kind.whole_bow:
        wanted = min(WHOLE_BOW_SPEED, (rig.usable[1] - rig.usable[0]) / whole)
    elif kind.hair_a_note is not None:
        wanted = sum(kind.hair_a_note) / 2 * len(segment.notes) / whole
    else:
        plain = preferred_speed(drive, drive_mf) * kind.breadth
        wanted = min(max(plain, ABOVE_SLOWEST * slowest), BELOW_FASTEST * fastest) * kind.attack
        return Speeds(drive, slowest, fastest * kind.attack, wanted)
    least, most = (length / sum(kind.hair_a_note) * 2 for length in kind.hair_a_note) if kind.hair_a_note else (1, 1)
    return Speeds(drive, min(slowest, wanted * least), max(fastest, wanted * most), wanted)


def preferred_speed(drive: float, drive_mf: float) -> float:
    """Return the speed [m/s] a player takes by habit for a drive [m/s]."""
    return float(PREFERRED * drive * (drive / drive_mf) ** SOFTER)


def zone_of(segment: Segment, placed: Placement, preferred_length: float, rig: Rig) -> tuple[float, float]:
    """Return where the stroke's middle is at home [m]: as words ask, by its type, its bounce, or its level."""
    hair, kind = rig.bow.hair, segment.kind
    if segment.ask.half is not Half.ANY:
        low, high = ZONES[segment.ask.half]
        return low * hair, high * hair
    if kind.bounces:
        middle, room = bounce_place(segment, placed, rig), bounce_room(segment)
        return middle - room, middle + room
    if kind.zone is not None:
        return kind.zone[0] * hair, kind.zone[1] * hair
    centre = float(np.interp(segment.level_db, *CENTRES)) * hair
    if segment.accented or segment.is_chord:
        centre -= TOWARDS_FROG
    half = preferred_length / 2 + ZONE_SLACK
    low, high = ZONE_EDGES[0] * hair, ZONE_EDGES[1] * hair
    return min(max(centre - half, low), high), min(max(centre + half, low), high)


def bounce_room(segment: Segment) -> float:
    """Return how far from its best place [m] a stroke off the string still does: thrown by hand it is less bound."""
    return LED_ROOM if segment.rate < HAND_LEADS_BELOW else BOUNCE_ROOM


def bounce_place(segment: Segment, placed: Placement, rig: Rig) -> float:
    """Return where on the hair [m] a stroke off the string answers best, kept on the usable hair."""
    share = rig.instrument.strings[placed.lead_string].gravity_share
    bounce = Bounce(rig.bow, share)
    find = bounce.sautille_place if segment.kind.key == "sautille" else bounce.spiccato_place
    low, high = rig.usable
    return min(max(find(segment.rate), low + BOUNCE_ROOM), high - BOUNCE_ROOM)


def _evenness(segments: Sequence[Segment], moving: FloatArray, rest: FloatArray) -> FloatArray:
    """Weights of speeding up and of slowing down; shape (2, K)."""
    memory = np.exp(-rest / EVEN_MEMORY)
    memory[memory < FORGET] = 0.0
    memory[0] = 0.0
    weak = np.array([s.strength < HALF_BAR and not s.accented for s in segments])
    ratio = np.append(0.0, np.log(moving[1:] / moving[:-1]))
    speeding = np.where(weak, EVEN_WEAK, EVEN) * memory
    slowing = EVEN * np.exp(-((ratio / SLOWING_RATIO) ** 2)) * memory
    both: FloatArray = np.stack([speeding, slowing])
    both *= np.where([s.early for s in segments], EARLY_EVENNESS, 1.0)
    return both


def with_wishes(problem: PathProblem, segments: Sequence[Segment], locks: Mapping[str, Lock]) -> PathProblem:
    """Return the problem with printed signs and locks kept; locks win.

    Args:
        problem: of K strokes.
        segments: the K strokes to be.
        locks: the player's, by the id of a stroke's first note.

    Raises:
        PlanError: a lock in the middle of a stroke, or off the hair.
    """
    costs = problem.direction_costs.copy()
    links = {Link.CHANGE: problem.change.copy(), Link.HOOK: problem.hook.copy(), Link.RETAKE: problem.retake.copy()}
    starts, ends = problem.pinned_start.copy(), problem.pinned_end.copy()
    for k, segment in enumerate(segments):
        if segment.printed is None and segment.id not in locks:
            continue
        lock = locks.get(segment.id, _FREE)
        fixed = lock.direction or segment.printed
        if fixed is not None:
            costs[k, 1 if fixed is Direction.DOWN else 0] = np.inf
        if lock.link in links:
            for link in links.keys() - {lock.link}:
                links[link][k] = np.inf
        starts[k] = _on_hair(lock.start, problem, starts[k])
        ends[k] = _on_hair(lock.end, problem, ends[k])
        if k and np.isnan(starts[k]) and lock.link in (Link.CHANGE, Link.HOOK):
            starts[k] = (
                ends[k - 1] + problem.shift[k]
            )  # a joined stroke begins where a locked one ends, to the millimetre
    return replace(
        problem,
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


def _direction_costs(segments: Sequence[Segment], placements: Sequence[Placement], rig: Rig) -> FloatArray:
    """Cost of a down-bow and an up-bow for every stroke; shape (K, 2)."""
    costs = np.zeros((len(segments), 2))
    strong = 0 if rig.strong is Direction.DOWN else 1
    weak = 1 - strong
    for k, segment in enumerate(segments):
        if segment.early and segment.strength < HALF_BAR:
            costs[k, strong] += EARLY_WEAK
        else:
            costs[k, weak] += segment.strength * (EARLY_STRENGTH if segment.early else 1.0)
        costs[k, weak] += BAR_START * segment.first_of_bar + ACCENT * segment.accented
        costs[k, weak] += CHORD * segment.is_chord + PHRASE_START * segment.starts_phrase
        if segment.upbeat:
            after_rest = segment.rest_before > 0 or k == 0
            costs[k, strong] += UPBEAT + UPBEAT_AFTER_REST * after_rest
        if segment.grows and segment.moving > GROWTH_FROM:
            costs[k, 0 if segment.grows > 0 else 1] += GROWTH
    _add_hard_ways(costs, segments, placements, rig)
    return costs


def _add_hard_ways(costs: FloatArray, segments: Sequence[Segment], placements: Sequence[Placement], rig: Rig) -> None:
    """Fast separate notes over two strings: the higher string on a down-bow is the hard way on upheld rigs."""
    if not rig.hard_way:
        return
    pairs = _with_placements(segments, placements)
    for k in range(1, len(pairs)):
        (before, there), (segment, here) = pairs[k - 1], pairs[k]
        alone = len(before.notes) == 1 and len(segment.notes) == 1 and segment.rest_before == 0
        step = here[0].lead_string - there[-1].lead_string
        if alone and step and segment.begin - before.begin < ALTERNATING:
            costs[k, 0 if is_hard_way(step, Direction.DOWN, rig.hard_way) else 1] += HARD_WAY


def _hook_costs(segments: Sequence[Segment]) -> FloatArray:
    costs = np.zeros(len(segments))
    for k in range(1, len(segments)):
        segment, before = segments[k], segments[k - 1]
        weak = segment.strength < HALF_BAR
        if weak and before.moving >= LONG_SHORT * segment.moving and len(segment.notes) == 1:
            ease = 0.12
        elif (weak and segment.moving < SHORT_NOTE and len(segment.notes) == 1) or segment.kind.gap > 0:
            ease = 0.6
        elif len(segment.notes) >= 3 or segment.moving > LONG_STROKE:
            ease = 1.4
        else:
            ease = 1.0
        costs[k] = HOOK * ease * np.exp(-segment.rest_before / LINK_MEMORY) + HOOK_BASE
    return costs


def _retake_costs(segments: Sequence[Segment]) -> FloatArray:
    rest = np.array([s.rest_before for s in segments])
    ease = np.array([0.6 if s.accented or s.is_chord else 1.0 for s in segments])
    costs: FloatArray = RETAKE * ease * np.exp(-rest / LINK_MEMORY) + RETAKE_BASE
    return costs
