"""What a player changes in the bowing: directions, joints, slurs, the hair's part, profile, ending, manner, string."""

from collections.abc import Iterator, Sequence

from pathway.core.physics.geometry import FASTEST_HAND
from pathway.core.planning.advice.change import before, strokes_of
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.finding import Code, Finding
from pathway.core.planning.findings.catalogue import CATALOGUE
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import Break, Link, Lock, Profile
from pathway.core.technique.endings import Exit
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.core.technique.voicings import HIGHEST

GAPPED = "lance"  # the manner that lets a long note end early
A_HAND = 0.10  # that a stroke is moved along the hair where no rule says how far [m]
LEAST_MOVE = 0.01  # a smaller one is none [m]
_TWO = 2  # proposals of the same kind


def splits(plan: Plan, _finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Begin a new bow: where the plan proposes it, else near the middle of the slur."""
    notes = strokes[0].notes
    proposed = [stroke.id for stroke in strokes if stroke.proposed]
    if proposed:
        locks = tuple(Lock(id_, divide=Break.SPLIT) for id_ in proposed)
        facts = {"place": plan.note[proposed[0]].where}
        yield Fix("split", "as-proposed", facts, locks)
        return
    middle = (plan.note[notes[0]].onset + plan.note[notes[-1]].onset) / 2
    for n, id_ in enumerate(sorted(notes[1:], key=lambda n: abs(plan.note[n].onset - middle))[:_TWO]):
        yield Fix(f"split-{n}", "split", {"place": plan.note[id_].where}, (Lock(id_, divide=Break.SPLIT),))


def joins(plan: Plan, _finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Take it into the bow before, where nothing parts the two; never inside a slur, which is one already."""
    k = plan.stroke_index[strokes[0].id]
    if k > 0 and plan.draft.strokes[k].rest_before == 0 and plan.draft.strokes[k].printed is None:
        yield Fix("join", "join", locks=(Lock(strokes[0].id, divide=Break.JOIN),))


def crossing_joins(plan: Plan, finding: Finding, _strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Slur the crossing, if its two notes have a bow each."""
    over = strokes_of(plan, finding.place[:_TWO])
    if len(over) == _TWO:
        yield from joins(plan, finding, over[1:])


def hooks(plan: Plan, _finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Go on in the same direction after a stop."""
    stroke = strokes[0]
    if plan.stroke_index[stroke.id] > 0 and stroke.entry is not Link.HOOK:
        yield Fix("hook", "hook", locks=(Lock(stroke.id, link=Link.HOOK),))


def retakes(plan: Plan, _finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Lift and set anew."""
    stroke = strokes[0]
    if plan.stroke_index[stroke.id] > 0 and stroke.entry is not Link.RETAKE:
        yield Fix("retake", "retake", locks=(Lock(stroke.id, link=Link.RETAKE),))


def changes(plan: Plan, _finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Stay on the string and turn."""
    yield Fix("change", "change", locks=(Lock(strokes[0].id, link=Link.CHANGE),))


def turns(plan: Plan, _finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Begin it on the other bow."""
    stroke = strokes[0]
    other = stroke.direction.other
    if not stroke.printed:
        yield Fix("turn", "turn", {"bow": plan.rig.word(other)}, (Lock(stroke.id, direction=other),))


def likes(plan: Plan, finding: Finding, _strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Bow it as where it was, or that place as it is here."""
    here = {plan.stroke_index[stroke.id] for stroke in strokes_of(plan, finding.notes)}
    there = {k for group in plan.draft.company.phrases.each if here & {*group} for k in group} - here
    mates = [(k, m) for group in plan.draft.company.phrases.each for k in here & {*group} for m in there & {*group}]
    for id_, way, pairs in (("like", "as-before", mates), ("like-there", "as-here", [(m, k) for k, m in mates])):
        wanted = {k: plan.strokes[m].direction for k, m in pairs}
        locks = [Lock(plan.strokes[k].id, direction=way_) for k, way_ in wanted.items()]
        if locks:
            yield Fix(id_, way, {"bar": finding.facts["as_bar"]}, tuple(locks))


def types(plan: Plan, _finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Play it in a neighbouring manner that bears the rate."""
    kind, seen = STROKE_TYPES[strokes[0].kind], {strokes[0].kind}
    rate = float(plan.draft.rates[plan.stroke_index[strokes[0].id]])
    for start in (kind.faster, kind.softer):
        key = start
        while key is not None and key not in seen:
            seen.add(key)
            other = STROKE_TYPES[key]
            bears = other.least_per_second <= rate <= (other.most_per_second or rate)
            if bears and (other.stops_inside == kind.stops_inside or len(strokes[0].notes) > 1):
                locks = tuple(Lock(stroke.id, kind=key) for stroke in strokes)
                yield Fix(f"type-{key}", "type", {"type": key}, locks)
            key = other.faster


def gaps(plan: Plan, _finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Let the note before end early, by its manner."""
    long = before(plan, strokes[0]) or strokes[0]
    if len(long.notes) == 1 and long.kind != GAPPED:
        yield Fix("gap", "gap", {"type": GAPPED}, (Lock(long.id, kind=GAPPED),))


def endings(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Stop or lift the note before it sooner, so that there is time."""
    between = CATALOGUE[finding.code].between
    over = strokes_of(plan, finding.place[:_TWO]) if between else []
    if between and len(over) < _TWO:
        return  # inside one bow nothing ends
    early = over[0] if between else before(plan, strokes[0])
    if early is None:
        return
    for exit_ in (Exit.STOPPED, Exit.LIFTED):
        if early.exit is not exit_:
            yield Fix(f"ending-{exit_.value}", f"ending-{exit_.value}", locks=(Lock(early.id, exit=exit_),))


def profiles(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Share the hair otherwise over the time: load the beginning, or save."""
    stroke = strokes[0]
    if finding.code is Code.BURIED_NOTE:
        stroke = before(plan, stroke) or stroke
    late = finding.notes[0] in stroke.notes[len(stroke.notes) // 2 :] and len(stroke.notes) > 1
    both = (Profile.SAVE, Profile.SPEND) if late else (Profile.SPEND, Profile.SAVE)
    for profile in both if finding.code is not Code.JOIN_HEARD else (Profile.SPEND,):  # which turns slowly
        if stroke.profile is not profile:
            way = f"profile-{profile.value}"
            yield Fix(way, way, locks=(Lock(stroke.id, profile=profile),))


def accents(plan: Plan, finding: Finding, _strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Shape a fade by accents: load every long note, and stop it before its short one."""
    loaded = [plan.stroke[plan.note[id_].stroke or ""] for id_ in finding.notes[::_TWO]]
    yield Fix("accents", "accents", locks=tuple(Lock(s.id, profile=Profile.SPEND, exit=Exit.STOPPED) for s in loaded))
    yield Fix("stops", "stops", locks=tuple(Lock(s.id, exit=Exit.STOPPED) for s in loaded))


def places(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Play it elsewhere on the hair."""
    if finding.code is Code.REPEAT_SEAM:
        first = plan.strokes[min(seam.first for seam in plan.draft.company.seams if _is_last(plan, seam.last, strokes))]
        yield Fix("arrive", "arrive", locks=(Lock(strokes[0].id, end=first.start),))
        return
    if finding.code is Code.KEEP_BACK_SHORT:
        stroke, kept = strokes[-1], finding.numbers["asked_m"]
        end = plan.rig.usable[1] - kept if stroke.direction > 0 else plan.rig.usable[0] + kept
        yield Fix("bow-less", "bow-less", {"m": f"{kept}"}, (Lock(stroke.id, end=end),))
        return
    moved = strokes_of(plan, finding.notes) if finding.code is Code.UNEVEN_ACCENTS else list(strokes)
    low, high = plan.rig.usable
    for n, by in enumerate(_moves(plan, finding, moved)):
        ends = [place for stroke in moved for place in (stroke.start, stroke.end)]
        kept = min(max(by, low - min(ends)), high - max(ends))
        if abs(kept) < LEAST_MOVE:
            continue
        locks = tuple(Lock(stroke.id, start=stroke.start + kept, end=stroke.end + kept) for stroke in moved)
        yield Fix(f"place-{n}", "place", {"side": "tip" if kept > 0 else "frog", "m": f"{abs(kept)}"}, locks)


def _is_last(plan: Plan, last: int, strokes: Sequence[StrokePlan]) -> bool:
    return plan.strokes[last].id == strokes[0].id


def _moves(plan: Plan, finding: Finding, strokes: Sequence[StrokePlan]) -> Iterator[float]:
    """Yield how far to move strokes along the hair [m], positive towards the tip: as the finding says, or a hand."""
    numbers = finding.numbers
    off = numbers.get("off_m") or numbers.get("beyond_m")
    if off:
        towards = finding.facts.get("side") or ("tip" if finding.facts.get("end") == "frog" else "frog")
        yield off if towards == "tip" else -off
        return
    if finding.code is Code.CROSSING_FAST:  # nearer the hand it has less of a way, if that is enough
        crossing = plan.crossing_to[finding.place[1]]
        if crossing.speed * (1 - A_HAND * crossing.angle / crossing.travel) <= FASTEST_HAND:
            yield -A_HAND
        return
    middle = (strokes[0].start + strokes[0].end) / 2
    outward = finding.code is Code.WOOD_CONTACT and middle > plan.rig.bow.hair / 2
    yield A_HAND if outward else -A_HAND
    yield -A_HAND if outward else A_HAND


def strings(plan: Plan, finding: Finding, _strokes: Sequence[StrokePlan]) -> Iterator[Fix]:
    """Play a note on another string; of a crossing either of its two."""
    own = plan.rig.instrument.strings
    for n, id_ in enumerate(finding.place[:_TWO]):
        note = plan.note[id_]
        if len(note.voices) != 1:
            continue
        for string in (note.lead.string - 1, note.lead.string + 1):
            if 0 <= string < len(own) and 0 <= note.lead.midi - own[string].midi <= HIGHEST:
                way = "string" if n == 0 else "string-there"
                facts = {"string": own[string].letter, "place": note.where}
                yield Fix(f"string-{n}-{string}", way, facts, (Lock(id_, string=string),))
