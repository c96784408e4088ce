"""Findings about the tone: the force window, the level, the hand's moment, stick and hair."""

from collections.abc import Iterator, Sequence

import numpy as np

from pathway.core.physics.geometry import drift, square_tolerance
from pathway.core.physics.hair import DEGREE, MOST_TILT, WIDEST, hair_share
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.findings.scene import LEVEL_SHORT, Scene, where
from pathway.core.planning.note_plan import NotePlan, Tone
from pathway.core.planning.notes.joins import join_stands_out
from pathway.core.technique.stroke_types import Start

TOO_LOUD = 3.0  # over the wanted level [dB]
STRAIN_SHARE, STRAIN_SECONDS, MINUTE = 0.8, 30.0, 60.0  # of the comfortable torque; [s]
_WHOLE_BOW, _CLOSE_LANE = 0.8, 5  # of the usable hair; lanes from here on betray a slant
_SLURRED = {"legato", "sustained"}
HURRIED = 1.15  # times the habitual speed: slower turns are a habit and not worth a word [1]
A_SHIFT = 3  # semitones: less is a reach of the fingers
SHIFT_TIME = 0.12  # a shift needs this inside a slur [s]


def tone_findings(scene: Scene) -> Iterator[Finding]:
    """Yield what the tone of single notes brings."""
    for k in _unsound(scene):
        yield from _tone(scene, k)
    yield from _strain(scene)
    yield from _slow_to_speak(scene)
    yield from _joins(scene)
    yield from _hair_and_stick(scene)
    yield from _slants(scene)
    yield from _shifts(scene)


def _unsound(scene: Scene) -> list[int]:
    """Strokes with a note off its core or short of its level, but for those that run out anyway."""
    loud = np.add.reduceat(scene.columns.off > TOO_LOUD, scene.firsts[:-1]) > 0
    return where((~scene.holds | loud) & ~scene.runs_out)


def _tone(scene: Scene, k: int) -> Iterator[Finding]:
    groups: dict[Code, list[NotePlan]] = {}
    for note in scene.notes_of(k):
        lead = note.lead
        if lead.window[0] >= lead.window[1]:
            groups.setdefault(Code.NO_WINDOW, []).append(note)
        elif note.tone is Tone.CHOKED and not _chokes(scene, k, note):
            continue
        elif note.tone is not Tone.CORE:
            groups.setdefault(Code(note.tone.value), []).append(note)
        elif note.level_db - note.target_db < LEVEL_SHORT:
            groups.setdefault(Code.LEVEL_SHORT, []).append(note)
        elif note.level_db - note.target_db > TOO_LOUD:
            groups.setdefault(Code.TOO_LOUD, []).append(note)
    for code, inner in groups.items():
        of_level = code in {Code.LEVEL_SHORT, Code.TOO_LOUD}
        worst = max(inner, key=lambda n: abs(n.level_db - n.target_db if of_level else n.lead.place - 0.5))
        yield _tone_finding(code, inner, worst, asked=_start_is_asked(scene, k))


def _start_is_asked(scene: Scene, k: int) -> bool:
    """Whether the player, or the manner, decides how a stroke starts."""
    segment = scene.segment(k)
    lock = scene.locks.get(segment.id)
    return segment.kind.start is Start.CATCH or (lock is not None and lock.sounds)


def _chokes(scene: Scene, k: int, note: NotePlan) -> bool:
    """Whether a start that the string does not take is worth a word: the hand mends it while the note has time."""
    return _start_is_asked(scene, k) or (note.onset_of_tone is not None and note.onset_of_tone.speak > note.sounding)


def _tone_finding(code: Code, notes: Sequence[NotePlan], worst: NotePlan, *, asked: bool) -> Finding:
    lead = worst.lead
    if code in {Code.LEVEL_SHORT, Code.TOO_LOUD}:
        severity = Severity.MEDIUM
    elif code is Code.CHOKED:
        severity = Severity.HIGH if asked else Severity.LOW
    else:
        severity = Severity.HIGH if code is Code.NO_WINDOW or not 0 <= lead.place <= 1 else Severity.MEDIUM
    numbers = {
        "place": lead.place,
        "short_db": worst.level_db - worst.target_db,
        "contact_m": worst.contact,
        "speed_m_s": worst.speed,
        "least_n": lead.window[0],
    }
    return Finding(code, severity, tuple(n.id for n in notes), worst.measure, numbers)


