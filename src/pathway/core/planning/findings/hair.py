"""Findings about the hair: where it runs out, where a stroke has to hurry, where the bow is stuck."""

from collections.abc import Iterator

import numpy as np

from pathway.core.arrays import BoolArray
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.findings.scene import SOUNDS_SOFTER, Scene, runs_of, where
from pathway.core.planning.path.weights import LONG_SHORT
from pathway.core.planning.wishes import Link
from pathway.core.technique.endings import Exit

BULGE, ALIKE = 2.0, 1.0  # times the speed before, onto a beat as loud as it [1]; [dB]
SPIKE, SPIKE_PREFERRED, SPIKE_REST = 1.35, 1.2, 0.2
LIGHT_FROM, HELD = 0.25, 1.0  # a note as long as this can be played lightly [s]; its level is held within this [dB]
WORTH_A_WORD = 4.0  # by which such a note would be louder by itself [dB]
STUCK_COUNT, STUCK_TIME, STUCK_WITHIN, STUCK_BEYOND = 3, 0.5, 0.2, 0.04  # strokes; [s]; of the hair; [m]
SEVERAL = 3  # pairs under a fade of their own that make a manner
NO_GAP, BURIED = 0.03, 2.0  # [s]; [dB]


def hair_findings(scene: Scene) -> Iterator[Finding]:
    """Yield what the hair path itself brings."""
    yield from _runs_out(scene)
    yield from _spikes(scene)
    yield from _stuck(scene)
    yield from _retakes(scene)
    yield from _buried(scene)
    yield from _fades(scene)


def _runs_out(scene: Scene) -> Iterator[Finding]:
    for k in where(scene.runs_out):
        yield _divided(scene, k) if scene.divided[k] else _short(scene, k, bool(scene.starved[k]))


def _divided(scene: Scene, k: int) -> Finding:
    last = k + 1
    while last + 1 < len(scene.strokes) and scene.strokes[last + 1].proposed:
        last += 1
    pieces = scene.strokes[k : last + 1]
    change = scene.notes_of(k + 1)[0]
    notes = tuple(id_ for stroke in pieces for id_ in stroke.notes)
    numbers = {
        "lasts_s": sum(stroke.finish - stroke.begin for stroke in pieces),
        "fits_from_bpm": sum(stroke.lowest_tempo for stroke in pieces),
    }
    facts = {"how": "divided", "change_bar": change.measure, "change_beat": f"{change.beat:.3g}"}
    return Finding(Code.RUNS_OUT, Severity.HIGH, notes, scene.bar(k), numbers, facts)


def _short(scene: Scene, k: int, starved: bool) -> Finding:
    stroke, softer = scene.strokes[k], float(scene.softer[k])
    numbers = {
        "notes": len(stroke.notes),
        "lasts_s": stroke.finish - stroke.begin,
        "length_m": stroke.length,
        "left_m": float(scene.ahead[k]),
        "speed_m_s": float(scene.speeds[k]),
        "preferred_m_s": float(scene.problem.preferred[k]),
        "softer_db": softer,
        "fits_from_bpm": stroke.lowest_tempo if starved else scene.draft.tempo_bpm * scene.comfort(k),
    }
    how = "starved" if starved else "softer" if softer < SOUNDS_SOFTER else "saved"
    facts = {"how": how, "end": "tip" if stroke.direction > 0 else "frog"}
    return scene.finding(Code.RUNS_OUT, Severity.HIGH if starved else Severity.MEDIUM, k, facts, **numbers)


def _spikes(scene: Scene) -> Iterator[Finding]:
    """Weak, unaccented strokes that have to hurry against their neighbours and their own measure."""
    speeds, problem = scene.speeds, scene.problem
    strokes = scene.draft.columns
    weak = strokes.weak & strokes.sung & (problem.rest <= SPIKE_REST)
    weak[0] = False
    before = np.append(speeds[0], speeds[:-1])
    hurries = np.log(speeds / before) - problem.wanted_step > np.log(SPIKE)
    over = (speeds > SPIKE_PREFERRED * problem.preferred) & (speeds > before) & _alike_before(scene)
    bulges = ~strokes.weak & strokes.sung & (problem.rest <= SPIKE_REST) & over
    bulges[0] = False
    bulges &= np.log(speeds / before) - problem.wanted_step > np.log(BULGE)
    off = np.maximum.reduceat(np.abs(scene.columns.off), scene.firsts[:-1])
    light = (problem.moving >= LIGHT_FROM) & (off < HELD)  # weight and lane hold the level, and there is time for them
    for flags, how in ((weak & hurries & over, "weak"), (bulges, "bulge")):
        for k in where(flags):
            lasts = scene.strokes[k].finish - scene.strokes[k].begin
            numbers = {"lasts_s": lasts, "speed_m_s": float(speeds[k]), "before_m_s": float(speeds[k - 1])}
            numbers["by_itself_db"] = 20 * float(np.log10(speeds[k] / speeds[k - 1]))
            if not light[k]:
                yield scene.finding(Code.SPEED_SPIKE, Severity.MEDIUM, k, {"how": how}, **numbers)
            elif numbers["by_itself_db"] >= WORTH_A_WORD:
                facts = {"how": "light" if how == "weak" else "led"}
                yield scene.finding(Code.SPEED_SPIKE, Severity.LOW, k, facts, **numbers)


