"""Drills of the bow's level: crossings, angles, two strings at once, chords."""

from collections.abc import Sequence

from pathway.core.planning.wishes import Lock
from pathway.core.practice.drill import Aim, Quantity, Rung, Strain, Varies, Work
from pathway.core.practice.families.playing import firsts_of, ids_of, way
from pathway.core.practice.ground import FINGERED, Ground
from pathway.core.practice.ladder import rates_to, tempo_rungs
from pathway.core.practice.material import EIGHTH, HALF, QUARTER, WHOLE, DrillTone, line, rest, tones
from pathway.core.practice.row import EVENNESS, STILL_LANE, FamilyRow, Passes, S
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.errors import NotHere

_ORDERS = ("low to high", "high to low")
LEADS = ("upper leads", "lower leads")
PORTIONS = 3  # stops at a time
OVER = {"pairs": Form.PAIRS, "arpeggio": Form.ARPEGGIO, "together": Form.TOGETHER}


def _pair(g: Ground) -> tuple[int, int]:
    """Return the pitches of two neighbouring strings in the order that is asked for."""
    low, high = (g.open(s) + (0 if g.ask.stage <= S.OPEN else FINGERED) for s in g.pair)
    return (low, high) if g.one_of(_ORDERS) == _ORDERS[0] else (high, low)


def crossings(g: Ground) -> list[Rung]:
    """Two strings in turn, quicker and in more ways, then all strings; separate, then slurred."""
    if g.ask.stage >= S.BARS:
        return tempo_rungs(g.bars())
    one, other = _pair(g)
    goal = min(max(g.rate, 3.0), 8.0)
    rates = rates_to(goal, 1.5, 4)
    every = [g.open(s) for s in range(g.strings)]
    if g.one_of(_ORDERS) == _ORDERS[1]:
        every.reverse()
    there_and_back = [*every, *every[-2:0:-1]]
    return [
        _turns("each twice", g, [one, one, other, other], 1, rates[0]),
        _turns("in turn", g, [one, other], 1, rates[1]),
        _turns("in turn, two a bow", g, [one, other], 2, rates[1]),
        _turns("twice as fast, four a bow", g, [one, other], 4, rates[2]),
        _turns("begun from the other string", g, [other, one], 4, rates[2]),
        _turns("over all strings", g, there_and_back, 1, rates[2]),
        _turns("over all strings, slurred", g, there_and_back, len(there_and_back), rates[2]),
        _turns("one string between", g, _one_between(every), 1, rates[1]),
        _turns("the outermost strings", g, [every[0], every[-1]], 1, rates[0]),
        _turns("at the rate of the piece", g, [one, other], 1, rates[3]),
    ]


def _one_between(every: Sequence[int]) -> list[int]:
    """Return strings in turn with one between them."""
    found = []
    for low, high in zip(every, every[2:], strict=False):
        found += [low, high]
    return found


