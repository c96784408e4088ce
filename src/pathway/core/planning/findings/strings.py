"""Findings about the way from string to string, double stops and chords."""

from collections.abc import Collection, Iterator

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.guide.positions import position_name
from pathway.core.music import pitch_name
from pathway.core.physics.geometry import FASTEST_HAND, ROLL_TIME
from pathway.core.physics.string import FURTHEST, lane_step
from pathway.core.planning.crossing import Crossing
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.findings.scene import Scene, runs_of, where
from pathway.core.planning.note_plan import NotePlan, Tone, Voice
from pathway.core.planning.notes.tone import tone_class
from pathway.core.planning.strokes.hand import FIRST
from pathway.core.technique.double_stops import LOST, OVERRUN
from pathway.core.technique.fingers import OPEN
from pathway.core.technique.voicings import WhyHard, is_hard, pitch_names, trouble_with, voicings_of

FAR_UP = 11  # semitones up a string that are more than a seventh
A_CHORD = 3  # notes
STRETCHES = 3  # semitones beyond its frame that a large hand stretches for a tenth
TURNING_TIME = 0.30  # in which any hand turns the stick [s], our estimate
JUMP_TIME = 0.12  # that the bow needs to leave two strings and be on two others [s], our estimate
HARD_IN_A_ROW = 6  # crossings on the hard way round, one after the other, that are worth a word


def string_findings(scene: Scene) -> Iterator[Finding]:
    """Yield what crossings and several strings bring."""
    yield from _fast(scene)
    yield from _hard(scene)
    yield from _skips(scene)
    yield from _carried(scene)
    yield from _voices(scene)
    yield from _far_up(scene)
    yield from _jumps(scene)
    yield from _unplayable(scene)
    yield from _outside(scene)


def _between(scene: Scene, crossing: Crossing) -> dict[str, str]:
    """Return the names of a crossing's two strings."""
    return {"from": scene.letter(crossing.from_string), "to": scene.letter(crossing.to_string)}


def _bar(scene: Scene, crossing: Crossing) -> str:
    return scene.draft.part.bar[crossing.to_note]


def _between_full_notes(scene: Scene, crossing: Crossing) -> bool:
    """Whether no ornament is in it: that is brushed in passing."""
    event = scene.draft.part.event
    return not (event[crossing.from_note].grace or event[crossing.to_note].grace)


def _by_chords(scene: Scene) -> BoolArray:
    """Return which notes are chords, or come after one."""
    chords = scene.columns.voices >= A_CHORD
    beside: BoolArray = chords | np.append(False, chords[:-1])
    return beside


def _fast(scene: Scene) -> Iterator[Finding]:
    for crossing in scene.crossed.at(where((scene.crossed.columns.speed > FASTEST_HAND) & ~_by_chords(scene))):
        if not _between_full_notes(scene, crossing):
            continue
        numbers = {"hand_speed_m_s": crossing.speed, "travel_m": crossing.travel, "time_s": crossing.time}
        ids = (crossing.from_note, crossing.to_note)
        facts = _between(scene, crossing)
        yield Finding(Code.CROSSING_FAST, Severity.MEDIUM, ids, _bar(scene, crossing), numbers, facts)


def _hard(scene: Scene) -> Iterator[Finding]:
    """Runs of crossings in which every pair goes the hard way round."""
    for first, last in runs_of(scene.crossed.columns.hard):
        if last - first + 1 < HARD_IN_A_ROW:
            continue
        run = scene.crossed.at(range(first, last + 1))
        ids = (run[0].from_note, *(c.to_note for c in run))
        numbers, facts = {"crossings": float(len(run))}, _between(scene, run[0])
        yield Finding(Code.CROSSING_HARD, Severity.MEDIUM, ids, _bar(scene, run[0]), numbers, facts)


