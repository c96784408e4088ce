"""What a player changes in what is asked: the level and colour of a passage, the tempo, octaves and voicings."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np

from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.finding import Code, Finding
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.strokes.compass import octave_within
from pathway.core.planning.wish_checks import tunable
from pathway.core.planning.wishes import Colour, Lock, Passage, identified
from pathway.core.technique.voicings import pitch_names, voicings_of

LEVEL_STEP = 3.0  # [dB]
_ROOM = 1.03  # a tempo at which things fit is offered with so much to spare [1]
LEAST_TEMPO, MOST_TEMPO = 0.5, 2.0  # times the present tempo: further ones are not offered [1]
_OCTAVES = {1: "an octave higher", -1: "an octave lower", 2: "two octaves higher", -2: "two octaves lower"}
_NEAR = 60.0  # what a finding about strain looks at, to both sides [s]
HEAVY = 0.8  # of the comfortable moment
ARTICULATED = 0.3  # silent share of the notes of a passage that shall sound apart


def softer(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Play it softer."""
    yield from _levelled(plan, finding, strokes, -LEVEL_STEP)


def over(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Mean it louder than it is written."""
    yield from _levelled(plan, finding, strokes, LEVEL_STEP)


def _levelled(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan], by_db: float) -> Iterator[Fix]:
    passage = _passage(plan, finding, strokes)
    if passage is not None:
        way = "softer" if by_db < 0 else "mean"
        yield Fix(way, way, {"db": f"{abs(by_db):.0f}"}, passage=_by(passage, by_db))


def _by(passage: Passage, by_db: float) -> Passage:
    relation = passage.relation
    if relation is not None:
        return replace(passage, relation=replace(relation, by_db=relation.by_db + by_db))
    return replace(passage, offset_db=passage.offset_db + by_db)


def _passage(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Passage | None:
    """Return the passage that strokes lie in, or a new one about them; None where they reach into others."""
    index = plan.part.index
    first, last = index[strokes[0].notes[0]], index[strokes[-1].notes[-1]]
    if finding.code is Code.HEAVY_HAND:
        limit, at = HEAVY * plan.rig.torque_limit, plan.note[finding.notes[0]].onset
        near = np.flatnonzero((np.abs(plan.columns.onset - at) < _NEAR) & (plan.columns.torque > limit))
        first, last = (index[plan.draft.bowed[i].id] for i in (near[0], near[-1]))
    passages = identified(plan.draft.settings.passages)
    touched = [p for p in passages if index[p.start] <= last and index[p.end] >= first]
    if not touched:
        ids = [passage.id for passage in passages]
        start, end = plan.part.events[first].id, plan.part.events[last].id
        return Passage(start, end, id=max(ids, default=0) + 1)
    inside = len(touched) == 1 and index[touched[0].start] <= first and last <= index[touched[0].end]
    return touched[0] if inside else None


def colours(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Give the passage another colour."""
    passage = _passage(plan, finding, strokes)
    if passage is None:
        return
    firm = finding.code in {Code.AIRY, Code.CONTRAST_THIN}
    for colour in (Colour.FOCUSED, Colour.SOFT) if firm else (Colour.SOFT, Colour.FOCUSED):
        if colour is not passage.colour:
            changed = replace(passage, colour=colour, colour_end=None)
            yield Fix(f"colour-{colour.value}", "colour", {"colour": colour.value}, passage=changed)


def contrasts(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Widen the step between two passages: by level, then by articulation."""
    passage = _passage(plan, finding, strokes)
    if passage is None:
        return
    away = LEVEL_STEP if finding.numbers["level_db"] >= 0 else -LEVEL_STEP
    for by_db in (away, -away):
        way = "louder" if by_db > 0 else "softer"
        yield Fix(way, way, {"db": f"{LEVEL_STEP:.0f}"}, passage=_by(passage, by_db))
    if passage.gap is None:
        yield Fix("apart", "apart", passage=replace(passage, gap=ARTICULATED))


def stays(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Keep notes on the string where they lie, on purpose, as a passage of its own."""
    passage, string = _passage(plan, finding, strokes), plan.note[finding.notes[0]].lead.string
    if passage is not None and passage.id > len(plan.draft.settings.passages):
        start, end = finding.notes[0], finding.notes[-1]
        asked = replace(passage, start=start, end=end, string=string)
        yield Fix("stay", "stay", {"string": plan.rig.instrument.strings[string].letter}, passage=asked)


def tempi(plan: Plan, finding: Finding, _strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Take the tempo at which it fits."""
    now = plan.draft.tempo_bpm
    factor, numbers = 0.0, finding.numbers
    if "fits_from_bpm" in numbers:
        factor = _ROOM * numbers["fits_from_bpm"] / now
    elif "most" in numbers and numbers.get("rate"):
        factor = numbers["most"] / numbers["rate"] / _ROOM
    elif "low" in numbers and numbers.get("rate"):
        factor = (numbers["low"] * _ROOM if numbers["rate"] < numbers["low"] else numbers["high"] / _ROOM) / numbers[
            "rate"
        ]
    if LEAST_TEMPO <= factor <= MOST_TEMPO:
        tempo = float(round(now * factor))
        yield Fix("tempo", "tempo", {"bpm": f"{tempo:.0f}"}, tempo_bpm=tempo)


def octaves(plan: Plan, finding: Finding, _strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Play notes in the octave that lies on the instrument; those that lie on it an octave lower."""
    moved = {id_: octave_within(plan.part.event[id_], plan.rig.instrument) for id_ in finding.notes}
    if finding.code is not Code.OUTSIDE:
        moved = dict.fromkeys(moved, -1)
    if None in moved.values():
        return
    ways = {octave for octave in moved.values() if octave}
    words = _OCTAVES.get(next(iter(ways)), "three octaves away") if len(ways) == 1 else "in the octave that fits"
    heads = plan.part.event[finding.notes[0]].heads
    pitch = finding.facts.get("pitch") or pitch_names(sorted(head.midi for head in heads))
    facts = {"pitch": pitch if len(moved) == 1 else "these notes", "octaves": words}
    yield Fix("octave", "octave", facts, tuple(Lock(id_, octave=octave) for id_, octave in moved.items()))


def tunings(plan: Plan, finding: Finding, _strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Tune the lowest string down as far as the finding's notes ask for."""
    strings, notes = plan.rig.instrument.strings, {*finding.notes}
    lowest = min(pitch for out in plan.draft.left_out if out.event.id in notes for pitch in out.pitches)
    tuning = (lowest, *(string.midi for string in strings[1:]))
    if lowest < strings[0].midi and tunable(plan.rig.instrument, tuning):
        facts = {"string": strings[0].letter, "pitch": pitch_names([lowest])}
        yield Fix("tuning", "tuning", facts, tuning=tuning)


def voicings(plan: Plan, finding: Finding, _strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Play a chord in an easier voicing."""
    id_ = finding.notes[0]
    pitches = plan.draft.played.event[id_].pitches
    for n, voicing in enumerate(voicings_of(pitches, plan.rig.instrument)):
        facts = {"easier": pitch_names(voicing), "lost": pitch_names(sorted({*pitches} - {*voicing}))}
        yield Fix(f"voicing-{n}", "voicing", facts, (Lock(id_, voicing=voicing),))