def _turns(name: str, g: Ground, figure: Sequence[int], a_bow: int, rate: float) -> Rung:
    count = len(figure) * max(1, -(-16 // len(figure)))
    count -= count % a_bow if count % a_bow and count > a_bow else 0
    value = EIGHTH if rate > 2 else QUARTER
    part = line(
        name,
        tones((list(figure) * count)[:count], value),
        a_bow=a_bow,
        tempo=60 * rate * float(value),
        level_db=g.level_db,
    )
    return Rung(name, Work(part, locks=(Lock(ids_of(part)[0], direction=way(True)),)))


def angle(g: Ground) -> list[Rung]:
    """Square on each string; then the turn from string to string large, then as small as it can be."""
    order = range(g.strings) if g.one_of(_ORDERS) == _ORDERS[0] else range(g.strings - 1, -1, -1)
    found = []
    for name, value, tempo in (
        ("long bows, looked at", WHOLE, 60), ("half as long", HALF, 60), ("small and quick", QUARTER, 84),
    ):  # fmt: skip
        played = [tone for s in order for tone in tones([g.open(s)] * 2, value)]
        found.append(Rung(name, Work(line("Square on each string", played, tempo=tempo))))
    return found


def two_strings(g: Ground) -> list[Rung]:
    """Each voice alone at the common place, then both, then with the other one leading."""
    upper = g.one_of(LEADS) == LEADS[0]
    stops = _stops(g)
    lead, other = (Leading.TOP, Leading.BOTTOM) if upper else (Leading.BOTTOM, Leading.TOP)
    tops, bottoms = [max(s) for s in stops], [min(s) for s in stops]
    first, second = (tops, bottoms) if upper else (bottoms, tops)
    low, high = g.pair
    strings = (high, low) if upper else (low, high)
    return [
        _voice("the leading voice alone", first, strings[0]),
        _voice("the other voice alone", second, strings[1]),
        _stopped("both", stops, lead, 48),
        _stopped("the other one leads", stops, other, 48),
        _stopped("as it leads in the piece", stops, lead, 72),
    ]


def _stops(g: Ground) -> list[tuple[int, ...]]:
    """Return a few double stops of the place; open strings with a fingered one where there are none."""
    own = [tuple(sorted(v.midi for v in note.voices)) for note in g.notes if len(note.voices) == 2]
    low, high = (g.open(s) for s in g.pair)
    made: list[tuple[int, ...]] = [(low, high), (low, high + FINGERED), (low + FINGERED, high + FINGERED)]
    return (own or made)[:PORTIONS]


def _voice(name: str, pitches: Sequence[int], string: int) -> Rung:
    part = line(name, tones(list(pitches) * 2, HALF), tempo=60)
    open_low = [Lock(i, string=string) for i in ids_of(part)]
    return Rung(name, Work(part, locks=tuple(open_low)))


def _stopped(name: str, stops: Sequence[tuple[int, ...]], lead: Leading, tempo: float) -> Rung:
    part = line(name, [DrillTone(stop, HALF) for stop in list(stops) * 2], tempo=tempo)
    return Rung(name, Work(part, locks=tuple(Lock(i, lead=lead) for i in ids_of(part))))


def chords(g: Ground) -> list[Rung]:
    """The pairs apart, turned slowly, joined, then in time; the bow set, rested and drawn between them."""
    form = OVER[g.one_of(tuple(OVER))]
    chord = next((tuple(sorted(v.midi for v in n.voices)) for n in g.notes if len(n.voices) > 2), None)
    if chord is None:
        first = min(g.strings - 3, 1)
        chord = tuple(g.open(s) for s in range(first, first + 3))
    low, high = chord[:2], chord[-2:]
    apart = line("Pairs apart", [DrillTone(low, HALF), rest(HALF), DrillTone(high, HALF), rest(HALF)] * 2, tempo=60)
    turned = line("Turned slowly", [DrillTone(low, HALF), DrillTone(high, HALF)] * 4, a_bow=2, tempo=66)
    found = [Rung("the pairs apart", Work(apart)), Rung("turned slowly in one bow", Work(turned))]
    for name, value, tempo in (("set, rest, draw", HALF, 50), ("joined", HALF, 66), ("in time", QUARTER, 72)):
        pause = [rest(value)] if name.startswith("set") else []
        part = line(
            name,
            [tone for _ in range(4) for tone in (DrillTone(chord, value), *pause)],
            tempo=tempo,
            level_db=g.level_db,
        )
        found.append(Rung(name, Work(part, locks=tuple(Lock(i, chord=form) for i in firsts_of(part)))))
    return found


def second_voice_moves(g: Ground) -> list[Rung]:
    """Own double stops in their bars."""
    work = g.bars()
    if not any(len(note.voices) > 1 for note in g.notes):
        raise NotHere("There are no double stops at this place", advice="Take the pattern.")
    lead = Leading.TOP if g.one_of(LEADS) == LEADS[0] else Leading.BOTTOM
    doubled = {note.id for note in g.notes if len(note.voices) > 1}
    locks = {lock.note: lock for lock in work.locks}
    for id_ in doubled:
        locks[id_] = Lock(id_, lead=lead)
    return tempo_rungs(Work(work.part, work.settings, tuple(locks.values()), None, work.bars))


def _two(g: Ground) -> list[Rung]:
    return second_voice_moves(g) if g.ask.stage >= S.BARS else two_strings(g)


_ON = (S.OPEN, S.PITCH)
ROWS = {
    "crossings": FamilyRow(
        Varies.LEVEL, (*_ON, S.BARS), crossings, _ORDERS, aim=Aim.CROSSINGS, passes=EVENNESS,
    ),
    "angle": FamilyRow(
        Varies.LEVEL, (S.OPEN,), angle, _ORDERS, Strain.LIGHT, Aim.CROSSINGS, still=(STILL_LANE,),
        passes=Passes(Quantity.LANE, 0.5, "lane"),
    ),
    "two-strings": FamilyRow(
        Varies.LEAD, (*_ON, S.PATTERN, S.BARS), _two, LEADS, aim=Aim.CROSSINGS, still=(STILL_LANE,),
        passes=Passes(Quantity.LEVEL, 2, "dB"),
    ),
    "chords": FamilyRow(
        Varies.LEVEL, (S.OPEN, S.PATTERN), chords, tuple(OVER), Strain.NORMAL, Aim.CROSSINGS, still=(STILL_LANE,),
        strict=False,
    ),
}  # fmt: skip
