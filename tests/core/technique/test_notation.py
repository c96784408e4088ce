"""What signs and words ask for: four languages, the rates of dots, and what contradicts what."""

import pytest

from pathway.core.guide.descriptions import DESCRIPTIONS
from pathway.core.music import Mark
from pathway.core.physics.string import CLOSEST
from pathway.core.technique.notation import (
    Half,
    Where,
    Wording,
    contradiction,
    place_range,
    type_of,
    wording_of,
)
from pathway.core.technique.stroke_types import STROKE_TYPES, Contact, Start

STRINGS = ("G", "D", "A", "E")


@pytest.mark.parametrize(
    ("words", "kind"),
    [
        ("spiccato", "spiccato"), ("off the string", "spiccato"), ("springend", "spiccato"),
        ("sautillé", "sautille"), ("saltellato", "sautille"), ("Springbogen", "sautille"),
        ("martellato", "martele"), ("gehämmert", "martele"), ("martelé", "martele"), ("grand martelé", "grand-martele"),
        ("détaché", "detache"), ("sciolto", "detache"), ("grand détaché", "broad-detache"),
        ("louré", "portato"), ("portato", "portato"), ("legato", "legato"), ("gebunden", "legato"),
        ("jeté", "ricochet"), ("ricochet", "ricochet"), ("collé", "colle"), ("fouetté", "fouette"),
        ("staccato volante", "flying-staccato"), ("fliegendes Staccato", "flying-staccato"),
        ("sostenuto", "sustained"), ("an der Saite", "short-detache"), ("trem.", "tremolo"),
        ("Andante legato", "legato"), ("Allegro sempre spiccato", "spiccato"), ("non legato", "detache"),
        ("nicht gebunden", "detache"), ("non trem.", ""), ("senza tremolo", ""),
    ],
)  # fmt: skip
def test_words_name_a_manner(words: str, kind: str) -> None:
    """In English, Italian, French and German."""
    found = wording_of(words, STRINGS)
    assert found is not None
    assert found.kind == kind


@pytest.mark.parametrize(
    ("words", "wording"),
    [
        ("sul tasto", Wording(where=Where.FINGERBOARD)),
        ("am Steg", Wording(where=Where.BRIDGE)),
        ("sul pont.", Wording(where=Where.BRIDGE)),
        ("au talon", Wording(half=Half.FROG)),
        ("am Frosch", Wording(half=Half.FROG)),
        ("punta d'arco", Wording(half=Half.TIP)),
        ("con sord.", Wording(muted=True)),
        ("ohne Dämpfer", Wording(muted=False)),
        ("dolce", Wording(soft=True)),
        ("sul G", Wording(string=4)),
        ("auf der D-Saite", Wording(string=3)),
        ("sul IV", Wording(string=4)),
        ("nat.", Wording(kind="", where=Where.USUAL, half=Half.ANY, soft=False, string=0)),
    ],
)
def test_words_name_places_and_colours(words: str, wording: Wording) -> None:
    """Each changes one thing and leaves the others; an ordinary way of playing ends them."""
    assert wording_of(words, STRINGS) == wording


@pytest.mark.parametrize("words", ["Allegro", "with joy", "2nd time", "cresc.", "solo", "arco", "importante"])
def test_other_words_ask_nothing_of_the_bow(words: str) -> None:
    """Nothing is read into them."""
    assert wording_of(words, STRINGS) is None


@pytest.mark.parametrize(
    ("words", "string"),
    [
        ("2a corda", 2),
        ("IIa", 2),
        ("IIIa corda", 3),
        ("sur la corde La", 2),
        ("sul Sol", 4),
        ("sul D", 3),
        ("4e corde", 4),
    ],
)
def test_words_name_a_string(words: str, string: int) -> None:
    """By its letter, its number, its name in singing."""
    found = wording_of(words, STRINGS)
    assert found is not None
    assert found == Wording(string=string)


@pytest.mark.parametrize("words", ["Adagio sostenuto", "ma non troppo legato", "III", "in 3a volta", "la la"])
def test_a_tempo_and_what_is_denied_are_no_manner(words: str) -> None:
    """A tempo's sostenuto is its character; numbers alone are of many things."""
    assert wording_of(words, STRINGS) is None


@pytest.mark.parametrize(
    ("marks", "notes", "rate", "level", "kind"),
    [
        ({Mark.DOT}, 1, 6.0, 0.0, "spiccato"),
        ({Mark.DOT}, 1, 6.0, 8.0, "short-detache"),
        ({Mark.DOT}, 1, 2.0, 0.0, "short-detache"),
        ({Mark.DOT}, 1, 9.5, 0.0, "sautille"),
        ({Mark.DOT}, 1, 12.9, 0.0, "sautille"),
        ({Mark.DOT}, 1, 13.2, 0.0, "detache"),
        ({Mark.DOT}, 1, 9.5, 8.0, "detache"),
        ({Mark.DOT, Mark.ACCENT}, 1, 3.0, 0.0, "martele"),
        ({Mark.WEDGE}, 1, 3.0, 0.0, "martele"),
        ({Mark.DASH}, 1, 3.0, 0.0, "porte"),
        ({Mark.DOT}, 4, 6.0, 0.0, "staccato"),
        ({Mark.DOT}, 4, 2.0, 0.0, "portato"),
        (set(), 3, 3.0, 0.0, "legato"),
        (set(), 1, 3.0, 0.0, "detache"),
    ],
)
def test_signs_and_their_rates(marks: set[Mark], notes: int, rate: float, level: float, kind: str) -> None:
    """A dot leaves the string only where a bow would."""
    assert type_of(marks, notes, rate, level).key == kind


def test_words_against_signs() -> None:
    """Legato over dots, one-bow staccato on separate bows, spiccato under a slur."""
    assert contradiction(STROKE_TYPES["legato"], {Mark.DOT}, 3) == "dots"
    assert contradiction(STROKE_TYPES["staccato"], {Mark.DOT}, 1) == "separate bows"
    assert contradiction(STROKE_TYPES["spiccato"], set(), 2) == "a slur"
    assert contradiction(STROKE_TYPES["spiccato"], {Mark.DOT}, 1) is None


def test_every_type_is_described_and_makes_sense() -> None:
    """Words for each; zones on the hair; gaps leave sound; those it leads to exist."""
    assert DESCRIPTIONS.keys() == STROKE_TYPES.keys()
    for kind in STROKE_TYPES.values():
        assert kind.zone is None or 0 <= kind.zone[0] < kind.zone[1] <= 1
        assert 0 <= kind.gap < 0.8
        assert {kind.faster, kind.softer} - {None} <= STROKE_TYPES.keys()
        assert kind.most_per_second is None or kind.least_per_second < kind.most_per_second
        assert kind.contact is Contact.ON or kind.start is not Start.NONE
    assert [kind.key for kind in STROKE_TYPES.values() if kind.bounces] == ["spiccato", "sautille"]


def test_places_that_are_asked_for_lie_beyond_the_usual_ones() -> None:
    """Over the fingerboard further out, at the bridge closer."""
    assert place_range(Where.USUAL, 0.18) == (CLOSEST, 0.18)
    assert place_range(Where.FINGERBOARD, 0.18)[1] > 0.18
    assert place_range(Where.BRIDGE, 0.18)[0] < CLOSEST
