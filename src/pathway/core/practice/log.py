"""The log: what was played, set by set, and what became of each drill day by day."""

from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Annotated

from pathway.core.practice.load import Bout, HandAfter
from pathway.core.practice.making import Opened
from pathway.core.practice.staircase import WINDOW, Climb, Verdict, after
from pathway.core.says import Says

_AMOUNT = (0, 1e6)
OUR_YEARS = (1900, 2200)  # in which anything can have been played or planned: every page can show them, in any zone


def in_our_time(day: date) -> bool:
    """Whether a day, or a moment, lies where every page can show it."""
    return OUR_YEARS[0] <= day.year <= OUR_YEARS[1]


@dataclass(frozen=True, slots=True, kw_only=True)
class PlayedSet:
    """One line of the log."""

    token: Annotated[str, Says(within=(1, 40), key="id")]
    begun: Annotated[datetime, Says(key="when")]
    title: Annotated[str, Says(within=(0, 300), key="piece")] = ""
    bars: Annotated[str, Says(within=(0, 200))] = ""
    drill: Annotated[str, Says(within=(0, 400))]
    why: Annotated[str, Says(within=(0, 60))] = ""
    what: Annotated[str, Says(within=(0, 120))] = ""
    rung: Annotated[int, Says(within=(0, 100))] = 0
    rung_name: Annotated[str, Says(within=(0, 200))] = ""
    rate: Annotated[float, Says(within=_AMOUNT, key="notes_a_second")] = 0.0
    tempo: Annotated[float, Says(within=_AMOUNT)] = 0.0
    share: Annotated[float, Says(within=(0, 1))] = 0.0
    passed: bool = False
    top: Annotated[bool, Says(key="last_rung_passed")] = False
    tries: Annotated[tuple[Verdict, ...], Says(within=(0, 500))] = ()
    seconds: Annotated[float, Says(within=(0, 14400))] = 0.0
    hand: HandAfter | None = None
    note: Annotated[str, Says(within=(0, 1000))] = ""
    piece: Annotated[int | None, Says(kept=False)] = None
    id: Annotated[int, Says(kept=False)] = 0  # of its row
    removed: Annotated[bool, Says(kept=False)] = False

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
        """Return what it was for the hand, on the day that it was where the player is."""
        return Bout(self.begun.astimezone(), self.seconds, self.family, self.hand, self.drill)


def with_try(
    played: PlayedSet, ready: Opened, climb: Climb, verdict: Verdict, seconds: float
) -> tuple[Climb, PlayedSet]:
    """Return where a try leads, and the set with it.

    Args:
        played: the set before.
        ready: its drill.
        climb: where the player stood.
        verdict: of the try.
        seconds: played in the set so far.
    """
    led = after(climb, verdict, ready.top)
    one = ready.at(climb.rung)
    passed = led.rung > climb.rung or (led.passed and not climb.passed)
    again = led.passed and climb.passed and led.last.count(Verdict.CLEAN) == WINDOW
    return led, replace(
        played,
        rung=climb.rung,
        rung_name=one.rung.name,
        rate=one.rate,
        tempo=one.beats_per_minute,
        share=ready.share(climb.rung),
        passed=played.passed or passed or again,
        top=played.top or again or (passed and led.passed),
        tries=(*played.tries, verdict),
        seconds=seconds,
    )
