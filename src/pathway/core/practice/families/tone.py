"""Drills of the tone: level, weight, place and tilt along the bow."""

from math import radians

from pathway.core.physics.string import LANES
from pathway.core.planning.plan import Plan
from pathway.core.planning.wishes import Lock, Passage, Profile, Settings
from pathway.core.practice.drill import Quantity, Rung, Strain, Varies, Work
from pathway.core.practice.families.playing import bows, ids_of, paced, spans, tempo_for
from pathway.core.practice.ground import WHOLE_STROKE, Ground
from pathway.core.practice.material import HALF, QUARTER, WHOLE, line, rest, scale, tones
from pathway.core.practice.row import (
    LEVEL,
    STILL_LANE,
    STILL_LEVEL,
    STILL_SPEED,
    TONE_STAGES,
    TWO_WAYS,
    FamilyRow,
    Passes,
    S,
)
from pathway.core.practice.row import begins as begins_down

_SECONDS = (4, 5, 6, 8, 10, 12, 16)  # of a whole bow
_KEPT = 0.25  # share of the hair that is left for the next note
_SHARES = (0.25, 0.5, 0.75, 1.0)  # of the hair in a beat
PULSES = (2, 3, 4, 6)  # a bow
_TURNS = (1, 2, 4, 8)  # of the tilt, a bow
TILTED = radians(25)
LONG_BOW = 4.0  # time of a bow in which something turns [s]
EXTREMES = ("bridge", "board", "fast", "slow", "light", "heavy")
_ORDERS = ("flat first", "tilted first")
_PARTS = {"halves": ((0, 0.5), (0.5, 1), (0, 1)), "thirds": ((0, 1 / 3), (1 / 3, 2 / 3), (2 / 3, 1))}


def _pitch(g: Ground) -> int:
    """Return an open string or a fingered pitch, as the stage has it."""
    return g.open(g.string) if g.ask.stage <= S.OPEN else g.pitch


def long_tones(g: Ground) -> list[Rung]:
    """Whole, half and quarter hair for whole, half and quarter time."""
    low = 0.0 if begins_down(g) else 1.0
    strings = range(g.strings - 1, -1, -1)
    pitches = [g.open(s) for s in strings] if g.ask.stage is S.OPEN else [g.pitch, g.pitch]
    played, places = [], []
    for n, pitch in enumerate(pitches):
        frog = low if n % 2 == 0 else 1 - low
        far, half, quarter = 1 - frog, 0.5, 0.75 if frog == 0 else 0.25
        played += [*tones([pitch], WHOLE), *tones([pitch] * 2, HALF), *tones([pitch] * 4, QUARTER)]
        places += [(frog, far), (far, half), (half, far), *[(far, quarter), (quarter, far)] * 2]
    part = line("Long tones", played, level_db=g.level_db)
    work = Work(part, locks=spans(g, part, places))
    most = max(g.slowest, _SECONDS[1])
    return [Rung(f"{s} s a bow", work.at_tempo(tempo_for(WHOLE, s))) for s in _SECONDS if s <= most]


def slowest_bow(g: Ground) -> list[Rung]:
    """The longest bow, and hair kept for the note after it."""
    down = begins_down(g)
    part = line("The slowest bow", [*tones([_pitch(g)], WHOLE), *tones([_pitch(g)], HALF), rest(HALF)] * 2)
    ids = ids_of(part)
    settings = Settings(passages=tuple(Passage(i, i, keep_back=_KEPT * g.rig.bow.hair) for i in ids[::2]))
    locks = bows(ids[::2], down=down) + bows(ids[1::2], down=down)
    work = Work(part, settings, locks)
    return [Rung(f"{s} s for the long note", work.at_tempo(tempo_for(WHOLE, s))) for s in _SECONDS]


def speed_alone(g: Ground) -> list[Rung]:
    """A growing share of the hair in a beat, then more strokes a beat."""
    frog = 0.0 if begins_down(g) else 1.0
    found = []
    for share in _SHARES:
        part = line("Speed alone", [*tones([_pitch(g)]), rest()] * 8, tempo=60 / WHOLE_STROKE)
        far = frog + share * (1 - 2 * frog)
        locks = spans(g, part, [(frog, far), (far, frog)] * 4)
        found.append(Rung(f"{round(100 * share)} % of the hair in a beat", Work(part, locks=locks)))
    for count in (2, 4):
        part = line("Speed alone", tones([_pitch(g)] * 8 * count, QUARTER / count), tempo=60 / WHOLE_STROKE)
        middle = 0.5 / count
        locks = spans(g, part, [(0.5 - middle / 2, 0.5 + middle / 2), (0.5 + middle / 2, 0.5 - middle / 2)] * 4 * count)
        found.append(Rung(f"{count} strokes a beat", Work(part, locks=locks)))
    return found


