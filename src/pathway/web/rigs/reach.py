"""What the page on reach and straightness shows: how far the arm comes, how square the bow has to be."""

import math
from dataclasses import dataclass
from functools import cached_property

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.physics.geometry import square_tolerance
from pathway.core.physics.string import PLAIN_SPEED, SoundingString, plain_place, swing
from pathway.core.rig.arm import Arm, Reach, reach_of
from pathway.core.rig.instrument import frequency
from pathway.store import KnownRig


@dataclass(frozen=True, slots=True)
class Tolerance:
    """How far off square a stroke may be."""

    stroke: str
    length: str
    outer: str  # half a lane in lanes 1 and 2, degrees
    inner: str  # in lanes 5 and 6
    slides: str  # at five degrees


@dataclass(frozen=True, slots=True)
class Swing:
    """How far a string swings to the eye at its middle."""

    string: str
    millimetres: str


class ReachView:
    """Reach and straightness of one rig."""

    def __init__(self, known: KnownRig, arm: Arm, say: Speech = PLAIN) -> None:
        self.known, self.rig, self.arm, self.say = known, known.rig, arm, say

    @cached_property
    def reach(self) -> Reach:
        """Return how far the arm comes.

        Raises:
            OutOfRange: an arm no player has.
        """
        return reach_of(self.rig, self.arm)

    @property
    def words(self) -> list[str]:
        """Return the reach in words."""
        reach, found = self.reach, []
        if reach.square_elbow is None:
            found.append("The elbow stands at a right angle nowhere on the hair.")
        else:
            found.append(f"The elbow makes a right angle at {self.say.length(reach.square_elbow)} from the frog.")
        if reach.skew:
            found.append(
                f"Square to the string the bow ends at {self.say.length(reach.furthest)}. The last of the hair would "
                f"need a slant of {math.degrees(reach.skew):.0f}°."
            )
        else:
            found.append("All of the hair can be played with the bow square to the string.")
        return found

    @property
    def tolerances(self) -> list[Tolerance]:
        """Return how square strokes of several lengths have to be."""
        string = SoundingString.of(self.rig.instrument, 1, 0)
        edges = string.lane_edges() * string.length
        outer, inner = float(edges[1]), float(edges[5])
        hair = self.rig.usable[1] - self.rig.usable[0]
        strokes = (("a short stroke", 0.08), ("a third of the bow", hair / 3), ("the whole bow", hair))
        return [
            Tolerance(
                stroke=name,
                length=str(self.say.length(length)),
                outer=f"{math.degrees(square_tolerance(length, outer, string.lane_step)):.1f}°",
                inner=f"{math.degrees(square_tolerance(length, inner, string.lane_step)):.1f}°",
                slides=str(self.say.length(length * math.tan(math.radians(5)), 1)),
            )
            for name, length in strokes
        ]

    @property
    def swings(self) -> list[Swing]:
        """Return v/(8βf), how far each open string swings to either side at its middle in a plain mezzo-forte."""
        instrument, found = self.rig.instrument, []
        for i, string in enumerate(instrument.strings):
            way = float(swing(PLAIN_SPEED, plain_place(instrument, i), frequency(string.midi)))
            found.append(Swing(string.letter, f"{1000 * way:.1f} mm"))
        return found
