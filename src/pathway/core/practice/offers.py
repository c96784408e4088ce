"""Which drills help with what: by finding, stroke type, what is heard, passage; the most useful first."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.plan import Plan
from pathway.core.planning.wishes import Passage
from pathway.core.practice.drill import AskedBy, DrillAsk, Offer, Stage
from pathway.core.practice.families import FAMILIES
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import NotFound

MOST_OFFERS = 5  # at once
SEVERITIES = {Severity.LOW: 1, Severity.MEDIUM: 2, Severity.HIGH: 3}
_OWN = {Stage.BARS, Stage.AROUND}
PLACE_NOTES = 16  # of a passage that a drill is made from

BY_CODE: Mapping[Code, tuple[str, ...]] = {
    Code.RUNS_OUT: ("arrive", "slowest-bow", "two-tempi", "growing-groups", "wrong-on-purpose"),
    Code.SPEED_SPIKE: ("arrive", "speed-alone", "tempo-ladder", "other-bow"),
    Code.STUCK: ("arrive", "parts-of-bow", "two-tempi", "other-bow"),
    Code.RETAKE_NO_TIME: ("arrive", "travelling-starts", "tempo-ladder"),
    Code.BURIED_NOTE: ("short-after-long", "both-ways-equal", "silence-between", "tempo-ladder"),
    Code.FADE_LITERAL: ("weak-and-strong", "slowest-bow", "tempo-ladder"),
    Code.REPEAT_SEAM: ("arrive", "other-bow", "tempo-ladder"),
    Code.MIXED_RUN: ("other-bow", "tempo-ladder", "both-ways-equal"),
    Code.RETURNS_DIFFER: ("arrive", "other-bow", "tempo-ladder"),
    Code.KEEP_BACK_SHORT: ("slowest-bow", "arrive", "two-tempi"),
    Code.NO_WINDOW: ("extremes", "place-alone", "lane-by-pitch", "tempo-ladder"),
    Code.AIRY: ("long-tones", "extremes", "place-alone", "parts-of-bow"),
    Code.PRESSED: ("extremes", "wrong-on-purpose", "weight-alone", "long-tones"),
    Code.CHOKED: ("load-and-test", "noise-and-note", "hard-to-soft", "wrong-on-purpose"),
    Code.LEVEL_SHORT: ("place-alone", "speed-alone", "extremes", "tempo-ladder"),
    Code.TOO_LOUD: ("extremes", "colours", "parts-of-bow", "tempo-ladder"),
    Code.OFF_ZONE: ("parts-of-bow", "arrive", "borrowed-manner", "two-tempi"),
    Code.HEAVY_HAND: ("hand-alone", "place-alone", "long-tones", "parts-of-bow"),
    Code.SPEAKS_LATE: ("load-and-test", "finger-before-bow", "wrong-on-purpose", "pulse-release"),
    Code.JOIN_HEARD: ("smooth-turns", "wrong-on-purpose", "both-ways-equal", "growing-groups"),
    Code.WOOD_CONTACT: ("tilt-turns", "weight-alone", "parts-of-bow"),
    Code.HAIR_TOO_WIDE: ("tilt-turns", "lane-by-pitch", "extremes"),
    Code.OFF_SQUARE_SENSITIVE: ("angle", "long-tones", "place-alone"),
    Code.SHIFT_HEARD: ("shifts", "finger-before-bow", "tempo-ladder", "smooth-turns"),
    Code.TOO_FAST_FOR_TYPE: ("tempo-ladder", "borrowed-manner", "bursts", "hard-to-soft"),
    Code.PRESSED_THROUGH: ("noise-and-note", "pulse-release", "wrong-on-purpose", "hard-to-soft"),
    Code.RATE_MISMATCH: ("find-the-bounce", "bounce-by", "tempo-ladder"),
    Code.BOUNCE_HEIGHT: ("bounce-by", "find-the-bounce", "tempo-ladder"),
    Code.BOUNCE_PLACE: ("find-the-bounce", "bounce-by", "arrive"),
    Code.UNEVEN_ACCENTS: ("both-ways-equal", "parts-of-bow", "pulse-release", "other-bow"),
    Code.STRING_IMBALANCE: ("crossings", "lane-by-pitch", "colours", "parts-of-bow"),
    Code.CROSSING_FAST: ("crossings", "hand-alone", "tempo-ladder", "two-strings"),
    Code.CROSSING_HARD: ("crossings", "other-bow", "tempo-ladder", "hand-alone"),
    Code.SKIP_NO_TIME: ("crossings", "silence-between", "tempo-ladder"),
    Code.ANGLE_CARRIED: ("angle", "crossings", "wrong-on-purpose"),
    Code.VOICE_LOST: ("two-strings", "angle", "place-alone"),
    Code.CHORD_OUT_OF_REACH: ("chords", "two-strings"),
    Code.CHORD_HARD: ("chords", "two-strings", "tempo-ladder"),
    Code.OUTSIDE: ("lane-by-pitch",),
    Code.FAR_UP: ("lane-by-pitch", "shifts", "extremes"),
    Code.JUMP: ("shifts", "finger-before-bow", "tempo-ladder"),
    Code.CONTRAST_THIN: ("contrast", "colours", "extremes", "place-alone"),
}  # fmt: skip
BY_HEARD: Mapping[Heard, tuple[str, ...]] = {
    Heard.BREATHY: ("long-tones", "extremes", "parts-of-bow", "place-alone"),
    Heard.GRATING: ("wrong-on-purpose", "extremes", "weight-alone", "place-alone"),
    Heard.MUTE: ("load-and-test", "finger-before-bow", "wrong-on-purpose", "pulse-release"),
    Heard.SQUEAL: ("angle", "crossings", "place-alone", "load-and-test"),
    Heard.STICKS_OUT: ("speed-alone", "short-after-long", "other-bow", "arrive"),
    Heard.BURIED: ("short-after-long", "both-ways-equal", "silence-between", "crossings"),
    Heard.NOWHERE: ("arrive", "slowest-bow", "two-tempi", "growing-groups"),
    Heard.ACCENT: ("pulse-release", "both-ways-equal", "load-and-test", "parts-of-bow"),
    Heard.VOICE: ("two-strings", "angle", "chords"),
    Heard.BOUNCE: ("find-the-bounce", "bounce-by", "borrowed-manner", "tempo-ladder"),
    Heard.WOOD: ("tilt-turns", "weight-alone", "parts-of-bow"),
    Heard.JOIN: ("smooth-turns", "shifts", "both-ways-equal", "wrong-on-purpose"),
}
BY_TYPE: Mapping[str, tuple[str, ...]] = {
    "detache": ("smooth-turns", "both-ways-equal", "parts-of-bow", "crossings", "speed-alone"),
    "broad-detache": ("speed-alone", "smooth-turns", "parts-of-bow", "borrowed-manner"),
    "porte": ("pulse-release", "both-ways-equal", "weight-alone", "borrowed-manner"),
    "lance": ("one-throw", "pulse-release", "silence-between", "borrowed-manner"),
    "short-detache": ("silence-between", "parts-of-bow", "bursts", "borrowed-manner"),
    "legato": ("growing-groups", "shifts", "crossings", "slowest-bow", "smooth-turns"),
    "portato": ("weight-alone", "growing-groups", "pulse-release"),
    "sustained": ("slowest-bow", "long-tones", "place-alone", "smooth-turns"),
    "martele": ("load-and-test", "noise-and-note", "hard-to-soft", "silence-between", "borrowed-manner"),
    "soft-martele": ("hard-to-soft", "load-and-test", "pulse-release", "borrowed-manner"),
    "grand-martele": ("one-throw", "load-and-test", "hard-to-soft", "speed-alone"),
    "colle": ("travelling-starts", "noise-and-note", "silence-between", "borrowed-manner"),
    "staccato": ("one-bow-staccato", "growing-groups", "hard-to-soft"),
    "running-staccato": ("self-running", "one-bow-staccato", "hand-alone"),
    "pulsed-detache": ("pulse-release", "load-and-test", "bursts", "borrowed-manner"),
    "spiccato": ("find-the-bounce", "bounce-by", "bursts", "borrowed-manner"),
    "heavy-spiccato": ("find-the-bounce", "bounce-by", "travelling-starts", "borrowed-manner"),
    "sautille": ("find-the-bounce", "bursts", "bounce-by", "borrowed-manner"),
    "flying-staccato": ("one-bow-staccato", "growing-groups", "find-the-bounce"),
    "ricochet": ("find-the-bounce", "growing-groups", "one-throw"),
    "fouette": ("one-throw", "silence-between", "borrowed-manner"),
    "rebound": ("weak-and-strong", "find-the-bounce", "borrowed-manner"),
    "tremolo": ("bursts", "hand-alone", "smooth-turns"),
}


def drills_for(plan: Plan, finding: Finding) -> list[Offer]:
    """Return what helps with a finding, at its first place; like places are named."""
    place = [id_ for id_ in finding.place if id_ in plan.note and plan.note[id_].stroke]
    if not place:
        return []
    bars = tuple(dict.fromkeys((finding.bar, *finding.also)))
    offer = Offer(
        DrillAsk("", first=place[0], last=place[-1]), AskedBy.FINDING, finding.code.value, bars,
        SEVERITIES[finding.severity], len(finding.notes) / max(len(plan.bowed), 1),
    )  # fmt: skip
    return _offered(BY_CODE[finding.code], offer)


def drills_for_symptom(plan: Plan, note: str, heard: Heard) -> list[Offer]:
    """Return what helps with what is heard on a note.

    Raises:
        NotFound: there is no bowed note there.
    """
    found = plan.bowed_note(note)
    notes = plan.stroke[found.stroke or ""].notes
    offer = Offer(DrillAsk("", first=notes[0], last=notes[-1]), AskedBy.HEARD, heard.value, (found.measure,), 2, 0.02)
    return _offered(BY_HEARD[heard], offer)


def drills_for_type(key: str) -> list[Offer]:
    """Return what a stroke type is learnt by, without any piece.

    Raises:
        NotFound: there is no such type.
    """
    if key not in STROKE_TYPES:
        raise NotFound("There is no such stroke type", advice="Choose one from the list.")
    families = [family for family in BY_TYPE[key] if FAMILIES[family].stages[0] not in _OWN]
    offer = Offer(DrillAsk("", kind=key), AskedBy.TYPE, key)
    return [_at(family, offer, made=True) for family in families][:MOST_OFFERS]


def drills_for_passage(plan: Plan, notes: Sequence[str], name: str = "") -> list[Offer]:
    """Return what there is to work at in some notes: by their findings, then by their stroke type, then up to tempo.

    Args:
        plan: of the piece.
        notes: ids in order.
        name: what is told of the passage.
    """
    inside = set(notes)
    bowed = [id_ for id_ in notes if plan.note[id_].stroke][:PLACE_NOTES]
    if not bowed:
        return []
    about = sorted((f for f in plan.findings if inside & set(f.place)), key=lambda f: -SEVERITIES[f.severity])
    found = [offer for finding in about for offer in drills_for(plan, finding)[:2]]
    bars = tuple(dict.fromkeys(plan.note[id_].measure for id_ in bowed))
    offer = Offer(
        DrillAsk("", first=bowed[0], last=bowed[-1]), AskedBy.PASSAGE, name, bars, 1, len(bowed) / len(plan.bowed)
    )
    kinds = [plan.stroke[plan.note[id_].stroke or ""].kind for id_ in bowed]
    own = max(set(kinds), key=kinds.count)
    found += _offered(("tempo-ladder", *BY_TYPE[own][:2], "shifts", "contrast", "arrive"), offer)
    seen: dict[str, Offer] = {}
    for one in found:
        seen.setdefault(one.ask.family, one)
    return sorted(list(seen.values())[:MOST_OFFERS], key=lambda one: FAMILIES[one.ask.family].aim)


def drills_for_contrast(plan: Plan, first: Passage, second: Passage) -> list[Offer]:
    """Return what tells two neighbouring characters apart, around the seam between them."""
    events, index = plan.part.events, plan.part.index
    seam = index[second.start]
    around = range(max(index[first.start], seam - 4), min(index[second.end], seam + 4) + 1)
    ids = [events[i].id for i in around if plan.note[events[i].id].stroke]
    name = f"{first.character or 'what comes before'} against {second.character or 'what comes after'}"
    offer = Offer(
        DrillAsk("", first=ids[0], last=ids[-1]), AskedBy.CONTRAST, name, (plan.note[second.start].measure,), 2, 0.05
    )
    return _offered(("contrast", "colours"), offer)


def freely(family: str, stage: Stage, member: str = "", kind: str = "") -> Offer:
    """Return a drill that the player chose."""
    return Offer(DrillAsk(family, member or FAMILIES[family].members[0], stage, kind=kind), AskedBy.PLAYER)


def offers_of(plan: Plan) -> list[Offer]:
    """Return all that a piece asks for: by its findings, one for each family and place, and by its contrasts."""
    found: dict[str, Offer] = {}
    for finding in plan.findings:
        for offer in drills_for(plan, finding)[:2]:
            found.setdefault(offer.ask.key, offer)
    passages = sorted(plan.draft.settings.passages, key=lambda passage: plan.part.index[passage.start])
    for first, second in pairwise(passages):
        for offer in drills_for_contrast(plan, first, second)[:1]:
            found.setdefault(offer.ask.key, offer)
    return list(found.values())


def neighbour(ask: DrillAsk, stuck_with: Collection[str] = ()) -> DrillAsk | None:
    """Return what to take instead of a drill that does not move: one step back in the order of building.

    Args:
        ask: the drill.
        stuck_with: families that do not move either.
    """
    row = FAMILIES[ask.family]
    before = [stage for stage in row.stages if stage < ask.stage]
    if before:
        return replace(ask, stage=before[-1])
    ways = row.members
    if len(ways) > 1:
        at = ways.index(ask.member) if ask.member in ways else 0
        return replace(ask, member=ways[(at + 1) % len(ways)])
    return _easier(ask, stuck_with)


def _easier(ask: DrillAsk, stuck_with: Collection[str]) -> DrillAsk | None:
    """Return a gentler family for the same thing."""
    for families in (*BY_CODE.values(), *BY_TYPE.values()):
        if ask.family in families:
            others = [f for f in families if f != ask.family and f not in stuck_with]
            if others:
                row = FAMILIES[others[0]]
                stage = row.stages[0] if ask.first or row.stages[0] not in _OWN else None
                member = row.members[0]
                return None if stage is None else DrillAsk(others[0], member, stage, ask.first, ask.last, ask.kind)
    return None


def then(ask: DrillAsk) -> DrillAsk | None:
    """Return the next stage of a drill: nearer to the piece; None at the last, or where there is no place for it."""
    later = [stage for stage in FAMILIES[ask.family].stages if stage > ask.stage]
    later = [stage for stage in later if ask.first or stage not in _OWN]
    return replace(ask, stage=later[0]) if later else None


def _offered(families: Iterable[str], like: Offer) -> list[Offer]:
    """Return one drill of each family, at the stage that suits the place."""
    return [_at(family, like) for family in families][:MOST_OFFERS]


def _at(family: str, like: Offer, *, made: bool = False) -> Offer:
    """Return a drill of a family like another offer: on the bars themselves where the family has them."""
    row = FAMILIES[family]
    stages = row.stages
    own = [stage for stage in stages if stage is Stage.BARS]
    stage = own[0] if own and not made else next((s for s in stages if s is Stage.PITCH), stages[0])
    return replace(like, ask=replace(like.ask, family=family, member=row.members[0], stage=stage))
