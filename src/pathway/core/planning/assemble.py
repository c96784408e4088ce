"""From the hair path to the plan: hair and place → tone → hand, note by note."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise
from math import radians
from typing import NamedTuple

import numpy as np

from pathway.core.music import Clock
from pathway.core.physics.geometry import contact_shift
from pathway.core.physics.hair import FROM_AIR, NEAR_FROG, Tilt, hair_share, tilt_at, wood_force
from pathway.core.physics.lever import hand_torque
from pathway.core.physics.string import FloatArray
from pathway.core.planning.crossings import crossings_of
from pathway.core.planning.draft import Draft, shared_ends
from pathway.core.planning.findings import find
from pathway.core.planning.fitting import TURNING_ROOM
from pathway.core.planning.path_problem import Link, Path, PathProblem
from pathway.core.planning.plan import NotePlan, Onset, Plan, StrokePlan, Tone
from pathway.core.planning.segments import Note, Segment
from pathway.core.planning.sharing import Span, spans_of
from pathway.core.planning.starts import Sound, exit_of, exit_time, join_dip, onset_of, sound_of
from pathway.core.planning.strings import Placement, nearest_strings
from pathway.core.planning.tone import Voices, tone_class, tone_of
from pathway.core.planning.totals import total_up
from pathway.core.planning.voices import Sounded, sounded
from pathway.core.planning.wishes import Lock
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import Rig
from pathway.core.technique.chords import Chord, bow_chord
from pathway.core.technique.notation import place_range
from pathway.core.technique.stroke_types import Contact

EARLY_WEAK_BOW = -2.0  # level of strokes in the weak direction, in early style [dB]
SOFT_TILT, FOCUSED_TILT = 15.0, -10.0  # for a whole step of colour [degrees]


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


def strokes_and_notes(
    draft: Draft, problem: PathProblem, path: Path, locks: Mapping[str, Lock], known: Plan | None = None
) -> tuple[tuple[StrokePlan, ...], tuple[NotePlan, ...]]:
    """Return the strokes and the bowed notes that a hair path makes of a draft."""
    times = problem.times(path)
    known_at = _kin(draft, known)
    fresh = _fresh(draft, problem, path, times, locks, known, known_at)
    spans = {k: spans_of(draft.segments[k], path, k, float(times[k]), _rolled(draft, k)) for k in fresh}
    bowed = _notes(draft, path, spans, locks, known)
    strokes = tuple(
        _stroke(draft, problem, path, k, spans[k], bowed, locks)
        if k in spans
        else _relocked(known.strokes[known_at[k]], draft.segments[k], locks)  # type: ignore[union-attr]
        for k in range(len(draft.segments))
    )
    return strokes, bowed


def _rolled(draft: Draft, k: int) -> list[float]:
    """Return how far the contact moves before every inner note of a stroke, where it rolls over strings [m]."""
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


def _stroke(
    draft: Draft,
    problem: PathProblem,
    path: Path,
    k: int,
    spans: Sequence[Span],
    bowed: Sequence[NotePlan],
    locks: Mapping[str, Lock],
) -> StrokePlan:
    segment = draft.segments[k]
    last = k + 1 == len(draft.segments)
    following = None if last else Link(int(path.links[k + 1]))
    rest_after = 1.0 if last else draft.segments[k + 1].rest_before
    names = locks[segment.id].names if segment.id in locks else []
    low, high = draft.rig.usable
    way = int(path.directions[k])
    ahead = high - float(path.starts[k]) if way > 0 else float(path.starts[k]) - low
    ending, placed = bowed[draft.first_notes[k + 1] - 1], draft.placements[draft.first_notes[k + 1] - 1]
    gap = max(0.0, segment.notes[-1].end - segment.notes[-1].begin - spans[-1].sounding)
    slowest = float(problem.slowest[k])
    wish = locks[segment.id].exit if segment.id in locks else None
    ends = wish.value if wish else exit_of(segment.kind, following, rest_after)
    return StrokePlan(
        id=segment.id,
        direction=Direction(way),
        kind=segment.kind.key,
        notes=tuple(note.event.id for note in segment.notes),
        start=float(path.starts[k]),
        end=float(path.ends[k]),
        begin=segment.begin,
        finish=segment.notes[-1].begin + spans[-1].sounding,
        entry=Link(int(path.links[k])),
        exit=ends,
        printed=segment.printed is not None and "direction" not in names,
        locks=tuple(names),
        profile=segment.profile,
        proposed=segment.proposed,
        in_hand=ahead / slowest - segment.moving,
        lowest_tempo=draft.tempo_bpm * segment.moving * slowest / 2 / (high - low - TURNING_ROOM),
        dip=join_dip(sound_of(ending, placed), draft.rig) if ends == "joined" and following is Link.CHANGE else 0.0,
        exit_time=exit_time(ends, gap),
    )


def _relocked(stroke: StrokePlan, segment: Segment, locks: Mapping[str, Lock]) -> StrokePlan:
    names = tuple(locks[segment.id].names) if segment.id in locks else ()
    if stroke.locks == names:
        return stroke
    return replace(stroke, locks=names, printed=segment.printed is not None and "direction" not in names)


def _notes(
    draft: Draft, path: Path, spans: Mapping[int, Sequence[Span]], locks: Mapping[str, Lock], known: Plan | None
) -> tuple[NotePlan, ...]:
    """Plan the notes of the strokes that have spans; take the others from the known plan."""
    rows = [(k, j) for k in spans for j in range(len(spans[k]))]
    firsts = draft.first_notes
    placements = [draft.placements[firsts[k] + j] for k, j in rows]
    hair = [spans[k][j] for k, j in rows]
    asked = [draft.segments[k].notes[j] for k, j in rows]
    weak = [_weaker(draft, path, k) for k, _ in rows]
    lead = Voices(
        strings=[p.lead for p in placements],
        indices=[p.lead_string for p in placements],
        speeds=np.array([abs(s.end - s.start) / s.sounding for s in hair]),
        factors=np.array([draft.segments[k].kind.attack for k, _ in rows]),
        targets=np.array([note.level_db for note in asked]) + weak,
        furthest_hair=np.array([max(s.start, s.end) for s in hair]),
        colours=np.array([(note.ask.colour + note.ask.colour_end) / 2 for note in asked]),
        ranges=np.array(
            [_range(note, p, locks.get(note.event.id)) for note, p in zip(asked, placements, strict=True)]
        ).reshape(-1, 2),
        forces=np.array([_force(locks.get(note.event.id)) for note in asked]),
    )
    strings = sounded(lead, tone_of(lead, draft.rig), placements, draft.rig)
    old = () if known is None else known.bowed
    result: dict[int, NotePlan] = dict(enumerate(old))
    for i, (k, j) in enumerate(rows):
        row = _Row(k, j, placements[i], hair[i], float(lead.targets[i]), strings[i], locks.get(asked[i].event.id))
        result[firsts[k] + j] = _note(draft, path, row)
    return tuple(result[i] for i in range(firsts[-1]))


def _range(note: Note, placed: Placement, lock: Lock | None) -> tuple[float, float]:
    """Return the least and greatest β of a note's lead: as words ask, or the middle of the lane the player set."""
    if lock is None or lock.lane is None:
        return place_range(note.ask.where, placed.lead.furthest)
    edges = placed.lead.lane_edges()
    middle = float((edges[lock.lane - 1] * edges[lock.lane]) ** 0.5)
    return middle, middle


