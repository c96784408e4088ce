"""The log: what was played, set by set, and what became of each drill day by day."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from pathway.core.practice.load import Bout, Hand
from pathway.core.practice.staircase import Verdict
from pathway.core.practice.today import Session


@dataclass(frozen=True, slots=True)
class PlayedSet:
    """One line of the log."""

    token: str
    drill: str
    begun: datetime
    piece: int | None = None
    title: str = ""
    why: str = ""
    what: str = ""
    bars: str = ""
    rung: int = 0
    rung_name: str = ""
    rate: float = 0.0
    tempo: float = 0.0
    share: float = 0.0
    passed: bool = False
    top: bool = False
    tries: tuple[Verdict, ...] = ()
    seconds: float = 0.0
    hand: Hand | None = None
    note: str = ""
    id: int = 0
    removed: bool = False

    @property
    def family(self) -> str:
        """Return the family of its drill."""
        return self.drill.split(".", 1)[0]

    @property
    def clean(self) -> int:
        """Return how many tries were clean."""
        return sum(one is Verdict.CLEAN for one in self.tries)

    @property
    def bout(self) -> Bout:
        """Return what it was for the hand."""
        return Bout(self.begun, self.seconds, self.family, self.hand, self.drill)


def sessions_of(sets: Sequence[PlayedSet], day_of: Mapping[str, date] | None = None) -> list[Session]:
    """Return what became of one drill day by day.

    Args:
        sets: of the drill, in order.
        day_of: on which day a set counts, by its token; that on which it was begun if not said.
    """
    days: dict[date, Session] = {}
    for played in sets:
        if not played.tries:
            continue
        day = (day_of or {}).get(played.token) or played.begun.astimezone().date()
        before = days.get(day, Session(day, passed=False))
        days[day] = Session(day, before.passed or played.passed, before.top or played.top, played.rung)
    return [days[day] for day in sorted(days)]
