"""Findings about stroke types: too fast, off their place, uneven."""

import math
from collections import defaultdict
from collections.abc import Iterator

import numpy as np

from pathway.core.arrays import BoolArray
from pathway.core.physics.bounce import HIGHEST_FLIGHT
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.findings.scene import Scene, where
from pathway.core.planning.note_plan import Landing, NotePlan, Tone
from pathway.core.planning.notes.landings import rebounds_under
from pathway.core.planning.notes.onsets import fastest_catch
from pathway.core.planning.strokes.columns import of_kinds
from pathway.core.planning.strokes.rebound import homes_of, room_of
from pathway.core.rig.bow import Direction
from pathway.core.technique.stroke_types import STROKE_TYPES, Contact, Start, StrokeType

DETACHE_MEDIUM = 10.0  # détaché notes a second from which it is worth a word
RATE_APART = 0.1  # times the bow's own: nearer to each other nobody tells rates apart [1]
OFF_PLACE = 0.03  # beyond where the bow still answers [m]
OFF_ZONE = 0.04  # beyond its zone a stroke is elsewhere [m]
THROWN_SLACK = 0.1  # of the rates that throws give [1]
RELEASED = 1.3  # least load over the weight of the note, that anything is let go [1]
_OWN_RATE = 0.12  # of the player's rate [1]
UNEVEN, STRING_OFF, ENOUGH_NOTES = 2.0, 2.5, 8  # [dB]; [dB]; notes on a string
_JUDGED = of_kinds(lambda kind: kind.own_rate or kind.catch > 0)  # at any rate
_FAST = of_kinds(lambda kind: min(kind.most_per_second or math.inf, DETACHE_MEDIUM))
_BOUNCES = of_kinds(lambda kind: kind.bounces)
_THROWS = of_kinds(lambda kind: kind.contact is Contact.THROWN and not kind.bounces)


def technique_findings(scene: Scene) -> Iterator[Finding]:
    """Yield what the stroke types bring."""
    yield from _rates(scene)
    yield from _bounces(scene)
    yield from _thrown(scene)
    yield from _pressed_through(scene)
    yield from _off_zone(scene)
    yield from _accents(scene)
    yield from _strings(scene)


def _rates(scene: Scene) -> Iterator[Finding]:
    """Strokes in rows that come too fast for their manner or their string, or at another rate than the player's own."""
    rows = scene.draft.in_rows
    kinds, rates = scene.draft.columns.kind[rows], scene.draft.rates[rows]
    for k in rows[_JUDGED[kinds] | (rates > _FAST[kinds])].tolist():
        judge = _own_rate if scene.segment(k).kind.own_rate else _rate
        yield from judge(scene, k, float(scene.draft.rates[k]))


def _off_zone(scene: Scene) -> Iterator[Finding]:
    """Caught and thrown strokes away from where they are at home; those that bounce are judged by their rebound."""
    path = scene.path
    beyond = scene.problem.beyond_zone((path.starts + path.ends) / 2)
    for k in where(np.abs(beyond) > OFF_ZONE):
        kind = scene.segment(k).kind
        if kind.start is not Start.CATCH or kind.bounces:
            continue
        facts = {"type": kind.key, "side": "frog" if beyond[k] > 0 else "tip"}
        yield scene.finding(Code.OFF_ZONE, Severity.MEDIUM, k, facts, off_m=abs(float(beyond[k])))


def _rate(scene: Scene, k: int, rate: float) -> Iterator[Finding]:
    kind = scene.segment(k).kind
    catch = fastest_catch(scene.opening(k), kind) if kind.catch else None
    limits = [limit for limit in (kind.most_per_second, catch) if limit is not None]
    if not limits:
        return
    most = min(limits)
    if kind.key == "detache":
        most = DETACHE_MEDIUM
    if rate <= most:
        return
    severity = Severity.HIGH if all(rate > limit for limit in limits) else Severity.MEDIUM
    other = _works(kind, rate)
    caught = kind.start is Start.CATCH and catch == most
    how = "string" if caught else "manner"
    facts = {"type": kind.key, "how": f"{how}, other" if other else how} | ({"other": other.key} if other else {})
    yield scene.finding(Code.TOO_FAST_FOR_TYPE, severity, k, facts, rate=rate, most=most)


def _works(kind: StrokeType, rate: float) -> StrokeType | None:
    """Return the next manner that bears a rate."""
    seen = {kind.key}
    while kind.faster and kind.faster not in seen:
        kind = STROKE_TYPES[kind.faster]
        seen.add(kind.key)
        if kind.most_per_second is None or rate <= kind.most_per_second:
            return kind
    return None


def _own_rate(scene: Scene, k: int, rate: float) -> Iterator[Finding]:
    kind, own = scene.segment(k).kind, scene.draft.rig.one_bow(scene.strokes[k].direction).rate
    low, high = (own * (1 - _OWN_RATE), own * (1 + _OWN_RATE)) if own else (kind.least_per_second, kind.most_per_second)
    if high is not None and low <= rate <= high:
        return
    numbers = {"rate": rate, "own": own or 0.0, "low": low, "high": high or 0.0}
    facts = {"type": kind.key, "how": "own" if own else "manner"}
    yield scene.finding(Code.RATE_MISMATCH, Severity.MEDIUM, k, facts, **numbers)


def _rows_of(scene: Scene, kinds: BoolArray) -> list[int]:
    """Return the strokes in rows of some manners."""
    rows = scene.draft.in_rows
    found: list[int] = rows[kinds[scene.draft.columns.kind[rows]]].tolist()
    return found


