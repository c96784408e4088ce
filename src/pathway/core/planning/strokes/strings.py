"""Which string each note is played on: the cheapest way through strings and hand positions.

A state is a string and a hand position (semitones of the first finger above the open string). Printed and locked
strings are kept. Costs are our choice: a shift, a crossing, a high note on a thick string.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TypeAlias

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.music import Head, pitch_name
from pathway.core.physics.string import SoundingString
from pathway.core.planning.strokes.compass import ARTIFICIAL, HIGHEST
from pathway.core.planning.strokes.segments import Note, Segment
from pathway.core.planning.strokes.string_loop import cheapest_hand
from pathway.core.rig.instrument import Instrument, Rig
from pathway.core.technique.double_stops import Leading
from pathway.errors import PlanError, ScoreError

FIRST = 2  # first position: a tone above the open string [semitones]
FRAME = 5  # a hand position spans a fourth [semitones]
POSITIONS = np.arange(1, HIGHEST - 2)
SHIFT, SHIFT_SEMITONE, EASY_SHIFT = 0.4, 0.05, 0.5
HEARD_SHIFT, QUICK = 2.5, 0.12  # inside a slur, after a note shorter than this [s]
_WAYS = np.abs(np.subtract.outer(POSITIONS, POSITIONS))
_SHIFTS = np.where(_WAYS > 0, SHIFT + SHIFT_SEMITONE * _WAYS, 0.0)  # (P, P)
CROSSING, SKIP, INSIDE_SLUR = 0.15, 3.0, 0.1
THICK, THICK_FROM = 0.02, 7
HEIGHT = 0.02  # a semitone that the hand lies above first position
REACH = 0.01  # a semitone above the open string: of two like places the lower one
UNREACHED = 5.0  # a head out of the hand's reach: only where nothing else is left
LEFT_OUT = 50.0  # a head of a chord that fits on no string
AGAINST_WISH = 2.0  # another string than the words or the passage ask for
SINGING = {"legato", "sustained", "portato"}
OPEN_SINGING, SINGING_FROM = 0.2, 0.5  # an open string in a long note; from this length [s]
PARTIALS, IN_TUNE = range(2, 9), 0.35  # of natural harmonics; how near they are taken [semitones]
TOUCHED = {5: 4, 7: 3, 4: 5, 9: 5, 3: 6}  # semitones above the open string → partial that sounds there
ARTIFICIAL_LOOPS = 4  # of a stopped string touched a fourth higher
LIFTING = 0.06  # silence in which a bow comes off the string and back [s]
LONG_GAP = 0.15  # silence in which the hand travels freely [s]

_Key: TypeAlias = tuple[tuple[int, int | None, bool], ...]


@dataclass(frozen=True, slots=True)
class Placement:
    """Where the left hand plays an event, head by head from the top; heads that fit on no string are left out."""

    pitches: tuple[int, ...]
    strings: tuple[int, ...]
    sounding: tuple[SoundingString, ...]
    position: int = 0  # semitones of the first finger above the open string; 0 where no finger is needed
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
    """Return the strings between which the bow goes, or None if it stays on one."""
    old, new = set(before.strings), set(after.strings)
    if old & new:
        return None
    return min(((a, b) for a in old for b in new), key=lambda ab: abs(ab[0] - ab[1]))


def rolls(rig: Rig, source: int, target: int, *, slurred: bool, silence: float) -> bool:
    """Whether the bow passes over silent strings without leaving them."""
    skips = abs(target - source) > 1
    return skips and (slurred or not rig.lifts_to_cross or silence < LIFTING)


def choose_strings(
    segments: Sequence[Segment], instrument: Instrument, locked: Mapping[str, int] | None = None
) -> list[Placement]:
    """Return the placement of every note of every segment, in order; strings locked by note are kept.

    Raises:
        PlanError: the locked strings cannot hold their notes.
    """
    notes = [note for segment in segments for note in segment.notes]
    if not notes:
        return []
    hand = _Hand(instrument)
    cross = _crossing_costs(len(instrument.strings))
    inside = [j > 0 for segment in segments for j in range(len(segment.notes))]
    heads = [_held(note.event.heads, (locked or {}).get(note.event.id), instrument) for note in notes]
    singing = [segment.kind.key in SINGING for segment in segments for _ in segment.notes]
    costs = [
        _with_wishes(hand.costs(held), note, instrument, sings)
        for note, held, sings in zip(notes, heads, singing, strict=True)
    ]
    eases = np.ones(len(notes))
    for k in range(1, len(notes)):
        before = notes[k - 1]
        gap = notes[k].begin - before.begin - before.sounding
        free = gap > LONG_GAP or before.event.top.midi in hand.open
        eases[k] = EASY_SHIFT if free else HEARD_SHIFT if inside[k] and before.sounding < QUICK else 1.0
    found = cheapest_hand(np.stack(costs), cross, np.array(inside, dtype=np.int64), eases, _SHIFTS)
    if found is None:
        raise PlanError("The locked strings cannot hold their notes", advice="Unlock one of them.")
    return [
        hand.place(held, string, int(POSITIONS[position]))
        for held, string, position in zip(heads, *found.tolist(), strict=True)
    ]


def _held(heads: tuple[Head, ...], string: int | None, instrument: Instrument) -> tuple[Head, ...]:
    """Return the heads with the top one on a locked string, if there is one."""
    if string is None:
        return heads
    top = max(heads, key=lambda head: head.midi)
    return tuple(replace(h, string=len(instrument.strings) - string) if h is top else h for h in heads)


def _with_wishes(costs: FloatArray, note: Note, instrument: Instrument, sings: bool) -> FloatArray:
    """Add what each string costs against words, passages and an open string's different voice."""
    asked, opens = note.ask.string, sings and note.end - note.begin > SINGING_FROM
    if asked is None and not opens:
        return costs
    wishes = np.zeros((len(instrument.strings), 1))
    if asked is not None:
        wishes += AGAINST_WISH
        wishes[asked] = 0.0
    if opens:
        wishes[[i for i, string in enumerate(instrument.strings) if string.midi == note.event.top.midi]] += OPEN_SINGING
    return costs + wishes


