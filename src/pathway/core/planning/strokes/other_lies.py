"""Where else a few notes could lie: the cheapest way from every place at which the hand can begin."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from pathway.core.planning.strokes.hand import POSITIONS, hand_of, partial_of
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.string_weights import UNREACHED
from pathway.core.planning.strokes.strings import Line, costs_of
from pathway.core.rig.instrument import Instrument
from pathway.core.technique.fingers import OPEN


def other_lies(line: Line, instrument: Instrument, span: slice) -> list[tuple[Placement, ...]]:
    """Return how some notes of a line could lie, the cheapest first, one way for each place to begin.

    Printed fingers and what was set by hand are left out of account; printed strings stay.
    """
    free, hand = line.freed(span), hand_of(instrument)
    table = np.stack([costs_of(hand, kind) for kind in free.kinds])[free.kind]
    opens = [all(head.midi in hand.open for head in free.kinds[kind].heads) for kind in free.kind.tolist()]
    first = opens.index(False) if False in opens else 0
    found: dict[tuple[object, ...], tuple[float, tuple[Placement, ...]]] = {}
    for string, position in zip(*np.nonzero(table[first] < UNREACHED), strict=True):
        costs = table.copy()
        costs[first] = np.inf
        costs[first, string, position] = table[first, string, position]
        way = free.cheapest(costs, hand)
        if way is None:
            continue
        lies = tuple(
            hand.place(free.kinds[kind].heads, int(top), int(POSITIONS[n]))
            for kind, top, n in zip(free.kind, *way, strict=True)
        )
        key = lies[first].lead_string, lies[first].fingers
        paid = free.paid(costs, hand, way)
        if paid < UNREACHED * len(lies) and paid < found.get(key, (np.inf,))[0]:
            found[key] = paid, lies
    return [lies for _, lies in sorted(found.values(), key=lambda way: way[0])]


def with_harmonic(line: Line, instrument: Instrument, span: slice, lies: Sequence[Placement]) -> list[Placement] | None:
    """Return how some notes lie with one of them as a natural harmonic: the fullest, of the longest; None without."""
    free, hand = line.freed(span), hand_of(instrument)
    found = [
        (partial, free.begin[i] - free.end[i], i, string)
        for i, placed in enumerate(lies)
        for string, open_ in enumerate(instrument.strings)
        if len(placed.strings) == placed.lead.loops == 1 and (partial := partial_of(placed.pitches[0] - open_.midi))
    ]
    if not found:
        return None
    _, _, i, string = min(found)
    touched = (replace(free.kinds[free.kind[i]].heads[0], finger=OPEN),)
    return [*lies[:i], hand.place(touched, string, int(POSITIONS[0])), *lies[i + 1 :]]
