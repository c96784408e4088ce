"""What may be said of a note of a recording, and of groups. The thresholds are our choice: false words under 3 %."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.rig.bow import Direction
from pathway.core.takes.measures import Measured
from pathway.core.takes.score import Planned
from pathway.core.technique.stroke_types import STROKE_TYPES, Contact

WRONG_FROM, TONE_FROM, LOUD_FROM, THIN_FROM = 0.12, 0.15, 0.20, 0.8  # shorter notes get no such word [s]
PERIODS, ROUGH_PERIODS = 25, 60  # of a note that has a word about its tone, and that can be rough
AROUND = 4  # notes to each side that a note's level is set against
MISSED, UNHEARD = -14.0, 22.0  # a note so much softer [dB], and so little over the room [dB]
WRONG_OWN, WRONG_OTHER, WRONG_LEADS = 0.42, 0.62, 0.25  # likeness with its pitch, with another, share in which it leads
ROUGH_SAME, ROUGH_LESS, ROUGH_NOISE, ROUGH_LEVEL = 0.80, 0.15, 8.0, -6.0  # likeness of periods, and below the usual one
AIRY_LEVEL, AIRY_NOISE, AIRY_SAME = -5.0, 3.0, 0.6
LOUD, LATE, THIN = 5.0, 0.11, -6.0  # [dB], [s], [dB] along the note beyond what long notes of the take usually do
HEARD_TIMES = 3  # that a pitch is there before a note of it sticks out
OUT_OF_REST = 0.08  # of silence before a note that can be late [s]
PLACED = 0.50  # likeness from which on a note is surely placed
LEAST_PAIRS, TRIM = 4, 0.1  # of a mean, and what of its ends is clipped


class Word(StrEnum):
    """What is said of one note."""

    MISSED = "missed"
    WRONG = "wrong note"
    ROUGH = "rough"
    AIRY = "airy"
    LOUD = "sticks out"
    THIN = "thins out"
    LATE = "late"


SURE = {Word.WRONG, Word.ROUGH}  # said of one note alone; others only where they come again


@dataclass(frozen=True, slots=True)
class Group:
    """A difference between two kinds of notes."""

    kind: str  # direction or string
    name: str
    mean: float  # [dB]
    error: float  # ± [dB]
    count: int

    @property
    def told(self) -> bool:
        """Whether it is more than chance; strings differ by instrument and room too, and must differ more."""
        least, errors, count = (2.5, 3.0, LEAST_PAIRS) if self.kind == "direction" else (3.0, 3.0, 12)
        return self.count >= count and abs(self.mean) > errors * self.error and abs(self.mean) >= least


def say(rows: Sequence[Measured], planned: Planned) -> None:
    """Give the notes their words: sure ones, and those that come again on like notes; others stay silent."""
    usual = Usual.of(rows)
    found = [_words(rows, k, planned, usual) for k in range(len(rows))]
    for k, (row, words) in enumerate(zip(rows, found, strict=True)):
        row.sure = row.own >= PLACED and _placed_around(rows, k)
        again = {word for word in words if word in SURE or _again(rows, found, k, word, planned)}
        row.words = {word.value for word in again} if row.sure or again & SURE else set()


@dataclass(frozen=True, slots=True)
class Usual:
    """What the notes of a recording are usually like; room and microphone are in it."""

    same: float
    slope: float
    slow: float  # until a tone stands [s]

    @classmethod
    def of(cls, rows: Sequence[Measured]) -> "Usual":
        """Return the medians."""
        return cls(*(_median([getattr(row, name) for row in rows]) for name in ("same", "slope", "attack")))


def _median(values: Sequence[float]) -> float:
    known = [value for value in values if np.isfinite(value)]
    return float(np.median(known)) if known else 0.0


def _words(rows: Sequence[Measured], k: int, planned: Planned, usual: Usual) -> set[Word]:
    """Return what could be said of a note by itself."""
    row = rows[k]
    long = row.end - row.onset
    around = [*range(max(0, k - AROUND), k), *range(k + 1, min(len(rows), k + AROUND + 1))]
    level = row.off - float(np.median([rows[z].off for z in around])) if around else 0.0
    whole = row.raw - float(np.median([rows[z].raw for z in around])) if around else 0.0
    if whole < MISSED and (row.above_floor < UNHEARD or row.leads < 0.6):
        return {Word.MISSED}
    strange = row.leads < WRONG_LEADS and row.own < WRONG_OWN and row.other > WRONG_OTHER
    if long >= WRONG_FROM and strange and len(planned.pitches[row.note]) == 1:
        return {Word.WRONG}
    words = set[Word]()
    periods = long * 440 * 2 ** ((planned.lowest[row.note] - 69) / 12)
    if long < TONE_FROM or periods < PERIODS or len(planned.pitches[row.note]) > 1:
        return words
    if STROKE_TYPES[planned.kinds[row.note]].contact is not Contact.ON:
        return words
    rough = min(ROUGH_SAME, usual.same - ROUGH_LESS)
    if (
        periods > ROUGH_PERIODS
        and row.same < rough
        and row.noisier > ROUGH_NOISE
        and level > ROUGH_LEVEL
        and row.other < WRONG_OTHER + 0.1
    ):
        words.add(Word.ROUGH)
    elif MISSED < level < AIRY_LEVEL and row.noisier > AIRY_NOISE and row.same > AIRY_SAME:
        words.add(Word.AIRY)
    elif long >= LOUD_FROM and level > LOUD and planned.pitches.count(planned.pitches[row.note]) >= HEARD_TIMES:
        words.add(Word.LOUD)
    if not words and long > THIN_FROM and -25 < row.slope - min(usual.slope, 0.0) < THIN:
        words.add(Word.THIN)
    if not words and _out_of_rest(rows, k, planned) and row.late + max(0.0, row.attack - usual.slow) > LATE:
        words.add(Word.LATE)
    return words


def _out_of_rest(rows: Sequence[Measured], k: int, planned: Planned) -> bool:
    row = rows[k]
    if k == 0 or rows[k - 1].note != row.note - 1:
        return True
    silence = planned.onsets[row.note] - planned.onsets[row.note - 1] - planned.sounding[row.note - 1]
    return bool(silence > OUT_OF_REST)


def _placed_around(rows: Sequence[Measured], k: int) -> bool:
    """Whether the notes beside a note are placed too."""
    beside = [rows[z] for z in (k - 1, k + 1) if 0 <= z < len(rows)]
    return bool(beside) and all(row.own >= PLACED - 0.1 for row in beside)


def _again(rows: Sequence[Measured], found: Sequence[set[Word]], k: int, word: Word, planned: Planned) -> bool:
    """Whether the same word falls on another note of the same pitch or of the same place in its bar's figure."""
    mine = planned.notes[rows[k].note]
    return any(
        z != k
        and word in words
        and (
            planned.pitches[rows[z].note] == planned.pitches[rows[k].note] or planned.notes[rows[z].note].id == mine.id
        )
        for z, words in enumerate(found)
    )


