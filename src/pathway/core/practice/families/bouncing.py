"""Drills off the string: the bow's own rebound, and what changes it."""

from dataclasses import replace
from math import radians

from pathway.core.planning.wishes import Lock
from pathway.core.practice.drill import Quantity, Rung, Varies, Work
from pathway.core.practice.families.playing import firsts_of, in_type, paced
from pathway.core.practice.ground import Ground
from pathway.core.practice.ladder import rates_to
from pathway.core.practice.material import EIGHTH, line, scale, tones
from pathway.core.practice.row import EVENNESS, STILL_LANE, TWO_WAYS, FamilyRow, Passes, S
from pathway.core.practice.row import begins as begins_down
from pathway.core.technique.stroke_types import STROKE_TYPES, Contact
from pathway.errors import NotHere

BY = ("rate", "tilt", "string", "crossings", "some kept down")
_RATE = 4.0  # notes a second at which the bow springs well on all rigs
_COUNT = 16


def _notes(g: Ground) -> list[int]:
    if g.ask.stage <= S.OPEN:
        return [g.open(g.string)] * _COUNT
    if g.ask.stage is S.PITCH:
        return [g.pitch] * _COUNT
    return (scale(g.open(g.pair[0]), g.key, 5) * _COUNT)[:_COUNT]


def _kind(g: Ground) -> str:
    """Return the type off the string that is asked for; spiccato, where that one is on it."""
    kind = g.kind
    return kind.key if kind.contact is Contact.OFF and not kind.stops_inside else "spiccato"


def find_the_bounce(g: Ground) -> list[Rung]:
    """The rate of the bow by its place: from slow and nearer the frog to quick and further out."""
    kind = STROKE_TYPES[_kind(g)]
    most = min(kind.most_per_second or 8, 8.0)
    return [
        paced(f"{rate:g} a second", _notes(g), 1, rate, kind.key, down=begins_down(g))
        for rate in rates_to(most, max(kind.least_per_second, 2.0))
    ]


def bounce_by(g: Ground) -> list[Rung]:
    """One thing changes the bounce: rate, tilt, string, crossings, or notes that stay down."""
    by, kind = g.one_of(BY), _kind(g)
    rate = max(_RATE, STROKE_TYPES[kind].least_per_second)
    if by == "rate":
        return [paced(f"{r:g} a second", _notes(g), 1, r, kind) for r in (rate, rate * 1.25, rate * 1.5)]
    if by == "tilt":
        return [_tilted(g, kind, rate, degrees) for degrees in (0, 15, 30)]
    if by == "string":
        strings = range(g.strings - 1, -1, -1)
        return [paced(g.rig.instrument.strings[s].letter, [g.open(s)] * _COUNT, 1, rate, kind) for s in strings]
    low, high = (g.open(s) for s in g.pair)
    if by == "crossings":
        turns = ((4, "four on each string"), (2, "two on each"), (1, "one on each"))
        return [paced(name, [(high, low)[n // each % 2] for n in range(_COUNT)], 1, rate, kind) for each, name in turns]
    return [_kept_down(g, kind, rate, every) for every in (4, 3, 2)]


def _tilted(g: Ground, kind: str, rate: float, degrees: int) -> Rung:
    part = line("The bounce by tilt", tones(_notes(g), EIGHTH), tempo=30 * rate)
    locks = tuple(replace(lock, tilt=radians(degrees)) for lock in in_type(part, kind))
    return Rung(f"{degrees}° of tilt" if degrees else "flat hair", Work(part, locks=locks))


def _kept_down(g: Ground, kind: str, rate: float, every: int) -> Rung:
    part = line("Some notes kept down", tones(_notes(g), EIGHTH), tempo=30 * rate)
    locks = [replace(lock, kind="detache") if n % every == 0 else lock for n, lock in enumerate(in_type(part, kind))]
    return Rung(
        f"one of {every} kept on the string",
        Work(part, locks=tuple(locks)),
    )


def bursts(g: Ground) -> list[Rung]:
    """Bursts of a few quick notes, and waits."""
    kind = g.kind if g.ask.kind else STROKE_TYPES["detache"]
    if kind.contact is Contact.THROWN or kind.stops_inside:
        raise NotHere(f"{kind.name} is several notes in one bow already", advice="Take growing groups.")
    rate = min(max(g.rate, 5.0), kind.most_per_second or 8.0)
    rate = max(rate, kind.least_per_second)
    found = []
    for count in (2, 3, 4, 6, 8):
        pitch = g.open(g.string) if g.ask.stage <= S.OPEN else g.pitch
        burst = [
            *tones([pitch] * count, EIGHTH),
            *tones([pitch], EIGHTH * (8 - count % 8) if count < 8 else 4 * EIGHTH),
        ]
        part = line("Bursts and waits", burst * 3, tempo=30 * rate)
        firsts = firsts_of(part)
        locks = [Lock(i, kind=kind.key) for n, i in enumerate(firsts) if n % (count + 1) < count]
        locks[0] = replace(locks[0], direction=in_type(part, kind.key, down=begins_down(g))[0].direction)
        found.append(Rung(f"{count} at once", Work(part, locks=tuple(locks))))
    return found


_ON = (S.OPEN, S.PITCH, S.SCALE)
ROWS = {
    "find-the-bounce": FamilyRow(
        Varies.PART, _ON, find_the_bounce, TWO_WAYS, still=(STILL_LANE,), passes=Passes(Quantity.TEMPO, 5, "%"),
    ),
    "bounce-by": FamilyRow(Varies.TILT, _ON, bounce_by, BY, still=(STILL_LANE,), passes=EVENNESS),
    "bursts": FamilyRow(Varies.COUNT, (S.OPEN, S.PITCH), bursts, TWO_WAYS, still=(STILL_LANE,), passes=EVENNESS),
}  # fmt: skip
