"""The day: its laws over random shelves and logs, and the intervals case by case."""

from datetime import UTC, date, datetime, timedelta
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from pathway.core.practice.drill import AskedBy, DrillAsk, Offer, Stage, Strain
from pathway.core.practice.families import FAMILIES
from pathway.core.practice.load import AT_FIRST, CAPPED, CAPS, Bout, Cap, HandAfter
from pathway.core.practice.today import (
    CHECK_AFTER,
    INTERVALS,
    Candidate,
    DayPlace,
    Entry,
    Session,
    day_plan,
    due,
    moved,
    need,
    product,
    rests,
    tempo_by_week,
)

NOW = datetime(2026, 11, 28, 17, 0, tzinfo=UTC)
TODAY = NOW.date()
DAY = timedelta(days=1)
RUN = [(1, DrillAsk("tempo-ladder", "the hair", Stage.AROUND, "n1", "n8"))]


def _one(
    family: str, severity: int = 2, share: float = 0.1, sessions: tuple[Session, ...] = (), **more: object
) -> Candidate:
    stage = FAMILIES[family].stages[0]
    offer = Offer(DrillAsk(family, "", stage, f"n-{family}"), AskedBy.FINDING, "airy", ("1",), severity, share)
    return Candidate(1, offer, sessions, **more)  # type: ignore[arg-type]


def _passed(*days_ago: int, top: bool = False) -> tuple[Session, ...]:
    return tuple(Session(TODAY - n * DAY, passed=True, top=top) for n in days_ago)


def test_a_passed_drill_comes_back_further_and_further_apart() -> None:
    """1, 2, 4, 7, 14, 30 days; back to 1 after two that failed."""
    for n, interval in enumerate(INTERVALS, start=1):
        sessions = _passed(*range(3 * n, 0, -3))
        assert due(sessions) == sessions[-1].day + interval * DAY
    failed = (*_passed(9, 8, 7, 6), Session(TODAY - 5 * DAY, passed=False))
    assert due(failed) == TODAY - 5 * DAY + 7 * DAY
    assert due((*failed, Session(TODAY - DAY, passed=False))) == TODAY
    assert due(()) is None


def test_a_drill_rests_when_it_is_settled_and_returns_once() -> None:
    """Its last rung passed on three days, or its finding gone: a month later once for a check, then not any more."""
    three = _passed(10, 8, 6, top=True)
    assert rests(three)
    assert not rests(three[:2])
    assert due(three) == three[-1].day + CHECK_AFTER * DAY
    assert rests(_passed(3), gone=True)
    checked = (*_passed(60, 58, 56, top=True), Session(TODAY - 20 * DAY, passed=True, top=True))
    assert due(checked) == date.max


def test_the_need_is_severity_times_share_times_days_times_nearness() -> None:
    """Each by itself."""
    plain = product(need(_one("arrive"), TODAY))
    assert product(need(_one("arrive", severity=3), TODAY)) > plain
    assert product(need(_one("arrive", share=0.5), TODAY)) > plain
    assert product(need(_one("arrive", sessions=_passed(1)), TODAY)) < plain
    near = _one("arrive", ready_by=TODAY + 3 * DAY)
    far = _one("arrive", ready_by=TODAY + 90 * DAY)
    assert product(need(near, TODAY)) > product(need(far, TODAY)) == plain


def test_a_day_goes_from_tone_to_the_piece() -> None:
    """Warm-up, drills by need, own bars, run-through, in the minutes there are."""
    drills = [_one("arrive", 3), _one("shifts", 1), _one("angle", 2)]
    entries = day_plan(30, NOW, drills, runs=RUN)
    assert [entry.place for entry in entries[:1]] == [DayPlace.WARM_UP]
    assert [entry.ask.family for entry in entries if entry.place is DayPlace.DRILL and entry.ask] == [
        "arrive",
        "angle",
        "shifts",
    ]
    assert [entry.place for entry in entries[-2:]] == [DayPlace.BARS, DayPlace.RUN]
    assert sum(entry.minutes for entry in entries) <= 30 + 1e-6


def test_what_is_not_due_waits_and_missed_days_do_not_pile_up() -> None:
    """A drill of yesterday that is due tomorrow is not asked for; one that was missed for weeks comes once."""
    waiting = _one("arrive", sessions=_passed(3, 1))
    assert not [e for e in day_plan(30, NOW, [waiting], runs=RUN) if e.place is DayPlace.DRILL]
    missed = _one("arrive", sessions=_passed(30))
    assert len([e for e in day_plan(30, NOW, [missed], runs=RUN) if e.place is DayPlace.DRILL]) == 1


def test_what_is_pinned_comes_and_what_is_dropped_does_not() -> None:
    """Whatever their need."""
    drills = [_one("arrive", 3), _one("shifts", 1, sessions=_passed(1)), _one("angle", 2)]
    keys = [one.key for one in drills]
    entries = day_plan(12, NOW, drills, pinned=[keys[1]], dropped=[keys[0]])
    families = [e.ask.family for e in entries if e.place is DayPlace.DRILL and e.ask]
    assert families[0] == "shifts"
    assert "arrive" not in families
    assert [e.pinned for e in entries if e.key == keys[1]] == [True]