def directions(rows: Sequence[Measured], planned: Planned) -> Group | None:
    """Return down against up, from neighbours; None from too few."""
    found = []
    for before, after in pairwise(rows):
        ways = planned.directions[before.note], planned.directions[after.note]
        if after.note != before.note + 1 or ways[0] is ways[1] or _unfit(before) or _unfit(after):
            continue
        found.append((before.off - after.off) * (1 if ways[0] is Direction.DOWN else -1))
    return _mean("direction", "down against up", found)


def strings(rows: Sequence[Measured], planned: Planned, names: Sequence[str]) -> list[Group]:
    """Return every string against all notes, where there are enough."""
    return _against(rows, lambda row: planned.strings[row.note], names, "string")


def _against(rows: Sequence[Measured], of: Callable[[Measured], int], names: Sequence[str], kind: str) -> list[Group]:
    fit = [row for row in rows if not _unfit(row) and np.isfinite(row.raw)]
    groups = [_mean(kind, name, [row.raw for row in fit if of(row) == n]) for n, name in enumerate(names)]
    return [group for group in groups if group is not None]


def _unfit(row: Measured) -> bool:
    return bool(row.words & {Word.MISSED, Word.WRONG})


def _mean(kind: str, name: str, values: Sequence[float]) -> Group | None:
    """Return a mean whose outliers are clipped, with its standard error."""
    if len(values) < LEAST_PAIRS:
        return None
    low, high = np.quantile(values, [TRIM, 1 - TRIM])
    clipped: FloatArray = np.clip(values, low, high)
    error = float(clipped.std(ddof=1)) / len(values) ** 0.5 * 1.25
    return Group(kind, name, float(clipped.mean()), error, len(values))
