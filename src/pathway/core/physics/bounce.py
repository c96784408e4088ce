"""How the bow rebounds: rate and height along the hair, and the places they make for the thrown strokes.

SI units. The bow turns about the hold on the spring of its hair, measured on violin bows by Askenfelt & Guettler,
J. Acoust. Soc. Am. 104 (1998); the limits of a comfortable flight are our estimates.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from pathway.core.arrays import FloatArray, Floats
from pathway.core.physics.hair import hair_stiffness
from pathway.core.physics.lever import passive_weight, weight_moment
from pathway.core.rig.bow import Bow
from pathway.errors import OutOfRange, RigError

HAND_LEADS_BELOW = 6.0  # thrown notes slower than this are led by the hand [1/s]
HIGHEST_FLIGHT = 0.015  # more falls apart [m]
LOW_THROW, HIGH_THROW = 0.003, 0.015  # flights of a ricochet [m]
_NEAR, _FAR = 0.03, 0.02  # the fit and the search keep off the ends of the hair [m]
_RATES = (2.0, 60.0)  # of a bow in the hand [1/s]
_WORST_FIT = 0.15  # relative; a worse one is no measurement
_TENSIONS = (10.0, 150.0)  # [N]


@dataclass(frozen=True, slots=True)
class Bounce:
    """A bow over a string, or over many: all but the bow may be arrays that broadcast with the places."""

    bow: Bow
    gravity_share: Floats
    string_stiffness: Floats = math.inf  # of the string under the hair [N/m]
    hair_share: Floats = 1.0  # of the ribbon on the string

    def rate(self, place: Floats) -> Floats:
        """Return f_b(x), the bow's own rate on the string [1/s], at places x [m]."""
        hair = hair_stiffness(place, self.bow) * self.hair_share
        stiffness = 1 / (1 / hair + 1 / self.string_stiffness)
        return np.sqrt(stiffness / self.bow.inertia) * (place + self.bow.pivot) / (2 * math.pi)

    def fall(self, place: Floats) -> Floats:
        """Return g_e, how fast gravity brings the hair back at a place [m/s²]."""
        return self.gravity_share * weight_moment(self.bow, 1.0) * (place + self.bow.pivot) / self.bow.inertia

    def contact_time(self, place: Floats) -> Floats:
        """Return how long one landing lasts [s]: half an oscillation."""
        return 1 / (2 * self.rate(place))

    def contact_share(self, place: Floats, notes_per_second: Floats) -> Floats:
        """Return the share of each note that the hair is on the string [1]; 1 where it never leaves."""
        share: Floats = np.minimum(1.0, self.contact_time(place) * notes_per_second)
        return share

    def height(self, place: Floats, notes_per_second: Floats) -> Floats:
        """Return how high the hair flies between notes [m]; 0 where it has no time to."""
        flight = np.maximum(0.0, 1 / notes_per_second - self.contact_time(place))
        return self.fall(place) * flight**2 / 8

    def landing_weight(self, place: Floats, notes_per_second: Floats) -> Floats:
        """Return the mean force [N] that the bow's own weight makes while the hair is on the string."""
        own = passive_weight(place, self.bow, self.gravity_share)
        weight: Floats = own / self.contact_share(place, notes_per_second)
        return weight

    def dryness(self, place: Floats, notes_per_second: Floats) -> Floats:
        """Return how dry a bouncing note is, 0 brushed to 1 dry: short contact, flat hair, far out; our choice."""
        off = 1 - self.contact_share(place, notes_per_second)
        dry: Floats = off * self.hair_share * np.sqrt(place / self.bow.hair)
        return dry

    def wanted_height(self, notes_per_second: Floats) -> FloatArray:
        """Return the flight of a comfortable spiccato [m]; our estimate."""
        return np.asarray(np.maximum(0.0, 12.0 - notes_per_second) * np.sqrt(self.gravity_share) / 1000)

    def spiccato_place(self, notes_per_second: Floats) -> FloatArray:
        """Return where on the hair a spiccato lies best [m]: by the hand when slow, by its flight when fast."""
        rates = np.asarray(notes_per_second, dtype=np.float64)
        led = self.bow.hair * (0.20 + 0.03 * (rates - 3))
        free = self._place_of(lambda along, x: along.height(x, rates[..., None]), self.wanted_height(rates))
        return np.where(rates < HAND_LEADS_BELOW, led, free)

    def sautille_place(self, notes_per_second: Floats) -> FloatArray:
        """Return where the bow's own rate is that of the notes [m], or the end of the hair nearest to it."""
        return self._place_of(lambda along, x: along.rate(x), np.asarray(notes_per_second))

    def _place_of(self, growing: Callable[["Bounce", FloatArray], Floats], wanted: FloatArray) -> FloatArray:
        """Return where on the hair something that grows towards the tip is what is wanted [m]; shape of both."""
        places = np.linspace(_NEAR, self.bow.hair - _FAR, 240)
        fields = (self.gravity_share, self.string_stiffness, self.hair_share)
        along = Bounce(self.bow, *(np.asarray(value)[..., None] for value in fields))
        values = np.maximum.accumulate(np.asarray(growing(along, places)), axis=-1)
        shape = np.broadcast_shapes(wanted.shape, values.shape[:-1])
        rows = np.broadcast_to(values, (*shape, len(places))).reshape(-1, len(places))
        each = zip(np.broadcast_to(wanted, shape).ravel(), rows, strict=True)
        return np.array([np.interp(one, row, places) for one, row in each]).reshape(shape)

    def ricochet_rates(self, place: Floats) -> tuple[Floats, Floats]:
        """Return the slowest and fastest rate of a ricochet at a place [1/s], for high and low throws."""
        contact, fall = self.contact_time(place), self.fall(place)
        slow, fast = (1 / (contact + np.sqrt(8 * height / fall)) for height in (HIGH_THROW, LOW_THROW))
        return slow, fast


