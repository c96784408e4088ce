"""Two plans of one piece in figures, side by side."""

import math
from collections import Counter
from dataclasses import dataclass

import numpy as np

from pathway.core.planning import Plan
from pathway.core.planning.taken import differing_bars
from pathway.core.planning.wishes import Link
from pathway.web.shared.reading import signed

SAME_BOWS = "The bows are the same."


@dataclass(frozen=True, slots=True)
class Other:
    """A plan that can be laid over the plan, and taken."""

    name: str
    address: str  # below that of the piece
    plan: Plan


class Comparison:
    """The plan and another one."""

    def __init__(self, plan: Plan, other: Plan) -> None:
        self.plan, self.other = plan, other

    @property
    def rows(self) -> list[tuple[str, str, str]]:
        """Return what is compared, for the plan and for the other."""
        return [
            (name, one, two) for (name, one), (_, two) in zip(_figures(self.plan), _figures(self.other), strict=True)
        ]

    @property
    def same(self) -> bool:
        """Whether nothing at all would change."""
        lanes = np.array_equal(self.plan.columns.lane, self.other.columns.lane)
        return lanes and self.bars == SAME_BOWS and all(one == two for _, one, two in self.rows)

    @property
    def differing(self) -> list[str]:
        """Return the bars in which the bows differ."""
        return differing_bars(self.plan, self.other)

    @property
    def bars(self) -> str:
        """Return in which bars the bows differ, in words."""
        bars = self.differing
        if not bars:
            return SAME_BOWS
        count = f"{len(bars)} {'bar' if len(bars) == 1 else 'bars'}"
        return f"They differ in {count}, the first {bars[0]}, the last {bars[-1]}."


def _figures(plan: Plan) -> list[tuple[str, str]]:
    totals, links = plan.totals, plan.path.links.tolist()
    severe = Counter(finding.severity.value for finding in plan.findings)
    return [
        ("tempo", f"{plan.draft.tempo_bpm:.0f}"),
        ("hair used", f"{totals.hair:.1f} m"),
        ("bows", str(len(plan.strokes))),
        ("hooks, retakes", f"{links.count(Link.HOOK)}, {links.count(Link.RETAKE)}"),
        ("findings, high to low", f"{severe['high']} · {severe['medium']} · {severe['low']}"),
        ("down against up", f"{signed(totals.down_minus_up_db, 1)} dB"),
        ("spread", f"{totals.spread_db:.1f} dB"),
        ("long enough from", f"{math.ceil(totals.lowest_tempo_bpm)}"),
    ]