def _bounces(scene: Scene) -> Iterator[Finding]:
    """Bouncing strokes judged by their own spring: too slow for the manner, too high, or not where the bow answers."""
    rig = scene.draft.rig
    rows = _rows_of(scene, _BOUNCES)
    if not rows:
        return
    notes, rates = [scene.opening(k) for k in rows], scene.draft.rates[rows]
    kinds = [scene.segment(k).kind for k in rows]
    homes = homes_of(rebounds_under(notes, rig), kinds, rates, rig)
    for k, rate, kind, note, best in zip(rows, rates.tolist(), kinds, notes, homes.tolist(), strict=True):
        if note.landing:
            yield from _bouncing(scene, k, rate, kind, (note.start + note.end) / 2, best, note.landing)


def _bouncing(
    scene: Scene, k: int, rate: float, kind: StrokeType, middle: float, best: float, landing: Landing
) -> Iterator[Finding]:
    side = "tip" if best > middle else "frog"
    if kind.least_per_second and rate < kind.least_per_second:
        facts = {"type": kind.key, "how": "too slow"}
        yield scene.finding(Code.RATE_MISMATCH, Severity.MEDIUM, k, facts, rate=rate, own=landing.rate)
    elif kind.key == "spiccato" and not landing.led and landing.height > HIGHEST_FLIGHT:
        numbers = {"height_m": landing.height, "bow": landing.rate, "best_m": best, "off_m": abs(best - middle)}
        facts = {"side": side, "type": kind.key}
        yield scene.finding(Code.BOUNCE_HEIGHT, Severity.MEDIUM, k, facts, **numbers)
    elif abs(middle - best) > room_of(rate) + OFF_PLACE and (landing.led or abs(rate / landing.rate - 1) >= RATE_APART):
        facts = {"how": "led" if landing.led else "answers", "side": side}
        numbers = {"rate": rate, "bow": landing.rate, "best_m": best, "off_m": abs(best - middle)}
        yield scene.finding(Code.BOUNCE_PLACE, Severity.MEDIUM, k, facts, **numbers)


def _thrown(scene: Scene) -> Iterator[Finding]:
    """Ricochets whose notes come slower, or faster, than throws of a sensible height land where they are played."""
    rows = _rows_of(scene, _THROWS)
    if not rows:
        return
    notes = [scene.opening(k) for k in rows]
    places = np.array([(note.start + note.end) / 2 for note in notes])
    limits = np.stack(rebounds_under(notes, scene.draft.rig).ricochet_rates(places), axis=1).tolist()
    for k, rate, (slow, fast) in zip(rows, scene.draft.rates[rows].tolist(), limits, strict=True):
        if not slow * (1 - THROWN_SLACK) <= rate <= fast * (1 + THROWN_SLACK):
            facts = {"type": scene.segment(k).kind.key, "how": "thrown", "side": "tip" if rate > fast else "frog"}
            yield scene.finding(Code.RATE_MISMATCH, Severity.MEDIUM, k, facts, rate=rate, low=slow, high=fast)


def _pressed_through(scene: Scene) -> Iterator[Finding]:
    """Caught starts whose weight the hand keeps: the note is as heavy as the load before it."""
    for k in where(scene.columns.let_go[scene.firsts[:-1]] < RELEASED):
        note = scene.opening(k)
        if note.load is None or note.tone is Tone.PRESSED:
            continue
        numbers = {"weight_n": note.force_at[1], "load_n": note.force_at[0], "let_go_s": note.load.let_go}
        facts = {"type": scene.segment(k).kind.key}
        yield scene.finding(Code.PRESSED_THROUGH, Severity.MEDIUM, k, facts, **numbers)


def _accents(scene: Scene) -> Iterator[Finding]:
    """Accents of one passage that fall short on one of the two bows."""
    groups: dict[int | None, dict[int, list[NotePlan]]] = defaultdict(lambda: {1: [], -1: []})
    for k in where(scene.columns.accent[scene.firsts[:-1]]):
        groups[scene.segment(k).ask.passage][int(scene.strokes[k].direction)].append(scene.opening(k))
    for sides in groups.values():
        if not sides[1] or not sides[-1]:
            continue
        down, up = (float(np.mean([_attack(n) for n in sides[way]])) for way in (1, -1))
        if abs(down - up) > UNEVEN:
            word = scene.draft.rig.word(Direction.UP if up < down else Direction.DOWN)
            weak = sides[-1] if up < down else sides[1]
            notes, numbers = tuple(n.id for n in weak), {"down_db": down, "up_db": up}
            yield Finding(Code.UNEVEN_ACCENTS, Severity.MEDIUM, notes, weak[0].measure, numbers, {"weak": word})


def _attack(note: NotePlan) -> float:
    return note.onset_of_tone.attack_db if note.onset_of_tone else 0.0


def _strings(scene: Scene) -> Iterator[Finding]:
    played, off_by = scene.columns.string, scene.columns.off
    for string in np.unique(played).tolist():
        notes = np.flatnonzero(played == string)
        off = float(off_by[notes].mean())
        if len(notes) < ENOUGH_NOTES or abs(off) <= STRING_OFF:
            continue
        worst = scene.notes[notes[off_by[notes].argmin()]]
        numbers, facts = {"off_db": off}, {"string": scene.letter(string)}
        yield Finding(Code.STRING_IMBALANCE, Severity.LOW, (worst.id,), worst.measure, numbers, facts)
