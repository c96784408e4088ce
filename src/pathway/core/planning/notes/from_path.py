"""From the hair path to strokes and notes; what a known plan says of untouched ones is kept."""

import math
from collections.abc import Mapping, Sequence
from itertools import pairwise

import numpy as np

from pathway.core.physics.geometry import contact_shift
from pathway.core.planning.draft import Draft
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.notes.joins import exit_of, exit_time, join_dips
from pathway.core.planning.notes.notes import note_plans
from pathway.core.planning.notes.onsets import Sounds
from pathway.core.planning.notes.rows import Rows
from pathway.core.planning.notes.sharing import hair_of
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.plan import Known, StrokePlan
from pathway.core.planning.strokes.placement import nearest_strings
from pathway.core.planning.strokes.stroke import Stroke
from pathway.core.planning.wishes import Link, Lock
from pathway.core.rig.bow import EARLY_HOLDS, Direction
from pathway.core.rig.instrument import Rig
from pathway.core.technique.endings import Exit
from pathway.core.technique.limbs import Limb, Motion, limb_of
from pathway.core.technique.stroke_types import Contact

_LINKS = {int(link): link for link in Link}


CHANGE, JOINED = Link.CHANGE, Exit.JOINED  # looked up once: an enumeration looks its members up by name
DIRECTIONS = {int(direction): direction for direction in Direction}


def strokes_and_notes(
    draft: Draft, problem: PathProblem, path: Path, locks: Mapping[str, Lock], known: Known | None = None
) -> tuple[tuple[StrokePlan, ...], tuple[NotePlan, ...]]:
    """Return the strokes and the bowed notes that a hair path makes of a draft; what is carried over is kept."""
    anew = known[1].anew if known else list(range(len(draft.strokes)))
    if known and not anew:
        return known[0].strokes, known[0].bowed
    times, rolled = problem.times(path)[anew], [_rolled(draft.strokes[k], draft.rig) for k in anew]
    hair = hair_of([draft.strokes[k] for k in anew], path.starts[anew], path.ends[anew], times, rolled)
    rows = Rows(draft, path, anew, hair, locks)
    notes, sounds = note_plans(rows)
    made = _strokes(rows, problem, sounds.at(rows.lasts))
    if known is None:
        return tuple(made), tuple(notes)
    before, carried = known
    strokes = [before.strokes[k] for k in carried.index.tolist()]
    bowed = list(before.bowed)
    for k, stroke in zip(anew, made, strict=True):
        strokes[k] = stroke
    for i, note in zip(rows.at, notes, strict=True):
        bowed[i] = note
    return tuple(strokes), tuple(bowed)


def _rolled(stroke: Stroke, rig: Rig) -> list[float]:
    """Return how far the contact moves before every inner note of a stroke, where it rolls over strings [m]."""
    ways = [nearest_strings(before, after) for before, after in pairwise(stroke.placements)]
    return [contact_shift(rig.instrument, *way) if way else 0.0 for way in ways]


def _strokes(rows: Rows, problem: PathProblem, last: Sounds) -> list[StrokePlan]:
    """Return the plans of some strokes; their last notes sound as given."""
    draft, path, locks = rows.draft, rows.path, rows.locks
    (low, high), slowest = draft.rig.usable, problem.slowest
    directions, starts, ends, links = (
        array.tolist() for array in (path.directions, path.starts, path.ends, path.links)
    )
    sounding = last.sounding.tolist()
    result = []
    after = [draft.strokes[k + 1].notes[0].sounding if k + 1 < len(draft.strokes) else math.inf for k in rows.strokes]
    closing = rows.hair.closing[rows.lasts]
    dips = join_dips(last, closing, np.array(after), draft.rig).tolist()
    for k, dip, sounded, lands in zip(rows.strokes, dips, sounding, rows.from_air, strict=True):
        segment, slow = draft.strokes[k], float(slowest[k])
        final = k + 1 == len(draft.strokes)
        following = None if final else _LINKS[links[k + 1]]
        lock = locks.get(segment.id)
        names = lock.names if lock else []
        ahead = high - starts[k] if directions[k] > 0 else starts[k] - low
        wish = lock.exit if lock else None
        rest_after = 1.0 if final else draft.strokes[k + 1].rest_before
        how = wish or exit_of(segment.kind, following, rest_after)
        if how is JOINED and not wish and not final and rows.out_of_ring(k + 1):
            how = Exit.RINGING
        note = segment.notes[-1]
        result.append(
            StrokePlan(
                id=segment.id,
                direction=DIRECTIONS[directions[k]],
                kind=segment.kind.key,
                notes=tuple(note.event.id for note in segment.notes),
                bows=segment.bows,
                start=starts[k],
                end=ends[k],
                begin=segment.begin,
                finish=note.begin + sounded,
                entry=_LINKS[links[k]],
                exit=how,
                printed=segment.printed is not None and "direction" not in names,
                locks=tuple(names),
                profile=segment.profile,
                proposed=segment.proposed,
                in_hand=ahead / slow * segment.bows - segment.moving,
                lowest_tempo=float(draft.lowest_tempi[k]),
                dip=dip if how is JOINED and following is CHANGE else 0.0,
                exit_time=exit_time(how, max(0.0, note.end - note.begin - sounded)),
                from_air=lands,
                kept_down=_kept_down(draft.strokes, k),
                limb=_limb(segment, starts[k], ends[k], float(draft.rates[k]), draft.rig),
            )
        )
    return result


def _limb(stroke: Stroke, start: float, end: float, rate: float, rig: Rig) -> Limb:
    off, early = stroke.kind.contact is not Contact.ON, rig.hold.name in EARLY_HOLDS
    return limb_of(Motion(abs(end - start), (start + end) / 2, rig.bow.hair, rate, off, early))


def _kept_down(strokes: Sequence[Stroke], k: int) -> bool:
    """Whether a stroke stays on the string between two that leave it, so that the next one has to begin anew."""
    on = strokes[k].kind.contact is Contact.ON and strokes[k].rest_before == 0
    inner = 0 < k < len(strokes) - 1
    return on and inner and all(strokes[k + by].kind.contact is not Contact.ON for by in (-1, 1))
