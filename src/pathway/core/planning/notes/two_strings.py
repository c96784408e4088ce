"""One double stop taken apart: what a place and a share of the weight make of it, beside the best of each lead."""

from dataclasses import dataclass, replace

import numpy as np

from pathway.core.physics.geometry import free_band
from pathway.core.physics.string import CLOSEST, SoundingString, StringRow
from pathway.core.planning.notes.tone import Voices, force_by_hand, tone_of, wanted_place
from pathway.core.rig.instrument import Rig
from pathway.core.technique.double_stops import (
    BEYOND_COMFORT,
    HEAVIER,
    DoubleStops,
    Shared,
    place_for_second,
    share_at,
    share_weight,
)


@dataclass(frozen=True)
class TwoStrings:
    """Two neighbouring strings under one bow; the lead comes first."""

    rig: Rig
    strings: tuple[int, int]
    semitones: tuple[int, int]  # above the open strings
    speed: float  # [m/s]
    level_db: float  # wanted of the lead
    hair: float  # where on the hair [m]

    @property
    def sounding(self) -> tuple[SoundingString, SoundingString]:
        """Return both strings as they sound."""
        one, other = (
            SoundingString.of(self.rig.instrument, string, above)
            for string, above in zip(self.strings, self.semitones, strict=True)
        )
        return one, other

    @property
    def turned(self) -> "TwoStrings":
        """Return the same with the other voice leading."""
        return replace(self, strings=self.strings[::-1], semitones=self.semitones[::-1])

    @property
    def stops(self) -> DoubleStops:
        """Return it as it is asked of the weight's sharing."""
        lead, second = self.sounding
        voices = Voices(
            strings=StringRow.of([lead]),
            indices=np.array([self.strings[0]]),
            speeds=np.array([self.speed]),
            factors=np.ones(1),
            targets=np.array([self.level_db]),
            hair=np.full((3, 1), self.hair),
            colours=np.zeros((3, 1)),
            turns=np.ones((3, 1)),
            ranges=np.array([[CLOSEST, lead.furthest]]),
            forces=np.full(1, np.nan),
            short=np.zeros(1, bool),
        )
        alone = float(tone_of(voices, self.rig).force[0])
        comfort = BEYOND_COMFORT * self.rig.instrument.comfort_force
        most = min(HEAVIER * alone, float(force_by_hand(voices, self.rig)[1, 0]), comfort)
        return DoubleStops(
            leads=[lead],
            seconds=[second],
            speed=voices.speeds,
            plain_speed=voices.speeds,
            target=voices.targets,
            place=wanted_place(voices.targets, voices.colours[1], self.rig),
            most=np.array([most]),
            nearest=np.array([CLOSEST * max(lead.length, second.length)]),
            furthest=np.array([min(lead.furthest * lead.length, second.furthest * second.length)]),
        )

    @property
    def best(self) -> Shared:
        """Return the best place and share for this lead."""
        return share_weight(self.stops, self.rig.instrument.drive_mf)

    def at(self, contact: float, share: float) -> Shared:
        """Return what a chosen place [m] and share of the lead make of it."""
        return share_at(self.stops, self.rig.instrument.drive_mf, np.array([contact]), np.array([share]))

    @property
    def second_gains_at(self) -> float:
        """Return the distance from the bridge [m] at which the second voice would be as loud as it is wanted."""
        return float(place_for_second(self.stops, self.rig.instrument.drive_mf)[0])

    @property
    def range(self) -> tuple[float, float]:
        """Return the nearest and furthest place that both strings allow [m]."""
        stops = self.stops
        return float(stops.nearest[0]), float(stops.furthest[0])


def single_band(rig: Rig, string: int, force: float, contact: float) -> float:
    """Return how far the level may stray on one string [rad] at a force [N] and a distance from the bridge [m]."""
    open_string = SoundingString.of(rig.instrument, string, 0)
    return free_band(rig.instrument, open_string.stiffness(contact), force)
