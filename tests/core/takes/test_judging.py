"""What a recording says of a try: an even one is clean, a scattered one is not; what cannot be known is not said."""

import pytest

from pathway.core.practice.drill import DrillAsk, Quantity, Stage
from pathway.core.practice.making import opened
from pathway.core.practice.staircase import Verdict
from pathway.core.rig import PRESETS
from pathway.core.sound import playable
from pathway.core.takes import Listened, listen
from pathway.core.takes.judging import judged
from pathway.core.takes.player import Human, play

DRILL = opened(DrillAsk("crossings", "low to high", Stage.OPEN), PRESETS["violin"])


def _tried(human: Human) -> Listened:
    plan = playable(DRILL.rungs[1].plan)
    return listen(plan, play(plan, human, 3).samples, 48_000)


EVEN, LOOSE = _tried(Human(timing=0.004, level=0.4, rubato=0.0)), _tried(Human(timing=0.06, level=5.0, rubato=0.0))


def test_an_even_try_is_clean_and_a_scattered_one_is_not() -> None:
    """By the number that the rung is passed by."""
    passes = DRILL.row.passes
    limit = passes.at(DRILL.rungs[1].plan)
    clean, loose = (judged(one, passes.quantity, limit, passes.unit) for one in (EVEN, LOOSE))
    assert clean is not None
    assert loose is not None
    assert clean.verdict is Verdict.CLEAN
    assert loose.verdict is Verdict.NOT_YET
    assert f"{clean.value:.1f} %" in clean.text
    assert clean.value < clean.limit < loose.value


def test_levels_and_tempi_are_judged() -> None:
    """A slower try is off the tempo by as much."""
    level = [judged(one, Quantity.LEVEL, 2.0, "dB") for one in (EVEN, LOOSE)]
    assert level[0] is not None
    assert level[1] is not None
    assert level[0].value < level[1].value
    slow = judged(_tried(Human(tempo=0.9, rubato=0.0)), Quantity.TEMPO, 5.0, "%")
    assert slow is not None
    assert slow.value == pytest.approx(10, abs=3)


@pytest.mark.parametrize(("quantity", "unit"), [(Quantity.OWN, ""), (Quantity.LANE, "lane"), (Quantity.LEVEL, "ms")])
def test_what_cannot_be_heard_is_not_judged(quantity: Quantity, unit: str) -> None:
    """The player says it."""
    assert judged(EVEN, quantity, 1.0, unit) is None
    assert judged(EVEN, Quantity.LEVEL, 0.0, "dB") is None
