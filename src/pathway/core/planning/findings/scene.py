"""What every rule looks at: a plan in the making, stroke by stroke."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray
from pathway.core.planning.columns import NoteColumns
from pathway.core.planning.crossing import Crossings
from pathway.core.planning.draft import Draft
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.path.chains import starving
from pathway.core.planning.path.problem import SAVED, Path, PathProblem
from pathway.core.planning.plan import StrokePlan
from pathway.core.planning.strokes.fitting import STARVED, TURNING_ROOM
from pathway.core.planning.strokes.stroke import Stroke
from pathway.core.planning.wishes import Lock

NEAR_END = 0.03  # [m]
LEVEL_SHORT = -3.0  # under the wanted level: a player hears that it is missed [dB]
SOUNDS_SOFTER = -1.0  # less is not told apart [dB]


@dataclass(frozen=True)
class Scene:
    """A plan in the making; arrays of shape (K,) over its strokes."""

    draft: Draft
    problem: PathProblem
    path: Path
    strokes: Sequence[StrokePlan]
    notes: Sequence[NotePlan]
    columns: NoteColumns
    crossed: Crossings
    locks: Mapping[str, Lock]

    def note(self, id_: str) -> NotePlan:
        """Return a bowed note by its id."""
        return self.notes[self.draft.note_index[id_]]

    def opening(self, k: int) -> NotePlan:
        """Return the first note of a stroke."""
        return self.notes[self.firsts[k]]

    @cached_property
    def firsts(self) -> list[int]:
        """Return the index of every stroke's first note, and the count of notes at the end."""
        return self.draft.first_notes

    @cached_property
    def speeds(self) -> FloatArray:
        """Return the mean speed of every stroke [m/s]."""
        return self.problem.speeds(self.path)

    @cached_property
    def ways(self) -> FloatArray:
        """Return the way carried back before every stroke [m]."""
        return self.problem.ways(self.path)

    @cached_property
    def ahead(self) -> FloatArray:
        """Return the hair left ahead at every stroke's end [m]."""
        low, high = self.draft.rig.usable
        left: FloatArray = np.where(self.path.directions > 0, high - self.path.ends, self.path.ends - low)
        return left

    @cached_property
    def softer(self) -> FloatArray:
        """Return how much softer than its slowest full tone every stroke must sound [dB]; 0 where it need not."""
        return np.asarray(20 * np.log10(np.minimum(self.speeds / self.problem.slowest, 1.0)))

    @cached_property
    def divided(self) -> BoolArray:
        """Return which strokes are the first piece of one that the plan divides."""
        proposed = self.draft.columns.proposed
        first: BoolArray = np.append(proposed[1:], False) & ~proposed
        return first

    @cached_property
    def runs_out(self) -> BoolArray:
        """Return which strokes run out of hair."""
        saved = (self.speeds < SAVED * self.problem.preferred) & (self.ahead < NEAR_END)
        out: BoolArray = self.starved | (self.softer < SOUNDS_SOFTER) | (saved & ~self.holds) | self.divided
        return out

    @cached_property
    def holds(self) -> BoolArray:
        """Return which strokes hold level and tone in all their notes: saving for that is daily work."""
        lost = ~self.columns.core | (self.columns.off < LEVEL_SHORT)
        kept: BoolArray = np.add.reduceat(lost, self.firsts[:-1]) == 0
        return kept

    @cached_property
    def starved(self) -> BoolArray:
        """Return which strokes do not fit at half their slowest speed, alone or in their chain of directions."""
        problem, (low, high) = self.problem, self.draft.rig.usable
        alone: BoolArray = STARVED * problem.slowest * problem.each > high - low - TURNING_ROOM
        return alone | starving(problem, self.path)

    def comfort(self, k: int) -> float:
        """Return how much faster than now a stroke would fit without being saved, alone on the whole hair [1]."""
        low, high = self.draft.rig.usable
        return float(self.problem.each[k] * self.problem.calm[k] / (high - low - TURNING_ROOM))

    def segment(self, k: int) -> Stroke:
        """Return a stroke as asked for."""
        return self.draft.strokes[k]

    def notes_of(self, k: int) -> Sequence[NotePlan]:
        """Return the notes of a stroke."""
        return self.notes[self.firsts[k] : self.firsts[k + 1]]

    def bar(self, k: int) -> str:
        """Return the number of the bar of a stroke."""
        return self.draft.part.measures[self.draft.strokes[k].notes[0].event.measure].number

    def letter(self, string: int) -> str:
        """Return the name of a string."""
        return self.draft.rig.instrument.strings[string].letter

    def finding(
        self, code: Code, severity: Severity, k: int, facts: Mapping[str, str] | None = None, **numbers: float
    ) -> Finding:
        """Return a finding about a whole stroke."""
        notes = tuple(note.event.id for note in self.draft.strokes[k].notes)
        return Finding(code, severity, notes, self.bar(k), numbers, facts or {})


def where(flags: BoolArray) -> list[int]:
    """Return the strokes a rule holds for."""
    found: list[int] = np.flatnonzero(flags).tolist()
    return found


def runs_of(flags: BoolArray) -> list[tuple[int, int]]:
    """Return the first and last of every row of places that a rule holds for."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], flags.astype(np.int8), [0]]))).tolist()
    return [(first, after - 1) for first, after in zip(edges[::2], edges[1::2], strict=True)]
