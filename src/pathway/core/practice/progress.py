"""What the log says: minutes and load by day, this week beside last, the rungs of a drill, what a piece has settled."""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from pathway.core.planning.plan import Plan
from pathway.core.practice.log import PlayedSet
from pathway.core.practice.offers import drills_for

WEEK = timedelta(days=7)


@dataclass(frozen=True, slots=True)
class DayOf:
    """One day of the calendar."""

    day: date
    minutes: float
    heavy: float  # minutes of heavy work
    strained: bool


@dataclass(frozen=True, slots=True)
class WeekOf:
    """One week in figures."""

    minutes: float
    heavy: float  # minutes
    days: int  # on which something was played
    tries: int
    clean: int
    rungs: int  # sets in which a rung was passed


@dataclass(frozen=True, slots=True)
class BestMark:
    """How far a drill was on a day."""

    day: date
    share: float  # of the tempo, or of the ladder, that is aimed for
    name: str  # of the rung
    passed: bool
    rate: float


@dataclass(frozen=True, slots=True)
class Settled:
    """What of a piece is settled, of the findings that its first plan had or its present one has."""

    at_first: int
    open: int  # in the plan as it is now
    in_hand: int  # of these, with a drill that was passed to its last rung

    @property
    def on_paper(self) -> int:
        """Return how many of the first plan's findings are not there any more."""
        return max(self.at_first - self.open, 0)


def day_of(played: PlayedSet) -> date:
    """Return the day on which a set was played, where the player is."""
    return played.begun.astimezone().date()


def calendar(sets: Iterable[PlayedSet], first: date, last: date) -> list[DayOf]:
    """Return every day of a time with its minutes and its load."""
    days: dict[date, list[PlayedSet]] = {}
    for played in sets:
        days.setdefault(day_of(played), []).append(played)
    found = []
    for n in range((last - first).days + 1):
        day = first + timedelta(days=n)
        of_day = days.get(day, [])
        heavy = sum(one.seconds for one in of_day if one.bout.heavy)
        strained = any(one.hand is not None and one.hand.value == "strained" for one in of_day)
        found.append(DayOf(day, sum(one.seconds for one in of_day) / 60, heavy / 60, strained))
    return found


def week_of(sets: Iterable[PlayedSet], monday: date) -> WeekOf:
    """Return one week in figures."""
    inside = [one for one in sets if monday <= day_of(one) < monday + WEEK]
    return WeekOf(
        minutes=sum(one.seconds for one in inside) / 60,
        heavy=sum(one.seconds for one in inside if one.bout.heavy) / 60,
        days=len({day_of(one) for one in inside}),
        tries=sum(len(one.tries) for one in inside),
        clean=sum(one.clean for one in inside),
        rungs=sum(one.passed for one in inside),
    )


def monday_of(day: date) -> date:
    """Return the first day of a week."""
    return day - timedelta(days=day.weekday())


def marks(sets: Sequence[PlayedSet]) -> list[BestMark]:
    """Return how far one drill was day by day: the highest rung of each."""
    best: dict[date, PlayedSet] = {}
    for played in sets:
        day = day_of(played)
        if played.tries and (day not in best or (played.share, played.rung) >= (best[day].share, best[day].rung)):
            best[day] = played
    return [BestMark(day, one.share, one.rung_name, one.passed, one.rate) for day, one in sorted(best.items())]


def settled(plan: Plan, at_first: int, passed: Collection[str]) -> Settled:
    """Return what of a piece is settled.

    Args:
        plan: of the piece as it is now.
        at_first: findings of its first plan.
        passed: drills of the piece that were passed to their last rung.
    """
    in_hand = sum(any(offer.ask.key in passed for offer in drills_for(plan, f)) for f in plan.findings)
    return Settled(at_first, len(plan.findings), in_hand)
