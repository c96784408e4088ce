"""What may be said of a note of a recording. The thresholds are our choice: false words under 3 %."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from pathway.core.planning.advice.symptoms import Heard
from pathway.core.takes.measures import MeasuredNote
from pathway.core.takes.score import PlannedNotes
from pathway.core.technique.stroke_types import STROKE_TYPES, Contact

WRONG_FROM, TONE_FROM, LOUD_FROM, THIN_FROM = 0.12, 0.15, 0.20, 0.8  # shorter notes get no such word [s]
TONE_PERIODS, ROUGH_PERIODS = 25, 60  # of a note that has a word about its tone, and that can be rough
_AROUND = 4  # notes to each side that a note's level is set against
MISSED, UNHEARD, ELSE = -14.0, 8.0, 0.6  # a note so much softer [dB], so little over the room [dB], or led so little
WRONG_OWN, WRONG_OTHER, WRONG_LEADS = 0.42, 0.62, 0.25  # likeness with its pitch, with another, share in which it leads
ROUGH_SAME, ROUGH_LESS, ROUGH_NOISE, ROUGH_LEVEL = 0.80, 0.15, 8.0, -6.0  # likeness of periods, and below the usual one
AIRY_LEVEL, AIRY_NOISE, AIRY_SAME = -5.0, 3.0, 0.6
_LOUD, _LOUD_OWN = 5.0, 4.0  # over its surroundings, and over others of its pitch [dB]
_LATE, _THIN = 0.11, -6.0  # [s], [dB] along the note beyond what long notes of the take usually do
HEARD_TIMES = 3  # that a pitch is there before a note of it sticks out
OUT_OF_REST = 0.08  # of silence before a note that can be late [s]
PLACED = 0.50  # likeness from which on a note is surely placed


class Word(StrEnum):
    """What is said of one note."""

    MISSED = "missed"
    WRONG = "wrong note"
    ROUGH = "rough"
    AIRY = "airy"
    LOUD = "sticks out"
    THIN = "thins out"
    LATE = "late"


SYMPTOMS = {  # what a player would say to hear
    Word.ROUGH: Heard.GRATING,
    Word.AIRY: Heard.BREATHY,
    Word.LATE: Heard.MUTE,
    Word.MISSED: Heard.MUTE,
    Word.LOUD: Heard.STICKS_OUT,
    Word.THIN: Heard.NOWHERE,
}
ONCE = {Word.LOUD, Word.LATE, Word.MISSED}  # of the note and not of its pitch: another one of it says nothing
SURE = {Word.WRONG, Word.ROUGH}  # said of one note alone; others only where they come again


def symptoms_of(words: Collection[str]) -> list[str]:
    """Return what a player would say to hear, for words that were kept; of unknown ones nothing."""
    return [heard.value for word, heard in SYMPTOMS.items() if word.value in words]


def say(rows: Sequence[MeasuredNote], planned: PlannedNotes) -> None:
    """Give the notes their words: sure ones, and those that come again; others stay silent, and are kept in mind."""
    usual = Usual.of(rows)
    found = [_words(rows, k, planned, usual) for k in range(len(rows))]
    for k, (row, words) in enumerate(zip(rows, found, strict=True)):
        row.sure = row.own >= PLACED and _placed_around(rows, k)
        known = row.sure or words & SURE or (Word.MISSED in words and _placed_around(rows, k))
        row.could = {word.value for word in words} if known else set()
        again = {word for word in words if word in SURE or _again(rows, found, k, word, planned)}
        row.words = row.could & {word.value for word in again}


@dataclass(frozen=True, slots=True)
class Usual:
    """What the notes of a recording are usually like; room and microphone are in it."""

    same: float
    slope: float
    slow: float  # until a tone stands [s]

    @classmethod
    def of(cls, rows: Sequence[MeasuredNote]) -> "Usual":
        """Return the medians."""
        return cls(*(_median([getattr(row, name) for row in rows]) for name in ("same", "slope", "attack")))


def _median(values: Sequence[float]) -> float:
    known = [value for value in values if np.isfinite(value)]
    return float(np.median(known)) if known else 0.0


def _words(rows: Sequence[MeasuredNote], k: int, planned: PlannedNotes, usual: Usual) -> set[Word]:
    """Return what could be said of a note by itself."""
    row = rows[k]
    long = row.end - row.onset
    around = [*range(max(0, k - _AROUND), k), *range(k + 1, min(len(rows), k + _AROUND + 1))]
    level = row.off - float(np.median([rows[z].off for z in around])) if around else 0.0
    whole = row.raw - float(np.median([rows[z].raw for z in around])) if around else 0.0
    if whole < MISSED and (row.above_floor < UNHEARD or row.leads < ELSE):
        return {Word.MISSED}
    strange = row.leads < WRONG_LEADS and row.own < WRONG_OWN and row.other > WRONG_OTHER
    if long >= WRONG_FROM and strange and len(planned.pitches[row.note]) == 1:
        return {Word.WRONG}
    words = set[Word]()
    periods = long * 440 * 2 ** ((planned.lowest[row.note] - 69) / 12)
    if long < TONE_FROM or periods < TONE_PERIODS or len(planned.pitches[row.note]) > 1:
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
    elif long >= LOUD_FROM and level > _LOUD and _over_its_like(rows, k, planned) > _LOUD_OWN:
        words.add(Word.LOUD)
    if not words and long > THIN_FROM and -25 < row.slope - min(usual.slope, 0.0) < _THIN:
        words.add(Word.THIN)
    gathers = max(0.0, row.attack - usual.slow) if _out_of_rest(rows, k, planned) else 0.0
    if not words and row.late + gathers > _LATE:
        words.add(Word.LATE)
    return words


def _over_its_like(rows: Sequence[MeasuredNote], k: int, planned: PlannedNotes) -> float:
    """Return how much louder a note is than others of its pitch [dB]: a string rings at some of them; −inf from few."""
    like = [
        row.raw for z, row in enumerate(rows) if z != k and planned.pitches[row.note] == planned.pitches[rows[k].note]
    ]
    return rows[k].raw - float(np.median(like)) if len(like) >= HEARD_TIMES - 1 else -np.inf


def _out_of_rest(rows: Sequence[MeasuredNote], k: int, planned: PlannedNotes) -> bool:
    row = rows[k]
    if k == 0 or rows[k - 1].note != row.note - 1:
        return True
    silence = planned.onsets[row.note] - planned.onsets[row.note - 1] - planned.sounding[row.note - 1]
    return bool(silence > OUT_OF_REST)


def _placed_around(rows: Sequence[MeasuredNote], k: int) -> bool:
    """Whether the notes beside a note are placed too."""
    beside = [rows[z] for z in (k - 1, k + 1) if 0 <= z < len(rows)]
    return bool(beside) and all(row.own >= PLACED - 0.1 for row in beside)


def _again(rows: Sequence[MeasuredNote], found: Sequence[set[Word]], k: int, word: Word, planned: PlannedNotes) -> bool:
    """Whether the same word falls on another note of the same pitch or of the same place in its bar's figure."""
    mine = planned.notes[rows[k].note]
    return any(
        z != k
        and word in words
        and (
            planned.notes[rows[z].note].id == mine.id
            or (word not in ONCE and planned.pitches[rows[z].note] == planned.pitches[rows[k].note])
        )
        for z, words in enumerate(found)
    )
