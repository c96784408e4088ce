"""What will go wrong, in players' words, grouped by stroke; each with its numbers."""

import math
from collections.abc import Sequence

import numpy as np

from pathway.core.physics.string import FloatArray
from pathway.core.planning.draft import Draft
from pathway.core.planning.path_problem import BoolArray, Link, Path, PathProblem, way_before
from pathway.core.planning.plan import Finding, NotePlan, Severity, StrokePlan, Tone
from pathway.core.planning.segments import HALF_BAR
from pathway.core.planning.totals import TURNING_ROOM

NEAR_END, SLOW_SHARE = 0.03, 0.6  # [m]; of the preferred speed
SPIKE, SPIKE_PREFERRED, SPIKE_NEIGHBOUR, SPIKE_REST = 1.35, 1.2, 1.35, 0.2
LEVEL_SHORT = -3.0  # [dB]
SOUNDS_SOFTER = -1.0  # less is not told apart [dB]
_ORDER = {Severity.HIGH: 0, Severity.MEDIUM: 1, Severity.LOW: 2}


def find(
    draft: Draft,
    problem: PathProblem,
    path: Path,
    strokes: Sequence[StrokePlan],
    notes: Sequence[NotePlan],
) -> tuple[Finding, ...]:
    """Return the findings of a plan, worst first, then in the order of the music."""
    speeds = path.lengths / problem.times(path)
    ways = way_before(path)
    short = problem.time_short(ways)
    low, high = draft.rig.usable
    left = np.where(path.directions > 0, high - path.ends, path.ends - low)
    usable = high - low - TURNING_ROOM
    softer = 20 * np.log10(np.minimum(speeds / problem.slowest, 1.0))
    saved = (speeds < SLOW_SHARE * problem.preferred) & (left < NEAR_END)
    out = (problem.moving * problem.slowest / 2 > usable) | (softer < SOUNDS_SOFTER) | saved
    at = _first_notes(strokes)
    found = [
        _runs_out(usable, problem, float(speeds[k]), float(left[k]), strokes[k], notes[at[k] : at[k + 1]], k)
        for k in _where(out)
    ]
    for k in _unsound(notes, at, out):
        found += _tone(notes[at[k] : at[k + 1]])
    for k in _spikes(draft, problem, speeds):
        found.append(_spike(speeds, strokes[k], notes[at[k] : at[k + 1]], k))
    for k in _where((path.links == Link.RETAKE) & (short > _most_given(problem))):
        found.append(_retake(strokes[k], notes[at[k] : at[k + 1]], float(ways[k]), float(short[k])))
    place = {id_: k for k, stroke in enumerate(strokes) for id_ in stroke.notes}
    return tuple(sorted(found, key=lambda f: (_ORDER[f.severity], place[f.notes[0]])))


def _where(flags: BoolArray) -> list[int]:
    return [int(k) for k in np.flatnonzero(flags)]


def _first_notes(strokes: Sequence[StrokePlan]) -> list[int]:
    firsts = [0]
    for stroke in strokes:
        firsts.append(firsts[-1] + len(stroke.notes))
    return firsts


def _most_given(problem: PathProblem) -> FloatArray:
    before = problem.moving_before
    most: FloatArray = np.minimum(0.5 * before, 0.4) + np.minimum(0.12 * before, 0.15)
    return most


def _unsound(notes: Sequence[NotePlan], at: Sequence[int], out: BoolArray) -> list[int]:
    """Strokes with a note off its core or short of its level, but for those that run out anyway."""
    odd = np.array([n.tone is not Tone.CORE or n.level_db - n.target_db < LEVEL_SHORT for n in notes])
    counts = np.add.reduceat(odd, at[:-1]) > 0
    return _where(counts & ~out)


def _runs_out(
    usable: float,
    problem: PathProblem,
    speed: float,
    left: float,
    stroke: StrokePlan,
    notes: Sequence[NotePlan],
    k: int,
) -> Finding:
    slowest, time = float(problem.slowest[k]), float(problem.moving[k])
    needed = time * slowest / 2
    softer = min(0.0, 20 * math.log10(speed / slowest))
    what = "stroke" if len(stroke.notes) == 1 else f"bow of {len(stroke.notes)} notes"
    bar = f"Bar {notes[0].measure}"
    numbers = {"hair_cm": 100 * stroke.length, "left_cm": 100 * left, "softer_db": softer}
    if needed > usable:
        text = (
            f"{bar}: this {what} lasts {time:.1f} s. Even at half the slowest speed that speaks it "
            f"needs {100 * needed:.0f} cm; the bow has {100 * usable:.0f}. Divide it."
        )
        return Finding("runs-out", Severity.HIGH, stroke.notes, text, numbers)
    if softer < SOUNDS_SOFTER:
        text = (
            f"{bar}: this {what} gets {100 * stroke.length:.0f} cm for {time:.1f} s. "
            f"It will sound about {-softer:.0f} dB softer than it should. Divide it, or come with more hair in hand."
        )
        return Finding("runs-out", Severity.MEDIUM, stroke.notes, text, numbers)
    end = "tip" if stroke.direction > 0 else "frog"
    text = (
        f"{bar}: this {what} ends {100 * left:.0f} cm from the {end} and has to be saved on the way: "
        f"{100 * speed:.0f} cm/s where you would take {100 * problem.preferred[k]:.0f}."
    )
    return Finding("runs-out", Severity.MEDIUM, stroke.notes, text, numbers)


