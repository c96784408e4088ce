"""From the hair path to the plan: hair and place → tone → hand, note by note."""

from collections.abc import Container, Mapping, Sequence
from dataclasses import replace
from math import radians
from typing import NamedTuple

import numpy as np

from pathway.core.music import Clock
from pathway.core.physics.hair import hair_share, tilt_for_width
from pathway.core.physics.lever import hand_torque
from pathway.core.physics.string import AIRY, PRESSED, FloatArray
from pathway.core.planning.crossings import crossing_between
from pathway.core.planning.draft import Draft
from pathway.core.planning.findings import find
from pathway.core.planning.path_problem import Link, Path, PathProblem
from pathway.core.planning.plan import Crossing, NotePlan, Plan, StrokePlan, Tone, Voice
from pathway.core.planning.segments import Note, Segment
from pathway.core.planning.strings import Placement
from pathway.core.planning.tone import ToneOfVoices, Voices, tone_of
from pathway.core.planning.totals import total_up
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import Rig

LEAST_SOUND = 0.3  # of a note: more a retake does not take from it
SECOND_VOICES = 0.6  # most that the other strings add to the lead's force [1]


def assemble(draft: Draft, problem: PathProblem, path: Path, locks: Container[str], known: Plan | None = None) -> Plan:
    """Return the plan that a hair path makes of a draft; what a known plan of the same draft says is kept."""
    times = problem.times(path)
    fresh = _fresh(draft, problem, path, times, known)
    spans = {k: _spread(draft.segments[k], path, k, float(times[k])) for k in fresh}
    strokes = tuple(
        _stroke(draft, path, k, spans[k], locks)
        if k in spans
        else _relocked(known.strokes[k], draft.segments[k], locks)  # type: ignore[union-attr]
        for k in range(len(draft.segments))
    )
    bowed = _notes(draft, spans, known)
    return Plan(
        draft=draft,
        path=path,
        strokes=strokes,
        notes=_with_plucked(draft, bowed),
        crossings=_crossings(draft, strokes, bowed, known),
        findings=find(draft, problem, path, strokes, bowed),
        totals=total_up(draft, problem, strokes, bowed),
    )


def _fresh(draft: Draft, problem: PathProblem, path: Path, times: FloatArray, known: Plan | None) -> list[int]:
    """Return the strokes that a known plan does not show as they are now, and their neighbours."""
    if known is None or known.draft is not draft:
        return list(range(len(draft.segments)))
    old = known.path
    same = (path.starts == old.starts) & (path.ends == old.ends) & (path.links == old.links)
    same &= times == problem.times(old)
    changed = np.flatnonzero(~same)
    near = np.unique(np.concatenate([changed - 1, changed, changed + 1]))
    return [int(k) for k in near if 0 <= k < len(same)]


class _Span(NamedTuple):
    """What one note gets of the bow."""

    start: float  # [m]
    end: float  # [m]
    sounding: float  # [s]


def _spread(segment: Segment, path: Path, k: int, time: float) -> list[_Span]:
    """Share the stroke's hair among its notes, by time and the square root of the drive."""
    sounding = _shortened([note.sounding for note in segment.notes], segment.moving - time)
    shares = [t * 10 ** (n.level_db / 40) for t, n in zip(sounding, segment.notes, strict=True)]
    at, end = float(path.starts[k]), float(path.ends[k])
    per_share = (end - at) / sum(shares)
    result = []
    for share, seconds in zip(shares, sounding, strict=True):
        result.append(_Span(at, at + share * per_share, seconds))
        at += share * per_share
    return result


def _shortened(sounding: list[float], taken: float) -> list[float]:
    """Take time for a retake from the last notes."""
    result = list(sounding)
    for i in range(len(result) - 1, -1, -1):
        part = min(max(taken, 0.0), (1 - LEAST_SOUND) * result[i])
        result[i] -= part
        taken -= part
    return result


