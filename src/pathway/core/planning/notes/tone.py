"""The tone of every voice under a hair path: place, force, level and colour. SI units, arrays of shape (V,)."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import BoolArray, FloatArray, Floats, IntArray
from pathway.core.physics.lever import greatest_force
from pathway.core.physics.string import (
    AIRY,
    CLOSEST,
    PRESSED,
    ForceWindow,
    SoundingString,
    StringRow,
    brightness_octaves,
    drive_for,
    force_window,
    lane_of,
    lane_step,
    level_db,
)
from pathway.core.planning.note_plan import Tone
from pathway.core.planning.strokes.speeds import preferred_speed
from pathway.core.rig.instrument import Rig

QUIETER_DEEPER = 0.012  # softer notes are played a little higher in the window [1/dB]
SOFT_DEEPER, FOCUSED_HIGHER = 0.12, 0.14  # in the window, for a whole step of colour
PLACE_LIMITS = (0.20, 0.85)
TOO_LIGHT = 0.25  # in the window; below it the place moves outward
START_HEARD = 10.0  # most that the start of a short note adds to its level [dB], our estimate
SEARCH = 16  # halvings when it does
_CORE = Tone.CORE  # looked up once: an enumeration looks its members up by name


@dataclass(frozen=True)
class Voices:
    """What is asked of every voice."""

    strings: StringRow
    indices: IntArray  # which open string each voice is on
    speeds: FloatArray  # [m/s]
    factors: FloatArray  # speed factor of the stroke type
    targets: FloatArray  # [dB]
    hair: FloatArray  # x as it starts, halfway and as it ends [m]; shape (3, V)
    colours: FloatArray  # −1 soft to 1 focused, as it starts, halfway and as it ends; shape (3, V)
    turns: FloatArray  # speed over the mean that colour asks for at these times; shape (3, V)
    ranges: FloatArray  # least and greatest β asked for; shape (V, 2)
    forces: FloatArray  # set by the player; NaN where free [N]
    short: NDArray[np.bool_]  # notes of a staccato in one bow: their start is heard, not their speed


@dataclass(frozen=True)
class ToneOfVoices:
    """What becomes of every voice."""

    beta: FloatArray
    contact: FloatArray  # [m]
    lane: NDArray[np.int64]
    pull: FloatArray  # lanes by which a small speed would draw it further in
    turns: FloatArray  # β as it starts, steady and as it ends, over the steady one; shape (3, V)
    forces: FloatArray  # likewise [N]
    window: ForceWindow  # of the steady tone
    place: FloatArray  # q
    lightest: FloatArray  # q where it is least: the class of a note is told from it
    level_db: FloatArray
    brightness: FloatArray  # [octaves]

    @property
    def force(self) -> FloatArray:
        """Return the steady force [N]."""
        steady: FloatArray = self.forces[1]
        return steady


def tone_of(voices: Voices, rig: Rig) -> ToneOfVoices:
    """Return place, force, level and colour of every voice.

    A type with a speed factor takes its place from the speed without it: the factor is attack, not level. The hand's
    moment bounds the force where the hair is at that time, so that a long loud note is heavier near the hand. Where the
    colour turns inside a note, speed, place and weight turn together: the level stays.
    """
    instrument = rig.instrument
    strings = voices.strings
    drive = drive_for(voices.targets, instrument.drive_mf)
    plain_speed = voices.speeds / voices.factors
    wanted = plain_speed * strings.heaviness / drive
    nearest, furthest = voices.ranges.T
    place = wanted_place(voices.targets, voices.colours, rig)
    cap = np.minimum(force_by_hand(voices, rig), instrument.comfort_force)
    held = np.where(voices.short, _closest_short(strings, drive, rig), CLOSEST)
    pull = np.maximum(0.0, np.log(np.minimum(held, furthest) / np.maximum(wanted, CLOSEST)))
    clipped = np.clip(np.maximum(wanted, held), nearest, furthest)
    beta = _outward(clipped, voices.speeds, cap.min(axis=0), strings, furthest)
    window = force_window(voices.speeds, beta, strings)
    turned = bool(np.any(voices.turns != 1.0))
    turns = np.clip(beta * voices.turns, nearest, np.maximum(furthest, beta)) / beta if turned else voices.turns
    moments = force_window(voices.speeds * voices.turns, beta * turns, strings) if turned else window
    forces = np.where(np.isnan(voices.forces), np.minimum(moments.force(place), cap), voices.forces)
    return ToneOfVoices(
        beta=beta,
        contact=beta * strings.length,
        lane=lane_of(beta, strings.furthest),
        pull=np.where(voices.short, pull / lane_step(strings.furthest), 0.0),
        turns=turns,
        forces=forces,
        window=window,
        place=window.place(forces[1]),
        lightest=moments.place(forces).min(axis=0),
        level_db=_as_heard(voices, level_db(plain_speed / beta * strings.heaviness, instrument.drive_mf)),
        brightness=brightness_octaves(forces[1], window.upper, plain_shares(rig)[voices.indices]),
    )


def _closest_short(strings: StringRow, drive: FloatArray, rig: Rig) -> FloatArray:
    """Return β one lane further in than the same level takes in a sung stroke: closer the short notes do not go."""
    sung = preferred_speed(drive, rig.instrument.drive_mf) * strings.heaviness / drive
    closest: FloatArray = np.minimum(sung, strings.furthest) * np.exp(-lane_step(strings.furthest))
    return closest


def _as_heard(voices: Voices, level: FloatArray) -> FloatArray:
    """Return levels [dB] in which the starts of short notes count: they make up for a small speed, up to a limit."""
    missing = np.maximum(0.0, voices.targets - level)
    heard: FloatArray = level + np.where(voices.short, np.minimum(missing, START_HEARD), 0.0)
    return heard


def wanted_place(targets: FloatArray, colours: FloatArray, rig: Rig) -> FloatArray:
    """Return q*, where in the force window a level [dB] and a colour (−1 soft to 1 focused) are at home."""
    colour = np.where(colours < 0, SOFT_DEEPER, FOCUSED_HIGHER) * colours
    place: FloatArray = np.clip(rig.instrument.plain_place - QUIETER_DEEPER * targets + colour, *PLACE_LIMITS)
    return place


def force_by_hand(voices: Voices, rig: Rig) -> FloatArray:
    """Return the force [N] at which the hand's moment reaches its comfortable limit; shape (3, V)."""
    shares = np.array([string.gravity_share for string in rig.instrument.strings])[voices.indices]
    return np.asarray(greatest_force(voices.hair, rig.bow, shares, rig.torque_limit))


