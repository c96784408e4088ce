"""Chords of three and four strings: in overlapping pairs, together, one after the other, or back to a lead below.

A flat bow touches two strings, three with weight; so a chord has pieces in time, and each piece its share of the hair.
Times and speeds are our estimates. SI units, angles in radians.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from pathway.core.physics.geometry import crossing_angle, hand_travel
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import Instrument, Rig, frequency
from pathway.core.says import CM, DEG, S, Says

_PERIODS, _LEAST_LOW = 10.0, 0.035  # of the lowest note, and at least so long [s]: the first pair has to speak
_LEAST_TURN, _MOST_TURN, _TURN_SPEED = 0.030, 0.12, 1.2  # of the turn: time [s]; speed of the hand in it [m/s]
FASTER = 1.25  # speed at the turn, over that of the chord [1]
MOST_BEFORE = 0.7  # of a short chord that its first pieces may take [1]
LEAST_EACH = 0.060  # of one string of an arpeggiated chord [s]
HELD_ABOVE = 0.25  # of a chord with its lead below, for the high pair [1]
PRESSED_PLACE = 0.17  # β at which three strings are pressed together [1]
REST = 0.040  # the hair lies still before a chord that follows a retake [s]
FROM_FROG, FROM_TIP = (0.03, 0.08), 0.04  # where down-bow chords begin, and within what of the tip up-bow ones [m]
SOFTER_IN, MOST_IN = 0.01, 0.12  # further in by this for each dB under mezzo-forte, at most this [m]


class Form(StrEnum):
    """How a chord is bowed."""

    PAIRS = "pairs"
    TOGETHER = "together"  # three strings under one pressed bow
    ARPEGGIO = "arpeggio"
    BELOW = "lead below"  # up and back to the low pair


@dataclass(frozen=True, slots=True)
class ChordPiece:
    """Strings that sound together for a while."""

    strings: tuple[int, ...]  # 0 is the lowest
    time: Annotated[float, Says(S)]  # [s]
    hair: Annotated[float, Says(CM)]  # [m]
    turn: bool = False  # on the way from pair to pair, lighter and faster


@dataclass(frozen=True, slots=True)
class Chord:
    """How one chord is bowed."""

    form: Form
    pieces: tuple[ChordPiece, ...]
    arm_level: Annotated[float, Says(DEG)]  # of the last pair; the hand makes the way before
    travel: Annotated[float, Says(CM, key="turn_travel_cm")]  # of the hand at the turn [m]
    before_beat: Annotated[float, Says(S)]  # the low strings begin so much before the beat [s]

    @property
    def pivot(self) -> tuple[int, ...]:
        """Return the strings over which the bow turns; empty where it does not."""
        return next((piece.strings for piece in self.pieces if piece.turn), ())


def bow_chord(
    strings: Sequence[int],
    pitches: Sequence[int],
    length: float,
    time: float,
    place: float,
    form: Form,
    rig: Rig,
    *,
    before_beat: bool = False,
) -> Chord:
    """Return the pieces of a chord; their hair adds up to its length.

    Args:
        strings: three or more neighbours, from the lowest.
        pitches: on them.
        length: of the chord on the hair [m].
        time: for which it sounds [s].
        place: on the hair where it begins [m].
        form: how it is bowed; three together is played in pairs where the rig cannot.
        rig: instrument, bow and hand.
        before_beat: the low strings come before the beat.
    """  # fmt: skip
    low, high = tuple(strings[:2]), tuple(strings[-2:])
    travel = float(hand_travel(crossing_angle(rig.instrument, strings[0], strings[-2]), place, rig.bow))
    speak = max(_PERIODS / frequency(min(pitches)), _LEAST_LOW)
    turn = min(max(_LEAST_TURN, travel / _TURN_SPEED), _MOST_TURN)
    if form is Form.TOGETHER and can_press_three(strings, rig):
        parts = [(tuple(strings), time, 1.0)]
        speak = turn = travel = 0.0
    elif form is Form.ARPEGGIO:
        each = min(max(speak, LEAST_EACH), MOST_BEFORE * time / (len(strings) - 1))
        parts = [((string,), each, 1.0) for string in strings[:-1]]
        parts.append(((strings[-1],), time - each * (len(strings) - 1), 1.0))
        speak, turn = each * (len(strings) - 1), 0.0
    else:
        over = tuple(s for s in strings if s not in (strings[0], strings[-1]))
        back = form is Form.BELOW
        above = HELD_ABOVE * time * back
        first = speak + turn * (1 + back) + above
        fit = min(1.0, MOST_BEFORE * time / first)
        speak, turn, rest = fit * speak, fit * turn, time - fit * first
        parts = [(low, speak, 1.0), (over, turn, FASTER)]
        parts += [(high, fit * above, 1.0), (over, turn, FASTER), (low, rest, 1.0)] if back else [(high, rest, 1.0)]
    whole = sum(seconds * speed for _, seconds, speed in parts)
    pieces = tuple(ChordPiece(who, t, length * t * speed / whole, speed > 1) for who, t, speed in parts)
    last = low if form is Form.BELOW else high if form is not Form.TOGETHER or turn else tuple(strings)
    return Chord(form, pieces, _level(rig, last), travel, speak + turn if before_beat else 0.0)


def _level(rig: Rig, strings: Sequence[int]) -> float:
    return rig.instrument.level(sum(strings) / len(strings))


def can_press_three(strings: Sequence[int], rig: Rig) -> bool:
    """Whether a bow can be pressed on three strings at once with a force a player has."""
    if len(strings) != 3:
        return False
    instrument = rig.instrument
    return force_to_reach(instrument, strings[1], PRESSED_PLACE * instrument.length) < 0.7 * instrument.comfort_force


def force_to_reach(instrument: Instrument, middle: int, contact: float) -> float:
    """Return the force [N] on the middle of three open strings that brings the hair down to its neighbours.

    T r (1 − cos step)(1/d + 1/(ℓ − d)): the string is bent by the height of the bridge's arc between its neighbours.
    What sounds on the outer two comes on top.
    """
    height = instrument.bridge_radius * (1 - math.cos(instrument.angle_step))
    return instrument.strings[middle].tension * height * (1 / contact + 1 / (instrument.length - contact))


def start_band(direction: Direction, level_db: float, rig: Rig) -> tuple[float, float]:
    """Return where on the hair a chord begins [m]: close to the hand, or close to the tip; soft ones further in."""
    low, high = rig.usable
    inwards = min(MOST_IN, SOFTER_IN * max(0.0, -level_db))
    if direction is Direction.DOWN:
        return low + FROM_FROG[0] - 0.01 + inwards, low + FROM_FROG[1] - 0.01 + inwards
    return high - FROM_TIP - inwards, high - inwards
