"""How the page of a piece was read: what of it no plan listens to, and what had to be decided."""

from dataclasses import dataclass

from pathway.core.guide.notices import bars_named
from pathway.core.planning import Plan


@dataclass(frozen=True, slots=True)
class AsRead:
    """What is shown of it."""

    unread: tuple[tuple[str, str], ...]  # each thing, and its bars
    decided: tuple[str, ...]

    @classmethod
    def of(cls, plan: Plan) -> "AsRead":
        """Return how the page of a plan was read."""
        return cls(tuple((one.what, bars_named(one.bars)) for one in plan.part.unread), plan.decided)