@dataclass(frozen=True, slots=True)
class Calibration:
    """What measured rebound rates say of a bow."""

    bow: Bow  # with tension, and pivot where three places were measured
    residual: float  # root mean square of the relative misses [1]


def calibrated(bow: Bow, measured: Sequence[tuple[float, float]]) -> Calibration:
    """Fit a bow's hair tension, and with three places its pivot, to rates measured while the hair stays on.

    Args:
        bow: weighed and balanced; its moment of inertia is trusted.
        measured: place x [m] and trembling rate [1/s]; two places or more.

    Raises:
        OutOfRange: a place off the hair or a rate no bow has.
        RigError: too few places, or rates that no bow can give together.
    """
    places = np.array([place for place, _ in measured])
    rates = np.array([rate for _, rate in measured])
    for place, rate in measured:
        if not _NEAR <= place <= bow.hair - _FAR:
            raise OutOfRange("the place on the hair", 100 * place, 100 * _NEAR, 100 * (bow.hair - _FAR), "cm")
        if not _RATES[0] <= rate <= _RATES[1]:
            raise OutOfRange("the rebound rate", rate, *_RATES, "a second")
    apart = len({round(place, 2) for place in places.tolist()})
    if apart < 2:
        raise RigError("One place is not enough to calibrate", advice="Measure at two or three marked places.")
    pivots = np.linspace(0.0, 0.10, 201) if apart > 2 else np.array([bow.pivot])
    fits = [_fit(replace(bow, pivot=float(pivot), measured_inertia=bow.inertia), places, rates) for pivot in pivots]
    best = min(fits, key=lambda fit: fit.residual)
    if best.residual > _WORST_FIT or not _TENSIONS[0] <= best.bow.tension <= _TENSIONS[1]:
        raise RigError(
            f"These rates do not belong to one bow: they miss by {100 * best.residual:.0f} %, "
            f"with {best.bow.tension:.0f} N of hair tension",
            advice="The rate must grow from frog to tip. Measure again, letting the hair tremble without leaving.",
        )
    return best


def _fit(bow: Bow, places: FloatArray, rates: FloatArray) -> Calibration:
    """The tension enters each rate as its square root, so it is a mean in logarithms."""
    misses = np.log(rates / np.asarray(Bounce(bow, 1.0).rate(places)))
    mean = float(misses.mean())
    residual = float(np.sqrt(np.mean((misses - mean) ** 2)))
    return Calibration(replace(bow, tension=bow.tension * math.exp(2 * mean)), residual)
