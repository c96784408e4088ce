"""What the hand draws in the air while the bow goes over the strings and back. SI units, angles in radians."""

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from pathway.core.physics.geometry import HAND_BEHIND_PIVOT
from pathway.core.rig.instrument import Rig

_POINTS = 72


@dataclass(frozen=True, slots=True)
class Step:
    """One note of a figure."""

    string: float  # index; between two strings a half
    time: float  # in any unit


@dataclass(frozen=True, slots=True)
class Figure:
    """What one down-bow and one up-bow play, over and over."""

    down: Sequence[Step]
    up: Sequence[Step]
    way: float  # of a bow along the hair [m]


def alternating(lower: int, notes_a_bow: int, length: float, *, higher_on_down: bool) -> Figure:
    """Return a figure between two neighbouring strings.

    Args:
        lower: one string; the other is the next higher.
        notes_a_bow: 1 for a bow to each note.
        length: of hair a note [m].
        higher_on_down: whether the higher string begins the down-bow.
    """
    steps = [Step(lower + (i % 2 == 0) * higher_on_down + (i % 2) * (not higher_on_down), 1.0) for i in range(12)]
    return Figure(steps[:notes_a_bow], steps[notes_a_bow : 2 * notes_a_bow], length * notes_a_bow)


def hand_loop(figure: Figure, place: float, rig: Rig) -> list[tuple[float, float]]:
    """Return the path of the hand seen from behind: along the stick and across it [m], over one down- and one up-bow.

    The level swings smoothly from string to string; it is that of a note at the note's middle.

    Args:
        figure: what is played.
        place: middle of the bows on the hair [m].
        rig: instrument, bow and hand.
    """
    knots = _knots(figure, rig)
    found = []
    for i in range(_POINTS + 1):
        phase = 2 * i / _POINTS  # 0 to 1 the down-bow, 1 to 2 the up-bow
        along = place - figure.way / 2 * math.cos(math.pi * phase)
        level = _level_at(phase, knots)
        reach = along + rig.bow.pivot + HAND_BEHIND_PIVOT
        found.append((reach * math.cos(level), reach * math.sin(level)))
    return found


def _knots(figure: Figure, rig: Rig) -> list[tuple[float, float]]:
    """Return phase and level of the middle of every note, with one before the first and one after the last."""
    knots = []
    for turn, steps in enumerate((figure.down, figure.up)):
        whole = sum(step.time for step in steps)
        edges = [0.0]
        for step in steps:
            edges.append(edges[-1] + step.time / whole)
        levels = (rig.instrument.level(step.string) for step in steps)
        knots += [(turn + (a + b) / 2, level) for (a, b), level in zip(pairwise(edges), levels, strict=True)]
    (first, level), (last, end) = knots[0], knots[-1]
    return [(last - 2, end), *knots, (first + 2, level)]


def _level_at(phase: float, knots: Sequence[tuple[float, float]]) -> float:
    i = min(max(bisect_right(knots, phase, key=lambda knot: knot[0]), 1), len(knots) - 1)
    (before, old), (after, new) = knots[i - 1], knots[i]
    return old + (new - old) * (1 - math.cos(math.pi * (phase - before) / (after - before))) / 2
