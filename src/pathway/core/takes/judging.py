"""What a recording says of a try at a drill: only by what can be known of it; the player may overrule it."""

from dataclasses import dataclass

import numpy as np

from pathway.core.practice.drill import Quantity
from pathway.core.practice.staircase import Verdict
from pathway.core.takes.listening import Listened
from pathway.core.takes.measures import MeasuredNote

NEARLY = 1.6  # times the limit
LEAST_NOTES, LEAST_PLACED = 4, 0.75
_MIDDLE = (10, 90)  # between these percentiles levels are told to lie


@dataclass(frozen=True, slots=True)
class Judged:
    """A verdict with the number that it comes from."""

    verdict: Verdict
    value: float
    limit: float
    unit: str

    @property
    def text(self) -> str:
        """Return it in words."""
        return f"heard {self.value:.1f} {self.unit}, asked {self.limit:g} {self.unit}: {self.verdict.value}"


def judged(heard: Listened, quantity: Quantity, limit: float, unit: str) -> Judged | None:
    """Return what a recording says of a try; None where that cannot be known.

    Args:
        heard: of the rung's plan.
        quantity: that the rung is passed by.
        limit: of it, in the unit.
        unit: %, dB or ms.
    """
    rows = [row for row in heard.rows if row.own > 0]
    if len(rows) < LEAST_NOTES or heard.placed < LEAST_PLACED or limit <= 0:
        return None
    value = _value(heard, rows, quantity, unit)
    if value is None or not np.isfinite(value):
        return None
    verdict = Verdict.CLEAN if value <= limit else Verdict.NEARLY if value <= NEARLY * limit else Verdict.NOT_YET
    return Judged(verdict, float(value), limit, unit)


def _value(heard: Listened, rows: list[MeasuredNote], quantity: Quantity, unit: str) -> float | None:
    if quantity is Quantity.TEMPO and unit == "%":
        return 100 * abs(heard.tempo - 1)
    if quantity is Quantity.EVENNESS and unit == "%":
        late = [row.late for row in rows if np.isfinite(row.late)]
        apart = np.diff([row.onset for row in rows])
        return 100 * float(np.std(late)) / float(np.median(apart)) if len(late) >= LEAST_NOTES else None
    if quantity in {Quantity.LEVEL, Quantity.START, Quantity.PARTS} and unit == "dB":
        low, high = np.percentile([row.raw for row in rows], _MIDDLE)
        return float(high - low) / 2
    return None
