"""Which chords lie under one bow and one hand, why others do not, and what comes nearest."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise

from pathway.core.music import pitch_name
from pathway.core.rig.instrument import Instrument

HIGHEST = 31  # semitones above an open string
REACH = 6  # semitones between the stopped notes of a chord, counted above their strings; our estimate


@dataclass(frozen=True, slots=True)
class Trouble:
    """Why a chord cannot be played, and an easier voicing with what is lost."""

    why: str
    easier: str


def lies_on_neighbours(pitches: Sequence[int], instrument: Instrument) -> bool:
    """Whether pitches fit on neighbouring strings, one each, within the reach of a hand."""
    count = len(instrument.strings)
    high = sorted(pitches, reverse=True)
    for top in range(len(high) - 1, count):
        above = [pitch - instrument.strings[top - i].midi for i, pitch in enumerate(high)]
        stopped = [semitones for semitones in above if semitones]
        if all(0 <= semitones <= HIGHEST for semitones in above) and (
            not stopped or max(stopped) - min(stopped) <= REACH
        ):
            return True
    return False


def trouble_with(pitches: Sequence[int], instrument: Instrument) -> Trouble:
    """Return what is wrong with a chord that does not lie on neighbouring strings."""
    names = " ".join(pitch_name(pitch) for pitch in sorted(pitches))
    return Trouble(f"{names} {_why(sorted(pitches), instrument)}", _easier(sorted(pitches), instrument))


def _why(pitches: Sequence[int], instrument: Instrument) -> str:
    opens = [string.midi for string in instrument.strings]
    if len(pitches) > len(opens):
        return f"has more notes than the {len(opens)} strings"
    for low, high in pairwise(pitches):
        holding = [i for i, midi in enumerate(opens) if midi <= low]
        if not holding:
            return f"goes below the lowest string with {pitch_name(low)}"
        if high < opens[min(holding) + 1 if min(holding) + 1 < len(opens) else -1]:
            return f"has {pitch_name(low)} and {pitch_name(high)} on one string"
    return "leaves a silent string between, or is spread too wide for one hand"


def _easier(pitches: Sequence[int], instrument: Instrument) -> str:
    for voicing, lost in _candidates(pitches):
        if lies_on_neighbours(voicing, instrument):
            names = " ".join(pitch_name(pitch) for pitch in sorted(voicing))
            return f"Easier: {names}; {lost}."
    return "Leave out all but the top note."


def _candidates(pitches: Sequence[int]) -> Iterator[tuple[list[int], str]]:
    """Yield easier voicings, those that lose least first: a note in another octave, then one or two left out."""
    for i, pitch in enumerate(pitches[:-1]):
        for octave, side in ((12, "higher"), (-12, "lower")):
            moved = [*pitches[:i], pitch + octave, *pitches[i + 1 :]]
            if len(set(moved)) == len(moved) and max(moved) == pitches[-1]:
                yield moved, f"{pitch_name(pitch)} sounds an octave {side}"
    for gone in (1, 2):
        for kept in combinations(pitches[:-1], len(pitches) - 1 - gone):
            lost = [pitch_name(pitch) for pitch in pitches[:-1] if pitch not in kept]
            yield [*kept, pitches[-1]], f"{' and '.join(lost)} {'is' if gone == 1 else 'are'} lost"
