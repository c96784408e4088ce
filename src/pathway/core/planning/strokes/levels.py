"""How loud the part asks to be at each place: dynamic marks joined by hairpins. Levels in dB.

A hairpin leads to the mark at its end. Where there is none, a short one is a gesture, which comes back to the level
that it left; two opposite ones are one swell; a long one leads to the next mark though that stands later, or changes
the level by a step. Neither passes the ends of the scale.
"""

from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.music import DYNAMIC_LEVELS, Dynamic, Event, Hairpin, Mark, Part

HAIRPIN_STEP, GESTURE = 4.0, 3.0  # what a long hairpin without a goal changes, and a short one [dB], our choice
LONG = 4.0  # from here on a hairpin is more than a gesture [quarters]
_REACH = 1.0  # a mark this soon after a hairpin is its goal; an opposite hairpin its other half [quarters]
_AHEAD = 2.0  # a mark up to so many times its length after a long hairpin is its goal [1]
LATE = 0.9  # where in a note its closing level is taken [1]
ACCENT_PULSE, STRONG_ACCENT = 3.0, 4.5  # pulse on top of the note's level [dB]
_ENDS = min(DYNAMIC_LEVELS.values()), max(DYNAMIC_LEVELS.values())


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
        self.gestures: list[Fraction] = []  # where hairpins begin that were taken so
        self.steps: list[Fraction] = []
        self._onsets: list[float] = []
        self._levels: list[float] = []
        self._ramps: list[_Ramp] = []
        self._accents = {float(d.onset): d for d in part.dynamics if d.accent_db or d.start_db is not None}
        marks = sorted((d for d in part.dynamics if d.changes), key=lambda d: d.onset)
        self._write(marks, _apart(part.hairpins))
        self._ramp_starts = [ramp.start for ramp in self._ramps]

    def _write(self, marks: list[Dynamic], pins: list[Hairpin]) -> None:
        """Go through marks and hairpins in time, each from the level that the one before it left."""
        level, at, swell = 0.0, 0, None
        for i, pin in enumerate(pins):
            while at < len(marks) and marks[at].onset <= pin.start:
                level = self._mark(marks[at], level)
                at += 1
            then = marks[at] if at < len(marks) else None
            after = pins[i + 1] if i + 1 < len(pins) else None
            ramp, left, swell = self._taken(pin, level, swell, then, after)
            self._ramps.append(ramp)
            self._set(ramp.end, left)
            level = left
        for mark in marks[at:]:
            level = self._mark(mark, level)

    def _mark(self, mark: Dynamic, level: float) -> float:
        level = mark.level_db if mark.level_db is not None else _within(level + mark.step_db)
        self._set(float(mark.onset), level)
        return level

    def _set(self, onset: float, level: float) -> None:
        self._onsets.append(onset)
        self._levels.append(level)

    def _taken(
        self, pin: Hairpin, base: float, swell: float | None, then: Dynamic | None, after: Hairpin | None
    ) -> tuple[_Ramp, float, float | None]:
        """Return how a hairpin is taken, the level that it leaves, and where its other half has to lead.

        Args:
            pin: the hairpin.
            base: the level before it.
            swell: to where it leads as the other half of the one before; None where it is none.
            then: the next mark.
            after: the next hairpin.
        """
        start, end, sign = float(pin.start), float(pin.end), 1 if pin.grows else -1
        mark = np.inf if then is None else float(then.onset)
        end = min(end, mark)
        length, to = end - start, _goal(then, base, sign)

        def ramp(goal: float) -> _Ramp:
            return _Ramp(start, end, base, goal)

        if to is not None and mark <= end + _REACH:
            return ramp(to), to, None
        if swell is not None:
            return ramp(swell), swell, None
        opposite = after is not None and after.grows != pin.grows and float(after.start) <= end + _REACH < mark + _REACH
        free = after is None or float(after.start) >= mark
        if to is not None and length >= LONG and free and mark <= end + max(_AHEAD * length, 2 * LONG):
            return ramp(to), to, None
        if length >= LONG:
            goal = _within(base + sign * HAIRPIN_STEP)
            self.steps.append(pin.start)
            return ramp(goal), goal, base if opposite else None
        goal = _within(base + sign * GESTURE)
        if opposite:
            return ramp(goal), goal, base
        self.gestures.append(pin.start)
        return ramp(goal), (goal if mark <= end + _REACH else base), None

    def at(self, onset: float) -> float:
        """Return the level [dB] at a place."""
        return float(self.along(np.array([onset]))[0])

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
        sign = self._accents.get(event.place)
        if sign is not None and sign.start_db is not None:
            return max(sign.start_db - self.at(event.place), 0.0)
        if sign is not None:
            return sign.accent_db
        if not event.marks:
            return 0.0
        if Mark.STRONG_ACCENT in event.marks:
            return STRONG_ACCENT
        return ACCENT_PULSE if Mark.ACCENT in event.marks else 0.0


def _apart(pins: tuple[Hairpin, ...]) -> list[Hairpin]:
    """Return hairpins in order, each ending where the next begins at the latest; a printed one goes before a word's."""
    found: list[Hairpin] = []
    for pin in sorted(pins, key=lambda pin: (pin.start, pin.worded)):
        if found and pin.start == found[-1].start:
            continue
        if found and pin.start < found[-1].end:
            found[-1] = replace(found[-1], end=pin.start)
        found.append(pin)
    return found


def _goal(mark: Dynamic | None, base: float, sign: int) -> float | None:
    """Return the level of a mark, if it lies where a hairpin leads."""
    if mark is None:
        return None
    level = mark.level_db if mark.level_db is not None else _within(base + mark.step_db)
    return level if (level - base) * sign > 0 else None


def _within(level: float) -> float:
    return min(max(level, _ENDS[0]), _ENDS[1])
