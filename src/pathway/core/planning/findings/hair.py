"""Findings about the hair: where it runs out, where a stroke has to hurry, where the bow is stuck."""

from collections.abc import Iterator

import numpy as np

from pathway.core.arrays import BoolArray
from pathway.core.planning.findings.scene import SOUNDS_SOFTER, Scene, where
from pathway.core.planning.path.company import FREE
from pathway.core.planning.plan import Finding, Severity
from pathway.core.planning.wishes import Link

SPIKE, SPIKE_PREFERRED, SPIKE_NEIGHBOUR, SPIKE_REST = 1.35, 1.2, 1.35, 0.2
STUCK_COUNT, STUCK_TIME, STUCK_WITHIN, STUCK_BEYOND = 3, 0.5, 0.2, 0.04  # strokes; [s]; of the hair; [m]
LONG_SHORT, NO_GAP, BURIED = 1.9, 0.03, 2.0  # ratio; [s]; [dB]
SEAM_WAY = 0.08  # [m]


def hair_findings(scene: Scene) -> Iterator[Finding]:
    """Yield what the hair path itself brings."""
    yield from _runs_out(scene)
    yield from _spikes(scene)
    yield from _stuck(scene)
    yield from _retakes(scene)
    yield from _buried(scene)
    yield from _seams(scene)


def _runs_out(scene: Scene) -> Iterator[Finding]:
    for k in where(scene.runs_out):
        yield _divided(scene, k) if scene.divided[k] else _short(scene, k, bool(scene.starved[k]))


def _divided(scene: Scene, k: int) -> Finding:
    last = k + 1
    while last + 1 < len(scene.strokes) and scene.strokes[last + 1].proposed:
        last += 1
    pieces = scene.strokes[k : last + 1]
    time = sum(stroke.finish - stroke.begin for stroke in pieces)
    fits = sum(stroke.lowest_tempo for stroke in pieces)
    change = scene.notes_of(k + 1)[0]
    text = (
        f"{scene.bar(k)}: the slur lasts {time:.1f} s; no bow is that long. The plan changes it at "
        f"{change.where}. It fits into one bow from {fits:.0f} a minute."
    )
    notes = tuple(id_ for stroke in pieces for id_ in stroke.notes)
    return Finding("runs-out", Severity.HIGH, notes, text, {"lasts_s": time, "fits_from_bpm": fits})


def _short(scene: Scene, k: int, starved: bool) -> Finding:
    stroke, problem, speed, left = scene.strokes[k], scene.problem, float(scene.speeds[k]), float(scene.ahead[k])
    what = f"bow of {len(stroke.notes)} notes" if len(stroke.notes) > 1 else "stroke"
    time = stroke.finish - stroke.begin
    softer = float(scene.softer[k])
    numbers = {"left_cm": 100 * left, "speed_cm_s": 100 * speed, "softer_db": softer}
    calm = scene.draft.tempo_bpm * scene.comfort(k)
    if starved:
        text = (
            f"this {what} lasts {time:.1f} s; even at half its slowest speed it needs more hair than there is. "
            f"It fits from {stroke.lowest_tempo:.0f} a minute."
        )
        return scene.finding("runs-out", Severity.HIGH, k, text, fits_from_bpm=stroke.lowest_tempo, **numbers)
    if softer < SOUNDS_SOFTER:
        text = (
            f"this {what} gets {100 * stroke.length:.0f} cm for {time:.1f} s. "
            f"It will sound about {-softer:.0f} dB softer than it should. Divide it, or come with more hair in hand. "
            f"It fits at ease from {calm:.0f} a minute."
        )
        return scene.finding("runs-out", Severity.MEDIUM, k, text, fits_from_bpm=calm, **numbers)
    end = "tip" if stroke.direction > 0 else "frog"
    text = (
        f"this {what} ends {100 * left:.0f} cm from the {end} and has to be saved on the way: "
        f"{100 * speed:.0f} cm/s where you would take {100 * problem.preferred[k]:.0f}. "
        f"It fits at ease from {calm:.0f} a minute."
    )
    return scene.finding("runs-out", Severity.MEDIUM, k, text, fits_from_bpm=calm, **numbers)


