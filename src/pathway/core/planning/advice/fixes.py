"""What helps against a finding: changes that were tried, with what they do to everything near."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, fields, replace

from pathway.core.planning.advice.excerpt import (
    Change,
    Trial,
    accept,
    at_tempo,
    join,
    led_by,
    on_string,
    retype,
    softer,
    split_at,
    try_change,
    with_lock,
    without_lock,
)
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.advice.outside import brought_inside
from pathway.core.planning.findings.catalogue import CATALOGUE, Maker
from pathway.core.planning.plan import Code, Finding, NotePlan, Plan, Severity, StrokePlan, Voice
from pathway.core.planning.strokes.compass import HIGHEST
from pathway.core.planning.wishes import Break, Link, Lock, Passage
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.stroke_types import STROKE_TYPES

MOST = 3
SOFTER = -3.0  # [dB]
GAPPED = "lance"  # the manner that lets a long note end early
ROOM = 1.03  # a tempo at which things fit is offered with so much to spare [1]
LEAST_TEMPO, MOST_TEMPO = 0.5, 2.0  # times the present tempo: further ones are not offered [1]
_WEIGHT = {Severity.HIGH: 9, Severity.MEDIUM: 3, Severity.LOW: 1}


@dataclass(frozen=True, slots=True)
class _Candidate:
    fix: Fix
    change: Change


def fixes_for(plan: Plan, finding: Finding) -> tuple[Fix, ...]:
    """Return up to three changes that remove or lower a finding, the most likely first; each has been planned."""
    return tuple(fix for fix in trials(plan, finding) if fix is not None)


def trials(plan: Plan, finding: Finding) -> Iterator[Fix | None]:
    """Yield what becomes of every change that is tried, None where it does not help, until enough have helped.

    A trial takes some hundredths of a second: between two of them a caller can do other things, or stop.
    """
    if finding.code is Code.OUTSIDE:
        yield from brought_inside(plan, finding)
        return
    strokes = _strokes_of(plan, finding)
    found = 0
    for candidate in _candidates(plan, finding, strokes):
        trial = try_change(plan, [stroke.id for stroke in strokes], candidate.change)
        helped = None if trial is None else judged(plan, finding, candidate.fix, trial)
        if helped is None:
            yield None
            continue
        yield replace(helped, locks=tuple(_joined(plan, lock) for lock in helped.locks))
        found += 1
        if found == MOST:
            return


def _joined(plan: Plan, lock: Lock) -> Lock:
    """Return a lock with what the player had set there before; a note taken into another bow keeps nothing."""
    kept = plan.locks.get(lock.note)
    if kept is None or lock.divide is Break.JOIN:
        return lock
    wishes = {one.name: getattr(lock, one.name) for one in fields(Lock)}
    return replace(kept, **{name: wish for name, wish in wishes.items() if wish is not None})


def _strokes_of(plan: Plan, finding: Finding) -> list[StrokePlan]:
    """Return the strokes of the first place a finding speaks of."""
    ids = dict.fromkeys(stroke for id_ in finding.notes if (stroke := plan.note[id_].stroke))
    first = plan.stroke_index[next(iter(ids))]
    return [plan.stroke[id_] for n, id_ in enumerate(ids) if plan.stroke_index[id_] - first == n]


def judged(plan: Plan, finding: Finding, fix: Fix, trial: Trial) -> Fix | None:
    """Return a fix with what a trial of it does to the findings; None if it does not help."""
    first = set(_strokes_of(plan, finding)[0].notes)
    left = [f for f in trial.findings if f.code is finding.code and first & set(f.notes)]
    if any(_WEIGHT[f.severity] >= _WEIGHT[finding.severity] for f in left):
        return None
    before, after = _codes(plan.findings, trial.notes), _codes(trial.findings, trial.notes)
    if sum(after.values()) > sum(before.values()):
        return None
    fresh = sorted(code for code in after if after[code] > before.get(code, 0) and code is not finding.code)
    return replace(fix, lowers=bool(left), brings=tuple(fresh))


def _codes(findings: tuple[Finding, ...], notes: frozenset[str]) -> dict[Code, int]:
    """Weigh the findings that touch some notes, by code; what concerns a whole piece is left out."""
    weights: dict[Code, int] = {}
    for finding in findings:
        if not CATALOGUE[finding.code].whole_piece and notes & set(finding.notes):
            weights[finding.code] = weights.get(finding.code, 0) + _WEIGHT[finding.severity]
    return weights


def _candidates(plan: Plan, finding: Finding, strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    k = plan.stroke_index[strokes[0].id]
    near = [plan.strokes[i].id for i in (k, k + 1, k - 1) if 0 <= i < len(plan.strokes)]
    for id_ in (id_ for id_ in near if id_ in plan.locks):
        fix = Fix(f"unlock-{id_}", "unlock", {"place": plan.note[id_].where}, frees=id_)
        yield _Candidate(fix, without_lock(id_))
    for maker in CATALOGUE[finding.code].makers:
        yield from _MAKERS[maker](plan, finding, strokes)


def _lock(plan: Plan, way: str, lock: Lock, **facts: str) -> _Candidate:
    return _Candidate(Fix(way, way, facts, locks=(lock,)), with_lock(_joined(plan, lock)))


def _splits(plan: Plan, _finding: Finding, strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    notes = strokes[0].notes
    proposed = [stroke.id for stroke in strokes if stroke.proposed]
    if proposed:
        locks = tuple(Lock(id_, divide=Break.SPLIT) for id_ in proposed)
        facts = {"place": plan.note[proposed[0]].where}
        yield _Candidate(Fix("split", "as-proposed", facts, locks), accept(proposed))
        return
    middle = (plan.note[notes[0]].onset + plan.note[notes[-1]].onset) / 2
    for id_ in sorted(notes[1:], key=lambda n: abs(plan.note[n].onset - middle))[:2]:
        locks = (Lock(id_, divide=Break.SPLIT),)
        yield _Candidate(Fix("split", "split", {"place": plan.note[id_].where}, locks), split_at(id_))


def _joins(plan: Plan, _finding: Finding, strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    k = plan.stroke_index[strokes[0].id]
    if k > 0 and plan.draft.strokes[k].rest_before == 0 and plan.draft.strokes[k].printed is None:
        lock = Lock(strokes[0].id, divide=Break.JOIN)
        yield _Candidate(Fix("join", "join", locks=(lock,)), join(strokes[0].id))


def _hooks(plan: Plan, _finding: Finding, strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    stroke = strokes[0]
    if plan.stroke_index[stroke.id] > 0 and stroke.entry is not Link.HOOK:
        yield _lock(plan, "hook", Lock(stroke.id, link=Link.HOOK))


def _retakes(plan: Plan, _finding: Finding, strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    stroke = strokes[0]
    if plan.stroke_index[stroke.id] > 0 and stroke.entry is not Link.RETAKE:
        yield _lock(plan, "retake", Lock(stroke.id, link=Link.RETAKE))


def _changes(plan: Plan, _finding: Finding, strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    yield _lock(plan, "change", Lock(strokes[0].id, link=Link.CHANGE))


def _turns(plan: Plan, _finding: Finding, strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    stroke = strokes[0]
    other = stroke.direction.other
    if not stroke.printed:
        yield _lock(plan, "turn", Lock(stroke.id, direction=other), bow=plan.rig.word(other))


def _types(plan: Plan, _finding: Finding, strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    kind, seen = STROKE_TYPES[strokes[0].kind], {strokes[0].kind}
    rate = plan.draft.rates[plan.stroke_index[strokes[0].id]]
    for start in (kind.faster, kind.softer):
        key = start
        while key is not None and key not in seen:
            seen.add(key)
            other = STROKE_TYPES[key]
            bears = other.least_per_second <= rate <= (other.most_per_second or rate)
            if bears and (other.stops_inside == kind.stops_inside or len(strokes[0].notes) > 1):
                locks = tuple(Lock(stroke.id, kind=key) for stroke in strokes)
                fix = Fix(f"type-{key}", "type", {"type": key}, locks)
                yield _Candidate(fix, retype([stroke.id for stroke in strokes], key))
            key = other.faster


def _leads(plan: Plan, finding: Finding, _strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    id_ = finding.notes[0]
    count = len(plan.note[id_].voices)
    now = next(n for n, voice in enumerate(_from_top(plan.note[id_])) if voice.lead)
    for lead in (Leading.TOP, Leading.BOTTOM):
        if lead.of(count) != now:
            fix = Fix(f"lead-{lead.value}", "lead", {"voice": lead.value}, (Lock(id_, lead=lead),))
            yield _Candidate(fix, led_by(id_, lead))


def _from_top(note: NotePlan) -> list[Voice]:
    return sorted(note.voices, key=lambda voice: -voice.string)


def _gaps(plan: Plan, _finding: Finding, strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    k = plan.stroke_index[strokes[0].id]
    before = plan.strokes[k - 1] if k else strokes[0]
    if len(before.notes) == 1:
        fix = Fix("gap", "gap", {"type": GAPPED}, (Lock(before.id, kind=GAPPED),))
        yield _Candidate(fix, retype([before.id], GAPPED))


def _softer(plan: Plan, _finding: Finding, strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    passage = Passage(strokes[0].notes[0], strokes[-1].notes[-1], character="softer", offset_db=SOFTER)
    if any(plan.part.index[p.start] <= plan.part.index[passage.end] for p in plan.draft.settings.passages):
        return
    fix = Fix("softer", "softer", {"db": f"{-SOFTER:.0f}"}, passage=passage)
    yield _Candidate(fix, softer([s.id for s in strokes], SOFTER))


def _tempi(plan: Plan, finding: Finding, _strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    now = plan.draft.tempo_bpm
    factor = 0.0
    if "fits_from_bpm" in finding.numbers:
        factor = ROOM * finding.numbers["fits_from_bpm"] / now
    elif "most" in finding.numbers and finding.numbers.get("rate"):
        factor = finding.numbers["most"] / finding.numbers["rate"] / ROOM
    if LEAST_TEMPO <= factor <= MOST_TEMPO:
        tempo = float(round(now * factor))
        yield _Candidate(Fix("tempo", "tempo", {"bpm": f"{tempo:.0f}"}, tempo_bpm=tempo), at_tempo(tempo / now))


def _strings(plan: Plan, finding: Finding, _strokes: list[StrokePlan]) -> Iterator[_Candidate]:
    id_ = finding.notes[0]
    note, strings = plan.note[id_], plan.rig.instrument.strings
    if len(note.voices) > 1:
        return
    for string in (note.lead.string - 1, note.lead.string + 1):
        if 0 <= string < len(strings) and 0 <= note.lead.midi - strings[string].midi <= HIGHEST:
            fix = Fix(f"string-{string}", "string", {"string": strings[string].letter}, (Lock(id_, string=string),))
            yield _Candidate(fix, on_string(id_, string))


_MAKERS: Mapping[Maker, Callable[[Plan, Finding, list[StrokePlan]], Iterator[_Candidate]]] = {
    Maker.SPLIT: _splits,
    Maker.RETAKE: _retakes,
    Maker.TURN: _turns,
    Maker.SOFTER: _softer,
    Maker.TEMPO: _tempi,
    Maker.HOOK: _hooks,
    Maker.JOIN: _joins,
    Maker.CHANGE: _changes,
    Maker.GAP: _gaps,
    Maker.TYPE: _types,
    Maker.STRING: _strings,
    Maker.LEAD: _leads,
}
