"""Two strings under one bow: where it lies and how its weight is shared. SI units, arrays of shape (V,).

The lead voice comes first: its string decides the place, the share of the weight repairs the other. Over the place d
and the two places q in the force windows this least cost is sought (weights: our choice):

    3 (level_lead − target)² + (level_second − target + 3 dB)² + 20 (q_lead − q*)² + 10 (q_second − max(q* − .1, .3))²

with both weights together within what the bow may press. A voice that is too light to speak costs more than a few dB:
400 (.15 − q)² for each that lies below its core, so that the place moves out, as it does for a single string.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.physics.string import CORE_FROM, ForceWindow, SoundingString, StringRow, force_window, level_db

LED_BELOW = {12, 15, 16}  # semitones: octaves and tenths are tuned, and led, from below
UNDER = 3.0  # that the second voice is wanted below the lead [dB]
LEAD_LEVEL, SECOND_LEVEL, LEAD_PLACE, SECOND_PLACE = 3.0, 1.0, 20.0, 10.0
_TOO_LIGHT = 400.0
UNDER_LEAD, LIGHTEST = 0.1, 0.3  # the second voice lies so much lower in its window, but not lower than this [1]
HEAVIER = 1.6  # both together, over the force of the lead alone [1]
BEYOND_COMFORT = 1.5  # both together, over a comfortable force [1]
LOST, OVERRUN = 6.0, 3.0  # the second so far under the lead, the lead so far under the second [dB]
_POINTS, _ROUNDS, _ZOOM = 17, 6, 4.0  # of the search: on each axis, how often, how much closer each time


class Leading(StrEnum):
    """Which voice of a double stop or chord leads."""

    TOP = "top"
    MIDDLE = "middle"
    BOTTOM = "bottom"

    def of(self, count: int) -> int:
        """Return which of some voices it is, counted from the top; the middle of two is the lower one."""
        return {Leading.TOP: 0, Leading.MIDDLE: count // 2, Leading.BOTTOM: count - 1}[self]


def usual_lead(pitches: Sequence[int]) -> Leading:
    """Return which voice of some pitches leads where nobody says: the top one; of octaves and tenths the lower."""
    high, *low = pitches
    return Leading.BOTTOM if len(low) == 1 and high - low[0] in LED_BELOW else Leading.TOP


@dataclass(frozen=True)
class DoubleStops:
    """What is asked of V double stops."""

    leads: Sequence[SoundingString]
    seconds: Sequence[SoundingString]
    speed: FloatArray  # [m/s]
    plain_speed: FloatArray  # without the attack of the stroke type [m/s]
    target: FloatArray  # level of the lead [dB]
    place: FloatArray  # q*, wanted of the lead in its window [1]
    most: FloatArray  # both forces together [N]
    nearest: FloatArray  # d, bridge to hair [m]
    furthest: FloatArray


@dataclass(frozen=True)
class Shared:
    """What becomes of them; the lead is column 0 of the arrays of shape (V, 2)."""

    contact: FloatArray  # d [m], shape (V,)
    force: FloatArray  # [N]
    window: ForceWindow
    place: FloatArray  # q
    level_db: FloatArray
    cost: FloatArray  # shape (V,)

    @property
    def share(self) -> FloatArray:
        """Return the lead's part of the weight; shape (V,)."""
        shares: FloatArray = self.force[:, 0] / self.force.sum(axis=1)
        return shares


