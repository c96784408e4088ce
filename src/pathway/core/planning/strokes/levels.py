"""How loud the part asks to be at each place: dynamic marks joined by hairpins. Levels in dB."""

from bisect import bisect_left, bisect_right
from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.music import Event, Mark, Part

HAIRPIN_STEP = 4.0  # what a hairpin without a goal changes [dB], our choice
_REACH = 1.0  # a mark this soon after a hairpin is its goal [quarters]
_EARLY = 0.25  # or this much before its end [quarters]
LATE = 0.9  # where in a note its closing level is taken [1]
ACCENT_PULSE, STRONG_ACCENT, SUDDEN = 3.0, 4.5, 6.0  # pulse on top of the note's level [dB]


@dataclass(frozen=True, slots=True)
class _Ramp:
    """A hairpin with the levels it joins; places in quarters."""

    start: float
    end: float
    base: float
    goal: float


class LevelCurve:
    """The wanted level over the part, against a plain mezzo-forte; places in quarters from the start."""

    def __init__(self, part: Part) -> None:
        marks = sorted((d for d in part.dynamics if not d.sudden), key=lambda d: d.onset)
        self._onsets = [float(mark.onset) for mark in marks]
        self._levels = [mark.level_db for mark in marks]
        self._sudden = {float(d.onset) for d in part.dynamics if d.sudden}
        self._ramps: list[_Ramp] = []
        self._ramp_starts: list[float] = []
        for pin in sorted(part.hairpins, key=lambda pin: pin.start):
            start, end = float(pin.start), float(pin.end)
            base = self.at(start)
            goal = self._goal(end, base, 1 if pin.grows else -1)
            self._ramps.append(_Ramp(start, end, base, goal))
            self._ramp_starts.append(start)
            i = bisect_left(self._onsets, end)
            if i == len(self._onsets) or self._onsets[i] > end + _REACH:
                self._onsets.insert(i, end)
                self._levels.insert(i, goal)

    def _goal(self, end: float, base: float, sign: int) -> float:
        """The mark a hairpin leads to, if it lies in the hairpin's direction, else one step."""
        first = bisect_left(self._onsets, end - _EARLY)
        last = bisect_right(self._onsets, end + _REACH)
        for level in self._levels[first:last]:
            if (level - base) * sign > 0:
                return level
        return base + sign * HAIRPIN_STEP

    def at(self, onset: float) -> float:
        """Return the level [dB] at a place."""
        r = bisect_right(self._ramp_starts, onset) - 1
        if r >= 0 and onset < self._ramps[r].end:
            ramp = self._ramps[r]
            return ramp.base + (ramp.goal - ramp.base) * (onset - ramp.start) / (ramp.end - ramp.start)
        i = bisect_right(self._onsets, onset) - 1
        return self._levels[i] if i >= 0 else 0.0

    def along(self, onsets: FloatArray) -> FloatArray:
        """Return the levels [dB] at many places."""
        levels = np.array([0.0, *self._levels])[np.searchsorted(self._onsets, onsets, side="right")]
        if self._ramps:
            last = np.searchsorted(self._ramp_starts, onsets, side="right") - 1
            starts, ends, bases, goals = np.array([(r.start, r.end, r.base, r.goal) for r in self._ramps]).T
            on = np.flatnonzero((last >= 0) & (onsets < ends[last]))
            ramp = last[on]
            share = (onsets[on] - starts[ramp]) / (ends[ramp] - starts[ramp])
            levels[on] = bases[ramp] + (goals[ramp] - bases[ramp]) * share
        return levels

    def pulse(self, event: Event) -> float:
        """Return the accent on top of the event's level [dB]; 0 where there is none."""
        if event.place in self._sudden:
            return SUDDEN
        if not event.marks:
            return 0.0
        if Mark.STRONG_ACCENT in event.marks:
            return STRONG_ACCENT
        return ACCENT_PULSE if Mark.ACCENT in event.marks else 0.0
