"""Findings about the tone: the force window, the level, the hand's moment, stick and hair."""

import math
from collections.abc import Iterator, Sequence
from itertools import pairwise

import numpy as np

from pathway.core.physics.geometry import square_tolerance
from pathway.core.physics.hair import MOST_TILT, WIDEST, hair_share
from pathway.core.planning.findings.scene import Scene, where
from pathway.core.planning.notes.onsets import join_stands_out
from pathway.core.planning.plan import Finding, NotePlan, Severity, Tone

LEVEL_SHORT = -3.0  # [dB]
STRAIN_SHARE, STRAIN_SECONDS, MINUTE = 0.8, 30.0, 60.0  # of the comfortable torque; [s]
WHOLE_BOW, CLOSE_LANE = 0.8, 5  # of the usable hair; lanes from here on betray a slant
SLURRED = {"legato", "sustained"}
HURRIED = 1.15  # times the habitual speed: slower turns are a habit and not worth a word [1]
A_SHIFT = 3  # semitones: less is a reach of the fingers
SHIFT_TIME = 0.12  # a shift needs this inside a slur [s]


def tone_findings(scene: Scene) -> Iterator[Finding]:
    """Yield what the tone of single notes brings."""
    for k in _unsound(scene):
        yield from _tone(scene.notes_of(k))
    yield from _strain(scene)
    yield from _slow_to_speak(scene)
    yield from _joins(scene)
    yield from _hair_and_stick(scene)
    yield from _slants(scene)
    yield from _shifts(scene)


def _unsound(scene: Scene) -> list[int]:
    """Strokes with a note off its core or short of its level, but for those that run out anyway."""
    odd = np.array([note.tone is not Tone.CORE for note in scene.notes]) | (scene.off < LEVEL_SHORT)
    return where((np.add.reduceat(odd, scene.firsts[:-1]) > 0) & ~scene.runs_out)


def _tone(notes: Sequence[NotePlan]) -> Iterator[Finding]:
    groups: dict[str, list[NotePlan]] = {}
    for note in notes:
        lead = note.lead
        if lead.window[0] >= lead.window[1]:
            groups.setdefault("no-window", []).append(note)
        elif note.tone is not Tone.CORE:
            groups.setdefault(note.tone.value, []).append(note)
        elif note.level_db - note.target_db < LEVEL_SHORT:
            groups.setdefault("level-short", []).append(note)
    for code, inner in groups.items():
        worst = min(
            inner,
            key=lambda n: n.level_db - n.target_db if code == "level-short" else -abs(n.lead.place - 0.5),
        )
        yield _tone_finding(code, inner, worst)


def _tone_finding(code: str, notes: Sequence[NotePlan], worst: NotePlan) -> Finding:
    bar, place, lead = f"Bar {worst.measure}", 100 * worst.contact, worst.lead
    short = worst.level_db - worst.target_db
    texts = {
        "no-window": f"{bar}: at {100 * worst.speed:.0f} cm/s and {place:.1f} cm from the bridge no weight gives a "
        "clean tone. Go further from the bridge, or faster.",
        "airy": f"{bar}: too light for this place; the tone turns airy. It wants {100 * lead.window[0] / 0.981:.0f} g "
        "or more: less hair, or further from the bridge.",
        "pressed": f"{bar}: too heavy for this speed; the tone grates. More hair, or nearer the fingerboard.",
        "choked": f"{bar}: this start lies outside what the string takes; the note begins mute or scratches. "
        "Set it with more weight, or gather speed more quickly.",
        "level-short": f"{bar}: about {-short:.0f} dB softer than written; the bow cannot go closer or faster here.",
    }
    severe = code in {"no-window", "choked"} or not 0 <= lead.place <= 1
    severity = Severity.HIGH if severe and code != "level-short" else Severity.MEDIUM
    numbers = {"place": lead.place, "short_db": short, "contact_cm": place}
    return Finding(code, severity, tuple(n.id for n in notes), texts[code], numbers)


def _strain(scene: Scene) -> Iterator[Finding]:
    """More than half of any minute near the hand's limit."""
    limit = STRAIN_SHARE * scene.draft.rig.torque_limit
    heavy = [n for n in scene.notes if abs(n.torque_start + n.torque_end) / 2 > limit]
    total, first = 0.0, 0
    for i, note in enumerate(heavy):
        total += note.sounding
        while note.onset - heavy[first].onset > MINUTE:
            total -= heavy[first].sounding
            first += 1
        if total > STRAIN_SECONDS:
            worst = max(heavy[first : i + 1], key=lambda n: abs(n.torque_end))
            text = (
                f"Bar {worst.measure}: {total:.0f} s of the minute around it ask for nearly all the moment of your "
                "hand. Play nearer the middle where you can, and rest before repeating it."
            )
            yield Finding("heavy-hand", Severity.LOW, (worst.id,), text, {"seconds": total})
            return


