"""Drills of the piece's own bars: at another tempo, in other bows, in another type, in other characters."""

from collections.abc import Sequence
from dataclasses import replace

from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.wishes import Break, Lock, Passage, Style
from pathway.core.practice.drill import Aim, Keeps, Quantity, Rung, Strain, Varies, Work
from pathway.core.practice.families.playing import firsts_of, ids_of, in_type, way
from pathway.core.practice.ground import Ground
from pathway.core.practice.ladder import tempo_rungs
from pathway.core.practice.material import EIGHTH, HALF, QUARTER, DrillTone, line, scale, tones
from pathway.core.practice.row import OWN_MEASURE, STILL_LANE, STILL_LEVEL, FamilyRow, Passes, S
from pathway.core.rig.bow import EARLY_HOLDS
from pathway.core.technique.endings import Exit
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import NotHere

FAULTS = {
    "too much hair": Heard.NOWHERE, "carried angle": Heard.JOIN, "pressed through": Heard.GRATING,
    "late start": Heard.MUTE,
}  # fmt: skip
WIDENED = (3.0, 6.0)  # a contrast beyond what is asked [dB]
CLEAN = Passes(Quantity.OWN, 3, "of 3")


def _own(g: Ground) -> Work:
    """Return the bars of the place; with their surroundings at the last stage."""
    return g.bars(1 if g.ask.stage is S.AROUND else 0)


def tempo_ladder(g: Ground) -> list[Rung]:
    """Own bars from slow to the tempo of the piece, with its hair or with its speed."""
    keeps = Keeps.HAIR if g.one_of(("the hair", "the speed")) == "the hair" else Keeps.SPEED
    return tempo_rungs(_own(g), keeps=keeps, whole=g.known_plan)


def arrive(g: Ground) -> list[Rung]:
    """Own bars with the planned arrival of every bow."""
    return tempo_rungs(_own(g), (0.6, 0.8, 1.0), Keeps.HAIR)


def two_tempi(g: Ground) -> list[Rung]:
    """Own bars slower than the piece, where hair is saved, then with ease."""
    work = _own(g)
    slow, quick = tempo_rungs(work, (0.8,), Keeps.HAIR, "saving"), tempo_rungs(work, (1.1, 1.0), None, "with ease")
    pairs = slow + quick[:1] + slow + quick
    return [replace(rung, name=f"{n}. {rung.name}") for n, rung in enumerate(pairs, start=1)]


def with_the_second_part(g: Ground) -> list[Rung]:
    """Own bars with another part of the score."""
    return tempo_rungs(_own(g), (0.7, 0.85, 1.0), Keeps.HAIR)


def shifts(g: Ground) -> list[Rung]:
    """One note a bow, then in the written slurs."""
    work = _own(g)
    single = [Lock(event.id, divide=Break.SPLIT) for event in work.part.events if not event.tied and event.bowed]
    inner = {id_ for slur in work.part.slurs for id_ in _inside(work, slur.start, slur.end)}
    locks = {lock.note: lock for lock in work.locks}
    parted = tuple(replace(locks.get(s.note, s), divide=Break.SPLIT) for s in single if s.note in inner)
    others = tuple(lock for note, lock in locks.items() if note not in inner)
    if not parted:
        return tempo_rungs(work, (0.5, 0.7, 0.85, 1.0))
    apart = Work(work.part, work.settings, (*others, *parted), None, work.bars)
    return tempo_rungs(apart, (0.5, 0.7), None, "one note a bow") + tempo_rungs(work, (0.6, 0.8, 1.0), None, "slurred")


def _inside(work: Work, start: str, end: str) -> list[str]:
    index = work.part.index
    return [event.id for event in work.part.events[index[start] + 1 : index[end] + 1] if not event.tied]


def borrowed_manner(g: Ground) -> list[Rung]:
    """Bars in neighbouring stroke types, then in their own."""
    own = g.kind
    chain = [key for key in dict.fromkeys(_neighbours(own.key)) if key != own.key]
    if g.ask.stage >= S.BARS:
        work = _own(g)
        return [_in_manner(work, key) for key in chain] + tempo_rungs(
            work, (0.8, 1.0), None, f"in their own {own.name}"
        )
    rate = min(own.most_per_second or 4.0, 4.0)
    part = line("Borrowed manner", tones(scale(g.open(g.pair[0]), g.key, 5), QUARTER), tempo=60 * max(rate / 2, 1.0))
    return [Rung(STROKE_TYPES[key].name, Work(part, locks=in_type(part, key))) for key in (*chain, own.key)]


