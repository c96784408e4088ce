"""How much heavy work a hand gets: sets, rests, daily caps, growth by the week, strain. The numbers are our choice."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from enum import StrEnum

from pathway.core.practice.drill import Strain
from pathway.core.practice.families import FAMILIES


class Cap(StrEnum):
    """What is capped by the day."""

    RUN = "self-running staccato"
    PULSES = "strong pulses"
    STARTS = "hard starts and throws"
    HEAVY = "heavy drills together"


CAPS: Mapping[Cap, float] = {Cap.RUN: 90, Cap.PULSES: 300, Cap.STARTS: 480, Cap.HEAVY: 900}  # [s] a day
CAPPED: Mapping[str, Cap] = {
    "self-running": Cap.RUN, "one-bow-staccato": Cap.PULSES, "load-and-test": Cap.STARTS,
    "noise-and-note": Cap.STARTS, "hard-to-soft": Cap.STARTS, "one-throw": Cap.STARTS, "travelling-starts": Cap.STARTS,
}  # fmt: skip
BEGINNER = 0.5  # of every cap
AT_FIRST = 0.5  # of a cap, where there is nothing to grow from
WEEKLY_GROWTH = 1.2  # a week
SETTLED, FORGOTTEN = timedelta(days=7), timedelta(days=28)  # what was borne so long ago is what grows
PAUSE_EVERY = 25 * 60.0  # [s]
PAUSE = 5 * 60.0  # [s] that count as one
LONGEST_SET = 60.0  # of a heavy drill [s]


class HandAfter(StrEnum):
    """How the hand was after a set."""

    EASY = "easy"
    FIRM = "firm"
    STRAINED = "strained"


@dataclass(frozen=True, slots=True)
class Bout:
    """One set as it was played."""

    begun: datetime
    seconds: float
    family: str
    hand: HandAfter | None = None
    drill: str = ""  # key of the drill

    @property
    def heavy(self) -> bool:
        """Whether it was heavy work."""
        row = FAMILIES.get(self.family)  # a log may have sets of a drill that is not there any more
        return row is not None and row.load is Strain.HEAVY

    @property
    def ended(self) -> datetime:
        """Return when it was over."""
        return self.begun + timedelta(seconds=self.seconds)


@dataclass(frozen=True)
class Limits:
    """What a player has set."""

    beginner: bool = False
    caps: Mapping[Cap, float] = field(default_factory=dict)  # [s] a day, where not ours

    def of(self, cap: Cap) -> float:
        """Return a cap [s]."""
        return self.caps.get(cap, CAPS[cap] * (BEGINNER if self.beginner else 1))

    def raises(self, cap: Cap, seconds: float) -> bool:
        """Whether a new cap is higher than what we propose: that is asked about, and noted."""
        return seconds > CAPS[cap] * (BEGINNER if self.beginner else 1)


class Because(StrEnum):
    """Why there is no more work of a kind now."""

    STRAINED = "strained"
    CAP = "cap"
    REST = "rest"
    PAUSE = "pause"


@dataclass(frozen=True, slots=True)
class Allowance:
    """How long the next set of a drill may be, and what stands against it."""

    seconds: float
    because: Because | None = None
    wait: float = 0.0  # until then [s]
    cap: Cap | None = None

    @property
    def open(self) -> bool:
        """Whether it can begin now."""
        return self.seconds > 0 and self.wait <= 0


def allowance(family: str, bouts: Sequence[Bout], now: datetime, limits: Limits | None = None) -> Allowance:
    """Return how long the next set of a drill may be [s].

    Args:
        family: of the drill.
        bouts: all that was played, in any order.
        now: when it would begin.
        limits: the player's own.
    """
    ours = sorted((bout for bout in bouts if bout.begun <= now), key=lambda bout: bout.begun)
    found = _by_load(family, ours, now, limits or Limits())
    wait = _pause_due(ours, now)
    return replace(found, because=Because.PAUSE, wait=wait) if found.seconds and wait > found.wait else found


def _by_load(family: str, ours: Sequence[Bout], now: datetime, limits: Limits) -> Allowance:
    """Return the same, whether or not a break is due."""
    if FAMILIES[family].load is not Strain.HEAVY:
        return Allowance(PAUSE_EVERY)
    today = [bout for bout in ours if bout.begun.date() == now.date()]
    if any(bout.hand is HandAfter.STRAINED for bout in today if bout.heavy):
        return Allowance(0.0, Because.STRAINED)
    caps = [cap for cap in (CAPPED.get(family), Cap.HEAVY) if cap is not None]
    left = {cap: _day_limit(cap, ours, now.date(), limits) - _spent(cap, today) for cap in caps}
    tightest = min(left, key=lambda cap: left[cap])
    if left[tightest] < 1:
        return Allowance(0.0, Because.CAP, cap=tightest)
    rest = _rest_due(today, now)
    return Allowance(min(LONGEST_SET, left[tightest]), Because.REST if rest > 0 else None, rest, tightest)


def _day_limit(cap: Cap, bouts: Iterable[Bout], day: date, limits: Limits) -> float:
    """Return how long a day's work may be: no more than the cap, and a fifth more than what was borne a week ago."""
    borne: dict[date, float] = {}
    for bout in bouts:
        if SETTLED <= day - bout.begun.date() <= FORGOTTEN and _counts(cap, bout):
            borne[bout.begun.date()] = borne.get(bout.begun.date(), 0.0) + bout.seconds
    most = limits.of(cap)
    return min(most, max(AT_FIRST * most, WEEKLY_GROWTH * max(borne.values(), default=0.0)))


def _counts(cap: Cap, bout: Bout) -> bool:
    return bout.heavy if cap is Cap.HEAVY else CAPPED.get(bout.family) is cap


def _spent(cap: Cap, today: Iterable[Bout]) -> float:
    return sum(bout.seconds for bout in today if _counts(cap, bout))


def _rest_due(today: Sequence[Bout], now: datetime) -> float:
    """Return how long the hand still rests after its last heavy set: as long as that was [s]."""
    heavy = [bout for bout in today if bout.heavy]
    if not heavy:
        return 0.0
    return max(0.0, (heavy[-1].ended + timedelta(seconds=heavy[-1].seconds) - now).total_seconds())


def _pause_due(bouts: Sequence[Bout], now: datetime) -> float:
    """Return how long a break is still due, after so much work without one [s]."""
    worked, end = 0.0, now
    for bout in reversed(bouts):
        if (end - bout.ended).total_seconds() >= PAUSE:
            break
        worked += bout.seconds
        end = bout.begun
    if worked < PAUSE_EVERY:
        return 0.0
    return PAUSE - (now - bouts[-1].ended).total_seconds()


def day_off(drill: str, bouts: Iterable[Bout], today: date) -> bool:
    """Whether a drill strained the hand on two days running, so that a day without it is proposed."""
    strained = {b.begun.date() for b in bouts if b.drill == drill and b.hand is HandAfter.STRAINED}
    day = timedelta(days=1)
    return {today, today - day} <= strained or {today - day, today - 2 * day} <= strained
