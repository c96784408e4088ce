"""Every family of drills: a row of the table and a maker each, by subject."""

from collections.abc import Mapping

from pathway.core.practice.families import bouncing, caught, crossing, passage, staccato, tone
from pathway.core.practice.row import FamilyRow

FAMILIES: Mapping[str, FamilyRow] = {
    **tone.ROWS, **caught.ROWS, **staccato.ROWS, **bouncing.ROWS, **crossing.ROWS, **passage.ROWS,
}  # fmt: skip