def _slow_to_speak(scene: Scene) -> Iterator[Finding]:
    """Notes over before their tone stands; one for each string."""
    seen: set[int] = set()
    for k, note in enumerate(scene.openings):
        onset = note.onset_of_tone
        if onset is None or onset.speak <= note.sounding or note.lead.string in seen:
            continue
        seen.add(note.lead.string)
        name = scene.draft.rig.instrument.strings[note.lead.string].letter
        text = (
            f"on the {name} string a note needs {1000 * onset.speak:.0f} ms to speak and this one lasts "
            f"{1000 * note.sounding:.0f}. Start it firmly, a little nearer the fingerboard."
        )
        yield scene.finding("speaks-late", Severity.LOW, k, text, speak_s=onset.speak, sounds_s=note.sounding)


def _joins(scene: Scene) -> Iterator[Finding]:
    """The most audible change between slurred bows, one for each passage."""
    worst: dict[int | None, tuple[float, int]] = {}
    for k, stroke in enumerate(scene.strokes):
        if stroke.dip == 0 or stroke.kind not in SLURRED:
            continue
        segment = scene.segment(k)
        hurried = scene.speeds[k] > HURRIED * scene.problem.preferred[k]
        if hurried and join_stands_out(stroke.dip, scene.notes_of(k)[-1], scene.draft.rig):
            worst[segment.ask.passage] = max(worst.get(segment.ask.passage, (0.0, k)), (stroke.dip, k))
    for dip, k in worst.values():
        text = (
            f"the change after this bow is the most audible one: the tone dips for {1000 * dip:.0f} ms. Slow the last "
            "2 cm to six tenths, take a quarter of the weight off, and near the frog tilt 10° more."
        )
        yield scene.finding("join-heard", Severity.LOW, k, text, dip_s=dip)


def _hair_and_stick(scene: Scene) -> Iterator[Finding]:
    narrowest = scene.draft.rig.bow.ribbon * float(hair_share(MOST_TILT))
    for note, lead in zip(scene.notes, scene.leads, strict=True):
        length = lead.vibrating
        if note.wood:
            text = "the stick comes down on the string at this weight and tilt. Flatten the bow, or give more hair."
            numbers = {"tilt_deg": math.degrees(note.tilt)}
            yield Finding("wood-contact", Severity.LOW, (note.id,), f"Bar {note.measure}: {text}", numbers)
        elif narrowest > WIDEST * length:
            text = (
                f"even {1000 * narrowest:.0f} mm of hair are wide for {100 * length:.0f} cm of string: the tone "
                "loses its edge. Tilt as far as you can."
            )
            numbers = {"hair_mm": 1000 * narrowest}
            yield Finding("hair-too-wide", Severity.LOW, (note.id,), f"Bar {note.measure}: {text}", numbers)


def _slants(scene: Scene) -> Iterator[Finding]:
    """The whole bow close to the bridge that forgives the least; one for a piece."""
    low, high = scene.draft.rig.usable
    found: list[tuple[float, int]] = []
    for k in where(scene.path.lengths > WHOLE_BOW * (high - low)):
        notes = scene.notes_of(k)
        if min(n.lane for n in notes) >= CLOSE_LANE:
            step = scene.segment(k).placements[0].lead.lane_step
            found.append((square_tolerance(scene.strokes[k].length, notes[0].contact, step), k))
    if found:
        tolerance, k = min(found)
        note = scene.notes_of(k)[0]
        text = (
            f"a whole bow close to the bridge forgives {math.degrees(tolerance):.1f}° of slant before it leaves its "
            "lane. Watch it in a mirror once."
        )
        numbers = {"tolerance_deg": math.degrees(tolerance)}
        yield Finding("off-square-sensitive", Severity.LOW, (note.id,), f"Bar {note.measure}: {text}", numbers)


def _shifts(scene: Scene) -> Iterator[Finding]:
    """Shifts inside a slur without the time to hide them."""
    for k, stroke in enumerate(scene.strokes):
        if len(stroke.notes) == 1:
            continue
        notes = scene.notes_of(k)
        for before, after in pairwise(notes):
            fingers = before.position > 0 and after.position > 0
            shifted = fingers and abs(after.position - before.position) >= A_SHIFT
            if shifted and before.sounding < SHIFT_TIME:
                text = (
                    f"the hand shifts inside the slur in {1000 * before.sounding:.0f} ms; it will be heard in the bow. "
                    "Shift on an open string or a gap, or lighten for it."
                )
                where_ = f"Bar {after.measure}: {text}"
                numbers = {"time_s": before.sounding}
                yield Finding("shift-heard", Severity.LOW, (before.id, after.id), where_, numbers)
                break