def _crossing_costs(count: int) -> FloatArray:
    """Cost from string to string, outside a slur and inside one; shape (2, strings, strings)."""
    step = np.abs(np.subtract.outer(np.arange(count), np.arange(count)))
    plain = CROSSING * step * np.where(step > 1, SKIP, 1.0)
    return np.stack([plain, plain + INSIDE_SLUR * (step > 0)])


class _Hand:
    """Remembers what each group of heads costs and how it lies, for one instrument."""

    def __init__(self, instrument: Instrument) -> None:
        self.instrument = instrument
        self.open = {string.midi for string in instrument.strings}
        self._costs: dict[_Key, FloatArray] = {}
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
        for above in (s for s in semitones if s):
            fits += HEIGHT * np.maximum(0, POSITIONS - FIRST) / len(semitones)
            fits += UNREACHED * ((above - FRAME > POSITIONS) | (above + 1 < POSITIONS))
        last = len(self.instrument.strings) - 1
        thick = sum(max(0, s - THICK_FROM) for i, s in enumerate(semitones) if top - i < last)
        cost: FloatArray = fits - 1 + THICK * thick + REACH * sum(semitones) + LEFT_OUT * left_out
        return cost

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
        return Placement(pitches, strings, sounding, position if stopped else 0)

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

    A harmonic may be written as it sounds, or where it is touched; else it is an artificial one.
    """
    above = head.midi - open_midi
    if not head.harmonic:
        return above, 1
    for partial in PARTIALS:
        if abs(12 * math.log2(partial) - above) < IN_TUNE:
            return 0, partial
    if above in TOUCHED:
        return 0, TOUCHED[above]
    return (above - ARTIFICIAL, ARTIFICIAL_LOOPS) if above >= ARTIFICIAL else (above, 1)


def _key(heads: Sequence[Head]) -> _Key:
    return tuple((head.midi, head.string, head.harmonic) for head in heads)


def _from_top(heads: Sequence[Head]) -> list[Head]:
    return sorted(heads, key=lambda head: -head.midi)