def _alike_before(scene: Scene) -> BoolArray:
    """Return which strokes are as loud as the one before, and unaccented."""
    levels = scene.draft.columns.level
    alike: BoolArray = (np.abs(np.diff(levels, prepend=levels[0])) < ALIKE) & ~scene.draft.columns.accented
    return alike


def _stuck(scene: Scene) -> Iterator[Finding]:
    """Runs of strokes crowded at one end, away from where they are at home."""
    path, problem = scene.path, scene.problem
    reach = STUCK_WITHIN * scene.draft.rig.bow.hair
    beyond = problem.beyond_zone((path.starts + path.ends) / 2)
    at_frog = (np.maximum(path.starts, path.ends) < problem.low + reach) & (beyond < -STUCK_BEYOND)
    at_tip = (np.minimum(path.starts, path.ends) > problem.high - reach) & (beyond > STUCK_BEYOND)
    for end, flags in (("frog", at_frog), ("tip", at_tip)):
        for first, last in runs_of(flags):
            time = float(problem.moving[first : last + 1].sum())
            if last - first + 1 < STUCK_COUNT or time <= STUCK_TIME:
                continue
            notes = tuple(id_ for stroke in scene.strokes[first : last + 1] for id_ in stroke.notes)
            numbers = {
                "strokes": last - first + 1,
                "time_s": time,
                "within_m": reach,
                "beyond_m": float(abs(beyond[first : last + 1]).max()),
            }
            yield Finding(Code.STUCK, Severity.MEDIUM, notes, scene.bar(first), numbers, {"end": end})


def _retakes(scene: Scene) -> Iterator[Finding]:
    retaken, cost = scene.path.links == Link.RETAKE, scene.problem.cost
    if not retaken.any():
        return
    short, lacking = cost.time_short(scene.ways), cost.time_lacking(scene.ways)
    for k in where(retaken & (lacking > 0)):
        way = float(scene.ways[k])
        yield scene.finding(Code.RETAKE_NO_TIME, Severity.HIGH, k, way_m=way, missing_s=float(short[k]))


def _buried(scene: Scene) -> Iterator[Finding]:
    """Short notes that come out of a long one without a gap, and softer."""
    moving = scene.problem.moving
    long_before = scene.problem.moving_before >= LONG_SHORT * moving
    joined = (scene.problem.rest < NO_GAP) & scene.path.joined
    firsts = np.array(scene.firsts[:-1])
    under = scene.columns.off[firsts - 1] - scene.columns.off[firsts]
    under[0] = 0.0  # nothing is before it
    for k in where(long_before & joined & ~scene.draft.columns.slurred & (under >= BURIED)):
        last, first = scene.notes[firsts[k] - 1], scene.opening(k)
        if first.onset - last.onset - last.sounding < NO_GAP:
            yield scene.finding(Code.BURIED_NOTE, Severity.MEDIUM, k, under_db=float(under[k]))


def _fades(scene: Scene) -> Iterator[Finding]:
    """Printed fades over each of several long–short pairs, one for a passage: taken at its word the short note is lost.

    A long note that is stopped before its short one is shaped by accent already.
    """
    fades = [(float(pin.start), float(pin.end)) for pin in scene.draft.part.hairpins if not pin.grows]
    if not fades:
        return
    found: dict[int | None, list[int]] = {}
    for k in scene.draft.pairs:
        before, here = scene.segment(k - 1), scene.segment(k)
        if scene.strokes[k - 1].exit is not Exit.JOINED or here.rest_before != 0:
            continue
        long, short = before.notes[0], here.notes[0]
        over = any(long.place <= start < short.place < end for start, end in fades)
        if over and long.level_ends[0] - short.level_db >= BURIED:
            found.setdefault(here.ask.passage, []).append(k)
    for pairs in found.values():
        if len(pairs) >= SEVERAL:
            notes = tuple(scene.segment(k + by).id for k in pairs for by in (-1, 0))
            bar = scene.bar(pairs[0] - 1)
            yield Finding(Code.FADE_LITERAL, Severity.MEDIUM, notes, bar, {"pairs": float(len(pairs))})
