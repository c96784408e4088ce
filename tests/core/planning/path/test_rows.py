"""A row of like bars is one figure: bowed alike from bar to bar, on every instrument, also after an edit in it."""

import re

import numpy as np
import pytest

from pathway.core.planning import Lock, Plan, Settings, plan_part, replan
from pathway.core.planning.path.rows import rows_of
from pathway.core.planning.wishes import Link
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from tests.helpers import part_of

FIGURES = {  # meter, and a bar
    "3 + 1": ("4/4", "(d4:4 e4 f4) g4"),
    "1 + 3": ("4/4", "d4:4 (e4 f4 g4)"),
    "2 + 6": ("4/4", "(d4:8 e4) (f4 g4 a4 b4 a4 g4)"),
    "2 + 1": ("3/4", "(d4:4 e4) f4"),
    "5 + 1": ("6/8", "(d4:8 e4 f4 g4 a4) g4"),
    "7 + 1": ("4/4", "(d4:8 e4 f4 g4 a4 g4 f4) e4"),
    "4 + 1 + 1": ("6/8", "(d4:8 e4 f4 g4) f4 e4"),
    "3 + 3 + 2": ("4/4", "(d4:8 e4 f4) (g4 a4 g4) (f4 e4)"),
    "long and short": ("3/4", "d4:2 e4:4"),
    "snap": ("2/4", "d4:8 e4:4d"),
    "dotted": ("4/4", "d4:4d e4:8 f4:4d g4:8"),
    "a long one and four": ("4/4", "d4:2 e4:8 f4 g4 a4"),
    "half of it slurred": ("9/8", "(d4:8 e4 f4) (g4 a4 g4) f4 (e4 d4)"),
}
INSTRUMENTS = {"violin": "violin", "cello": "cello", "bass": "bass"}


def _row(figure: str, rig: str, bars: int, tempo: float) -> Plan:
    meter, bar = FIGURES[figure]
    low = re.sub(r"([a-g])4", r"\g<1>3", bar) if rig != "violin" else bar
    return plan_part(part_of("[mf] " + " | ".join([low] * bars), rig, meter=meter), preset(rig), Settings(tempo))


def _bars(plan: Plan) -> list[str]:
    """Return how each bar is bowed: n down, v up, - hooked, a comma where lifted."""
    signs = {Link.HOOK: "-", Link.RETAKE: ","}
    bars: dict[str, str] = {}
    for stroke in plan.strokes:
        bar = plan.note[stroke.id].measure
        way = "n" if stroke.direction is Direction.DOWN else "v"
        bars[bar] = bars.get(bar, "") + signs.get(stroke.entry, "") + way
    return list(bars.values())


def _alike(bars: list[str]) -> bool:
    """Whether all inner bars are bowed as the first of them, or every second one the other way round."""
    inner = bars[1:-1]
    turned = inner[0].translate(str.maketrans("nv", "vn"))
    return all(bar == inner[0] for bar in inner) or all(bar == (inner[0], turned)[i % 2] for i, bar in enumerate(inner))


@pytest.mark.parametrize("figure", FIGURES)
@pytest.mark.parametrize("rig", INSTRUMENTS)
def test_a_row_is_bowed_alike_from_bar_to_bar(figure: str, rig: str) -> None:
    """Eight bars and sixteen, slow and quick."""
    for bars, tempo in ((8, 60), (16, 108)):
        assert _alike(_bars(_row(figure, rig, bars, tempo))), (bars, tempo)


@pytest.mark.parametrize("figure", ["3 + 1", "2 + 1", "dotted", "1 + 3"])
def test_the_hair_that_a_bar_takes_it_brings_back(figure: str) -> None:
    """Inner bars begin where they began: to a centimetre, from bar to bar or from every second one."""
    plan = _row(figure, "violin", 8, 72)
    firsts = {plan.note[stroke.id].measure: stroke.start for stroke in reversed(plan.strokes)}
    starts = [firsts[str(bar)] for bar in range(2, 9)]
    assert min(np.ptp(starts[:-1]), np.ptp(starts[:-1:2])) < 0.01, starts


def test_the_short_way_back_is_light_and_quick() -> None:
    """Level held by weight and lane; told as that, and not as something that will stick out."""
    plan = _row("3 + 1", "violin", 8, 60)
    quick = [plan.note[stroke.id] for stroke in plan.strokes[3:13] if len(stroke.notes) == 1]
    slow = [plan.note[stroke.id] for stroke in plan.strokes[3:13] if len(stroke.notes) == 3]
    assert min(note.speed for note in quick) > 2 * max(note.speed for note in slow)
    assert max(note.force for note in quick) < min(note.force for note in slow)
    assert all(abs(note.level_db - note.target_db) < 0.5 for note in quick)
    (finding,) = [finding for finding in plan.findings if finding.code == "speed-spike"]
    assert (finding.severity.value, finding.facts["how"]) == ("low", "light")


def test_an_edit_in_a_row_leaves_the_bars_beside_it_alike() -> None:
    """A bow that is turned and let go again; the row is then as it was."""
    plan = _row("3 + 1", "violin", 16, 72)
    stroke = plan.strokes[16]
    turned = replan(plan, [Lock(stroke.id, direction=Direction(-stroke.direction))])
    assert turned.stroke[stroke.id].direction is not stroke.direction
    far = [bar for n, bar in enumerate(_bars(turned)) if abs(n - 8) > 3]
    assert len({*far}) == 1
    shifts = [abs(turned.stroke[one.id].start - one.start) for one in plan.strokes]
    assert max(shift for k, shift in enumerate(shifts) if abs(k - 16) > 4) < 0.02
    shorter = replan(plan, [Lock(stroke.id, end=stroke.end - 0.08)])
    shifts = [abs(shorter.stroke[one.id].start - one.start) for one in plan.strokes]
    assert max(shift for k, shift in enumerate(shifts) if abs(k - 16) > 4) < 0.02
    assert _bars(replan(turned, [])) == _bars(plan)


def test_runs_of_like_bars_are_rows() -> None:
    """Three and more, of several strokes."""
    bars = [[0, 1], [2, 3], [4, 5], [6], [7], [8], [9, 10], [11, 12]]
    figures = [b"a", b"a", b"a", b"b", b"b", b"b", b"a", b"a"]
    (row,) = rows_of(bars, figures)
    assert row.bars == ((0, 1), (2, 3), (4, 5))
