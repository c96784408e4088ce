"""From weak spots to work: drills, their ladders, the day, the load. Dates and minutes come in as values."""

from pathway.core.practice.families import FAMILIES
from pathway.core.practice.material import key_of
from pathway.core.practice.row import TWO_WAYS

__all__ = ["FAMILIES", "TWO_WAYS", "key_of"]
