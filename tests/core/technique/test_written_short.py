"""What the page says once for many notes: marks by words, and a manner that goes on by sim."""

from dataclasses import replace
from fractions import Fraction

import pytest

from pathway.core.music import Mark, Part, Words
from pathway.core.technique.written_short import in_full, marks_asked
from tests.helpers import part_of


def _with(text: str, *words: tuple[int, str]) -> Part:
    """Return bars in shorthand, in full, with words over the beginning of bars."""
    part = part_of(text)
    return in_full(replace(part, words=tuple(Words(part.measures[bar - 1].onset, said) for bar, said in words)))


def _marks(part: Part) -> list[set[Mark]]:
    return [set(event.marks) for event in part.events]


@pytest.mark.parametrize(
    ("words", "marks"),
    [
        ("staccato", {Mark.DOT}), ("sempre stacc.", {Mark.DOT}), ("molto marcato", {Mark.ACCENT}),
        ("stacc. e marc.", {Mark.DOT, Mark.ACCENT}), ("non staccato", set()), ("senza marc.", set()), ("legato", set()),
        ("spiccato", set()), ("staccato volante", set()), ("flying staccato", set()),
    ],
)  # fmt: skip
def test_words_stand_for_marks(words: str, marks: set[Mark]) -> None:
    """A manner with a name of its own ends them."""
    assert marks_asked(words) == marks
    assert marks_asked("dolce") is None


def test_staccato_goes_on_until_another_word_or_section_and_spares_what_says_more() -> None:
    """Notes under a slur, with signs of their own, ties and graces keep what they have."""
    part = _with("a4:4 b4 c5- d5 | (a4:4 b4) c5 d5 | a4:4 b4 c5 d5", (1, "staccato"), (3, "legato"))
    dot, dash, none = {Mark.DOT}, {Mark.DASH}, set[Mark]()
    assert _marks(part) == [dot, dot, dash, dot, none, none, dot, dot, *[none] * 4]
    plain = part_of("a4:4 b4 c5 d5 | a4:4 b4 c5 d5")
    closed = replace(plain, words=(Words(Fraction(0), "stacc."),), sections=(Fraction(4),))
    assert _marks(in_full(closed)) == [dot] * 4 + [none] * 4


def test_sim_takes_marks_and_slurs_of_the_bar_before_as_long_as_the_rhythm_is_the_same() -> None:
    """And says so; a bar with signs of its own, another rhythm or a word ends it."""
    text = "(a4:8 b4) c5. d5. r:2 | a4:8 b4 c5 d5 r:2 | a4:8 b4 c5 d5 r:2 | a4:4 b4 r:2 | a4:8 b4 c5 d5 r:2"
    part = _with(text, (2, "sim."))
    dot, none = {Mark.DOT}, set[Mark]()
    assert _marks(part) == [none, none, dot, dot] * 3 + [none] * 6
    assert len(part.slurs) == 3
    assert part.notices == ("“sim.” in bar 2: bars 2 to 3 are as the bar before it.",)
    assert len(_with(text, (2, "sim."), (3, "détaché")).slurs) == 2
    (told,) = _with(text, (5, "sim.")).notices
    assert "nothing to go on with" in told


def test_sim_at_the_end_of_the_bar_that_shows_it_begins_with_the_next() -> None:
    """It stands where the eye needs it."""
    part = part_of("a4:8. b4. c5. d5. e5. d5. c5. b4. | a4:8 b4 c5 d5 e5 d5 c5 b4")
    part = in_full(replace(part, words=(Words(Fraction(3), "simile"),)))
    assert all(event.marks == {Mark.DOT} for event in part.events)
