"""How lengths, weights and names are told."""

from pathway.core.guide.speech import PLAIN, Lengths, Speech, Weights

OTHER = Speech(Lengths.INCH, Weights.NEWTON, "marcato")


def test_lengths_and_weights_are_told_in_either_unit() -> None:
    """By hand: 12.7 cm are 5 in, 2.54 m/s are 100 in/s, 100 g are 0.98 N."""
    assert (str(PLAIN.length(0.127)), str(PLAIN.length(0.127, 1))) == ("13 cm", "12.7 cm")
    assert str(OTHER.length(0.127, 1)) == "5.0 in"
    assert (str(PLAIN.speed(2.54)), str(OTHER.speed(2.54))) == ("254 cm/s", "100.0 in/s")
    assert (str(PLAIN.weight(0.981)), str(OTHER.weight(0.981))) == ("100 g", "0.98 N")
    assert (str(PLAIN.other_weight(0.981)), str(OTHER.other_weight(0.981))) == ("0.98 N", "100 g")


def test_one_stroke_has_a_name_of_the_players_own() -> None:
    """Its kin change with it, others stay."""
    assert [PLAIN.manner(key) for key in ("martele", "soft-martele")] == ["martelé", "soft martelé"]
    assert [OTHER.manner(key) for key in ("martele", "soft-martele", "colle")] == ["marcato", "soft marcato", "collé"]
