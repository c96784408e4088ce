"""The tone of every voice under a hair path: place, force, level and colour. SI units, arrays of shape (V,)."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pathway.core.physics.lever import weight_moment
from pathway.core.physics.string import (
    CLOSEST,
    FloatArray,
    ForceWindow,
    SoundingString,
    brightness_octaves,
    drive_for,
    force_window,
    lane_of,
    level_db,
)
from pathway.core.planning.path_wishes import preferred_speed
from pathway.core.rig.instrument import Rig

QUIETER_DEEPER = 0.012  # softer notes are played a little higher in the window [1/dB]
SOFT_DEEPER, FOCUSED_HIGHER = 0.12, 0.14  # in the window, for a whole step of colour
PLACE_LIMITS = (0.20, 0.85)
TOO_LIGHT = 0.25  # in the window; below it the place moves outward
SEARCH = 24  # halvings when it does


@dataclass(frozen=True)
class Voices:
    """What is asked of every voice."""

    strings: Sequence[SoundingString]
    indices: Sequence[int]  # which open string each voice is on
    speeds: FloatArray  # [m/s]
    factors: FloatArray  # speed factor of the stroke type
    targets: FloatArray  # [dB]
    furthest_hair: FloatArray  # greatest x while it sounds [m]
    colours: FloatArray  # −1 soft to 1 focused
    ranges: FloatArray  # least and greatest β asked for; shape (V, 2)
    betas: FloatArray | None = None  # given places, for the second voices of double stops


@dataclass(frozen=True)
class ToneOfVoices:
    """What becomes of every voice."""

    beta: FloatArray
    contact: FloatArray  # [m]
    lane: NDArray[np.int64]
    force: FloatArray  # [N]
    window: ForceWindow
    place: FloatArray  # q
    level_db: FloatArray
    brightness: FloatArray  # [octaves]


class _Strings:
    """Several sounding strings as one, for the array forms of the physics."""

    def __init__(self, strings: Sequence[SoundingString]) -> None:
        columns = np.array(
            [(s.impedance, s.loss_resistance, s.length, s.heaviness, s.furthest, s.stopped, s.loops) for s in strings]
        ).reshape(-1, 7)
        self.impedance, self.loss_resistance, self.length, self.heaviness, self.furthest = columns.T[:5]
        self.stopped, self.loops = columns.T[5] > 0, columns.T[6]


def tone_of(voices: Voices, rig: Rig) -> ToneOfVoices:
    """Return place, force, level and colour of every voice.

    A type with a speed factor takes its place from the speed without it: the factor is attack, not level.
    """
    instrument = rig.instrument
    strings = _Strings(voices.strings)
    drive = drive_for(voices.targets, instrument.drive_mf)
    plain_speed = voices.speeds / voices.factors
    wanted = plain_speed * strings.heaviness / drive
    nearest, furthest = voices.ranges.T
    beta = np.clip(wanted, nearest, furthest) if voices.betas is None else voices.betas
    colour = np.where(voices.colours < 0, SOFT_DEEPER, FOCUSED_HIGHER) * voices.colours
    place = np.clip(instrument.plain_place - QUIETER_DEEPER * voices.targets + colour, *PLACE_LIMITS)
    cap = _most_force(voices, rig)
    if voices.betas is None:
        beta = _outward(beta, voices.speeds, cap, strings, furthest)
    window = force_window(voices.speeds, beta, strings)
    force = np.minimum(window.force(place), cap)
    return ToneOfVoices(
        beta=beta,
        contact=beta * strings.length,
        lane=lane_of(beta, strings.furthest),
        force=force,
        window=window,
        place=window.place(force),
        level_db=level_db(plain_speed / beta * strings.heaviness, instrument.drive_mf),
        brightness=brightness_octaves(force, window.upper, plain_shares(rig)[np.asarray(voices.indices, int)]),
    )


def _most_force(voices: Voices, rig: Rig) -> FloatArray:
    shares = np.array([rig.instrument.strings[i].gravity_share for i in voices.indices])
    own = weight_moment(rig.bow, 1.0) * shares
    by_hand = (rig.torque_limit + own) / (voices.furthest_hair + rig.bow.pivot)
    return np.minimum(by_hand, rig.instrument.comfort_force)


def _outward(
    beta: FloatArray, speeds: FloatArray, cap: FloatArray, strings: _Strings, furthest: FloatArray
) -> FloatArray:
    """Move the place out where the most force a player gives would be too light for it."""
    light = force_window(speeds, beta, strings).place(cap) < TOO_LIGHT
    if not light.any():
        return beta
    low, high = beta.copy(), np.where(light, np.maximum(furthest, beta), beta)
    for _ in range(SEARCH):
        middle = (low + high) / 2
        still = force_window(speeds, middle, strings).place(cap) < TOO_LIGHT
        low, high = np.where(still, middle, low), np.where(still, high, middle)
    return np.where(light, high, beta)


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
