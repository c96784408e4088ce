"""What the bounce page shows: taps at marked places, the bow they fit, and how far it is from typical."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.physics.bounce import Bounce, Calibration, calibrated
from pathway.core.physics.tapping import Tapped, tapped
from pathway.core.rig.bow import Bow
from pathway.errors import PathwayError
from pathway.store import KnownRig
from pathway.web.rigs.pictures import rebound_picture

_SHARES = (0.15, 0.35, 0.55)  # of the hair at which to mark and tap
LOOSER, TURNS_FURTHER = 0.85, 0.012  # the simulated bow against the typical one [1, m]


class Taps(BaseModel):
    """Taps at one place."""

    model_config = ConfigDict(frozen=True)

    place: Annotated[float, Field(ge=1, le=90)]  # cm from the ferrule
    each: Annotated[int, Field(ge=1, le=8)] = 1  # rebounds to a tap
    times: Annotated[list[float], Field(max_length=200)] = []  # s


@dataclass(frozen=True, slots=True)
class MeasuredBounce:
    """What was tapped at one place."""

    place: float  # cm
    tapped: Tapped
    typical: float  # a second


def hidden_bow(bow: Bow) -> Bow:
    """Return the bow that taps by itself: looser, and held a little further back."""
    return replace(bow, tension=LOOSER * bow.tension, pivot=bow.pivot + TURNS_FURTHER, measured_inertia=bow.inertia)


class BounceView:
    """The bounce of one bow."""

    def __init__(self, known: KnownRig, taps: Sequence[Taps], say: Speech = PLAIN) -> None:
        self.known, self.taps, self.say = known, taps, say
        self.bow = known.rig.bow

    @property
    def places(self) -> list[int]:
        """Return the places to mark on the hair [cm]."""
        return [round(100 * share * self.bow.hair) for share in _SHARES]

    @cached_property
    def measured(self) -> list[MeasuredBounce]:
        """Return the rates with their scatter.

        Raises:
            RigError: too few taps, or taps that keep no time.
        """
        typical = Bounce(self.bow, 1.0)
        return [
            MeasuredBounce(row.place, tapped(row.times, row.each), float(typical.rate(row.place / 100)))
            for row in self.taps
        ]

    @cached_property
    def fit(self) -> Calibration:
        """Return the bow that the rates fit.

        Raises:
            RigError: too few places, or rates that no bow gives.
            OutOfRange: a place off the hair.
        """
        return calibrated(self.bow, [(row.place / 100, row.tapped.rate) for row in self.measured])

    @cached_property
    def trouble(self) -> str:
        """Return why there is no fit, in words; empty where there is one."""
        try:
            _ = self.fit
        except PathwayError as error:
            return error.text
        return ""

    @property
    def words(self) -> list[str]:
        """Return what the fit says."""
        bow, miss = self.fit.bow, 100 * self.fit.residual
        change = 100 * (bow.tension / self.bow.tension - 1)
        found = [
            f"Hair tension {bow.tension:.0f} N, {abs(change):.0f} % {'tighter' if change > 0 else 'looser'} than set."
        ]
        if bow.pivot != self.bow.pivot:
            found.append(f"The hold turns {self.say.length(bow.pivot, 1)} behind the ferrule.")
        found.append(f"The curve misses your taps by {miss:.1f} % in the mean.")
        return found

    @property
    def picture(self) -> str:
        """Return the picture of rates along the hair."""
        places = np.linspace(0.04, self.bow.hair - 0.05, 40)

        def curve(bow: Bow) -> list[tuple[float, float]]:
            rates = np.asarray(Bounce(bow, 1.0).rate(places))
            return [(100 * float(x), float(r)) for x, r in zip(places, rates, strict=True)]

        fitted = curve(self.fit.bow) if self.taps and not self.trouble else []
        dots = [(row.place, row.tapped.rate) for row in self.measured] if self.taps else []
        return rebound_picture(curve(self.bow), fitted, dots)