def _neighbours(key: str) -> Sequence[str]:
    """Return the types near one: gentler and quicker ones, those that give way to it, and détaché."""
    kind = STROKE_TYPES[key]
    before = [other.key for other in STROKE_TYPES.values() if key in {other.faster, other.softer}]
    near = [near for near in ("detache", kind.softer, *before, kind.faster) if near]
    return [one for one in near if not STROKE_TYPES[one].stops_inside and not STROKE_TYPES[one].own_rate][:4]


def _in_manner(work: Work, key: str) -> Rung:
    locks = {lock.note: lock for lock in work.locks}
    for id_ in firsts_of(work.part):
        locks[id_] = replace(locks.get(id_, Lock(id_)), kind=key)
    changed = Work(work.part, work.settings, tuple(locks.values()), None, work.bars)
    return tempo_rungs(changed, (0.8,), None, f"in {STROKE_TYPES[key].name}")[0]


def other_bow(g: Ground) -> list[Rung]:
    """Own bars begun on the other bow, then as written."""
    work = _own(g)
    plan, first = g.known_plan, firsts_of(work.part)[0]
    stroke = plan.note[first].stroke
    began = plan.stroke[stroke].direction if stroke else way(True)
    locks = {lock.note: replace(lock, direction=None, start=None, end=None, link=None) for lock in work.locks}
    locks[first] = replace(locks.get(first, Lock(first)), direction=began.other)
    plain = replace(work.part, events=tuple(replace(event, bow=None) for event in work.part.events))
    turned = Work(plain, work.settings, tuple(locks.values()), None, work.bars)
    return tempo_rungs(turned, (0.7, 0.9), None, "begun on the other bow") + tempo_rungs(
        work, (0.8, 1.0), None, "as written"
    )


def weak_and_strong(g: Ground) -> list[Rung]:
    """Strong and weak told apart by the bow; swell and taper; short notes that rebound."""
    manner = g.one_of(("strong and weak", "swell and taper", "rebounding"))
    notes = list(g.pitches[:8]) if g.ask.stage >= S.PATTERN and g.pitches else scale(g.open(g.pair[0]), g.key, 5)
    if manner == "rebounding":
        if g.rig.hold.name not in EARLY_HOLDS:
            raise NotHere("Short notes rebound by themselves under early bows only", advice="Take strong and weak.")
        part = line("Rebounding short notes", tones(notes, QUARTER), tempo=60)
        base = Work(part, locks=in_type(part, "rebound"))
    else:
        part = line("Weak and strong", tones(notes, QUARTER), tempo=60, level_db=g.level_db)
        base = Work(part)
        base = replace(base, settings=replace(base.settings, style=Style.EARLY))
        if manner == "swell and taper":
            part = line("Swell and taper", [DrillTone((p,), HALF) for p in notes], tempo=60, level_db=g.level_db)
            base = Work(part, base.settings, tuple(Lock(i, exit=Exit.RINGING) for i in ids_of(part)))
    return [Rung(f"♩ {tempo}", base.at_tempo(tempo)) for tempo in (60, 80, 100, 120)]


def contrast(g: Ground) -> list[Rung]:
    """Two neighbouring characters: apart, across the seam, then wider than asked."""
    if g.ask.stage < S.BARS:
        return _made_contrast(g)
    work = _own(g)
    passages = work.settings.passages
    found = tempo_rungs(work, (0.8,), None, "across the seam")
    for by in WIDENED:
        parted = passages or _halves(work)
        if len(parted) < 2:
            break
        first, second = parted[0], parted[1]
        wider = (
            replace(first, offset_db=first.offset_db - by / 2),
            replace(second, offset_db=second.offset_db + by / 2),
        )
        changed = replace(work, settings=replace(work.settings, passages=(*wider, *parted[2:])), path=None)
        found += tempo_rungs(changed, (1.0,), None, f"{by:g} dB wider")
    return found + tempo_rungs(work, (1.0,))


def _halves(work: Work) -> tuple[Passage, ...]:
    """Return the two halves of some bars as passages."""
    ids = ids_of(work.part)
    half = len(ids) // 2
    return (Passage(ids[0], ids[half - 1], id=1), Passage(ids[half], ids[-1], id=2)) if half else ()


