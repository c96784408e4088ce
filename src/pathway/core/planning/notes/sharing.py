"""How strokes share their hair among their notes, and how their speed runs inside each. Arrays of shape (N,)."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.segments import Segment
from pathway.core.planning.wishes import Profile

ROLLED = 0.3  # of a stroke's hair, at most, that rolling over strings gives or takes [1]
LEAST_SOUND = 0.3  # of a note: more a retake does not take from it [1]
LEAST_SHARE = 1e-12  # of a stroke's time, to divide by
_Run = Callable[[FloatArray], FloatArray]
_SPEEDS: dict[Profile, _Run] = {
    Profile.EVEN: np.ones_like,
    Profile.SAVE: lambda u: 0.6 + 0.8 * u,
    Profile.SPEND: lambda u: 1.4 - 0.8 * u,
    Profile.SWELL: lambda u: 0.6 + 0.8 * np.sin(np.pi * u),
}  # speed over the share u of the stroke's time, before it is normalised
_WAYS: dict[Profile, _Run] = {
    Profile.EVEN: lambda u: u,
    Profile.SAVE: lambda u: 0.6 * u + 0.4 * u**2,
    Profile.SPEND: lambda u: 1.4 * u - 0.4 * u**2,
    Profile.SWELL: lambda u: 0.6 * u + 0.8 * (1 - np.cos(np.pi * u)) / np.pi,
}  # its integral


@dataclass(frozen=True, slots=True)
class Hair:
    """What every note of some strokes gets of the bow."""

    start: FloatArray  # [m]
    end: FloatArray  # [m]
    sounding: FloatArray  # [s]
    bows: FloatArray  # strokes to and fro, each over its whole length; 1 but in a tremolo
    opening: FloatArray  # speed as the note begins, over its mean [1]
    closing: FloatArray  # and as it ends

    @property
    def speed(self) -> FloatArray:
        """Return the mean speed of every note [m/s]."""
        return np.abs(self.end - self.start) * self.bows / self.sounding


def hair_of(
    asked: StrokesAsked, starts: FloatArray, ends: FloatArray, times: FloatArray, rolled: Mapping[int, Sequence[float]]
) -> Hair:
    """Share the hair of K strokes among their N notes by time, the square root of the drive, and their profiles.

    Args:
        asked: the strokes to be.
        starts: where each begins on the hair [m]; shape (K,).
        ends: where it ends [m]; shape (K,).
        times: for which the bow really moves [s]; less than asked for where a retake takes some; shape (K,).
        rolled: shifts of the contact along the hair before every note but the first [m], of strokes that have some.
    """
    notes, counts, firsts = asked.notes, asked.columns.notes, asked.columns.firsts
    seconds, levels = _seconds(asked, times), notes.level
    begun = seconds.cumsum() - seconds
    whole = np.add.reduceat(seconds, firsts).repeat(counts)
    low = (begun - begun[firsts].repeat(counts)) / whole
    high = low + seconds / whole
    way, into, out_of = _profiled(asked.strokes, counts, low, high)
    mean = way / np.maximum(high - low, LEAST_SHARE)
    pace = (notes.pace + notes.pace_end) / 2
    shares = mean * seconds * 10 ** (levels / 40) * np.exp(pace)
    shifts = _shifts(rolled, firsts, len(seconds), ends - starts)
    free = ends - starts - np.add.reduceat(shifts, firsts)
    steps = shares * (free / np.add.reduceat(shares, firsts)).repeat(counts)
    moved = (shifts + steps).cumsum()
    origin = (moved - shifts - steps)[firsts] - starts
    stop = moved - origin.repeat(counts)
    stop[firsts + counts - 1] = ends
    return Hair(
        start=stop - steps,
        end=stop,
        sounding=seconds,
        bows=asked.columns.bows.repeat(counts),
        opening=into / mean * 10 ** ((notes.opening - levels) / 40) * np.exp(notes.pace - pace),
        closing=out_of / mean * 10 ** ((notes.closing - levels) / 40) * np.exp(notes.pace_end - pace),
    )


def _profiled(
    segments: Sequence[Segment], counts: IntArray, low: FloatArray, high: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Return the way between two shares of every stroke's time, and the speed at both, by its profile."""
    profiles = [segment.profile for segment in segments]
    way, into, out_of = high - low, np.ones_like(low), np.ones_like(low)
    for profile in set(profiles) - {Profile.EVEN}:
        here = np.array([one is profile for one in profiles]).repeat(counts)
        low_here, high_here = low[here], high[here]
        way[here] = _WAYS[profile](high_here) - _WAYS[profile](low_here)
        into[here], out_of[here] = _SPEEDS[profile](low_here), _SPEEDS[profile](high_here)
    return way, into, out_of


def _shifts(rolled: Mapping[int, Sequence[float]], firsts: IntArray, count: int, ways: FloatArray) -> FloatArray:
    """Return shifts that leave the bow most of its way [m]; in a short stroke the hand takes up the rest."""
    shifts = np.zeros(count)
    for k, inner in rolled.items():
        whole, most, first = abs(sum(inner)), ROLLED * abs(float(ways[k])), int(firsts[k]) + 1
        shifts[first : first + len(inner)] = np.array(inner) * (most / whole if whole > most else 1.0)
    return shifts


def _seconds(asked: StrokesAsked, times: FloatArray) -> FloatArray:
    """Return how long every note sounds [s], with the time for a retake taken from the last ones of its stroke."""
    seconds, firsts = asked.notes.sounding.copy(), asked.columns.firsts
    for k in np.flatnonzero(times < asked.columns.moving).tolist():
        taken = float(asked.columns.moving[k] - times[k])
        for i in range(int(firsts[k] + asked.columns.notes[k]) - 1, int(firsts[k]) - 1, -1):
            part = min(taken, (1 - LEAST_SOUND) * float(seconds[i]))
            seconds[i] -= part
            taken -= part
            if taken <= 0:
                break
    return seconds
