"""What the hand draws in the air while the bow goes to and fro between two strings. SI units, angles in radians."""

import math
from dataclasses import dataclass

from pathway.core.physics.geometry import HAND_BEHIND_PIVOT
from pathway.core.rig.instrument import Rig

POINTS = 72


@dataclass(frozen=True, slots=True)
class Figure:
    """Alternating between two neighbouring strings."""

    lower: int  # string; the other is the next higher
    notes_a_bow: int  # 1: a bow for each note
    higher_on_down: bool  # the higher string begins a down-bow
    length: float  # of hair a note [m]


def hand_loop(figure: Figure, place: float, rig: Rig) -> list[tuple[float, float]]:
    """Return the path of the hand seen from behind: along the stick and across it [m], over one down- and one up-bow.

    The level follows a smooth swing between the two strings; it is furthest over at the middle of each note.
    """
    instrument = rig.instrument
    one, other = instrument.level(figure.lower), instrument.level(figure.lower + 1)
    begin, then = (other, one) if figure.higher_on_down else (one, other)
    middle, half = (begin + then) / 2, (begin - then) / 2
    way = figure.length * figure.notes_a_bow
    found = []
    for i in range(POINTS + 1):
        phase = 2 * math.pi * i / POINTS  # one down-bow and one up-bow
        along = place - way / 2 * math.cos(phase)
        level = middle + half * math.sin(figure.notes_a_bow * phase)
        reach = along + rig.bow.pivot + HAND_BEHIND_PIVOT
        found.append((reach * math.cos(level), reach * math.sin(level)))
    return found