def _skips(scene: Scene) -> Iterator[Finding]:
    columns = scene.crossed.columns
    for crossing in scene.crossed.at(where(columns.time < columns.skips * ROLL_TIME)):
        if not _between_full_notes(scene, crossing):
            continue
        facts = _between(scene, crossing) | {"manner": crossing.how}
        ids, numbers = (crossing.from_note, crossing.to_note), {"time_s": crossing.time, "skips": float(crossing.skips)}
        yield Finding(Code.SKIP_NO_TIME, Severity.MEDIUM, ids, _bar(scene, crossing), numbers, facts)


def _carried(scene: Scene) -> Iterator[Finding]:
    """The leap of a piece after which the old direction of the stick would lead the hair off furthest.

    It is an estimate of ours, and told once. To the neighbouring string every player turns it by habit.
    """
    columns = scene.crossed.columns
    quick = np.flatnonzero((columns.drift != 0) & (columns.skips > 0) & (columns.time < TURNING_TIME))
    if not quick.size:
        return
    lanes = _lanes_off(scene, quick)
    for crossing in scene.crossed.at([int(quick[lanes.argmax()])] if lanes.max() > 1 else []):
        numbers, facts = {"turn_rad": crossing.turn, "drift_m": crossing.drift}, _between(scene, crossing)
        ids = (crossing.from_note, crossing.to_note)
        yield Finding(Code.ANGLE_CARRIED, Severity.LOW, ids, _bar(scene, crossing), numbers, facts)


def _lanes_off(scene: Scene, notes: IntArray) -> FloatArray:
    """Return by how many lanes the hair would slide over notes after a crossing."""
    step = lane_step(np.minimum(scene.draft.rig.instrument.gap / scene.columns.vibrating[notes], FURTHEST))
    drifts = np.abs(scene.crossed.columns.drift[notes])
    lanes: FloatArray = drifts / (scene.columns.contact[notes] * np.expm1(step))
    return lanes


def _voices(scene: Scene) -> Iterator[Finding]:
    """Double stops in which one of the two voices is lost."""
    for note in (scene.notes[i] for i in where(scene.columns.voices == 2)):
        lead, second = note.voices
        if how := _lost(lead, second, scene.draft.rig.instrument.length):
            numbers = {"under_db": lead.level_db - second.level_db, "place": second.place}
            facts = {"how": how, "voice": "lower" if second.string < lead.string else "upper"}
            yield Finding(Code.VOICE_LOST, Severity.MEDIUM, (note.id,), note.measure, numbers, facts)


def _lost(lead: Voice, second: Voice, open_length: float) -> str:
    """Return how a voice is lost; empty where none is."""
    under = lead.level_db - second.level_db
    if tone_class(second.place) is Tone.AIRY:
        return "airy"
    if under > LOST:
        return "under"
    drone = second.vibrating >= open_length and second.loops == 1  # an open string is expected to ring
    return "over" if under < -(LOST if drone else OVERRUN) else ""


def _far_up(scene: Scene) -> Iterator[Finding]:
    """Notes high up a string that no one asked for, while the hand before them has the pitch on the next string."""
    instrument = scene.draft.rig.instrument
    opens = np.array([string.midi for string in instrument.strings])
    string = scene.columns.string
    high = (scene.columns.midi - opens[string] > FAR_UP) & (string + 1 < len(opens))
    for i in np.flatnonzero(high[1:]).tolist():
        before, note = scene.notes[i], scene.notes[i + 1]
        voice, written = note.lead, scene.draft.note(i + 1)
        wished = written.ask.string is not None or written.event.top.string is not None
        if len(note.voices) > 1 or wished:
            continue
        above = voice.midi - int(opens[voice.string])
        there, hand = voice.midi - int(opens[voice.string + 1]), before.position or FIRST
        if there == 0 or hand - 1 <= there <= hand + instrument.frame(hand):
            facts = {"from": scene.letter(voice.string), "to": scene.letter(voice.string + 1)}
            yield Finding(Code.FAR_UP, Severity.LOW, (note.id,), note.measure, {"above": float(above)}, facts)


