"""Everything Pathway refuses, with words a player can act on.

PathwayError
├── OutOfRange        a number the physics cannot mean
├── RigError          an instrument, bow or hold that cannot be used
├── ScoreError        a file or part that cannot be read or planned
│   ├── TooLarge      an upload over the limit
│   └── Stopped       a score that the player did not want to wait for
├── PlanError         a plan that breaks its own rules, or wishes that contradict
├── NoTake            a recording in which nothing of the plan is heard
├── DataError         data that are from a later version, held by others, or cannot be written
│   └── DamagedData   data that cannot be read through
├── Busy              more asked for at once than can be worked on
├── NotYet            something that is still being made
├── Conflict          an edit made from an outdated picture of the piece
└── NotFound          a piece, part or note that is not there
    └── NotHere       a drill that makes no sense on this rig, or at this place
"""

from collections.abc import Sequence


class PathwayError(Exception):
    """Root of all errors whose text is written for the player."""

    def __init__(self, message: str, *, place: str = "", advice: str = "") -> None:
        self.message = message
        self.place = place
        self.advice = advice
        super().__init__(self.text)

    @property
    def text(self) -> str:
        """What, where, and what to do, in one line."""
        where = f" ({self.place})" if self.place else ""
        return f"{self.message}{where}.{' ' + self.advice if self.advice else ''}"


class OutOfRange(PathwayError):
    """A number outside the range in which the model means anything."""

    def __init__(self, field: str, value: float, low: float, high: float, unit: str = "") -> None:
        self.field, self.value, self.low, self.high = field, value, low, high
        span = f"{low:g} to {high:g}{' ' + unit if unit else ''}"
        super().__init__(f"{field} is {value:g}; it must lie within {span}")


class RigError(PathwayError):
    """An instrument, bow or hold that cannot be used."""


class ScoreError(PathwayError):
    """A score or part that cannot be read or planned."""


class TooLarge(ScoreError):
    """An upload over the limit."""


class Stopped(ScoreError):
    """A score that the player did not want to wait for any longer."""


class PlanError(PathwayError):
    """A plan that breaks its own rules, or wishes that contradict each other."""

    @classmethod
    def of(cls, problems: Sequence[str]) -> "PlanError":
        """Gather every broken rule into one error."""
        return cls("The plan breaks its own rules: " + "; ".join(problems))

    def at(self, place: str) -> "PlanError":
        """Return the same, said of a place."""
        return PlanError(self.message, place=place, advice=self.advice)


class NoTake(PathwayError):
    """A recording in which nothing of the plan is heard."""


class DataError(PathwayError):
    """Data that are damaged, from a later version, or cannot be written."""


class DamagedData(DataError):
    """Data that cannot be read through: a copy can take their place."""


class Busy(PathwayError):
    """More is asked for at once than can be worked on."""


class NotYet(PathwayError):
    """Something that is still being made; ask again in a moment."""


class Conflict(PathwayError):
    """An edit made from an outdated picture of the piece."""


class NotFound(PathwayError):
    """Something asked for by name or number that is not there."""


class NotHere(NotFound):
    """A drill that makes no sense on this rig, or at this place."""
