"""Drills of starts and ends: pulsed, loaded and thrown strokes, stops and silences."""

from dataclasses import replace
from itertools import pairwise

from pathway.core.planning.wishes import Lock, Passage, Settings
from pathway.core.practice.drill import Quantity, Rung, Strain, Varies, Work
from pathway.core.practice.families.playing import firsts_of, ids_of, in_type, kinds, paced, spans, way
from pathway.core.practice.ground import Ground
from pathway.core.practice.ladder import rates_to
from pathway.core.practice.material import EIGHTH, QUARTER, DrillTone, line, rest, scale, tones
from pathway.core.practice.row import EVENNESS, STILL_LANE, STILL_LEVEL, TWO_WAYS, FamilyRow, Passes, S
from pathway.core.practice.row import begins as begins_down
from pathway.core.technique.endings import Exit
from pathway.core.technique.stroke_types import STROKE_TYPES

GAPS_MS = (200, 100, 50, 0)  # between a long note and the short one after it
BOW_SHARES = (0.5, 1.0)  # that one throw takes
STARTS = Passes(Quantity.START, 2, "dB")


def _notes(g: Ground, count: int) -> list[int]:
    """Return so many notes as the stage has them."""
    if g.ask.stage <= S.OPEN:
        return [g.open(g.string)] * count
    if g.ask.stage is S.PITCH:
        return [g.pitch] * count
    up = scale(g.open(g.pair[0]), g.key, 5)
    return (up * count)[:count]


def pulse_release(g: Ground) -> list[Rung]:
    """A pulse that is let go at once."""
    most = STROKE_TYPES["porte"].most_per_second or 5
    return [
        paced(f"{rate:g} a second", _notes(g, 8), 1, rate, "porte", down=begins_down(g)) for rate in rates_to(most, 1.0)
    ]


def load_and_test(g: Ground) -> list[Rung]:
    """Weight at rest before the start, then the start itself."""
    played = [tone for pitch in _notes(g, 8) for tone in (*tones([pitch]), rest())]
    found = []
    for rate in (0.5, 0.75, 1.0, 1.5):
        part = line("Load, then start", played, tempo=120 * rate)
        found.append(Rung(f"{rate:g} starts a second", Work(part, locks=in_type(part, "martele", down=begins_down(g)))))
    return found


def noise_and_note(g: Ground) -> list[Rung]:
    """A loaded start and a released stroke in turn, in three parts of the bow."""
    found = []
    for name, (low, high), rate in (
        ("in the lower half", (0.15, 0.40), 1.0),
        ("in the middle", (0.40, 0.60), 1.0),
        ("in the upper half", (0.65, 0.90), 1.0),
        ("in the middle, twice as fast", (0.40, 0.60), 2.0),
    ):
        part = line("Noise beside note", tones(_notes(g, 8)), tempo=60 * rate)
        near, far = (low, high) if begins_down(g) else (high, low)
        locks = spans(g, part, [(near, far), (far, near)] * 4)
        caught = kinds(locks[::2], "soft-martele"), kinds(locks[1::2], "porte")
        found.append(Rung(name, Work(part, locks=tuple(lock for pair in zip(*caught, strict=True) for lock in pair))))
    return found


def hard_to_soft(g: Ground) -> list[Rung]:
    """The caught start in full, half of it, a trace."""
    chain = (("the full catch", "martele"), ("half of it", "soft-martele"), ("a trace", "short-detache"))
    return [paced(name, _notes(g, 8), 1, 2.0, kind, down=begins_down(g)) for name, kind in chain]


def one_throw(g: Ground) -> list[Rung]:
    """A single impulse takes half of the hair, then all of it."""
    low = 0.0 if begins_down(g) else 1.0
    found = []
    for share in BOW_SHARES:
        for beats in (3, 2):
            far = low + share * (1 - 2 * low)
            played = [tone for pitch in _notes(g, 8) for tone in (*tones([pitch]), rest(beats * QUARTER - QUARTER))]
            part = line("One throw", played, tempo=72, meter=(beats, 4))
            locks = kinds(spans(g, part, [(low, far), (far, low)] * 4), "lance")
            told = "half of the hair" if share < 1 else "all of the hair"
            found.append(Rung(f"{told}, every {beats} beats", Work(part, locks=locks)))
    return found


def short_after_long(g: Ground) -> list[Rung]:
    """A stop before the short note, shorter and shorter; the short one as full as the long one."""
    own = g.ask.stage >= S.BARS
    found = []
    for gap in GAPS_MS:
        work = g.bars() if own else _dotted(g)
        exits = Exit.STOPPED if gap >= 100 else None if gap else Exit.JOINED
        locks = {lock.note: lock for lock in work.locks}
        firsts = firsts_of(work.part)
        lengths = {event.id: event.duration for event in work.part.events}
        for id_, after in pairwise(firsts):
            if lengths[id_] > lengths[after] and exits is not None:
                locks[id_] = replace(locks.get(id_, Lock(id_)), exit=exits)
        name = f"{gap} ms before the short note" if gap else "without a stop"
        share = gap / 1000 * work.quarters_per_minute / 60 / 1.5
        settings = work.settings
        if gap and not settings.passages:
            settings = replace(settings, passages=(Passage(firsts[0], firsts[-1], gap=min(share, 0.5)),))
        found.append(Rung(name, Work(work.part, settings, tuple(locks.values()), None, work.bars)))
    return found


