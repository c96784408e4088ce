"""What words ask for the tempo, in four languages."""

from fractions import Fraction

import pytest

from pathway.core.technique.tempo_words import LESS, Kind, TempoWord, spoken_tempi, tempo_word_of

QUARTER, EIGHTH, HALF = Fraction(1), Fraction(1, 2), Fraction(2)


def _word(text: str) -> TempoWord:
    word = tempo_word_of(text)
    assert word is not None
    return word


@pytest.mark.parametrize(
    ("slower", "faster"),
    [
        ("Grave", "Largo"),
        ("Adagio", "Andante"),
        ("Andante", "Allegretto"),
        ("Allegro ma non troppo", "Allegro"),
        ("Allegro", "Allegro assai"),
        ("Vivace", "Presto"),
        ("Sehr langsam", "Langsam"),
        ("Gehend", "Bewegt"),
        ("Lebhaft, nicht zu schnell", "Sehr lebhaft"),
        ("Lent", "Modéré"),
        ("Animé", "Très vif"),
        ("Slow", "Moderate"),
        ("Lively", "Very fast"),
        ("Andante", "Andante con moto"),
    ],
)
def test_words_lie_in_the_order_players_know(slower: str, faster: str) -> None:
    """Each inside its own usual range."""
    one, other = _word(slower), _word(faster)
    assert one.beats < other.beats
    assert all(word.low <= word.beats <= word.high for word in (one, other))


@pytest.mark.parametrize("text", ["dolce", "rit.", "cresc. molto", "pizz.", "sul G", "largamente", "con sord.", "solo"])
def test_words_of_other_things_say_nothing_of_the_tempo(text: str) -> None:
    """A colour, a slowing, a manner."""
    assert tempo_word_of(text) is None


def test_the_beat_of_the_meter_is_what_a_word_counts() -> None:
    """A dotted quarter in 6/8, the eighth where it is slow; the half in cut time, broader than the quarter."""
    fast, slow = _word("Allegro"), _word("Adagio")
    assert fast.quarters(QUARTER, QUARTER) == 132
    assert fast.quarters(Fraction(3, 2), EIGHTH) == pytest.approx(132 * 0.8 * 1.5)
    assert slow.quarters(Fraction(3, 2), EIGHTH) == pytest.approx(58 * 1.4 / 2)
    assert fast.quarters(HALF, HALF) == pytest.approx(132 * 0.62 * 2)


def test_tempi_follow_the_words_between_the_numbers() -> None:
    """Slower than what holds, back to it, back to the beginning; beside a number a word says nothing more."""
    words = [
        (0, "Andante"), (8, "Meno mosso"), (16, "a tempo"), (24, "Allegro"), (32, "più mosso"), (40, "Tempo I"),
    ]  # fmt: skip
    said = [(Fraction(at), _word(text), QUARTER, QUARTER) for at, text in words]
    told = list(spoken_tempi([(Fraction(24), 140.0)], said, 80.0))
    quarters = [mark.quarters for mark in told]
    assert quarters == pytest.approx([76, 76 * LESS, 76, 140, 161, 76])
    assert [mark.word for mark in told] == ["Andante", "Meno mosso", "a tempo", "", "più mosso", "Tempo I"]
    assert _word("Tempo primo").kind is Kind.FIRST


def test_what_changes_before_anything_is_said_changes_what_is_assumed() -> None:
    """A first word that only says slower."""
    (mark,) = spoken_tempi([], [(Fraction(4), _word("langsamer"), QUARTER, QUARTER)], 80.0)
    assert mark.quarters == pytest.approx(80 * LESS)


@pytest.mark.parametrize(
    ("text", "low", "high"),
    [("nicht schnell", 125, 140), ("non troppo lento", 60, 80), ("pas trop vite", 125, 140)],
)
def test_a_word_that_is_denied_lies_nearer_to_the_middle(text: str, low: float, high: float) -> None:
    """Not its own tempo, nor none."""
    found = tempo_word_of(text)
    assert found is not None
    assert low <= found.beats <= high