def _jumps(scene: Scene) -> Iterator[Finding]:
    """Double stops after which the bow has no time for two other strings."""
    stops = scene.columns.voices > 1
    both = stops & np.append(False, stops[:-1])
    for crossing in scene.crossed.at(where(both & ~_by_chords(scene) & (scene.crossed.columns.time < JUMP_TIME))):
        before, after = scene.note(crossing.from_note), scene.note(crossing.to_note)
        numbers = {"time_s": crossing.time, "rate": 1 / crossing.time, "most": 1 / JUMP_TIME}
        facts = {"from": _pair(scene, before), "to": _pair(scene, after)}
        ids = (before.id, after.id)
        yield Finding(Code.JUMP, Severity.MEDIUM, ids, _bar(scene, crossing), numbers, facts)


def _pair(scene: Scene, note: NotePlan) -> str:
    return " and ".join(scene.letter(string) for string in sorted(voice.string for voice in note.voices))


def _outside(scene: Scene) -> Iterator[Finding]:
    """Notes that the instrument does not have."""
    instrument = scene.draft.rig.instrument
    for out in scene.draft.left_out:
        event, below = out.event, out.pitches[0] < instrument.strings[0].midi
        facts = {
            "how": "chord" if len(out.pitches) < len(event.heads) else "note",
            "pitch": " and ".join(map(pitch_name, out.pitches)),
            "side": "below" if below else "above",
            "instrument": instrument.name,
        }
        numbers = {"pitches": float(len(out.pitches))}
        bar = scene.draft.part.bar[event.id]
        yield Finding(Code.OUTSIDE, Severity.HIGH, (event.id,), bar, numbers, facts)


def _beyond_the_hand(scene: Scene, curtailed: Collection[int]) -> Iterator[Finding]:
    """Double stops and chords of which no finger reaches a note while others hold the rest."""
    instrument, event = scene.draft.rig.instrument, scene.draft.played.event
    for i in where(scene.columns.voices > 1):
        fingers = scene.draft.placement(i).fingers
        if i in curtailed or None not in fingers:
            continue
        note = scene.notes[i]
        pitches, span = event[note.id].pitches, instrument.frame(max(note.position, 1))
        facts = trouble_with(pitches, instrument).facts
        facts |= {"why": WhyHard.BEYOND.value, "spans": str(span)}
        facts["position"] = position_name(note.position, instrument)
        numbers = {"notes": float(len(pitches)), "planned": float(len(note.voices))}
        stopped = [voice.midi - instrument.strings[voice.string].midi for voice in note.voices if voice.finger != OPEN]
        severity = Severity.LOW if max(stopped) - min(stopped) <= span + STRETCHES else Severity.HIGH
        yield Finding(Code.CHORD_OUT_OF_REACH, severity, (note.id,), note.measure, numbers, facts)


def _unplayable(scene: Scene) -> Iterator[Finding]:
    """Chords that no bow can play as they stand, with an easier voicing."""
    instrument, event = scene.draft.rig.instrument, scene.draft.played.event
    curtailed = {*scene.draft.curtailed}
    for i in where(scene.draft.chord_sizes >= A_CHORD):
        if i in curtailed:
            continue
        note = scene.notes[i]
        chord = tuple(sorted(event[note.id].pitches))
        if not is_hard(chord, instrument):
            continue
        if easier := voicings_of(chord, instrument):
            lost = sorted({*chord} - {*easier[0]})
            facts = {"chord": pitch_names(chord), "easier": pitch_names(easier[0]), "lost": pitch_names(lost)}
            numbers = {"notes": float(len(chord))}
            yield Finding(Code.CHORD_HARD, Severity.LOW, (note.id,), note.measure, numbers, facts)
    yield from _beyond_the_hand(scene, curtailed)
    for i in curtailed:
        note = scene.notes[i]
        pitches = event[note.id].pitches
        numbers = {"notes": float(len(pitches)), "planned": float(len(note.voices))}
        facts = trouble_with(pitches, instrument).facts
        yield Finding(Code.CHORD_OUT_OF_REACH, Severity.HIGH, (note.id,), note.measure, numbers, facts)
