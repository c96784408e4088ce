"""From control curves to the force on the bridge. 0 dB is a plain mezzo-forte, as in the plan."""

from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.physics.string import FRICTION_DROP
from pathway.core.rig.instrument import Instrument
from pathway.core.sound.curves import RATE, Curves, StringCurves
from pathway.core.sound.string_loop import bow_string
from pathway.core.steps import step

SAMPLES = 48_000  # a second
FINER_ABOVE = 130.0  # pitches from which on it is computed twice as finely [Hz]
_ROUNDING = 0.009  # of the corner, in periods
FLAT, FLATTER = -2.6, 15.0  # bowing flattens by so much, and more with the share of the greatest force [cents]
EAR = 75  # controls over which the ear hears a pitch
SEED, APART = 88172645463325252, 7919  # of the first string; from string to string
SLIPS_A_SECOND = 8_000  # that can be told


@dataclass(frozen=True)
class Bowed:
    """What one string gives to the bridge."""

    string: int
    sound: FloatArray  # in parts of a plain mezzo-forte; shape (n,)
    slips: FloatArray  # first, last [s], way [m]; shape (k, 3)
    motion: FloatArray  # velocity of the string under the bow [m/s], `rate` values a second; empty unless watched
    rate: int  # samples a second at which it was computed


def bowed(curves: Curves, instrument: Instrument, *, watched: bool = False) -> tuple[Bowed, ...]:
    """Return what every string sounds like, SAMPLES a second; and how it moves under the bow, where that is watched."""
    found = []
    for one in curves.strings:
        step()
        found.append(_bow(curves, one, instrument, watched))
    return tuple(found)


def _bow(curves: Curves, one: StringCurves, instrument: Instrument, watched: bool) -> Bowed:
    finer = 2 if one.pitch.max() > FINER_ABOVE else 1
    rate = SAMPLES * finer
    hop = rate // RATE
    pitch = one.pitch * 2 ** (flattened(curves.speed, one) / 1200)
    out, slips = np.zeros(len(pitch) * hop), np.zeros((int(curves.seconds * SLIPS_A_SECOND) + 1, 3))
    motion = np.zeros(len(out) if watched else 0)
    count = bow_string(
        np.ascontiguousarray(curves.speed),
        np.ascontiguousarray(one.force),
        np.ascontiguousarray(one.pull),
        np.ascontiguousarray(one.beta),
        np.ascontiguousarray(rate / pitch),
        np.ascontiguousarray(one.nut),
        np.ascontiguousarray(one.listens),
        np.ascontiguousarray(one.hiss),
        hop,
        one.impedance,
        instrument.loss_resistance,
        _ROUNDING,
        SEED + APART * one.string,
        out,
        slips,
        motion,
    )
    sound = half_band(out) if finer == 2 else out
    level = np.sqrt(one.impedance * instrument.impedance_mean) * instrument.drive_mf
    answers = 10 ** (instrument.strings[one.string].answer / 20)
    return Bowed(one.string, answers * sound / level, slips[:count] / rate, motion, rate)


def flattened(speed: FloatArray, one: StringCurves) -> FloatArray:
    """Return by how much the bow will flatten a string [cents], to be asked for in advance; our fit."""
    moving = np.maximum(np.abs(speed), 0.01)
    greatest = 2 * one.impedance / FRICTION_DROP * (0.96 * moving / one.beta + 0.1)
    share = np.where(one.force > 0, one.force / greatest, np.nan)
    index = np.maximum.accumulate(np.where(np.isfinite(share), np.arange(len(share)), 0))
    share = np.nan_to_num(share[index])
    heard = np.convolve(np.pad(share, EAR // 2, mode="edge"), np.ones(EAR) / EAR, "valid")
    return np.where(one.pull > 0, 0.0, FLAT + FLATTER * np.minimum(heard, 1.2)) * (share > 0)


_ODD = 0.5 * np.sinc(np.arange(-31, 32, 2) / 2) * np.kaiser(63, 7.5)[::2]
_ODD *= 0.5 / _ODD.sum()


def half_band(fine: FloatArray) -> FloatArray:
    """Return a sound at half its rate, what would fold back taken out: every other tap of the filter is zero."""
    even, odd = fine[::2], fine[1::2]
    low = np.convolve(odd, _ODD)[len(_ODD) // 2 - 1 :][: len(even)]
    return np.asarray(0.5 * even + low)