def share_weight(stops: DoubleStops, drive_mf: float) -> Shared:
    """Return place and forces of double stops: a search over place and share that closes in on the least cost.

    Args:
        stops: V of them.
        drive_mf: D_mf of the instrument [m/s].
    """
    both = _Both(stops, drive_mf)
    low = np.stack([np.log(stops.nearest), np.zeros(len(stops.speed))])
    high = np.stack([np.log(np.maximum(stops.furthest, stops.nearest)), np.ones(len(stops.speed))])
    middle, half = (low + high) / 2, (high - low) / 2
    steps = np.linspace(-1, 1, _POINTS)
    for _ in range(_ROUNDS):
        place = np.clip(middle[0][:, None] + half[0][:, None] * steps, low[0][:, None], high[0][:, None])
        share = np.clip(middle[1][:, None] + half[1][:, None] * steps, 1e-3, 1 - 1e-3)
        cost = both.at(place[:, :, None], share[:, None, :]).cost
        i, j = np.unravel_index(cost.reshape(len(cost), -1).argmin(axis=1), cost.shape[1:])
        rows = np.arange(len(cost))
        middle = np.stack([place[rows, i], share[rows, j]])
        half = half / _ZOOM
    found = both.at(middle[0], middle[1])
    return Shared(np.exp(middle[0]), found.force, found.window, found.place, found.level, found.cost)


def share_at(stops: DoubleStops, drive_mf: float, contact: FloatArray, share: FloatArray) -> Shared:
    """Return what a chosen place [m] and share of the lead make of double stops; shapes (V,)."""
    found = _Both(stops, drive_mf).at(np.log(contact), share, whole=True)
    return Shared(np.asarray(contact, float), found.force, found.window, found.place, found.level, found.cost)


def place_for_second(stops: DoubleStops, drive_mf: float) -> FloatArray:
    """Return the d [m] at which the second voice would have the level it is wanted at; shape (V,)."""
    reach = np.array([string.length * string.heaviness for string in stops.seconds])
    found: FloatArray = stops.plain_speed * reach / (drive_mf * 10 ** ((stops.target - UNDER) / 20))
    return found


@dataclass(frozen=True)
class _At:
    force: FloatArray
    window: ForceWindow
    place: FloatArray
    level: FloatArray
    cost: FloatArray


class _Both:
    """The two strings of every double stop, ready to be tried at many places and shares at once."""

    def __init__(self, stops: DoubleStops, drive_mf: float) -> None:
        self.stops, self.drive_mf = stops, drive_mf
        self.strings = StringRow.of([s for pair in zip(stops.leads, stops.seconds, strict=True) for s in pair])
        self.wanted = np.stack([stops.place, np.maximum(stops.place - UNDER_LEAD, LIGHTEST)], axis=-1)
        self.target = np.stack([stops.target, stops.target - UNDER], axis=-1)

    def at(self, log_contact: FloatArray, share: FloatArray, *, whole: bool = False) -> _At:
        """Return forces, places, levels and cost; arrays broadcast to (V, …), the pair is the last axis.

        Args:
            log_contact: ln d.
            share: of the weight for the lead.
            whole: both forces together are what the bow may press, even where a voice wants less.
        """
        deep = max(log_contact.ndim, share.ndim) - 1

        def spread(values: FloatArray, pair: bool = True) -> FloatArray:
            return values.reshape(len(values), *(1,) * deep, 2) if pair else values.reshape(-1, *(1,) * deep, 1)

        strings = self.strings.shaped(lambda values: spread(values.reshape(-1, 2)))
        beta = np.minimum(np.exp(log_contact)[..., None] / strings.length, 0.49)
        speed = spread(self.stops.speed, pair=False)
        window = force_window(speed, beta, strings)
        given = spread(self.stops.most, pair=False) * np.stack(np.broadcast_arrays(share, 1 - share), axis=-1)
        wanted, target = spread(self.wanted), spread(self.target)
        force = given if whole else np.minimum(given, window.force(wanted))
        place = window.place(force)
        plain = spread(self.stops.plain_speed, pair=False)
        level = level_db(plain / beta * strings.heaviness, self.drive_mf)
        weights = np.array([LEAD_LEVEL, SECOND_LEVEL]), np.array([LEAD_PLACE, SECOND_PLACE])
        light = np.maximum(0.0, CORE_FROM - place)
        terms = weights[0] * (level - target) ** 2 + weights[1] * (place - wanted) ** 2 + _TOO_LIGHT * light**2
        cost = terms.sum(axis=-1)
        return _At(force, window, place, level, cost)
