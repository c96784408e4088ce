"""The left hand's ways in words: its positions by their names, and what a way asks of the bow."""

from pathway.core.rig.instrument import THUMB_FROM, Instrument
from pathway.core.technique.fingers import NAMES

_NAMES = ("", "half", "1st", "2nd", "2nd", "3rd", "3rd", "4th", "5th", "5th", "6th", "6th", "7th")  # by semitones
_BEYOND = "above the 7th"


_DECIDED = {
    "set": "you set it",
    "printed finger": "the printed finger",
    "printed string": "the printed string",
    "asked": "words or the passage ask for the string",
    "only": "no other string has the note",
    "open": "an open string, in reach of the bow",
    "first": "the easiest place to begin",
    "stays": "the hand stays where it is",
    "same string": "the hand and the bow stay where they are",
    "line": "the line stays on one string",
    "near": "the least crossing and shifting from the notes around it",
}


def hand_text(decided: str, string: str, finger: int | None, position: int, instrument: Instrument) -> str:
    """Return where a note lies and what decided it.

    Args:
        decided: what did, by its code.
        string: its letter.
        finger: that plays it; None where none reaches.
        position: semitones of the first finger above the open string; 0 where no finger is needed.
        instrument: held high or down.
    """
    played = f", {NAMES[finger]}" if finger else ""
    place = f" in {position_name(position, instrument)}" if position else ""
    return f"{string} string{played}{place}: {_DECIDED[decided]}"


def costs_text(
    crossings: int, hard: int, easy: int, shifts: int, least_time: float | None, open_strings: int, harmonics: int
) -> str:
    """Return what a way of the hand asks of the bow, in one line.

    Args:
        crossings: among its notes.
        hard: of these, round the hard way.
        easy: and round the easy one.
        shifts: of the hand.
        least_time: that the bow leaves for one of them [s].
        open_strings: notes on them.
        harmonics: notes that are.
    """
    ways = ", ".join(f"{count} the {sense} way" for count, sense in ((hard, "hard"), (easy, "easy")) if count)
    parts = [_counted(crossings, "crossing") + (f" ({ways})" if ways else ""), _counted(shifts, "shift")]
    if least_time is not None:
        parts[-1] += f" ({least_time:.2f} s for the shortest)"
    parts += [_counted(count, name) for count, name in ((open_strings, "open note"), (harmonics, "harmonic")) if count]
    return " · ".join(parts) + "."


def _counted(count: int, name: str) -> str:
    return f"{count or 'no'} {name}{'' if count == 1 else 's'}"


def position_name(position: int, instrument: Instrument) -> str:
    """Return what players call a position; empty where no finger is needed.

    Args:
        position: semitones of the first finger, or the thumb, above the open string.
        instrument: held high or down.
    """
    if instrument.held_down and position >= THUMB_FROM:
        return "thumb position"
    return f"{_NAMES[position]} position" if position and position < len(_NAMES) else _BEYOND if position else ""