def _force(lock: Lock | None) -> float:
    return float("nan") if lock is None or lock.force is None else lock.force


def _weaker(draft: Draft, path: Path, k: int) -> float:
    """In early style the weak direction is softer."""
    against = int(path.directions[k]) != draft.rig.strong
    return EARLY_WEAK_BOW if against and draft.segments[k].early else 0.0


def _onset(draft: Draft, path: Path, k: int, placed: Placement, sound: Sound, hair: float) -> Onset:
    """Return how the first note of a stroke begins."""
    segment, string = draft.segments[k], placed.lead_string
    turned = k > 0 and path.links[k] == Link.CHANGE and segment.rest_before == 0 and not draft.segments[k - 1].kind.gap
    ringing = turned and string in draft.placements[draft.first_notes[k] - 1].strings
    share = draft.rig.instrument.strings[string].gravity_share
    return onset_of(sound, segment.kind, draft.rig, hair, share, ringing=bool(ringing))


class _Row(NamedTuple):
    """One note about to be planned."""

    k: int  # its stroke
    j: int  # its place in it
    placed: Placement
    hair: Span
    target_db: float
    sounded: Sounded
    lock: Lock | None


def _note(draft: Draft, path: Path, row: _Row) -> NotePlan:
    """Return the plan of a note."""
    k, j, placed, hair, target_db, strings, lock = row
    segment, rig = draft.segments[k], draft.rig
    note = segment.notes[j]
    lead = strings.voices[0]
    chord = _chord(draft, note, placed, hair)
    pressed = [voice for voice in strings.voices if chord is None or voice.string in chord.pieces[-1].strings]
    force = sum(voice.force for voice in pressed)
    gravity = rig.instrument.strings[lead.string].gravity_share
    opening, closing = (
        tilt_at(_wanted_tilt(segment, j, at, rig, colour), force, at, rig.bow, lead.vibrating)
        for at, colour in ((hair.start, note.ask.colour), (hair.end, note.ask.colour_end))
    )
    if lock is not None and lock.tilt is not None:
        opening = closing = Tilt(lock.tilt, wood=force > wood_force(hair.end, lock.tilt, rig.bow))
    softest = min(max(rig.bow.hair / 2, min(hair.start, hair.end)), max(hair.start, hair.end))
    wood = opening.wood or closing.wood or tilt_at(0.0, force, softest, rig.bow, lead.vibrating).wood
    measure = draft.part.measures[note.event.measure]
    speed = abs(hair.end - hair.start) / hair.sounding
    sound = Sound(placed.lead, lead.midi, speed, lead.force, lead.window[1], lead.beta, lead.place, hair.sounding)
    onset = None if j else _onset(draft, path, k, placed, sound, hair.start)
    tone_there = tone_class(lead.place)
    choked = tone_there is Tone.CORE and onset is not None and not onset.clean
    return NotePlan(
        id=note.event.id,
        measure=measure.number,
        beat=measure.beat_of(note.place),
        onset=note.begin,
        duration=note.end - note.begin,
        sounding=hair.sounding,
        stroke=segment.id,
        voices=strings.voices,
        start=hair.start,
        end=hair.end,
        speed=speed,
        speed_ends=(speed * hair.opening, speed * hair.closing),
        contact=strings.contact,
        lane=strings.lane,
        tilt=opening.angle,
        tilt_end=closing.angle,
        wood=wood,
        hair_width=rig.bow.ribbon * float(hair_share(opening.angle)),
        level=chord.arm_level if chord else rig.instrument.level(sum(placed.strings) / len(placed.strings)),
        torque_start=float(hand_torque(force, hair.start, rig.bow, gravity)),
        torque_end=float(hand_torque(force, hair.end, rig.bow, gravity)),
        target_db=target_db,
        pulse_db=note.pulse_db,
        level_db=lead.level_db,
        brightness=strings.brightness,
        tone=Tone.CHOKED if choked else tone_there,
        onset_of_tone=onset,
        position=placed.position,
        chord=chord,
    )