def _outward(
    beta: FloatArray, speeds: FloatArray, cap: FloatArray, strings: StringRow, furthest: FloatArray
) -> FloatArray:
    """Move the place out where the most force a player gives would be too light for it."""
    light = np.flatnonzero(force_window(speeds, beta, strings).place(cap) < TOO_LIGHT)
    if not light.size:
        return beta
    speeds, cap, strings = speeds[light], cap[light], strings.shaped(lambda array: array[light])
    low, high = beta[light], np.maximum(furthest, beta)[light]
    for _ in range(SEARCH):
        middle = (low + high) / 2
        still = force_window(speeds, middle, strings).place(cap) < TOO_LIGHT
        low, high = np.where(still, middle, low), np.where(still, high, middle)
    moved = beta.copy()
    moved[light] = high
    return moved


@lru_cache(maxsize=16)
def plain_shares(rig: Rig) -> FloatArray:
    """F/F_max of a plain mezzo-forte on every open string; brightness is told against it."""
    instrument = rig.instrument
    speed = preferred_speed(instrument.drive_mf, instrument.drive_mf)
    shares = []
    for i in range(len(instrument.strings)):
        string = SoundingString.of(instrument, i, 0)
        beta = np.clip(speed * string.heaviness / instrument.drive_mf, CLOSEST, string.furthest)
        window = force_window(speed, beta, string)
        shares.append(float(window.force(instrument.plain_place) / window.upper))
    return np.array(shares)


def in_core(place: Floats) -> BoolArray:
    """Return which places in the force window sound neither airy nor pressed."""
    return np.asarray((place >= AIRY) & (place <= PRESSED))


def tone_class(place: float) -> Tone:
    """Return what a place in the force window sounds like."""
    if in_core(place):
        return _CORE
    return Tone.AIRY if place < AIRY else Tone.PRESSED
