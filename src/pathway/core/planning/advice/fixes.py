"""What may help against a finding: every change that a player would try, the likeliest first."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from pathway.core.planning.advice import asked, bowing, touch
from pathway.core.planning.advice.change import Maker, joined, strokes_of
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.finding import Finding
from pathway.core.planning.findings.catalogue import CATALOGUE
from pathway.core.planning.findings.catalogue import Maker as Name
from pathway.core.planning.plan import Plan, StrokePlan


def ways(plan: Plan, finding: Finding) -> Iterator[Fix]:
    """Yield what may help at the first place that a finding speaks of; none of it is tried yet."""
    strokes = strokes_of(plan, finding.place)
    yield from _unlocked(plan, finding, strokes)
    for name in CATALOGUE[finding.code].makers:
        for fix in MAKERS[name](plan, finding, strokes):
            yield replace(fix, locks=tuple(joined(plan, lock) for lock in fix.locks))


def everywhere(plan: Plan, finding: Finding, fix: Fix) -> Fix | None:
    """Return a fix as it is taken at every place of a finding; None where it is not the same everywhere."""
    if not finding.others or not fix.locks or fix.passage or fix.tempo_bpm:
        return None
    locks = {lock.note: lock for lock in fix.locks}
    for place in finding.others:
        at = replace(finding, notes=place, others=())
        like = next((other for other in ways(plan, at) if other.id == fix.id), None)
        if like is None:
            return None
        locks |= {lock.note: lock for lock in like.locks}
    return replace(fix, locks=tuple(locks.values()), places=len(finding.places))


def _unlocked(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Take locks back: one near the place, or all that lie on its notes."""
    if not strokes:
        return
    k = plan.stroke_index[strokes[0].id]
    near = [plan.strokes[i].id for i in (k, k + 1, k - 1) if 0 <= i < len(plan.strokes)]
    for id_ in (id_ for id_ in dict.fromkeys([*near, finding.notes[0]]) if id_ in plan.locks):
        yield Fix(f"unlock-{id_}", "unlock", {"place": plan.note[id_].where}, frees=(id_,))
    carried = {note for stroke in strokes_of(plan, finding.notes) for note in stroke.notes}
    locked = tuple(note for note in plan.locks if note in carried)
    if len(locked) > 1:
        yield Fix("unlock-all", "unlock-all", {"count": str(len(locked))}, frees=locked)


MAKERS: Mapping[Name, Maker] = {
    Name.SPLIT: bowing.splits,
    Name.RETAKE: bowing.retakes,
    Name.TURN: bowing.turns,
    Name.HOOK: bowing.hooks,
    Name.JOIN: bowing.joins,
    Name.JOIN_CROSSING: bowing.crossing_joins,
    Name.CHANGE: bowing.changes,
    Name.LIKE: bowing.likes,
    Name.GAP: bowing.gaps,
    Name.ENDING: bowing.endings,
    Name.PROFILE: bowing.profiles,
    Name.ACCENTS: bowing.accents,
    Name.PLACE: bowing.places,
    Name.TYPE: bowing.types,
    Name.STRING: bowing.strings,
    Name.STAY: asked.stays,
    Name.LANE: touch.lanes,
    Name.WEIGHT: touch.weights,
    Name.TILT: touch.tilts,
    Name.LEAD: touch.leads,
    Name.SOFTER: asked.softer,
    Name.LOUDER: asked.over,
    Name.COLOUR: asked.colours,
    Name.CONTRAST: asked.contrasts,
    Name.TEMPO: asked.tempi,
    Name.OCTAVE: asked.octaves,
    Name.TUNING: asked.tunings,
    Name.VOICING: asked.voicings,
}