def _tone(notes: Sequence[NotePlan]) -> list[Finding]:
    found = []
    groups: dict[str, list[NotePlan]] = {}
    for note in notes:
        lead = note.lead
        if lead.window[0] >= lead.window[1]:
            groups.setdefault("no-window", []).append(note)
        elif note.tone is Tone.AIRY:
            groups.setdefault("airy", []).append(note)
        elif note.tone is Tone.PRESSED:
            groups.setdefault("pressed", []).append(note)
        elif note.level_db - note.target_db < LEVEL_SHORT:
            groups.setdefault("level-short", []).append(note)
    for code, inner in groups.items():
        worst = min(
            inner,
            key=lambda n: n.level_db - n.target_db if code == "level-short" else -abs(n.lead.place - 0.5),
        )
        found.append(_tone_finding(code, inner, worst))
    return found


def _tone_finding(code: str, notes: Sequence[NotePlan], worst: NotePlan) -> Finding:
    bar, place, lead = f"Bar {worst.measure}", 100 * worst.contact, worst.lead
    short = worst.level_db - worst.target_db
    texts = {
        "no-window": f"{bar}: at {100 * worst.speed:.0f} cm/s and {place:.1f} cm from the bridge no weight gives a "
        "clean tone. Go further from the bridge, or faster.",
        "airy": f"{bar}: too light for this place; the tone turns airy. It wants {100 * lead.window[0] / 0.981:.0f} g "
        "or more: less hair, or further from the bridge.",
        "pressed": f"{bar}: too heavy for this speed; the tone grates. More hair, or nearer the fingerboard.",
        "level-short": f"{bar}: about {-short:.0f} dB softer than written; the bow cannot go closer or faster here.",
    }
    severe = code == "no-window" or not 0 <= lead.place <= 1
    severity = Severity.HIGH if severe and code != "level-short" else Severity.MEDIUM
    numbers = {"place": lead.place, "short_db": short, "contact_cm": place}
    return Finding(code, severity, tuple(n.id for n in notes), texts[code], numbers)


def _spikes(draft: Draft, problem: PathProblem, speeds: FloatArray) -> list[int]:
    """Weak, unaccented strokes that have to hurry against their neighbours and their own measure."""
    weak = np.array([s.strength < HALF_BAR and not s.accented for s in draft.segments])
    weak &= problem.rest <= SPIKE_REST
    weak[0] = False
    before = np.append(speeds[0], speeds[:-1])
    after = np.append(speeds[1:], speeds[-1])
    hurries = np.log(speeds / before) - problem.wanted_step > np.log(SPIKE)
    over = speeds > SPIKE_PREFERRED * problem.preferred
    over |= (speeds > SPIKE_NEIGHBOUR * np.minimum(before, after)) & (speeds > problem.preferred)
    return _where(weak & hurries & over)


def _spike(speeds: FloatArray, stroke: StrokePlan, notes: Sequence[NotePlan], k: int) -> Finding:
    speed, before = float(speeds[k]), float(speeds[k - 1])
    text = (
        f"Bar {notes[0].measure}: this note has to give back in {stroke.finish - stroke.begin:.1f} s what the bow "
        f"before took. It goes {speed / before:.1f} times as fast and will stick out."
    )
    numbers = {"speed_cm_s": 100 * speed, "before_cm_s": 100 * before}
    return Finding("speed-spike", Severity.MEDIUM, stroke.notes, text, numbers)


def _retake(stroke: StrokePlan, notes: Sequence[NotePlan], way: float, short: float) -> Finding:
    text = (
        f"Bar {notes[0].measure}: the bow has to come back {100 * way:.0f} cm and "
        f"{short:.1f} s are missing. Leave a gap before, or turn one of the bows."
    )
    return Finding("retake-no-time", Severity.HIGH, stroke.notes, text, {"missing_s": short})
