"""Every way from string to string in a plan."""

from functools import partial

import numpy as np

from pathway.core.arrays import IntArray
from pathway.core.physics.geometry import (
    ALTERNATING,
    ROLL_SPEED,
    ROLL_TIME,
    between_strings,
    crossing_angle,
    drift,
    hand_travel,
    is_hard_way,
    stick_turn,
)
from pathway.core.planning.columns import NoteColumns, with_rows
from pathway.core.planning.crossing import Crossing, CrossingColumns, Crossings
from pathway.core.planning.draft import Draft
from pathway.core.planning.notes.ringing import ring_of
from pathway.core.planning.path.problem import Path
from pathway.core.planning.plan import Known
from pathway.core.planning.strokes.placement import nearest_strings, rolls
from pathway.core.planning.views import Views
from pathway.core.planning.wishes import Link
from pathway.core.technique.crossings import CrossingManner, Sense, mover_of

LOOKS_BACK = 2  # notes before a crossing that have a say in it
_SENSES = {1: Sense.HARD, -1: Sense.EASY, 0: Sense.NEUTRAL}
_THROUGH, _EARLY = 0.12, 0.30  # time of a slurred crossing [s]: less goes through both strings, more is led early


def crossings_of(draft: Draft, path: Path, columns: NoteColumns, known: Known | None = None) -> Crossings:
    """Return the crossings of a plan; those between notes that are carried over are kept."""
    count = draft.first_notes[-1]
    if known is None:
        ways = _ways(draft, path, columns, np.arange(count))
        return Crossings(Views(count, partial(_crossing, draft, columns, ways)), ways)
    firsts, crossed = draft.first_notes, known[0].crossed
    spans = (range(firsts[k], firsts[k + 1] + LOOKS_BACK) for k in known[1].anew)
    fresh = sorted({i for span in spans for i in span if i < count})
    if not fresh:
        return crossed
    ways = with_rows(crossed.columns, fresh, _ways(draft, path, columns, np.array(fresh)))
    return Crossings(crossed.to.but({i: i for i in fresh}, partial(_crossing, draft, columns, ways)), ways)


def _ways(draft: Draft, path: Path, columns: NoteColumns, to: IntArray) -> CrossingColumns:
    """Return the ways from string to string that lead to some bowed notes."""
    rig, instrument = draft.rig, draft.rig.instrument
    start = np.maximum(to - 1, 0)  # before the first note there is none: it shares its own string
    source, target = columns.string[start], columns.string[to]
    for n in np.flatnonzero((columns.voices[start] > 1) | (columns.voices[to] > 1)).tolist():
        way = nearest_strings(draft.placement(int(start[n])), draft.placement(int(to[n])))
        source[n], target[n] = way or (target[n], target[n])
    way, step = source != target, target - source
    at, before = draft.carriers[to], draft.carriers[start]
    slurred, left_at = at == before, columns.left_at[start]
    interval = columns.onset[to] - columns.onset[start]
    silence = np.maximum(0.0, interval - columns.sounding[start])
    turn = between_strings(instrument, stick_turn)[source, target]
    angle = between_strings(instrument, crossing_angle)[source, target]
    rolling = rolls(rig, source, target, slurred=slurred, silence=silence)
    rolling &= slurred | (path.links[at] != Link.RETAKE)
    alone = ~slurred & (draft.columns.notes[at] == 1) & (draft.columns.notes[before] == 1)
    felt = way & alone & (interval < ALTERNATING) & bool(rig.hard_way)
    hard = is_hard_way(step, path.directions[at], rig.hard_way)
    return CrossingColumns(
        source=source,
        target=target,
        interval=interval,
        time=np.where(way, np.minimum(columns.sounding[start], columns.sounding[to]) / 2 + silence, np.inf),
        travel=np.where(way, hand_travel(angle, left_at, rig.bow), 0.0),
        turn=turn,
        drift=drift(columns.end[to] - columns.start[to], turn),
        shift=np.where(rolling, columns.start[to] - left_at, 0.0),
        rolls=rolling,
        slurred=slurred,
        sense=np.where(felt, np.where(hard, 1, -1), 0),
    )


def _crossing(draft: Draft, columns: NoteColumns, ways: CrossingColumns, i: int) -> Crossing | None:
    """Return the way to a bowed note from the one before, or None if they share a string."""
    source, target = int(ways.source[i]), int(ways.target[i])
    if source == target:
        return None
    rig, opens, left = draft.rig, draft.rig.instrument.strings, draft.placement(i - 1)
    n = left.strings.index(source)
    time, travel, interval = float(ways.time[i]), float(ways.travel[i]), float(ways.interval[i])
    skips = abs(target - source) - 1
    slurred, rolling = bool(ways.slurred[i]), bool(ways.rolls[i])
    earlier = {*draft.placement(i - 2).strings} if i > 1 else set[int]()
    back = interval < ALTERNATING and earlier == {*draft.placement(i).strings}
    return Crossing(
        from_note=draft.bowed[i - 1].id,
        to_note=draft.bowed[i].id,
        from_string=source,
        to_string=target,
        angle=crossing_angle(rig.instrument, source, target),
        travel=travel,
        time=time,
        limb=mover_of(travel, 1 / max(interval, 1e-3), float(columns.target[i])),
        sense=_SENSES[int(ways.sense[i])],
        skips=skips,
        how=_manner(time, slurred=slurred, rolls=rolling, skips=skips > 0, back=back),
        turn=float(ways.turn[i]),
        drift=float(ways.drift[i]),
        shift=float(ways.shift[i]),
        dip=ROLL_SPEED * float(columns.speed[i - 1 : i + 1].min()) if rolling else 0.0,
        over=ROLL_TIME * skips if rolling else 0.0,
        falls=rig.hold.underhand and target == source + 1,
        rings=ring_of(
            rig.instrument, source, stopped=left.pitches[n] != opens[source].midi, loops=left.sounding[n].loops
        ),
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
