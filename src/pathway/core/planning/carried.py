"""What an edit leaves of a plan as it was, worked out once and handed to all who would look again."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from pathway.core.arrays import IntArray
from pathway.core.planning.path.problem import Path
from pathway.core.planning.strokes.segments import Segment


@dataclass(frozen=True)
class Carried:
    """The strokes at both ends are those of the plan before; some of these have moved.

    Notes are never lost or added by an edit, so that the n-th note is the same one then and now.
    """

    count: int  # strokes now
    then: int  # strokes then
    before: int = 0  # strokes at the beginning that both have
    after: int = 0  # and at the end
    moved: frozenset[int] = frozenset()  # of these, by their index now: with other hair, time or wishes

    @classmethod
    def between(cls, then: Sequence[Segment], now: Sequence[Segment]) -> "Carried":
        """Return what some strokes share with those before an edit, told by their identity."""
        least = min(len(then), len(now))
        before = next((i for i in range(least) if then[i] is not now[i]), least)
        after = next((i for i in range(least - before) if then[-1 - i] is not now[-1 - i]), least - before)
        return cls(len(now), len(then), before, after)

    @classmethod
    def everything(cls, count: int) -> "Carried":
        """Return that all strokes stay as they were."""
        return cls(count, count, before=count)

    def but(self, moved: Iterable[int]) -> "Carried":
        """Return it with some of the strokes moved."""
        return replace(self, moved=frozenset(moved))

    @property
    def new(self) -> slice:
        """Return the strokes that were not there then."""
        return slice(self.before, self.count - self.after)

    @cached_property
    def index(self) -> IntArray:
        """Return where every stroke was then; for a new one, where one stands that can stand in for it."""
        ends = np.arange(self.before), np.arange(self.then - self.after, self.then)
        new = np.minimum(np.arange(self.new.start, self.new.stop), self.then - 1)
        return np.concatenate([ends[0], new, ends[1]]).astype(np.int64)

    @cached_property
    def shared(self) -> IntArray:
        """Return the strokes that both plans have, by their index now."""
        return np.concatenate([np.arange(self.before), np.arange(self.count - self.after, self.count)]).astype(np.int64)

    @cached_property
    def anew(self) -> list[int]:
        """Return the strokes that have to be looked at again: new ones, moved ones, and their neighbours."""
        changed = {*range(self.new.start, self.new.stop), *self.moved}
        near = {k + by for k in changed for by in (-1, 0, 1)}
        return sorted(k for k in near if 0 <= k < self.count)

    def path_of(self, path: Path) -> Path:
        """Return the path then as one of the strokes now, with stand-ins for the new ones."""
        return path if self.before == self.count == self.then else path.at(self.index)
