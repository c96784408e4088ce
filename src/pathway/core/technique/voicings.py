"""Which chords lie under one bow and one hand, why others do not, and what comes nearest."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import combinations, islice, pairwise

from pathway.core.music import pitch_name
from pathway.core.rig.instrument import Instrument

HIGHEST = 31  # semitones above an open string
_REACH = 6  # semitones between the stopped notes of a chord, counted above their strings; our estimate
AT_EASE = 4  # likewise, without a stretch


class WhyHard(StrEnum):
    """What keeps a chord from neighbouring strings."""

    TOO_MANY = "too many"  # notes for the strings
    TOO_LOW = "too low"
    ONE_STRING = "one string"  # holds two of its notes
    SPREAD = "spread"  # a silent string between, or too wide for a hand
    BEYOND = "beyond"  # the hand's frame where it lies


@dataclass(frozen=True, slots=True)
class Trouble:
    """Why a chord cannot be played, and an easier voicing with what is lost; pitches are MIDI numbers."""

    chord: tuple[int, ...]
    why: WhyHard
    strings: int  # of the instrument
    between: tuple[int, ...] = ()  # the notes that make the trouble
    easier: tuple[int, ...] = ()  # empty: all but the top note have to go
    moved: int | None = None  # the note that sounds in another octave
    up: bool = False
    lost: tuple[int, ...] = ()

    @property
    def facts(self) -> dict[str, str]:
        """Return it in names."""
        found = {"chord": pitch_names(self.chord), "why": self.why.value, "strings": str(self.strings)}
        found |= dict(zip(("low", "high"), map(pitch_name, self.between), strict=False))
        if self.easier:
            found["easier"] = pitch_names(sorted(self.easier))
            found["lost"] = " and ".join(map(pitch_name, self.lost))
        if self.moved is not None:
            found |= {"moved": pitch_name(self.moved), "octave": "higher" if self.up else "lower"}
        return found


def pitch_names(pitches: Sequence[int]) -> str:
    """Return pitches by their names."""
    return " ".join(map(pitch_name, pitches))


def lies_on_neighbours(pitches: Sequence[int], instrument: Instrument, reach: int = _REACH) -> bool:
    """Whether pitches fit on neighbouring strings, one each, within the reach of a hand [semitones]."""
    count = len(instrument.strings)
    high = sorted(pitches, reverse=True)
    for top in range(len(high) - 1, count):
        above = [pitch - instrument.strings[top - i].midi for i, pitch in enumerate(high)]
        stopped = [semitones for semitones in above if semitones]
        if all(0 <= semitones <= HIGHEST for semitones in above) and (
            not stopped or max(stopped) - min(stopped) <= reach
        ):
            return True
    return False


def is_hard(pitches: Sequence[int], instrument: Instrument) -> bool:
    """Whether a chord that lies under one hand asks for all of its reach."""
    return not lies_on_neighbours(pitches, instrument, AT_EASE)


def voicings_of(pitches: Sequence[int], instrument: Instrument) -> list[tuple[int, ...]]:
    """Return easier voicings of a chord that lie at ease, those that lose least first; two at most."""
    chord = tuple(sorted(pitches))
    plain = Trouble(chord, WhyHard.SPREAD, len(instrument.strings))
    found = (tuple(sorted(one.easier)) for one in _voicings(plain))
    return list(islice((one for one in found if lies_on_neighbours(one, instrument, AT_EASE)), 2))


def trouble_with(pitches: Sequence[int], instrument: Instrument) -> Trouble:
    """Return what is wrong with a chord that does not lie on neighbouring strings."""
    chord = tuple(sorted(pitches))
    why, between = _why(chord, instrument)
    trouble = Trouble(chord, why, len(instrument.strings), between)
    easier = (voicing for voicing in _voicings(trouble) if lies_on_neighbours(voicing.easier, instrument))
    return next(easier, trouble)


def _why(pitches: Sequence[int], instrument: Instrument) -> tuple[WhyHard, tuple[int, ...]]:
    opens = [string.midi for string in instrument.strings]
    if len(pitches) > len(opens):
        return WhyHard.TOO_MANY, ()
    for low, high in pairwise(pitches):
        holding = [i for i, midi in enumerate(opens) if midi <= low]
        if not holding:
            return WhyHard.TOO_LOW, (low,)
        if high < opens[min(holding) + 1 if min(holding) + 1 < len(opens) else -1]:
            return WhyHard.ONE_STRING, (low, high)
    return WhyHard.SPREAD, ()


def _voicings(trouble: Trouble) -> Iterator[Trouble]:
    """Yield easier voicings, those that lose least first: a note in another octave, then one or two left out."""
    chord = trouble.chord
    for i, pitch in enumerate(chord[:-1]):
        for octave in (12, -12):
            moved = (*chord[:i], pitch + octave, *chord[i + 1 :])
            if len(set(moved)) == len(moved) and max(moved) == chord[-1]:
                yield replace(trouble, easier=moved, moved=pitch, up=octave > 0)
    for gone in range(1, min(3, len(chord))):
        for kept in combinations(chord[:-1], len(chord) - 1 - gone):
            lost = tuple(pitch for pitch in chord[:-1] if pitch not in kept)
            yield replace(trouble, easier=(*kept, chord[-1]), lost=lost)