def _stroke(draft: Draft, path: Path, k: int, spans: Sequence[_Span], locks: Container[str]) -> StrokePlan:
    segment = draft.segments[k]
    last = k + 1 == len(draft.segments)
    following = None if last else Link(int(path.links[k + 1]))
    rest_after = 1.0 if last else draft.segments[k + 1].rest_before
    locked = segment.id in locks
    return StrokePlan(
        id=segment.id,
        direction=Direction(int(path.directions[k])),
        kind=segment.kind.key,
        notes=tuple(note.event.id for note in segment.notes),
        start=float(path.starts[k]),
        end=float(path.ends[k]),
        begin=segment.begin,
        finish=segment.notes[-1].begin + spans[-1].sounding,
        entry=Link(int(path.links[k])),
        exit=_exit(following, rest_after, segment),
        printed=segment.printed is not None and not locked,
        locked=locked,
    )


def _relocked(stroke: StrokePlan, segment: Segment, locks: Container[str]) -> StrokePlan:
    locked = segment.id in locks
    if stroke.locked == locked:
        return stroke
    return replace(stroke, locked=locked, printed=segment.printed is not None and not locked)


def _exit(following: Link | None, rest_after: float, segment: Segment) -> str:
    if following is Link.RETAKE:
        return "lifted"
    if rest_after > 0:
        return "ringing"
    return "stopped" if following is Link.HOOK or segment.kind.gap > 0 else "joined"


def _notes(draft: Draft, spans: Mapping[int, Sequence[_Span]], known: Plan | None) -> tuple[NotePlan, ...]:
    """Plan the notes of the strokes that have spans; take the others from the known plan."""
    rows = [(k, j) for k in spans for j in range(len(spans[k]))]
    firsts = draft.first_notes
    placements = [draft.placements[firsts[k] + j] for k, j in rows]
    hair = [spans[k][j] for k, j in rows]
    asked = [draft.segments[k].notes[j] for k, j in rows]
    lead = Voices(
        strings=[p.lead for p in placements],
        indices=[p.strings[0] for p in placements],
        speeds=np.array([abs(s.end - s.start) / s.sounding for s in hair]),
        factors=np.array([draft.segments[k].kind.speed_factor for k, _ in rows]),
        targets=np.array([note.level_db for note in asked]),
        furthest_hair=np.array([max(s.start, s.end) for s in hair]),
    )
    tone = tone_of(lead, draft.rig)
    seconds = _second_voices(lead, tone, placements, draft.rig)
    old = () if known is None else known.bowed
    result: dict[int, NotePlan] = dict(enumerate(old))
    for i, (k, j) in enumerate(rows):
        others = seconds.get(i, ())
        result[firsts[k] + j] = _note(draft, asked[i], draft.segments[k], placements[i], hair[i], tone, others, i)
    return tuple(result[i] for i in range(firsts[-1]))


def _crossings(
    draft: Draft, strokes: Sequence[StrokePlan], bowed: Sequence[NotePlan], known: Plan | None
) -> tuple[Crossing, ...]:
    """Find the crossings; those between two notes that a known plan holds too are taken from there."""
    by_id = {stroke.id: stroke for stroke in strokes}
    old_notes = known.bowed if known else ()
    old = {crossing.to_note: crossing for crossing in known.crossings} if known else {}
    found = []
    for i in range(1, len(bowed)):
        before, after = bowed[i - 1], bowed[i]
        if old_notes and old_notes[i - 1] is before and old_notes[i] is after:
            crossing = old.get(after.id)
        else:
            crossing = crossing_between(before, after, by_id, draft.rig)
        if crossing is not None:
            found.append(crossing)
    return tuple(found)


