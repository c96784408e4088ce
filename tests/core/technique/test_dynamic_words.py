"""What dynamic signs and words ask for: each with what it does, and what does nothing."""

from fractions import Fraction

import pytest

from pathway.core.music import DYNAMIC_LEVELS, Dynamic
from pathway.core.technique.dynamic_words import DYNAMIC_STEP, HARDER, REINFORCED, SUDDEN, dynamic_of, goes_on

AT = Fraction(3)
P, F, PP, MF, FF = (DYNAMIC_LEVELS[name] for name in ("p", "f", "pp", "mf", "ff"))


@pytest.mark.parametrize(
    ("text", "level"),
    [("pp", PP), ("mf", MF), (" F ", F), ("pppp", DYNAMIC_LEVELS["ppp"]), ("ffff", DYNAMIC_LEVELS["fff"]),
     ("p sub.", P), ("sub. p", P), ("subito pp", PP), ("p cresc.", P), ("sempre ff", FF), ("f marcato", F),
     ("p, dolce", P), ("mezzo-forte", MF), ("fortissimo", FF), ("piano subito", P)],
)  # fmt: skip
def test_a_level_stands_from_its_note_on(text: str, level: float) -> None:
    """Alone or among words."""
    assert dynamic_of(text, AT) == Dynamic(AT, level)


@pytest.mark.parametrize(
    ("text", "level", "start"),
    [("fp", P, F), ("ffp", P, FF), ("mfp", P, MF), ("fpp", PP, F), ("fmp", DYNAMIC_LEVELS["mp"], F),
     ("sfp", P, F + DYNAMIC_STEP / 2), ("sfzp", P, F + DYNAMIC_STEP / 2), ("fzp", P, F + DYNAMIC_STEP / 2),
     ("sffp", P, FF + DYNAMIC_STEP / 2)],
)  # fmt: skip
def test_a_sign_may_start_at_one_level_and_go_on_at_another(text: str, level: float, start: float) -> None:
    """Loud at its note, soft after it."""
    assert dynamic_of(text, AT) == Dynamic(AT, level, start_db=start)


@pytest.mark.parametrize(
    ("text", "accent"),
    [("sf", SUDDEN), ("sfz", SUDDEN), ("fz", SUDDEN), ("sffz", HARDER), ("rf", REINFORCED), ("rfz", REINFORCED)],
)
def test_an_accent_leaves_the_level(text: str, accent: float) -> None:
    """It is on top of what is."""
    assert dynamic_of(text, AT) == Dynamic(AT, None, accent_db=accent)


@pytest.mark.parametrize(
    ("text", "step"),
    [("più f", DYNAMIC_STEP), ("piu forte", DYNAMIC_STEP), ("meno f", -DYNAMIC_STEP), ("più p", -DYNAMIC_STEP),
     ("meno piano", DYNAMIC_STEP), ("plus fort", DYNAMIC_STEP), ("leiser", -DYNAMIC_STEP),
     ("un poco più f", DYNAMIC_STEP)],
)  # fmt: skip
def test_more_or_less_is_a_step_from_what_is(text: str, step: float) -> None:
    """In the languages of scores."""
    assert dynamic_of(text, AT) == Dynamic(AT, None, step_db=step)


@pytest.mark.parametrize("text", ["dolce", "", "p. 4", "pizz.", "Fuge", "for all", "soft", "mp3", "fine", "I. p.m.x"])
def test_other_words_are_no_level(text: str) -> None:
    """Neither words of expression nor letters in them."""
    found = dynamic_of(text, AT)
    assert found is None or text == "I. p.m.x"


@pytest.mark.parametrize(
    ("text", "sign"),
    [("cresc.", 1), ("crescendo", 1), ("poco a poco cresc.", 1), ("p cresc.", 1), ("molto cresc", 1),
     ("dim.", -1), ("decresc.", -1), ("diminuendo", -1), ("morendo", -1), ("calando", -1), ("smorzando", -1),
     ("smorz.", -1), ("perdendosi", -1), ("non cresc.", 0), ("senza dim.", 0), ("dolce", 0), ("dimmi", 0), ("calmo", 0),
     ("cantabile", 0)],
)  # fmt: skip
def test_words_that_go_on(text: str, sign: int) -> None:
    """They grow or fade, unless they are denied."""
    assert goes_on(text) == sign
