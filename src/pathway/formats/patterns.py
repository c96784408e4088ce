"""Patterns of two open strings as a score, to be kept, planned and practised like any piece."""

from dataclasses import dataclass

from pathway.core.music import PITCH_NAMES
from pathway.formats.shorthand import compose

BARS, EIGHTHS = 8, 12  # of twelve eighths each: every bow of one to six notes fits in
_LETTERS = {"♯": "#", "♭": "b"}


@dataclass(frozen=True, slots=True)
class Pattern:
    """Two open strings in turn."""

    low: int  # MIDI pitches as they sound
    high: int
    names: tuple[str, str]
    notes_a_bow: int
    begins_high: bool
    up_bow: bool
    octave_down: bool  # written an octave above


def pattern_score(pattern: Pattern) -> bytes:
    """Return a pattern as MusicXML."""
    up = 12 if pattern.octave_down else 0
    low, high = (spelled(midi + up) for midi in (pattern.low, pattern.high))
    turn = (high, low) if pattern.begins_high else (low, high)
    count, bow = pattern.notes_a_bow, "v" if pattern.up_bow else "n"
    tokens = []
    for i in range(BARS * EIGHTHS):
        pitch = turn[i % 2] + (":8" if i == 0 else "")
        opens = count > 1 and i % count == 0 and i + count <= BARS * EIGHTHS
        closes = count > 1 and i % count == count - 1
        tokens.append(f"{bow if i == 0 else ''}{'(' if opens else ''}{pitch}{')' if closes else ''}")
    bars = [" ".join(tokens[b * EIGHTHS : (b + 1) * EIGHTHS]) for b in range(BARS)]
    clef = "treble" if pattern.low + up >= 55 else "alto" if pattern.low + up >= 48 else "bass"
    names = f"{pattern.names[0]} and {pattern.names[1]}"
    head = (
        f"title: Open {names}, {count} a bow\npart: Open strings\nclef: {clef}\nfifths: 0\nmeter: 12/8\ntempo: 66\n"
        + ("octave: down\n" if pattern.octave_down else "")
    )
    return compose(head + "[mf] " + " | ".join(bars) + " |").encode()


def spelled(midi: int) -> str:
    """Return a pitch as the shorthand writes it."""
    name = PITCH_NAMES[midi % 12]
    return name[0].lower() + "".join(_LETTERS[sign] for sign in name[1:]) + str(midi // 12 - 1)