def _spikes(scene: Scene) -> Iterator[Finding]:
    """Weak, unaccented strokes that have to hurry against their neighbours and their own measure."""
    speeds, problem = scene.speeds, scene.problem
    weak = scene.draft.weak & (problem.rest <= SPIKE_REST)
    weak[0] = False
    before = np.append(speeds[0], speeds[:-1])
    after = np.append(speeds[1:], speeds[-1])
    hurries = np.log(speeds / before) - problem.wanted_step > np.log(SPIKE)
    over = speeds > SPIKE_PREFERRED * problem.preferred
    over |= (speeds > SPIKE_NEIGHBOUR * np.minimum(before, after)) & (speeds > problem.preferred)
    for k in where(weak & hurries & over):
        stroke, speed, slow = scene.strokes[k], float(speeds[k]), float(speeds[k - 1])
        text = (
            f"this note has to give back in {stroke.finish - stroke.begin:.1f} s what the bow "
            f"before took. It goes {speed / slow:.1f} times as fast and will stick out."
        )
        yield scene.finding("speed-spike", Severity.MEDIUM, k, text, speed_cm_s=100 * speed, before_cm_s=100 * slow)


def _stuck(scene: Scene) -> Iterator[Finding]:
    """Runs of strokes crowded at one end, away from where they are at home."""
    path, problem = scene.path, scene.problem
    reach = STUCK_WITHIN * scene.draft.rig.bow.hair
    beyond = problem.beyond_zone((path.starts + path.ends) / 2)
    at_frog = (np.maximum(path.starts, path.ends) < problem.low + reach) & (beyond < -STUCK_BEYOND)
    at_tip = (np.minimum(path.starts, path.ends) > problem.high - reach) & (beyond > STUCK_BEYOND)
    for end, flags in (("frog", at_frog), ("tip", at_tip)):
        for first, last in _runs(flags):
            time = float(problem.moving[first : last + 1].sum())
            if last - first + 1 < STUCK_COUNT or time <= STUCK_TIME:
                continue
            text = (
                f"{last - first + 1} strokes are played in the last {100 * reach:.0f} cm at the {end}; they would lie "
                f"{100 * float(abs(beyond[first : last + 1]).max()):.0f} cm further in. Use a longer stroke before to "
                "get away, or a retake."
            )
            notes = tuple(id_ for stroke in scene.strokes[first : last + 1] for id_ in stroke.notes)
            yield Finding("stuck", Severity.MEDIUM, notes, f"{scene.bar(first)}: {text}", {"time_s": time})


def _runs(flags: BoolArray) -> list[tuple[int, int]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[0], flags.astype(np.int8), [0]])))
    return [(int(a), int(b) - 1) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def _retakes(scene: Scene) -> Iterator[Finding]:
    problem = scene.problem
    before, short = problem.moving_before, problem.time_short(scene.ways)
    most = np.minimum(0.5 * before, 0.4) + np.minimum(0.12 * before, 0.15)
    for k in where((scene.path.links == Link.RETAKE) & (short > most)):
        missing = float(short[k])
        text = (
            f"the bow has to come back {100 * scene.ways[k]:.0f} cm and "
            f"{missing:.1f} s are missing. Leave a gap before, or turn one of the bows."
        )
        yield scene.finding("retake-no-time", Severity.HIGH, k, text, missing_s=missing)


def _buried(scene: Scene) -> Iterator[Finding]:
    """Short notes that come out of a long one without a gap, and softer."""
    moving, links = scene.problem.moving, scene.path.links
    long_before = scene.problem.moving_before >= LONG_SHORT * moving
    joined = (scene.problem.rest < NO_GAP) & np.isin(links, (Link.CHANGE, Link.HOOK))
    for k in where(long_before & joined):
        last, first = scene.notes[scene.firsts[k] - 1], scene.notes_of(k)[0]
        gap = first.onset - last.onset - last.sounding
        under = (last.level_db - last.target_db) - (first.level_db - first.target_db)
        if k == 0 or len(scene.strokes[k].notes) > 1 or gap >= NO_GAP or under < BURIED:
            continue
        text = (
            f"the short note comes {under:.0f} dB softer out of the long one before it and is swallowed. Load the long "
            "one at its start and let it fade, leave a gap, or draw the short one quicker."
        )
        yield scene.finding("buried-note", Severity.MEDIUM, k, text, under_db=under)


def _seams(scene: Scene) -> Iterator[Finding]:
    for seam in scene.draft.seams:
        last, first = scene.strokes[seam.last], scene.strokes[seam.first]
        same = last.direction is first.direction
        way = abs(first.start - last.end)
        if (not same and way <= SEAM_WAY) or seam.rest > FREE:
            continue
        why = "ends on the bow it begins with" if same else f"ends {100 * way:.0f} cm away from where it begins"
        text = f"the repeat {why}. Take time to set the bow again, or turn one bow on the way."
        yield scene.finding("repeat-seam", Severity.LOW, seam.last, text, way_cm=100 * way)
