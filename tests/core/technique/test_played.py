"""In which order bars are played: repeats, D.C., D.S. and the coda."""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

import pytest

from pathway.core.music import Repeat
from pathway.core.technique.directions import Jump, divides, ends_wood, hands_asked, jump_of, understood
from pathway.core.technique.played import played_bars
from pathway.formats.jumps import repeats_by_words
from tests.helpers import part_of

PART = part_of(" | ".join(["a4:4 b4 c5 d5"] * 6))


def _bars(*marks: tuple[float, Jump], repeats: Sequence[Repeat] = ()) -> str:
    found = [(Fraction(4 * bar), jump) for bar, jump in marks]
    part = replace(PART, repeats=(*repeats, *repeats_by_words(found, PART.measures)))
    return "".join(str(bar + 1) for bar in played_bars(part))


def test_the_order_of_bars_with_jumps() -> None:
    """As printed: at the bar line, or over the last bar."""
    assert _bars() == "123456"
    assert _bars(repeats=[Repeat(Fraction(4), Fraction(8))]) == "12" + "2" + "3456"
    assert _bars((6, Jump.TO_START)) == "123456" + "123456"
    assert _bars((5.75, Jump.TO_START), (2.75, Jump.FINE)) == "123456" + "123"
    assert _bars((3, Jump.FINE), (6, Jump.TO_START)) == "123456" + "123"
    assert _bars((1, Jump.SEGNO), (4, Jump.TO_SEGNO)) == "1234" + "23456"
    assert _bars((1, Jump.SEGNO), (3, Jump.LEAVES), (5, Jump.TO_SEGNO), (5, Jump.CODA)) == "12345" + "23" + "6"
    assert _bars((2, Jump.CODA), (4, Jump.TO_START), (5, Jump.CODA)) == "1234" + "12" + "6"


def test_repeats_are_not_played_again_after_a_jump() -> None:
    """As the rule is."""
    assert _bars((6, Jump.TO_START), repeats=[Repeat(Fraction(0), Fraction(8))]) == "12123456" + "123456"


@pytest.mark.parametrize(
    ("words", "jump"),
    [
        ("D.C. al Fine", Jump.TO_START), ("da capo", Jump.TO_START), ("D.S. al Coda", Jump.TO_SEGNO),
        ("To Coda", Jump.LEAVES), ("Fine", Jump.FINE), ("Coda", Jump.CODA), ("Segno", Jump.SEGNO), ("dolce", None),
    ],
)  # fmt: skip
def test_words_for_jumps(words: str, jump: Jump | None) -> None:
    """Each for what it asks."""
    assert jump_of(words) is jump
    assert understood(words)


def test_words_for_hands_and_players() -> None:
    """What is denied is denied."""
    assert (divides("div."), divides("unis."), divides("non div."), divides("arco")) == (True, False, False, None)
    assert [hands_asked(words) for words in ("pizz.", "col legno batt.", "arco", "ord.", "dolce")] == [
        "finger", "wood", "hair", None, None,
    ]  # fmt: skip
    assert (ends_wood("gewöhnlich"), ends_wood("ord."), ends_wood("arco")) == (True, True, False)
