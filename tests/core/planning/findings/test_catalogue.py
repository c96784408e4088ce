"""The order in which helps are tried: what a teacher says first; last what changes the text."""

import pytest

from pathway.core.guide.helps import help_text
from pathway.core.planning.finding import Code
from pathway.core.planning.findings.catalogue import CATALOGUE, Maker
from pathway.core.planning.helped import fixes_for
from tests.helpers import plan_of

TEXT = {Maker.HOOK, Maker.JOIN, Maker.JOIN_CROSSING, Maker.SPLIT}
OF_THE_TEXT = {Code.SHIFT_HEARD, Code.OFF_SQUARE_SENSITIVE}  # which nothing else but a string or a lane helps


@pytest.mark.parametrize("code", sorted(CATALOGUE.keys() - OF_THE_TEXT))
def test_what_changes_the_text_is_tried_last(code: Code) -> None:
    """After all that leaves it."""
    changes = [maker in TEXT for maker in CATALOGUE[code].makers]
    assert changes == sorted(changes)


@pytest.mark.parametrize("way", ["hook", "join", "split"])
def test_what_changes_the_text_is_called_so(way: str) -> None:
    """In the words of the help."""
    assert help_text(way, {"place": "bar 3, beat 2"}).endswith("other than printed")


def test_a_bow_that_runs_out_is_first_played_softer_and_divided_last() -> None:
    """Each tried on the plan."""
    plan = plan_of("[f] (d4:1 | e4:2) f4:2", tempo=72)
    (found,) = [finding for finding in plan.findings if finding.code == Code.RUNS_OUT]
    assert [fix.way for fix in fixes_for(plan, found)] == ["softer", "tempo", "split"]
