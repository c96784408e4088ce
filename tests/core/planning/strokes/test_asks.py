"""Where the words over a staff begin to hold, and where they end by themselves."""

from dataclasses import replace
from fractions import Fraction

import pytest

from pathway.core.music import DYNAMIC_LEVELS, Dynamic, Part, TempoMark, Words
from pathway.core.planning import Settings
from pathway.core.planning.strokes.asks import Ask, asks_of
from pathway.core.rig import preset
from pathway.core.technique.notation import Where
from tests.helpers import part_of

PLAIN = part_of(" | ".join(["d4:4 e4 f4 g4"] * 8))


def _asked(part: Part) -> list[Ask]:
    return asks_of(part, Settings(), preset("violin"))


def _bars(part: Part, what: str) -> list[int]:
    """Return the bars, from 1, in which a word colours every note."""
    held = [bool(ask.words.get(what)) for ask in _asked(part)]
    return [n for n in range(1, 9) if all(held[4 * (n - 1) : 4 * n])]


def _with(*said: tuple[int, str], **marks: object) -> Part:
    """Return the part with words at the beginning of bars."""
    words = tuple(Words(Fraction(4 * (bar - 1)), text) for bar, text in said)
    return replace(PLAIN, words=words, **marks)  # type: ignore[arg-type]


def _levels(*said: tuple[int, str]) -> tuple[Dynamic, ...]:
    return tuple(Dynamic(Fraction(4 * (bar - 1)), DYNAMIC_LEVELS[text]) for bar, text in said)


@pytest.mark.parametrize("word", ["sotto voce", "dolce", "mezza voce", "zart", "doux"])
@pytest.mark.parametrize("end", ["ord.", "espress.", "cantabile"])
def test_a_soft_word_holds_to_the_word_that_ends_it(word: str, end: str) -> None:
    """From its own place to the other's."""
    part = _with((2, word), (5, end))
    assert _bars(part, "colour") == [2, 3, 4]
    assert [ask.colour for ask in _asked(part)][::4] == [0, -1, -1, -1, 0, 0, 0, 0]


def test_a_soft_word_ends_where_the_music_is_another() -> None:
    """A double bar or a rehearsal mark, another tempo; a tempo that only comes back to itself ends nothing."""
    assert _bars(_with((1, "dolce"), sections=(Fraction(16),)), "colour") == [1, 2, 3, 4]
    slow, quick = TempoMark(Fraction(0), 60), TempoMark(Fraction(12), 96)
    assert _bars(_with((2, "dolce"), tempos=(slow, quick)), "colour") == [2, 3]
    same = TempoMark(Fraction(12), 60)
    assert _bars(_with((2, "dolce"), tempos=(slow, same)), "colour") == [2, 3, 4, 5, 6, 7, 8]


@pytest.mark.parametrize(
    ("levels", "bars"),
    [
        ((("p", 1), ("mp", 4)), [2, 3, 4, 5, 6, 7, 8]),
        ((("p", 1), ("mf", 4)), [2, 3]),
        ((("p", 1), ("ppp", 4)), [2, 3]),
        ((("p", 1), ("f", 4), ("p", 6)), [2, 3]),
        ((("f", 4),), [2, 3, 4, 5, 6, 7, 8]),
    ],
)
def test_a_soft_word_ends_two_dynamics_away(levels: tuple[tuple[str, int], ...], bars: list[int]) -> None:
    """From the one it stood at, louder or softer; it does not come back with it."""
    dynamics = _levels(*((bar, text) for text, bar in levels))
    assert _bars(_with((2, "dolce"), dynamics=dynamics), "colour") == bars


def test_a_place_on_the_string_holds_through_dynamics() -> None:
    """To "ord.", the other place, a new section or tempo; an expressive word is about the colour."""
    loud = _levels((1, "pp"), (4, "ff"))
    part = _with((2, "sul tasto"), (4, "espress."), (6, "sul pont."), (8, "nat."), dynamics=loud)
    wheres = [ask.where for ask in _asked(part)][::4]
    board, bridge = Where.FINGERBOARD, Where.BRIDGE
    assert wheres == [Where.USUAL, board, board, board, board, bridge, bridge, Where.USUAL]
    assert [ask.words for ask in _asked(part)][::4][5] == {"place": "sul pont."}
    assert _bars(_with((2, "sul pont."), sections=(Fraction(20),)), "place") == [2, 3, 4, 5]