def weight_alone(g: Ground) -> list[Rung]:
    """Pulses of weight in an even bow."""
    return [
        paced(f"{n} pulses a bow", [_pitch(g)] * 4 * n, n, n / LONG_BOW, "portato", down=begins_down(g)) for n in PULSES
    ]


def place_alone(g: Ground) -> list[Rung]:
    """A slow glide over the lanes and back."""
    there = list(range(2, LANES)) if g.one_of(("to the bridge", "to the board")) == "to the bridge" else []
    lanes = there or list(range(LANES - 1, 1, -1))
    lanes = lanes + lanes[-2::-1]
    found = []
    for seconds in (8, 6, 4):
        part = line("A glide over the lanes", tones([_pitch(g)] * 2 * len(lanes)), a_bow=len(lanes))
        ids = ids_of(part)
        locks = tuple(
            Lock(i, lane=lanes[n % len(lanes)], kind="legato" if n % len(lanes) == 0 else None)
            for n, i in enumerate(ids)
        )
        found.append(Rung(f"{seconds} s a glide", Work(part, locks=locks).at_tempo(60 * len(lanes) / seconds)))
    return found


def extremes(g: Ground) -> list[Rung]:
    """One of speed, weight and place to its end; the two others follow."""
    to = g.one_of(EXTREMES)
    found = []
    for step in (1, 2, 3):
        level = g.level_db + {"light": -5.0, "heavy": 4.0}.get(to, 0.0) * step
        part = line("One to its end", tones([_pitch(g)] * 8, HALF), level_db=level, tempo=60)
        ids, locks = ids_of(part), tuple[Lock, ...]()
        if to in {"bridge", "board"}:
            lane = 3 + step if to == "bridge" else 4 - step
            locks = tuple(Lock(i, lane=lane) for i in ids)
        elif to in {"fast", "slow"}:
            share = {"fast": (0.6, 0.8, 1.0), "slow": (0.3, 0.2, 0.12)}[to][step - 1]
            locks = spans(g, part, [(0.5 - share / 2, 0.5 + share / 2), (0.5 + share / 2, 0.5 - share / 2)] * 4)
        found.append(Rung(f"step {step} of 3", Work(part, locks=locks)))
    return found


def lane_by_pitch(g: Ground) -> list[Rung]:
    """The same tone up one string: the lane stays a share of what vibrates."""
    low = g.open(g.string)
    ways = (("an octave", (0, 5, 7, 12)), ("an octave and a fifth", (0, 7, 12, 19)), ("two octaves", (0, 12, 19, 24)))
    found = []
    for name, steps in ways:
        up = [low + step for step in steps]
        part = line("The same tone up one string", tones(up + up[-2::-1], WHOLE), tempo=80)
        locks = tuple(Lock(i, string=g.string, lane=3) for i in ids_of(part))
        found.append(Rung(name, Work(part, locks=locks)))
    return found


def tilt_turns(g: Ground) -> list[Rung]:
    """Flat and tilted in turn."""
    flat_first = begins_down(g, _ORDERS)
    found = []
    for turns in _TURNS:
        count = 2 * turns
        part = line("Flat and tilted", tones([_pitch(g)] * 2 * count), a_bow=count)
        locks = tuple(
            Lock(i, tilt=0.0 if (n % 2 == 0) == flat_first else TILTED, kind="legato" if n % count == 0 else None)
            for n, i in enumerate(ids_of(part))
        )
        told = f"{turns} turn{'s' * (turns > 1)} a bow"
        found.append(Rung(told, Work(part, locks=locks).at_tempo(60 * count / LONG_BOW)))
    return found