def _chord(draft: Draft, note: Note, placed: Placement, hair: Span) -> Chord | None:
    """Return how a chord of three strings and more is bowed."""
    if len(placed.strings) < 3:
        return None
    lock = draft.shapes.get(note.event.id)
    form = (lock.chord if lock else None) or note.ask.chords
    length, early = abs(hair.end - hair.start), draft.settings.chords_before_beat
    strings, pitches = placed.strings[::-1], placed.pitches[::-1]
    return bow_chord(strings, pitches, length, hair.sounding, hair.start, form, draft.rig, before_beat=early)


def _wanted_tilt(segment: Segment, j: int, place: float, rig: Rig, colour: float) -> float:
    """Return the tilt [rad] that stroke type and colour ask for; a landing near the frog takes part of the ribbon."""
    wanted = radians(segment.kind.tilt_deg + (-SOFT_TILT if colour < 0 else FOCUSED_TILT) * colour)
    lands = j == 0 and segment.kind.contact is not Contact.ON and place < NEAR_FROG * rig.bow.hair
    return max(wanted, FROM_AIR) if lands else wanted


def _with_plucked(draft: Draft, bowed: tuple[NotePlan, ...]) -> tuple[NotePlan, ...]:
    part = draft.part
    plucked = [event for event in part.events if event.plucked]
    if not plucked:
        return bowed
    clock = Clock(part, draft.settings.tempo_bpm)
    rest = []
    for event in plucked:
        measure, onset = part.measures[event.measure], clock.seconds(event.place)
        length = clock.seconds(event.until) - onset
        beat = measure.beat_of(event.place)
        rest.append(NotePlan(event.id, measure.number, beat, onset, length, length, None))
    return tuple(sorted((*bowed, *rest), key=lambda note: part.index[note.id]))