def _dotted(g: Ground) -> Work:
    """Return long and short notes in turn."""
    down = g.one_of(TWO_WAYS) == "down"
    played = []
    for pitch in _notes(g, 8):
        played += [DrillTone((pitch,), 3 * EIGHTH), DrillTone((pitch,), EIGHTH)]
    part = line("Short after long", played, tempo=60, level_db=g.level_db)
    return Work(part, locks=(Lock(ids_of(part)[0], direction=way(down)),))


def travelling_starts(g: Ground) -> list[Rung]:
    """Short loaded starts that travel along the hair."""
    outwards = g.one_of(("to the tip", "to the frog")) == "to the tip"
    low, high = STROKE_TYPES["colle"].zone or (0.05, 0.4)
    found = []
    for name, turns in (("down only", (1,)), ("up only", (-1,)), ("in turn", (1, -1))):
        played = [tone for pitch in _notes(g, 8) for tone in (*tones([pitch], EIGHTH), rest(EIGHTH))]
        part = line("Starts along the hair", played, tempo=60)
        locks = []
        for n, id_ in enumerate(ids_of(part)):
            share = n / 7 if outwards else 1 - n / 7
            middle, half = g.rig.bow.hair * (low + share * (high - low)), 0.015
            sign = turns[n % len(turns)]
            start, end = middle - sign * half, middle + sign * half
            edge_low, edge_high = g.hair
            start, end = min(max(start, edge_low), edge_high), min(max(end, edge_low), edge_high)
            locks.append(Lock(id_, direction=way(sign > 0), start=start, end=end, kind="colle"))
        found.append(Rung(name, Work(part, locks=tuple(locks))))
    return found


def silence_between(g: Ground) -> list[Rung]:
    """Gapped strokes: each begins as full as the one before, and the silence is as long as asked."""
    found = []
    for name, places in (
        ("in the middle", (0.4, 0.6)), ("in the upper half", (0.6, 0.85)), ("in the lower half", (0.15, 0.4)),
    ):  # fmt: skip
        part = line("Silence between", tones(_notes(g, 8)), tempo=72, level_db=g.level_db)
        low, high = places if begins_down(g) else places[::-1]
        locks = kinds(spans(g, part, [(low, high), (high, low)] * 4), "short-detache")
        found.append(Rung(name, Work(part, locks=locks)))
    return found


def finger_before_bow(g: Ground) -> list[Rung]:
    """Stopped strokes; the finger is placed in the stop."""
    notes = list(g.pitches[:8]) if g.ask.stage >= S.PATTERN and g.pitches else scale(g.open(g.pair[0]), g.key, 5)
    found = []
    for lead_ms in (300, 200, 120, 60):
        rate = 1.0 if lead_ms > 150 else 2.0
        part = line("Finger before bow", tones(notes), tempo=60 * rate)
        ids = ids_of(part)
        passage = Passage(ids[0], ids[-1], gap=min(lead_ms / 1000 * rate, 0.5))
        locks = tuple(Lock(i, exit=Exit.STOPPED) for i in ids[:-1])
        found.append(Rung(f"{lead_ms} ms ahead", Work(part, Settings(passages=(passage,)), locks)))
    return found


_STAGES = (S.OPEN, S.PITCH, S.SCALE)
_STARTS = (STILL_LANE,)
ROWS = {
    "pulse-release": FamilyRow(
        Varies.WEIGHT, _STAGES, pulse_release, TWO_WAYS, still=_STARTS, passes=Passes(Quantity.LEVEL, 150, "ms"),
    ),
    "load-and-test": FamilyRow(
        Varies.WEIGHT, (S.SILENT, *_STAGES), load_and_test, TWO_WAYS, Strain.HEAVY, still=_STARTS, passes=STARTS,
    ),
    "noise-and-note": FamilyRow(
        Varies.WEIGHT, _STAGES, noise_and_note, TWO_WAYS, Strain.HEAVY, still=_STARTS,
        passes=Passes(Quantity.START, 40, "ms"),
    ),
    "hard-to-soft": FamilyRow(Varies.TYPE, _STAGES, hard_to_soft, TWO_WAYS, Strain.HEAVY, still=_STARTS),
    "one-throw": FamilyRow(Varies.HAIR, _STAGES, one_throw, TWO_WAYS, Strain.HEAVY, still=_STARTS),
    "short-after-long": FamilyRow(
        Varies.GAP, (*_STAGES, S.BARS), short_after_long, TWO_WAYS, passes=Passes(Quantity.LEVEL, 1, "dB"),
    ),
    "travelling-starts": FamilyRow(
        Varies.PART, _STAGES, travelling_starts, ("to the tip", "to the frog"), Strain.HEAVY,
        still=_STARTS, passes=STARTS,
    ),
    "silence-between": FamilyRow(
        Varies.GAP, _STAGES, silence_between, TWO_WAYS, still=(STILL_LANE, STILL_LEVEL), passes=EVENNESS,
    ),
    "finger-before-bow": FamilyRow(Varies.GAP, (S.SCALE, S.PATTERN), finger_before_bow, still=_STARTS, passes=STARTS),
}  # fmt: skip