def test_a_drill_whose_finding_is_gone_and_was_never_played_is_none() -> None:
    """Nothing asks for it."""
    assert not [e for e in day_plan(30, NOW, [_one("arrive", gone=True)], runs=RUN) if e.place is DayPlace.DRILL]


def test_heavy_work_gets_no_more_than_the_hand_may_have() -> None:
    """Less of it, or none after a strained set."""
    heavy = _one("load-and-test", 3)
    (entry,) = [e for e in day_plan(40, NOW, [heavy], runs=RUN) if e.place is DayPlace.DRILL]
    assert 60 * entry.minutes <= AT_FIRST * CAPS[Cap.STARTS]
    strained = [Bout(NOW - timedelta(hours=2), 30, "one-throw", HandAfter.STRAINED)]
    assert not [e for e in day_plan(40, NOW, [heavy], strained, runs=RUN) if e.place is DayPlace.DRILL]


def test_entries_go_where_the_player_moves_them() -> None:
    """New ones stay where they are."""
    entries = day_plan(40, NOW, [_one("arrive", 3), _one("shifts"), _one("angle")], runs=RUN)
    keys = [entry.key for entry in entries]
    assert [e.key for e in moved(entries, [keys[2], keys[1]])] == [keys[0], keys[2], keys[1], *keys[3:]]
    assert moved(entries, ["gone"]) == entries


def test_the_tempo_of_each_week_leads_to_the_day() -> None:
    """Evenly, with the last week for ease; without a week left all of it at once."""
    weeks = tempo_by_week(0.6, TODAY, TODAY + timedelta(weeks=5))
    shares = [week.share for week in weeks]
    assert len(weeks) == 5
    assert shares == sorted(shares)
    assert shares[3] == shares[4] == 1.0
    assert shares[0] == pytest.approx(0.7)
    assert [week.share for week in tempo_by_week(0.6, TODAY, TODAY + 3 * DAY)] == [1.0]


SHELVES = st.lists(
    st.builds(
        _one,
        st.sampled_from(sorted(FAMILIES)),
        st.integers(1, 3),
        st.floats(0, 1),
        st.lists(st.integers(0, 60), max_size=4, unique=True).map(lambda days: _passed(*sorted(days, reverse=True))),
    ),
    max_size=25,
    unique_by=lambda one: one.key,
)
PLAYED = st.lists(
    st.builds(
        lambda minutes, seconds, family: Bout(NOW - timedelta(minutes=minutes), seconds, family),
        st.floats(1, 60_000), st.floats(1, 60), st.sampled_from(sorted(CAPPED)),
    ),
    max_size=30,
)  # fmt: skip


@settings(max_examples=300)
@given(st.floats(5, 240), SHELVES, PLAYED)
def test_every_day_keeps_its_laws(minutes: float, shelf: list[Candidate], played: list[Bout]) -> None:
    """No more minutes than there are, no two heavy ones or like ones in a row, no cap exceeded."""
    entries = day_plan(minutes, NOW, shelf, played, runs=RUN)
    assert sum(entry.minutes for entry in entries) <= minutes + 1e-6 or minutes < 6
    drills = [entry for entry in entries if entry.place in {DayPlace.WARM_UP, DayPlace.DRILL}]
    for before, after in pairwise(drills):
        assert before.ask is not None
        assert after.ask is not None
        assert before.ask.family != after.ask.family
        assert not (_heavy(before) and _heavy(after))
    heavy = sum(60 * entry.minutes for entry in drills if _heavy(entry))
    today = sum(bout.seconds for bout in played if bout.begun.date() == TODAY)
    assert heavy == 0 or heavy + today <= CAPS[Cap.HEAVY] + 1e-6


def _heavy(entry: Entry) -> bool:
    return entry.ask is not None and FAMILIES[entry.ask.family].load is Strain.HEAVY


@settings(max_examples=40)
@given(
    st.lists(
        st.sampled_from(["arrive", "shifts", "angle", "crossings", "tilt-turns", "speed-alone", "colours"]),
        min_size=2,
        max_size=7,
        unique=True,
    )
)
def test_nothing_starves(families: list[str]) -> None:
    """Played day after day as it is laid out, every drill comes within four weeks, however small its need."""
    done: dict[str, list[Session]] = {family: [] for family in families}
    for n in range(28):
        now = NOW + n * DAY
        shelf = [_one(f, 1 + (i == 0) * 2, 0.9 if i == 0 else 0.0, tuple(done[f])) for i, f in enumerate(families)]
        for entry in day_plan(16, now, shelf):
            if entry.place is DayPlace.DRILL and entry.ask:
                done[entry.ask.family].append(Session(now.date(), passed=n % 3 > 0))
    assert all(done.values())
