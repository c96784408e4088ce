"""Drills of many notes in one bow: stopped ones, self-running ones, groups that grow."""

from pathway.core.music import Mark
from pathway.core.planning.wishes import Lock
from pathway.core.practice.drill import Quantity, Rung, Strain, Varies, Work
from pathway.core.practice.families.playing import firsts_of, paced, way
from pathway.core.practice.ground import Ground
from pathway.core.practice.ladder import rates_to
from pathway.core.practice.material import EIGHTH, SIXTEENTH, DrillTone, line, rest, scale, tones
from pathway.core.practice.row import EVENNESS, STILL_LANE, STILL_LEVEL, TWO_WAYS, FamilyRow, Passes, S
from pathway.core.practice.row import begins as begins_down
from pathway.core.technique.stroke_types import STROKE_TYPES

GROUPS = (2, 3, 4, 6, 8, 12)  # notes a bow
_OWN_RATE = 9.0  # of a self-running staccato that was not measured [1/s]
_LEAST_HAIR = 0.012  # of one stopped note [m]


def _pitch(g: Ground) -> int:
    return g.open(g.string) if g.ask.stage <= S.OPEN else g.pitch


def one_bow_staccato(g: Ground) -> list[Rung]:
    """Strong pulses, then light ones between them, then twice as fast, then in threes."""
    down = begins_down(g)
    kind = STROKE_TYPES["staccato"]
    goal = min(max(g.rate, 4.0), kind.most_per_second or 9)
    rungs = [
        _pulses("strong pulses only", g, 8, 1, 2.0, down=down),
        _pulses("one light one between", g, 8, 2, 2.5, down=down),
        _pulses("two light ones between", g, 6, 3, 3.0, down=down),
        _pulses("three light ones between", g, 8, 4, 3.5, down=down),
        _pulses("in threes, quicker", g, 6, 3, 4.0, down=down),
    ]
    return rungs + [_pulses(f"{rate:g} a second", g, 8, 4, rate, down=down) for rate in rates_to(goal, 4.0, 3)]


def _pulses(name: str, g: Ground, count: int, strong: int, rate: float, *, down: bool) -> Rung:
    accent = frozenset({Mark.DOT, Mark.ACCENT})
    value = EIGHTH if rate <= 4 else SIXTEENTH
    bow = [DrillTone((_pitch(g),), value, accent if n % strong == 0 else frozenset({Mark.DOT})) for n in range(count)]
    meter = (6, 8) if count == 6 else (4, 4)
    part = line(name, bow * 2, a_bow=count, meter=meter, tempo=60 * rate * float(value))
    firsts = firsts_of(part)
    locks = [Lock(id_, kind="staccato", direction=way(down == (n % 2 == 0))) for n, id_ in enumerate(firsts)]
    return Rung(name, Work(part, locks=tuple(locks)))


def self_running(g: Ground) -> list[Rung]:
    """The staccato that runs by itself: at its own rate, on its best stretch of hair, then wider."""
    down = begins_down(g)
    mine = g.rig.one_bow(way(down))
    rate = max(mine.rate or _OWN_RATE, STROKE_TYPES["running-staccato"].least_per_second)
    best = mine.stretch or tuple(g.at(share) for share in (0.5, 0.75))
    found = []
    for name, wider, count in (
        ("on the best stretch", 0.0, 8),
        ("a little wider", 0.04, 12),
        ("wider still", 0.08, 16),
    ):
        low, high = max(best[0] - wider, g.hair[0]), min(best[1] + wider, g.hair[1])
        high = min(high, low + 1.6 * _LEAST_HAIR * count)
        low, high = (low, high) if down else (high, low)
        notes = tones([_pitch(g)] * count, SIXTEENTH, Mark.DOT)
        part = line("The run", [*notes, rest(4 * EIGHTH)] * 2, a_bow=count, tempo=15 * rate)
        locks = tuple(
            Lock(i, kind="running-staccato", direction=way(down), start=low, end=high) for i in firsts_of(part)
        )
        found.append(Rung(f"{name}, {count} notes", Work(part, locks=locks)))
    return found


def growing_groups(g: Ground) -> list[Rung]:
    """More and more notes a bow over a scale."""
    kind = g.one_of(("legato", "portato", "staccato"))
    notes = scale(g.open(0), g.key, 13, g.open(g.strings - 1) + 7)
    rate = {"legato": 4.0, "portato": 3.0, "staccato": 4.0}[kind]
    found = []
    for count in GROUPS:
        played = (notes * count)[: max(2 * count, 12)]
        played = played[: len(played) - len(played) % count]
        found.append(paced(f"{count} notes a bow", played, count, rate, kind))
    return found


def equal_ways(g: Ground) -> list[Rung]:
    """Both directions alike: each note twice, in turn, and begun with the other bow."""
    notes = list(g.pitches[:8]) if g.ask.stage >= S.PATTERN and g.pitches else scale(g.open(g.pair[0]), g.key, 5)
    down = begins_down(g)
    rate = min(g.rate, 4.0)
    return [
        paced("each note twice", [p for p in notes for _ in range(2)], 1, rate, down=down),
        paced("in turn", notes, 1, rate, down=down),
        paced("begun with the other bow", notes, 1, rate, down=not down),
    ]


ROWS = {
    "one-bow-staccato": FamilyRow(
        Varies.COUNT, (S.OPEN, S.PITCH), one_bow_staccato, TWO_WAYS, Strain.HEAVY, still=(STILL_LANE,), passes=EVENNESS,
    ),
    "self-running": FamilyRow(
        Varies.HAIR, (S.OPEN, S.PITCH), self_running, TWO_WAYS, Strain.HEAVY, still=(STILL_LANE,),
        passes=Passes(Quantity.TEMPO, 5, "%"), minutes=2,
    ),
    "growing-groups": FamilyRow(
        Varies.COUNT, (S.SCALE,), growing_groups, ("legato", "portato", "staccato"), still=(STILL_LANE, STILL_LEVEL),
        passes=EVENNESS,
    ),
    "both-ways-equal": FamilyRow(
        Varies.DIRECTION, (S.SCALE, S.PATTERN), equal_ways, TWO_WAYS, still=(STILL_LEVEL,),
        passes=Passes(Quantity.START, 2, "dB"),
    ),
}  # fmt: skip