def parts_of_bow(g: Ground) -> list[Rung]:
    """The same notes in different parts of the bow."""
    parts = _PARTS[g.one_of(tuple(_PARTS))]
    notes = [_pitch(g)] * 4 if g.ask.stage < S.SCALE else scale(g.open(0), g.key, 4)[:4]
    part = line("Parts of the bow", tones(notes * len(parts)))
    locks = spans(g, part, [place for low, high in parts for place in [(low, high), (high, low)] * 2])
    return [Rung(f"{rate:g} a second", Work(part, locks=locks).at_tempo(60 * rate)) for rate in (1.0, 1.5, 2.0)]


def smooth_turns(g: Ground) -> list[Rung]:
    """The turn of the bow: the last of it slower and lighter."""
    notes = [_pitch(g)] * 16 if g.ask.stage < S.SCALE else scale(g.open(0), g.key, 9)[:16]
    part = line("Turns of the bow", tones(notes, HALF))
    locks = [Lock(i, profile=Profile.SPEND) for i in ids_of(part)]
    first = bows(ids_of(part)[:1], down=begins_down(g))[0]
    locks[0] = Lock(first.note, direction=first.direction, profile=Profile.SPEND)
    return [
        Rung(f"{rate:g} bows a second", Work(part, locks=tuple(locks)).at_tempo(120 * rate))
        for rate in (0.4, 0.6, 1.0, 1.5)
    ]


def colours(g: Ground) -> list[Rung]:
    """One line in two lanes, at one level."""
    near_first = begins_down(g, ("near first", "far first"))
    notes = list(g.pitches[:8]) or scale(g.open(g.pair[0]), g.key, 5)
    found = []
    for apart in (1, 2, 3):
        part = line("Two colours", tones(notes * 2, HALF), level_db=g.level_db, tempo=72)
        ids = ids_of(part)
        near = 3 + (apart + 1) // 2
        pair = (near, near - apart) if near_first else (near - apart, near)
        locks = tuple(Lock(i, lane=pair[n // len(notes)]) for n, i in enumerate(ids))
        found.append(Rung(f"{apart} lane{'s' * (apart > 1)} apart", Work(part, locks=locks)))
    return found


def _deepest_dip(plan: Plan) -> float:
    return 1000 * max(stroke.dip for stroke in plan.strokes)


ROWS = {
    "long-tones": FamilyRow(
        Varies.SPEED, TONE_STAGES, long_tones, TWO_WAYS, Strain.LIGHT,
        still=(STILL_SPEED, STILL_LANE, STILL_LEVEL), passes=LEVEL, minutes=5,
    ),
    "slowest-bow": FamilyRow(Varies.SPEED, TONE_STAGES, slowest_bow, TWO_WAYS, passes=LEVEL),
    "speed-alone": FamilyRow(
        Varies.SPEED, TONE_STAGES, speed_alone, TWO_WAYS, still=(STILL_LANE,), passes=Passes(Quantity.SPEED, 10, "%"),
    ),
    "weight-alone": FamilyRow(
        Varies.WEIGHT, TONE_STAGES, weight_alone, TWO_WAYS, still=(STILL_SPEED, STILL_LANE),
        passes=Passes(Quantity.LEVEL, 150, "ms"),
    ),
    "place-alone": FamilyRow(
        Varies.PLACE, TONE_STAGES, place_alone, ("to the bridge", "to the board"), still=(STILL_SPEED,), passes=LEVEL,
    ),
    "extremes": FamilyRow(Varies.PLACE, TONE_STAGES, extremes, EXTREMES, still=(), strict=False),
    "lane-by-pitch": FamilyRow(Varies.PLACE, (S.PITCH,), lane_by_pitch, passes=LEVEL),
    "tilt-turns": FamilyRow(Varies.TILT, TONE_STAGES, tilt_turns, _ORDERS, passes=LEVEL),
    "parts-of-bow": FamilyRow(
        Varies.PART, (S.OPEN, S.PITCH, S.SCALE), parts_of_bow, tuple(_PARTS), still=(STILL_LANE,),
        passes=Passes(Quantity.PARTS, 2, "dB"),
    ),
    "smooth-turns": FamilyRow(
        Varies.SPEED, (S.OPEN, S.PITCH, S.SCALE), smooth_turns, TWO_WAYS,
        passes=Passes(Quantity.LEVEL, _deepest_dip, "ms"),
    ),
    "colours": FamilyRow(
        Varies.COLOUR, (S.SCALE, S.PATTERN), colours, ("near first", "far first"), still=(STILL_LEVEL,),
        passes=Passes(Quantity.LEVEL, 1.5, "dB"),
    ),
}  # fmt: skip
