"""The numbers of a rig as a player measures them."""

import pytest

from pathway.core.guide.measuring import EFFECTS, MEASURES, RigMeasure, effect_of, string_measures
from pathway.core.rig import PRESETS, preset
from pathway.formats.rig_document import key_of, revised, rig_document

VIOLIN = preset("violin")


def _more(measure: RigMeasure, value: float) -> str:
    return effect_of(measure, VIOLIN, revised(VIOLIN, [f"{key_of(measure)}={value}"]))


def test_a_heavier_bow_needs_less_of_the_hand_at_the_tip() -> None:
    """Five grams more about the hold: m g (x_c + a) grows by 0.0106 N m, of which the lowest string takes 98 %."""
    mass = next(measure for measure in MEASURES if measure.field == "bow.mass")
    assert _more(mass, 65) == "5 g more: the tip needs 0.011 N m less of the hand."


@pytest.mark.parametrize("measure", [m for m in MEASURES if not m.optional], ids=lambda measure: measure.field)
def test_every_number_does_something(measure: RigMeasure) -> None:
    """A little more of it moves the figure it is told with, or it is not worth a place in the rig room."""
    value = 60.0 if measure.field == "usable.last" else _value(key_of(measure)) + measure.step
    assert _more(measure, value).startswith(f"{measure.step:g} {measure.unit} more: ")
    assert measure.effect in EFFECTS


def _value(key: str) -> float:
    inner = rig_document(VIOLIN)
    for step in key.split("."):
        inner = inner[int(step)] if isinstance(inner, list) else inner[step]
    return float(inner)


def test_every_string_of_every_rig_is_measured() -> None:
    """By its tension, the direction of the stick on it, its ring and its answer, under its own name."""
    for rig in PRESETS.values():
        letters = [string.letter for string in rig.instrument.strings]
        names = ("Tension of the {} string", "Stick on the {} string", "The open {} string", "The {} string")
        assert [m.name for m in string_measures(rig)] == [name.format(letter) for name in names for letter in letters]


def test_a_turn_of_the_screw_is_told_in_all_it_does() -> None:
    """Flight, rate and the stick's room."""
    screw = next(measure for measure in MEASURES if measure.field == "bow.turns")
    told = _more(screw, 1)
    assert "fly" in told
    assert "rebounds" in told
    assert "touches" in told


def test_what_a_player_does_not_know_stays_open() -> None:
    """The own rate of a staccato, and its stretch: unknown, set, and unknown again."""
    for measure in (m for m in MEASURES if m.optional):
        key = key_of(measure)
        assert rig_document(VIOLIN)[key.split(".")[0]][key.split(".")[1]] is None
        known = revised(VIOLIN, [f"{key}={11 if 'per_second' in key else 30}"])
        assert known.staccato != VIOLIN.staccato
        if "per_second" in key:
            assert revised(known, [f"{key}="]).staccato == VIOLIN.staccato
