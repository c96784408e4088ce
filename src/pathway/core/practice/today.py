"""The day's work: warm-up, drills in turn by need, own bars, a run-through. The numbers are our choice."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from enum import StrEnum

from pathway.core.practice.drill import AskedBy, DrillAsk, Offer, Stage, Strain
from pathway.core.practice.families import FAMILIES
from pathway.core.practice.load import Bout, Limits, allowance

INTERVALS = (1, 2, 4, 7, 14, 30)  # days after a passed session
FAILED_BACK = 2  # failed sessions after which it begins anew
RESTS_AFTER = 3  # days on which the last rung was passed
CHECK_AFTER = 30  # days until a drill that rests returns once
WARM_UP, RUN_THROUGH = 0.15, 0.20  # shares of the day's minutes
_LEAST, _MOST_ENTRY = 2.0, 10.0  # minutes of one entry
NEVER = 30  # days that count for a drill not done yet
_NEAR = 28.0  # days within which a performance presses


class DayPlace(StrEnum):
    """What an entry is in the day."""

    WARM_UP = "warm-up"
    DRILL = "drill"
    BARS = "own bars"
    RUN = "run-through"


@dataclass(frozen=True, slots=True)
class Session:
    """What became of one drill on one day."""

    day: date
    passed: bool  # a rung was passed
    top: bool = False  # the last one was


@dataclass(frozen=True)
class Candidate:
    """A drill that the day could have."""

    piece: int  # 0: none
    offer: Offer
    sessions: tuple[Session, ...] = ()  # in order
    ready_by: date | None = None  # the piece
    gone: bool = False  # what asked for it is not there any more

    @property
    def key(self) -> str:
        """Return what it goes by."""
        return f"{self.piece}:{self.offer.ask.key}"

    @property
    def load(self) -> Strain:
        """Return how heavy it is."""
        return FAMILIES[self.offer.ask.family].load


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of the day."""

    place: DayPlace
    piece: int
    minutes: float
    ask: DrillAsk | None = None  # none for a run-through
    offer: Offer | None = None
    why: Mapping[str, float] = field(default_factory=dict)  # what its need is made of
    pinned: bool = False

    @property
    def key(self) -> str:
        """Return what it goes by."""
        return f"{self.piece}:{self.ask.key if self.ask else self.place.value}"


def due(sessions: Sequence[Session], *, gone: bool = False) -> date | None:
    """Return when a drill is due again; None where it never was, or rests for good.

    Args:
        sessions: of the drill, in order.
        gone: what asked for it is settled; it returns once for a check.
    """
    if not sessions:
        return None
    last = sessions[-1]
    if rests(sessions, gone=gone):
        checked = [s for s in sessions if s.day >= _rested_since(sessions) + timedelta(days=CHECK_AFTER)]
        return date.max if checked else last.day + timedelta(days=CHECK_AFTER)
    return last.day + timedelta(days=INTERVALS[_step(sessions)])


def _step(sessions: Sequence[Session]) -> int:
    """Return how far apart sessions are by now."""
    step, failed = -1, 0
    for session in sessions:
        failed = 0 if session.passed else failed + 1
        if session.passed:
            step = min(step + 1, len(INTERVALS) - 1)
        elif failed >= FAILED_BACK:
            step = 0
    return max(step, 0)


def rests(sessions: Sequence[Session], *, gone: bool = False) -> bool:
    """Whether a drill rests: what asked for it is gone, or its last rung was passed on three days."""
    return gone or len({session.day for session in sessions if session.top}) >= RESTS_AFTER


def _rested_since(sessions: Sequence[Session]) -> date:
    days = sorted({session.day for session in sessions if session.top})
    return days[RESTS_AFTER - 1] if len(days) >= RESTS_AFTER else sessions[0].day


def need(candidate: Candidate, today: date) -> dict[str, float]:
    """Return what the need of a drill is made of; their product says how much it is needed."""
    last = candidate.sessions[-1].day if candidate.sessions else None
    days = NEVER if last is None else (today - last).days
    left = (candidate.ready_by - today).days if candidate.ready_by else None
    near = 1.0 if left is None or left < 0 else 1.0 + max(0.0, _NEAR - left) / _NEAR
    return {
        "severity": float(candidate.offer.severity),
        "share": 0.2 + min(candidate.offer.share, 1.0),
        "days": float(min(max(days, 1), NEVER)) ** 0.5,
        "near": near,
    }


def product(parts: Mapping[str, float]) -> float:
    """Return the need itself."""
    found = 1.0
    for part in parts.values():
        found *= part
    return found


def day_plan(
    minutes: float,
    now: datetime,
    candidates: Iterable[Candidate],
    bouts: Sequence[Bout] = (),
    limits: Limits | None = None,
    *,
    runs: Sequence[tuple[int, DrillAsk | None]] = (),
    pinned: Sequence[str] = (),
    dropped: Sequence[str] = (),
) -> list[Entry]:
    """Return what to do with the minutes there are.

    Args:
        minutes: that the player has.
        now: when.
        candidates: drills that could be done.
        bouts: all that was played so far.
        limits: of the load.
        runs: pieces with what of them is played in bars at the end, the piece that matters most first.
        pinned: keys of entries that stay whatever their need.
        dropped: keys of entries that the player did not want today.
    """
    today, limits = now.date(), limits or Limits()
    possible = [c for c in candidates if c.key not in dropped and _is_due(c, today, pinned)]
    ranked = sorted(possible, key=lambda c: (c.key not in pinned, -product(need(c, today)), c.key))
    entries = _opening(minutes, runs, dropped)
    closing = _closing(minutes, runs, dropped)
    room = minutes - sum(entry.minutes for entry in (*entries, *closing))
    while ranked and room >= _LEAST:
        before = next((entry for entry in reversed(entries) if entry.ask), None)
        found = next(_fitting(ranked, before, room, [*bouts, *_spent(entries, now)], now, limits), None)
        if found is None:
            break
        candidate, wanted = found
        ranked.remove(candidate)
        offer, parts = candidate.offer, need(candidate, today)
        entries.append(Entry(DayPlace.DRILL, candidate.piece, wanted, offer.ask, offer, parts, candidate.key in pinned))
        room -= wanted
    return entries + closing


