"""Every way from string to string in a plan."""

from collections.abc import Sequence

import numpy as np

from pathway.core.physics.geometry import (
    ALTERNATING,
    ROLL_SPEED,
    ROLL_TIME,
    crossing_angle,
    drift,
    hand_travel,
    is_hard_way,
    stick_turn,
)
from pathway.core.planning.columns import NoteColumns
from pathway.core.planning.crossing import Crossing, Crossings
from pathway.core.planning.draft import Draft
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.notes.ringing import rings_of
from pathway.core.planning.plan import Known, StrokePlan
from pathway.core.planning.strokes.placement import nearest_of, rolls
from pathway.core.planning.wishes import Link
from pathway.core.rig.instrument import Rig
from pathway.core.technique.crossings import CrossingManner, Sense, mover_of

LOOKS_BACK = 2  # notes before a crossing that have a say in it
_THROUGH, _EARLY = 0.12, 0.30  # time of a slurred crossing [s]: less goes through both strings, more is led early


def crossings_of(
    draft: Draft,
    strokes: Sequence[StrokePlan],
    bowed: Sequence[NotePlan],
    columns: NoteColumns,
    known: Known | None = None,
) -> Crossings:
    """Return the crossings of a plan; those between notes that are carried over are kept."""
    fresh: set[int] = {*(np.flatnonzero(np.diff(columns.string)) + 1).tolist()}  # others share a string
    if known:
        firsts = draft.first_notes
        spans = (range(firsts[k], firsts[k + 1] + LOOKS_BACK) for k in known[1].anew)
        fresh = {i for span in spans for i in span if 0 < i < len(bowed)}
    made = {
        i: crossing_between(
            (bowed[i - 1], bowed[i]),
            bowed[i - 2] if i > 1 else None,
            (strokes[draft.stroke_at(i - 1)], strokes[draft.stroke_at(i)]),
            draft.rig,
        )
        for i in fresh
    }
    return known[0].crossed.but(made) if known else Crossings.of([made.get(i) for i in range(len(bowed))])


def crossing_between(
    notes: tuple[NotePlan, NotePlan], earlier: NotePlan | None, strokes: tuple[StrokePlan, StrokePlan], rig: Rig
) -> Crossing | None:
    """Return the crossing between neighbouring bowed notes, or None if they share a string.

    Args:
        notes: the one that the bow comes from, and the one that it goes to.
        earlier: the note before these, if any; back and forth makes one oscillation.
        strokes: that carry the two.
        rig: instrument, bow and hand.
    """
    before, after = notes
    here = [voice.string for voice in after.voices]
    way = nearest_of([voice.string for voice in before.voices], here)
    if way is None:
        return None
    source, target = way
    angle = crossing_angle(rig.instrument, source, target)
    travel = hand_travel(angle, before.left_at, rig.bow)
    interval = after.onset - before.onset
    silence = max(0.0, interval - before.sounding)
    slurred = before.stroke == after.stroke
    time = min(before.sounding, after.sounding) / 2 + silence
    stays = slurred or strokes[1].entry is not Link.RETAKE
    rolling = stays and rolls(rig, source, target, slurred=slurred, silence=silence)
    back = interval < ALTERNATING and earlier is not None and {v.string for v in earlier.voices} == {*here}
    turn = stick_turn(rig.instrument, source, target)
    return Crossing(
        from_note=before.id,
        to_note=after.id,
        from_string=source,
        to_string=target,
        angle=angle,
        travel=travel,
        time=time,
        limb=mover_of(travel, 1 / max(interval, 1e-3), after.target_db),
        sense=_sense(strokes, target - source, interval, rig),
        skips=abs(target - source) - 1,
        how=_manner(time, slurred=slurred, rolls=rolling, skips=abs(target - source) > 1, back=back),
        turn=turn,
        drift=drift(after.end - after.start, turn),
        shift=after.start - before.left_at if rolling else 0.0,
        dip=ROLL_SPEED * min(before.speed, after.speed) if rolling else 0.0,
        over=ROLL_TIME * (abs(target - source) - 1) if rolling else 0.0,
        falls=rig.hold.underhand and target == source + 1,
        rings=rings_of([voice for voice in before.voices if voice.string == source], rig.instrument),
    )


def _manner(time: float, *, slurred: bool, rolls: bool, skips: bool, back: bool) -> CrossingManner:
    if skips:
        return CrossingManner.ROLL if rolls else CrossingManner.LIFT
    if back:
        return CrossingManner.OSCILLATION
    if not slurred:
        return CrossingManner.CHANGE
    if time < _THROUGH:
        return CrossingManner.THROUGH
    return CrossingManner.SMOOTH if time < _EARLY else CrossingManner.EARLY


def _sense(strokes: tuple[StrokePlan, StrokePlan], step: int, interval: float, rig: Rig) -> Sense:
    one, other = strokes
    separate = one is not other and len(one.notes) == len(other.notes) == 1
    if not (separate and rig.hard_way and interval < ALTERNATING):
        return Sense.NEUTRAL
    return Sense.HARD if is_hard_way(step, other.direction, rig.hard_way) else Sense.EASY