def _second_voices(
    lead: Voices, tone: ToneOfVoices, placements: Sequence[Placement], rig: Rig
) -> dict[int, tuple[Voice, ...]]:
    """Give the other strings of a double stop the same speed and place, and a share of force of their own."""
    where = [(i, j) for i, placed in enumerate(placements) for j in range(1, len(placed.strings))]
    if not where:
        return {}
    rows = np.array([i for i, _ in where])
    strings = [placements[i].sounding[j] for i, j in where]
    indices = [placements[i].strings[j] for i, j in where]
    betas = tone.contact[rows] / np.array([s.length for s in strings])
    second = Voices(
        strings,
        indices,
        lead.speeds[rows],
        lead.factors[rows],
        lead.targets[rows],
        lead.furthest_hair[rows],
        betas,
    )
    found = tone_of(second, rig)
    extra = np.bincount(rows, found.force, len(placements))[rows]
    share = np.minimum(1.0, SECOND_VOICES * tone.force[rows] / extra)
    force = found.force * share
    place = found.window.place(force)
    result: dict[int, tuple[Voice, ...]] = {}
    for n, (i, j) in enumerate(where):
        voice = Voice(
            midi=placements[i].pitches[j],
            string=indices[n],
            vibrating=strings[n].length,
            beta=float(betas[n]),
            force=float(force[n]),
            window=(float(found.window.lower[n]), float(found.window.upper[n])),
            place=float(place[n]),
            level_db=float(found.level_db[n]),
            lead=False,
        )
        result[i] = (*result.get(i, ()), voice)
    return result


def _note(
    draft: Draft,
    note: Note,
    segment: Segment,
    placed: Placement,
    hair: _Span,
    tone: ToneOfVoices,
    others: tuple[Voice, ...],
    i: int,
) -> NotePlan:
    start, end, sounding = hair
    rig = draft.rig
    lead = Voice(
        midi=placed.pitches[0],
        string=placed.strings[0],
        vibrating=placed.lead.length,
        beta=float(tone.beta[i]),
        force=float(tone.force[i]),
        window=(float(tone.window.lower[i]), float(tone.window.upper[i])),
        place=float(tone.place[i]),
        level_db=float(tone.level_db[i]),
        lead=True,
    )
    force = lead.force + sum(voice.force for voice in others)
    gravity = rig.instrument.strings[lead.string].gravity_share
    tilt = tilt_for_width(radians(segment.kind.tilt_deg), rig.bow, lead.vibrating)
    measure = draft.part.measures[note.event.measure]
    strings = [lead.string, *(voice.string for voice in others)]
    return NotePlan(
        id=note.event.id,
        measure=measure.number,
        beat=measure.beat_of(float(note.event.onset)),
        onset=note.begin,
        duration=note.end - note.begin,
        sounding=sounding,
        stroke=segment.id,
        voices=(lead, *others),
        start=start,
        end=end,
        speed=abs(end - start) / sounding,
        contact=float(tone.contact[i]),
        lane=int(tone.lane[i]),
        tilt=tilt,
        hair_width=rig.bow.ribbon * hair_share(tilt),
        level=rig.instrument.level(sum(strings) / len(strings)),
        torque_start=float(hand_torque(force, start, rig.bow, gravity)),
        torque_end=float(hand_torque(force, end, rig.bow, gravity)),
        target_db=note.level_db,
        pulse_db=note.pulse_db,
        level_db=lead.level_db,
        brightness=float(tone.brightness[i]),
        tone=tone_class(lead.place),
    )


def tone_class(place: float) -> Tone:
    """Return what a place in the force window sounds like."""
    if place < AIRY:
        return Tone.AIRY
    return Tone.PRESSED if place > PRESSED else Tone.CORE


def _with_plucked(draft: Draft, bowed: tuple[NotePlan, ...]) -> tuple[NotePlan, ...]:
    part = draft.part
    plucked = [event for event in part.events if event.plucked]
    if not plucked:
        return bowed
    clock = Clock(part, draft.settings.tempo_bpm)
    rest = []
    for event in plucked:
        measure, onset = part.measures[event.measure], clock.seconds(float(event.onset))
        length = clock.seconds(float(event.end)) - onset
        beat = measure.beat_of(float(event.onset))
        rest.append(NotePlan(event.id, measure.number, beat, onset, length, length, None))
    return tuple(sorted((*bowed, *rest), key=lambda note: part.index[note.id]))