def _strain(scene: Scene) -> Iterator[Finding]:
    """More than half of any minute near the hand's limit."""
    limit = STRAIN_SHARE * scene.draft.rig.torque_limit
    heavy = where(scene.columns.torque > limit)
    onsets, lasts = scene.columns.onset[heavy].tolist(), scene.columns.sounding[heavy].tolist()
    total, first = 0.0, 0
    for i, (onset, long) in enumerate(zip(onsets, lasts, strict=True)):
        total += long
        while onset - onsets[first] > MINUTE:
            total -= lasts[first]
            first += 1
        if total > STRAIN_SECONDS:
            worst = max((scene.notes[n] for n in heavy[first : i + 1]), key=lambda note: abs(note.torque_end))
            yield Finding(Code.HEAVY_HAND, Severity.LOW, (worst.id,), worst.measure, {"lasts_s": total})
            return


def _slow_to_speak(scene: Scene) -> Iterator[Finding]:
    """Notes over before their tone stands; one for each string."""
    seen: set[int] = set()
    for k in where(scene.columns.late[scene.firsts[:-1]]):
        note = scene.opening(k)
        onset = note.onset_of_tone
        if onset is None or note.lead.string in seen:
            continue
        seen.add(note.lead.string)
        facts = {"string": scene.letter(note.lead.string)}
        yield scene.finding(Code.SPEAKS_LATE, Severity.LOW, k, facts, speak_s=onset.speak, sounds_s=note.sounding)


def _joins(scene: Scene) -> Iterator[Finding]:
    """The most audible change between slurred bows, one for each passage."""
    worst: dict[int | None, tuple[float, int]] = {}
    for k in where(scene.speeds > HURRIED * scene.problem.preferred):
        stroke, passage = scene.strokes[k], scene.segment(k).ask.passage
        if stroke.kind in _SLURRED and stroke.dip > 0 and join_stands_out(stroke.dip, scene.notes_of(k)[-1]):
            worst[passage] = max(worst.get(passage, (0.0, k)), (stroke.dip, k))
    for dip, k in worst.values():
        yield scene.finding(Code.JOIN_HEARD, Severity.LOW, k, dip_s=dip)


def _hair_and_stick(scene: Scene) -> Iterator[Finding]:
    narrowest = scene.draft.rig.bow.ribbon * float(hair_share(MOST_TILT))
    wide = narrowest > WIDEST * scene.columns.vibrating
    for note in (scene.notes[i] for i in where(scene.columns.wood | wide)):
        if note.wood:
            yield Finding(Code.WOOD_CONTACT, Severity.LOW, (note.id,), note.measure, {"tilt_rad": note.tilt})
        else:
            numbers = {"hair_m": narrowest, "string_m": note.lead.vibrating}
            yield Finding(Code.HAIR_TOO_WIDE, Severity.LOW, (note.id,), note.measure, numbers)


def _slants(scene: Scene) -> Iterator[Finding]:
    """The whole bow close to the bridge that forgives the least; one for a piece."""
    low, high = scene.draft.rig.usable
    found: list[tuple[float, int]] = []
    close = np.minimum.reduceat(scene.columns.lane, scene.firsts[:-1]) >= _CLOSE_LANE
    for k in where(close & (scene.path.lengths > _WHOLE_BOW * (high - low))):
        step = scene.segment(k).placements[0].lead.lane_step
        found.append((square_tolerance(scene.strokes[k].length, scene.opening(k).contact, step), k))
    if found:
        tolerance, k = min(found)
        note = scene.notes_of(k)[0]
        numbers = {"tolerance_rad": tolerance, "drift_m": float(drift(scene.strokes[k].length, DEGREE))}
        yield Finding(Code.OFF_SQUARE_SENSITIVE, Severity.LOW, (note.id,), note.measure, numbers)


def _shifts(scene: Scene) -> Iterator[Finding]:
    """The first shift inside each slur that has no time to hide."""
    position = scene.columns.position
    shifted = (np.abs(np.diff(position)) >= A_SHIFT) & (position[:-1] > 0) & (position[1:] > 0)
    told = set[int]()
    for i in where(shifted & (scene.columns.sounding[:-1] < SHIFT_TIME)):
        before, after = scene.notes[i], scene.notes[i + 1]
        k = scene.draft.stroke_at(i)
        if before.stroke == after.stroke and k not in told:
            told.add(k)
            numbers = {"time_s": before.sounding}
            yield Finding(Code.SHIFT_HEARD, Severity.LOW, (before.id, after.id), after.measure, numbers)
