"""Other ways for the left hand: each begins elsewhere, is planned, and its costs are those of its plan."""

import pytest

from pathway.core.planning.hand_ways import MOST_LAID, MOST_WAYS, HandCosts, costs_now, hand_ways
from pathway.core.planning.plan import Plan
from pathway.errors import NotFound, OutOfRange
from tests.helpers import broken_rules_of, plan_of

LINE = "(b4:8 c5 d5 e5) (f5 e5 d5 c5) b4:4 e5"


def _lies(plan: Plan) -> list[tuple[int, int | None]]:
    return [(note.lead.string, note.lead.finger) for note in plan.bowed]


@pytest.mark.parametrize(
    ("rig", "text"),
    [("violin", LINE), ("viola", "d4:4 e4 f4 g4"), ("cello", "(d4:8 e4 f#4 g4) a4:4 g4"), ("bass", "g3:4 a3 b3 d4")],
)
def test_each_way_is_another_one_and_holds(rig: str, text: str) -> None:
    """Up to four, none as it is, all whole plans with a wish for every note."""
    plan = plan_of(text, rig)
    first, last = plan.bowed[0].id, plan.bowed[-1].id
    ways = hand_ways(plan, last, first)  # in whatever order they are named
    lies = [_lies(way.plan) for way in ways]
    assert 2 <= len(ways) <= MOST_WAYS
    assert _lies(plan) not in lies
    assert len({tuple(one) for one in lies}) == len(ways) == len({way.fix.id for way in ways})
    for way in ways:
        assert not broken_rules_of(way.plan)
        assert [(lock.string, lock.finger) for lock in way.fix.locks] == _lies(way.plan)
        assert way.costs == costs_now(way.plan, first, last)
        fingers = [word for word in way.lies.split() if word in "01234T"]
        assert fingers == [str(finger).replace("5", "T") for _, finger in _lies(way.plan)]


def test_what_a_way_costs_is_counted_in_its_plan() -> None:
    """Crossings with their senses, shifts with the time for them, open strings, harmonics."""
    plan = plan_of("a4:8 e5 a4 e5 a4 e5 a4 e5", tempo=120)
    costs = HandCosts.of(plan, [note.id for note in plan.bowed])
    assert (costs.crossings, costs.hard + costs.easy) == (7, 7)
    assert (costs.open_strings, costs.shifts, costs.least_time) == (8, 0, None)
    assert costs.text.startswith("7 crossings (")
    assert costs.text.endswith(" · no shifts · 8 open notes.")
    high = plan_of("(b4:4 b6)")
    shifted = costs_now(high, high.bowed[0].id, high.bowed[1].id)
    assert shifted.shifts == 1
    assert f"1 shift ({shifted.least_time:.2f} s for the shortest)" in shifted.text


def test_one_of_the_ways_has_a_harmonic_where_there_can_be_one() -> None:
    """An octave over an open string first; the notes around it lie as they did."""
    plan = plan_of("g4:4 a5:2 g4:4")
    way = next(way for way in hand_ways(plan, plan.bowed[1].id, plan.bowed[1].id) if way.costs.harmonics)
    assert (way.plan.bowed[1].lead.loops, way.plan.bowed[1].lead.string, way.plan.bowed[1].lead.finger) == (2, 2, 0)
    assert "harmonic" in way.fix.text()


def test_too_many_notes_and_none_are_refused_in_words() -> None:
    """With how many can be tried."""
    plan = plan_of(" ".join(["a4:16"] * (MOST_LAID + 1)))
    with pytest.raises(OutOfRange, match="other positions"):
        hand_ways(plan, plan.bowed[0].id, plan.bowed[-1].id)
    with pytest.raises(NotFound):
        hand_ways(plan, "n999", plan.bowed[0].id)