def _fitting(
    ranked: Sequence[Candidate],
    before: Entry | None,
    room: float,
    bouts: Sequence[Bout],
    now: datetime,
    limits: Limits,
) -> Iterator[tuple[Candidate, float]]:
    """Yield the drills that may follow an entry, the most needed first, each with the minutes that it gets."""
    for candidate in ranked:
        if before is not None and before.ask is not None and not may_follow(before.ask.family, candidate):
            continue
        wanted = min(FAMILIES[candidate.offer.ask.family].minutes, room)
        wanted = min(wanted, _bearable(candidate, bouts, now, limits) / 60)
        if wanted >= _LEAST or (wanted > 0 and candidate.load is Strain.HEAVY):
            yield candidate, wanted


def may_follow(family: str, candidate: Candidate) -> bool:
    """Whether a drill may follow one of another family: no two heavy ones, and no like ones."""
    heavy = FAMILIES[family].load is Strain.HEAVY and candidate.load is Strain.HEAVY
    return not heavy and family != candidate.offer.ask.family


def _spent(entries: Iterable[Entry], now: datetime) -> list[Bout]:
    """Return what the entries so far would be for the hand."""
    return [Bout(now, 60 * entry.minutes, entry.ask.family) for entry in entries if entry.ask]


def _bearable(candidate: Candidate, bouts: Sequence[Bout], now: datetime, limits: Limits) -> float:
    """Return how long a drill may be worked at today, in sets with rests between them [s]."""
    if candidate.load is not Strain.HEAVY:
        return 60 * _MOST_ENTRY
    total, so_far = 0.0, list(bouts)
    while total < 60 * _MOST_ENTRY:
        found = allowance(candidate.offer.ask.family, so_far, now, limits)
        if found.seconds <= 0:
            break
        total += found.seconds
        so_far.append(Bout(now, found.seconds, candidate.offer.ask.family))
    return total


def _is_due(candidate: Candidate, today: date, pinned: Sequence[str]) -> bool:
    """Whether a drill may be asked for today."""
    if candidate.key in pinned:
        return True
    when = due(candidate.sessions, gone=candidate.gone)
    return not (candidate.gone and not candidate.sessions) and (when is None or when <= today)


def _opening(minutes: float, runs: Sequence[tuple[int, DrillAsk | None]], dropped: Sequence[str]) -> list[Entry]:
    ask = DrillAsk("long-tones", "down", Stage.OPEN)
    piece = runs[0][0] if runs else 0
    entry = Entry(DayPlace.WARM_UP, piece, max(_LEAST, round(WARM_UP * minutes)), ask, Offer(ask, AskedBy.PLAYER))
    return [] if entry.key in dropped or minutes < 2 * _LEAST else [entry]


def _closing(minutes: float, runs: Sequence[tuple[int, DrillAsk | None]], dropped: Sequence[str]) -> list[Entry]:
    """Return own bars and the run-through of the piece that matters most."""
    if not runs or minutes < 3 * _LEAST:
        return []
    piece, ask = runs[0]
    share = round(RUN_THROUGH * minutes)
    found = []
    if ask is not None and share >= _LEAST:
        found.append(Entry(DayPlace.BARS, piece, max(_LEAST, share), ask, Offer(ask, AskedBy.PASSAGE)))
    found.append(Entry(DayPlace.RUN, piece, max(_LEAST, share)))
    return [entry for entry in found if entry.key not in dropped]


def moved(entries: Sequence[Entry], order: Sequence[str]) -> list[Entry]:
    """Return entries as the player has moved them; those that were not there then stay at their place."""
    at = {key: n for n, key in enumerate(order)}
    known = iter(sorted((entry for entry in entries if entry.key in at), key=lambda entry: at[entry.key]))
    return [next(known) if entry.key in at else entry for entry in entries]


@dataclass(frozen=True, slots=True)
class Milestone:
    """The tempo that a week should reach."""

    day: date
    share: float  # of the tempo of the piece


def tempo_by_week(now_at: float, today: date, ready_by: date) -> list[Milestone]:
    """Return the tempo to reach each week until a performance, evenly from where it is; the last week is for ease.

    Args:
        now_at: share of the tempo that is reached.
        today: the first day.
        ready_by: of the performance.
    """
    weeks = max((ready_by - today).days // 7, 0)
    climbing = max(weeks - 1, 1)
    days = [today + timedelta(weeks=n) for n in range(1, weeks + 1)] or [ready_by]
    return [
        Milestone(day, min(1.0, now_at + (1 - now_at) * n / climbing) if weeks else 1.0)
        for n, day in enumerate(days, start=1)
    ]
