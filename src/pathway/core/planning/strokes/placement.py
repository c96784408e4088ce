"""Where the left hand plays a note, and how the bow goes from one such place to the next."""

from dataclasses import dataclass, replace

import numpy as np

from pathway.core.arrays import BoolArray, Bools, Floats, Ints
from pathway.core.physics.string import SoundingString
from pathway.core.rig.instrument import Rig
from pathway.core.technique.double_stops import Leading

LIFTING = 0.06  # silence in which a bow comes off the string and back [s]


@dataclass(frozen=True, slots=True)
class Placement:
    """Where the left hand plays an event, head by head from the top; heads that fit on no string are left out."""

    pitches: tuple[int, ...]
    strings: tuple[int, ...]
    sounding: tuple[SoundingString, ...]
    position: int = 0  # semitones of the first finger above the open string; 0 where no finger is needed
    fingers: tuple[int | None, ...] = ()  # None where no finger reaches
    leading: int = 0  # which of them leads, from the top

    @property
    def lead(self) -> SoundingString:
        """Return the leading string as it sounds."""
        return self.sounding[self.leading]

    @property
    def lead_string(self) -> int:
        """Return the index of the leading string."""
        return self.strings[self.leading]

    def led(self, wish: Leading) -> "Placement":
        """Return it with another of its voices leading."""
        leading = wish.of(len(self.strings))
        return self if leading == self.leading else replace(self, leading=leading)

    @property
    def beside(self) -> int:
        """Return which of several strings sounds together with the leading one, from the top."""
        return self.leading - 1 if self.leading else 1


def nearest_strings(before: Placement, after: Placement) -> tuple[int, int] | None:
    """Return the strings between which the bow goes, those nearest to each other; None if it stays on one."""
    if len(before.strings) == len(after.strings) == 1:
        return None if before.strings == after.strings else (before.strings[0], after.strings[0])
    old, new = {*before.strings}, {*after.strings}
    if old & new:
        return None
    return min(((a, b) for a in old for b in new), key=lambda ab: abs(ab[0] - ab[1]))


def rolls(rig: Rig, source: Ints, target: Ints, *, slurred: Bools, silence: Floats) -> BoolArray:
    """Whether the bow passes over silent strings without leaving them; one way or many."""
    skips = np.abs(target - source) > 1
    return np.asarray(skips & (slurred | (not rig.lifts_to_cross) | (np.asarray(silence) < LIFTING)))