def _made_contrast(g: Ground) -> list[Rung]:
    notes = scale(g.open(g.pair[0]), g.key, 5)
    part = line("Two characters", tones(notes * 2, QUARTER), tempo=72)
    ids = ids_of(part)
    half = len(ids) // 2
    found = []
    for by in (4.0, 8.0, 12.0):
        soft, loud = -by / 2, by / 2
        first, second = (soft, loud) if g.one_of(("soft first", "loud first")) == "soft first" else (loud, soft)
        passages = (
            Passage(ids[0], ids[half - 1], offset_db=first, id=1),
            Passage(ids[half], ids[-1], offset_db=second, id=2),
        )
        base = Work(part)
        found.append(Rung(f"{by:g} dB apart", replace(base, settings=replace(base.settings, passages=passages))))
    return found


def wrong_on_purpose(g: Ground) -> list[Rung]:
    """The fault, heard from the app and played; then right."""
    fault = FAULTS[g.one_of(tuple(FAULTS))]
    made = Work(line("Wrong, then right", tones([g.pitch] * 8, HALF), tempo=66))
    work = _own(g) if g.ask.stage >= S.BARS else made
    first, *rungs = tempo_rungs(work, (0.8, 0.8, 1.0))
    return [replace(first, name="wrong on purpose", fault=fault), *rungs]


def hand_alone(g: Ground) -> list[Rung]:
    """The joints one by one in the time of a line, without the instrument."""
    joint = g.one_of(("index", "bend and stretch", "roll", "forearm"))
    value = EIGHTH if joint == "index" else QUARTER
    if joint == "forearm":
        played = [DrillTone((g.open(s),), value) for _ in range(4) for s in (g.pair[0], g.pair[1])]
    else:
        played = tones([g.open(g.string)] * 8, value)
    part = line("The hand alone", played, tempo=50)
    return [Rung(f"♩ {tempo}", Work(part).at_tempo(tempo)) for tempo in (50, 66, 84)]


_OWN = (S.BARS, S.AROUND)
_STILL = (STILL_LANE, STILL_LEVEL)
ROWS = {
    "tempo-ladder": FamilyRow(
        Varies.TEMPO, _OWN, tempo_ladder, ("the hair", "the speed"), aim=Aim.TOGETHER, still=_STILL, passes=CLEAN,
        strict=False, minutes=6,
    ),
    "arrive": FamilyRow(
        Varies.TEMPO, _OWN, arrive, aim=Aim.HAIR, still=((Quantity.HAIR, 0.03), STILL_LANE),
        passes=Passes(Quantity.HAIR, 3, "cm"), strict=False,
    ),
    "two-tempi": FamilyRow(Varies.TEMPO, _OWN, two_tempi, aim=Aim.TOGETHER, still=_STILL, passes=CLEAN, strict=False),
    "with-second-part": FamilyRow(
        Varies.TEMPO, _OWN, with_the_second_part, aim=Aim.TOGETHER, still=_STILL, passes=CLEAN, strict=False,
    ),
    "shifts": FamilyRow(
        Varies.COUNT, _OWN, shifts, aim=Aim.SHIFTS, still=_STILL, passes=Passes(Quantity.LEVEL, 1, "dB"), strict=False,
    ),
    "borrowed-manner": FamilyRow(
        Varies.TYPE, (S.SCALE, S.BARS), borrowed_manner, still=(STILL_LANE,), passes=OWN_MEASURE, strict=False,
    ),
    "other-bow": FamilyRow(
        Varies.DIRECTION, (S.BARS,), other_bow, still=(STILL_LEVEL,), passes=Passes(Quantity.START, 2, "dB"),
    ),
    "weak-and-strong": FamilyRow(
        Varies.STRESS, (S.SCALE, S.PATTERN), weak_and_strong, ("strong and weak", "swell and taper", "rebounding"),
        still=(STILL_LANE,), passes=Passes(Quantity.LEVEL, 2, "dB"),
    ),
    "contrast": FamilyRow(
        Varies.COLOUR, (S.SCALE, S.BARS), contrast, ("soft first", "loud first"), aim=Aim.TOGETHER, still=(STILL_LANE,),
        passes=Passes(Quantity.LEVEL, 3, "dB"), strict=False,
    ),
    "wrong-on-purpose": FamilyRow(
        Varies.WEIGHT, (S.PITCH, S.BARS), wrong_on_purpose, tuple(FAULTS), still=(STILL_LANE,), passes=OWN_MEASURE,
        minutes=2,
    ),
    "hand-alone": FamilyRow(
        Varies.WEIGHT, (S.HAND,), hand_alone, ("index", "bend and stretch", "roll", "forearm"), Strain.LIGHT, still=(),
        passes=OWN_MEASURE, minutes=2,
    ),
}  # fmt: skip
