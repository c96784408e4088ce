"""Two plans beside each other, and what hovers over the sheet."""

from pathway.core.planning import Settings, plan_part, replan
from pathway.core.planning.edits import Edit, What, edited_locks
from pathway.web.shared.way import way_of
from pathway.web.sheet.compare import Comparison
from tests.helpers import plan_of

PLAN = plan_of("[mf] " + " | ".join(["d4:4 e4 f#4 g4"] * 4))


def _turned() -> Comparison:
    locks = edited_locks(PLAN, Edit(What.END, ("n6",), "60"))
    return Comparison(PLAN, replan(PLAN, locks.values()))


def test_a_plan_is_the_same_as_itself() -> None:
    """Every figure agrees."""
    same = Comparison(PLAN, PLAN)
    assert same.same
    assert same.bars == "The bows are the same."
    assert all(one == two for _, one, two in same.rows)


def test_what_differs_is_told_by_bars_and_figures() -> None:
    """One end moved: the bars around it differ; another tempo: so does its figure."""
    comparison = _turned()
    assert not comparison.same
    assert comparison.bars.startswith("They differ in")
    rows = {name: (one, two) for name, one, two in comparison.rows}
    assert set(rows) >= {"hair used", "findings, high to low", "long enough from"}
    assert rows["bows"][0] == rows["bows"][1]
    slower = Comparison(PLAN, plan_part(PLAN.part, PLAN.rig, Settings(50.0)))
    assert {name: (one, two) for name, one, two in slower.rows}["tempo"] == ("80", "50")


def test_the_path_tells_what_needs_a_look() -> None:
    """A plain piece is settled; with a bow that runs out it needs a look; a lock is work."""
    assert {station.name: station.state for station in way_of(1, PLAN, "Bowing")} == {
        "Rig": "untouched", "Music": "untouched", "Bowing": "settled", "Tone": "settled", "Practise": "", "Takes": ""
    }  # fmt: skip
    short = plan_of("[f] (d4:1 | e4:1 | f4:1) | g4:1")
    assert way_of(1, short, "Music")[2].state == "needs a look"
    worked = replan(PLAN, edited_locks(PLAN, Edit(What.LANE, ("n2",), "3")).values())
    assert way_of(1, worked, "Tone")[2].state == "in work"
