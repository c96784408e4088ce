"""How the left hand holds notes: on which strings in which position, and what that costs."""

import math
from collections.abc import Sequence
from functools import lru_cache
from typing import TypeAlias

import numpy as np

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.music import Head, pitch_name
from pathway.core.physics.string import SoundingString
from pathway.core.planning.strokes.compass import ARTIFICIAL
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.string_weights import (
    AGAINST_FINGER,
    EXTENDED,
    HALF_POSITION,
    HEIGHT,
    LEFT_OUT,
    REACH,
    THICK,
    THICK_FROM,
    UNREACHED,
)
from pathway.core.rig.instrument import Instrument
from pathway.core.technique.fingers import OPEN, fingers_for, reaching
from pathway.core.technique.voicings import HIGHEST
from pathway.errors import ScoreError

FIRST = 2  # first position: a tone above the open string [semitones]
BACK_FROM = 3  # in a frame as wide as this the first finger reaches back a semitone
POSITIONS = np.arange(1, HIGHEST - 2)
_PARTIALS, _IN_TUNE = range(2, 9), 0.35  # of natural harmonics; how near they are taken [semitones]
_TOUCHED = {5: 4, 7: 3, 4: 5, 9: 5, 3: 6}  # semitones above the open string → partial that sounds there
ARTIFICIAL_LOOPS = 4  # of a stopped string touched a fourth higher

_Key: TypeAlias = tuple[tuple[int, int | None, bool, int | None], ...]


@lru_cache(maxsize=8)
def hand_of(instrument: Instrument) -> "LeftHand":
    """Return the hand on an instrument, with all that it has learnt."""
    return LeftHand(instrument)


class LeftHand:
    """Remembers what each group of heads costs and how it lies, on one instrument."""

    def __init__(self, instrument: Instrument) -> None:
        self.instrument = instrument
        self.open = {string.midi for string in instrument.strings}
        self.frames = np.array([instrument.frame(int(position)) for position in POSITIONS])
        self.back = np.where(self.frames >= BACK_FROM, 1, 0)  # semitones that the first finger reaches back
        self._costs: dict[_Key, FloatArray] = {}
        self._fingers: dict[_Key, IntArray] = {}
        self._placed: dict[tuple[_Key, int, int], Placement] = {}
        self._sounding: dict[tuple[int, int, int], SoundingString] = {}

    def costs(self, heads: Sequence[Head]) -> FloatArray:
        """Return the cost by string of the top head and position, shape (strings, P); inf where it cannot be."""
        key = _key(heads)
        if key not in self._costs:
            costs = np.stack([self._costs_on(heads, top) for top in range(len(self.instrument.strings))])
            self._costs[key] = costs
        return self._costs[key]

    def _costs_on(self, heads: Sequence[Head], top: int) -> FloatArray:
        placed = self._try(heads, top)
        if placed is None:
            return np.full(len(POSITIONS), np.inf)
        left_out, touched = placed
        semitones = [above for above, _ in touched]
        fits = np.ones(len(POSITIONS))
        for head, above in zip(_from_top(heads), semitones, strict=False):
            if above:
                fits += (HEIGHT * np.maximum(0, POSITIONS - FIRST) + HALF_POSITION * (POSITIONS < FIRST)) / len(
                    semitones
                )
            fits += self._reached(above, len(semitones)) if head.finger is None else self._fingered(above, head.finger)
        last = len(self.instrument.strings) - 1
        thick = sum(max(0, s - THICK_FROM) for i, s in enumerate(semitones) if top - i < last)
        thick += sum(loops - 1 for _, loops in touched)  # the higher a harmonic, the thinner
        cost: FloatArray = fits - 1 + THICK * thick + REACH * sum(semitones) + LEFT_OUT * left_out
        return cost

    def fingers(self, heads: Sequence[Head]) -> IntArray:
        """Return the finger of the top head by its string and position, shape (strings, P); −1 where there is none."""
        key = _key(heads)
        if key not in self._fingers:
            self._fingers[key] = np.array([self._fingers_on(heads, top) for top in range(len(self.instrument.strings))])
        return self._fingers[key]

    def _fingers_on(self, heads: Sequence[Head], top: int) -> list[int]:
        placed = self._try(heads, top)
        if placed is None:
            return [-1] * len(POSITIONS)
        asked, touched = [_from_top(heads)[0].finger], placed[1][:1]
        found = (fingers_for(self.instrument, position, touched, asked)[0] for position in POSITIONS.tolist())
        return [-1 if finger is None else finger for finger in found]

    def _reached(self, above: int, together: int) -> FloatArray:
        """Return what it costs to reach a place with any finger, by position; one of several is not stretched for."""
        if not above:
            return np.zeros(len(POSITIONS))
        beyond = above - self.frames - POSITIONS
        out = (beyond > 0) | (above + self.back < POSITIONS)
        stretched = (beyond == 1) & (together == 1) & (not self.instrument.held_down)
        return np.where(stretched, EXTENDED, np.where(out, UNREACHED, 0.0))

    def _fingered(self, above: int, finger: int) -> FloatArray:
        """Return what it costs to play a place with the finger that is asked for, by position."""
        if not above or finger == OPEN:
            return np.full(len(POSITIONS), 0.0 if not above and finger == OPEN else float(AGAINST_FINGER))
        costs = [reaching(self.instrument, position, above).get(finger) for position in POSITIONS.tolist()]
        return np.array([AGAINST_FINGER if cost is None else cost for cost in costs])

    def place(self, heads: Sequence[Head], top: int, position: int) -> Placement:
        """Return the placement with the top head on a string that can hold it, in a position of the hand."""
        key = (_key(heads), top, position)
        if key not in self._placed:
            self._placed[key] = self._lay(heads, top, position)
        return self._placed[key]

    def _lay(self, heads: Sequence[Head], top: int, position: int) -> Placement:
        placed = self._try(heads, top)
        if placed is None:
            raise ScoreError(f"{pitch_name(heads[0].midi)} does not lie on string {top + 1}")
        touched = placed[1]
        strings = tuple(top - i for i in range(len(touched)))
        sounding = tuple(self._string(i, *touch) for i, touch in zip(strings, touched, strict=True))
        pitches = tuple(head.midi for head in _from_top(heads)[: len(strings)])
        stopped = any(string.stopped for string in sounding)
        asked = [head.finger for head in _from_top(heads)[: len(strings)]]
        fingers = fingers_for(self.instrument, position, touched, asked)
        return Placement(pitches, strings, sounding, position if stopped else 0, fingers)

    def _string(self, string: int, semitones: int, loops: int) -> SoundingString:
        key = (string, semitones, loops)
        if key not in self._sounding:
            self._sounding[key] = SoundingString.of(self.instrument, *key)
        return self._sounding[key]

    def _try(self, heads: Sequence[Head], top: int) -> tuple[int, list[tuple[int, int]]] | None:
        """Lay the heads on neighbouring strings downward; return how many are left out, and semitones and loops."""
        found: list[tuple[int, int]] = []
        for i, head in enumerate(_from_top(heads)):
            string = top - i
            printed = None if head.string is None else len(self.instrument.strings) - head.string
            if string < 0 or (printed is not None and printed != string):
                break
            touch = _touch(head, self.instrument.strings[string].midi)
            if not 0 <= touch[0] <= HIGHEST:
                break
            found.append(touch)
        return (len(heads) - len(found), found) if found else None


def _touch(head: Head, open_midi: int) -> tuple[int, int]:
    """Return how far above the open string a head is stopped, and in how many loops the string sounds.

    A harmonic may be written as it sounds, or where it is touched; else it is an artificial one. A 0 over a pitch that
    no open string has means one, too.
    """
    above = head.midi - open_midi
    partial = partial_of(above)
    if partial is not None and (head.harmonic or head.finger == OPEN):
        return 0, partial
    if not head.harmonic:
        return above, 1
    if above in _TOUCHED:
        return 0, _TOUCHED[above]
    return (above - ARTIFICIAL, ARTIFICIAL_LOOPS) if above >= ARTIFICIAL else (above, 1)


def partial_of(above: int) -> int | None:
    """Return which natural harmonic a pitch is, so many semitones above an open string; None where it is none."""
    return next((n for n in _PARTIALS if abs(12 * math.log2(n) - above) < _IN_TUNE), None)


def _key(heads: Sequence[Head]) -> _Key:
    return tuple((head.midi, head.string, head.harmonic, head.finger) for head in heads)


def _from_top(heads: Sequence[Head]) -> list[Head]:
    return sorted(heads, key=lambda head: -head.midi)
