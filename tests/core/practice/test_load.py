"""Heavy work: rests, caps, growth and strain, case by case and over random histories."""

import itertools
from collections.abc import Sequence
from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from pathway.core.practice.drill import Strain
from pathway.core.practice.families import FAMILIES
from pathway.core.practice.load import (
    AT_FIRST,
    CAPPED,
    CAPS,
    LONGEST_SET,
    PAUSE,
    WEEKLY_GROWTH,
    Because,
    Bout,
    Cap,
    HandAfter,
    Limits,
    allowance,
    day_off,
)
from tests.helpers import THOROUGH

NOW = datetime(2026, 11, 28, 17, 0, tzinfo=UTC)
HEAVY = sorted(family for family, row in FAMILIES.items() if row.load is Strain.HEAVY)
LIGHT = "long-tones"


def _ago(hours: float, seconds: float, family: str, hand: HandAfter | None = None) -> Bout:
    return Bout(NOW - timedelta(hours=hours), seconds, family, hand, family)


def test_every_heavy_family_has_a_cap_of_its_own() -> None:
    """Beside that of all heavy work together."""
    assert set(CAPPED) == set(HEAVY)
    assert set(CAPPED.values()) | {Cap.HEAVY} == set(CAPS)


def test_light_work_is_not_capped() -> None:
    """However much there was."""
    assert allowance(LIGHT, [_ago(3, 900, "load-and-test")], NOW).open


def test_the_rest_is_as_long_as_the_set() -> None:
    """And over when it is over."""
    just = Bout(NOW - timedelta(seconds=40), 40, "load-and-test")
    found = allowance("load-and-test", [just], NOW)
    assert found.because is Because.REST
    assert found.wait == pytest.approx(40)
    assert not found.open
    assert allowance("load-and-test", [just], NOW + timedelta(seconds=41)).open
    assert allowance("tilt-turns", [just], NOW).open


def test_a_set_is_short() -> None:
    """A minute of heavy work at most."""
    assert allowance("one-throw", [], NOW).seconds == LONGEST_SET


@pytest.mark.parametrize("family", HEAVY)
def test_a_day_begins_at_half_of_the_cap(family: str) -> None:
    """And half of that for who begins."""
    cap = CAPS[CAPPED[family]]
    spent = _ago(2, AT_FIRST * cap, family)
    assert allowance(family, [spent], NOW).because is Because.CAP
    assert allowance(family, [_ago(2, AT_FIRST * cap - 20, family)], NOW).seconds == pytest.approx(20)
    assert allowance(family, [_ago(2, AT_FIRST * cap / 2, family)], NOW, Limits(beginner=True)).because is Because.CAP


def test_it_grows_by_a_fifth_of_what_was_borne_a_week_before() -> None:
    """Not of yesterday's, and not beyond the cap."""
    family, cap = "load-and-test", CAPS[Cap.STARTS]
    borne = Bout(NOW - timedelta(days=8), 0.7 * cap, family)
    allowed = WEEKLY_GROWTH * 0.7 * cap
    assert allowance(family, [borne, _ago(2, allowed - 30, family)], NOW).seconds == pytest.approx(30)
    yesterday = Bout(NOW - timedelta(days=1), 0.7 * cap, family)
    assert allowance(family, [yesterday, _ago(2, AT_FIRST * cap, family)], NOW).seconds == 0
    much = Bout(NOW - timedelta(days=8), 3 * cap, family)
    assert allowance(family, [much, _ago(2, cap, family)], NOW).seconds == 0
    old = Bout(NOW - timedelta(days=40), cap, family)
    assert allowance(family, [old, _ago(2, AT_FIRST * cap, family)], NOW).seconds == 0


def test_all_heavy_work_together_is_capped_too() -> None:
    """Also where each kind has room."""
    spent = [
        _ago(3, AT_FIRST * CAPS[Cap.STARTS], "one-throw"),
        _ago(2, AT_FIRST * CAPS[Cap.PULSES], "one-bow-staccato"),
    ]
    left = AT_FIRST * CAPS[Cap.HEAVY] - sum(bout.seconds for bout in spent)
    assert allowance("self-running", spent, NOW).seconds == pytest.approx(min(left, AT_FIRST * CAPS[Cap.RUN]))
    full = [*spent, _ago(1, left, "self-running")]
    assert allowance("one-bow-staccato", full, NOW).because is Because.CAP


def test_a_strained_hand_ends_the_heavy_work_of_the_day() -> None:
    """Not the light, and not tomorrow's."""
    strained = _ago(2, 30, "one-throw", HandAfter.STRAINED)
    assert allowance("self-running", [strained], NOW).because is Because.STRAINED
    assert allowance(LIGHT, [strained], NOW).open
    assert allowance("self-running", [strained], NOW + timedelta(days=1)).open


def test_strained_on_two_days_running_proposes_a_day_off() -> None:
    """From that drill; not after one, and not days later."""
    day = timedelta(days=1)

    def on(days: Sequence[int]) -> list[Bout]:
        return [Bout(NOW - n * day, 30, "one-throw", HandAfter.STRAINED, "one-throw") for n in days]

    assert day_off("one-throw", on([0, 1]), NOW.date())
    assert day_off("one-throw", on([1, 2]), NOW.date())
    assert not day_off("one-throw", on([1]), NOW.date())
    assert not day_off("one-throw", on([4, 5]), NOW.date())
    assert not day_off("another", on([0, 1]), NOW.date())


def test_a_break_is_due_after_twenty_five_minutes() -> None:
    """Of any work without one; five minutes are one."""
    begun = NOW - timedelta(minutes=26)
    worked = [Bout(begun, 13 * 60, LIGHT), Bout(begun + timedelta(minutes=13), 13 * 60, "shifts")]
    found = allowance("shifts", worked, NOW)
    assert found.because is Because.PAUSE
    assert found.wait == pytest.approx(PAUSE)
    assert allowance("shifts", worked, NOW + timedelta(seconds=PAUSE)).open
    apart = [Bout(begun - timedelta(hours=1), 13 * 60, LIGHT), worked[1]]
    assert allowance("shifts", apart, NOW).open


def test_a_lowered_cap_holds_and_a_raised_one_is_told_apart() -> None:
    """Raised above what we propose, half of it for who begins."""
    assert Limits(caps={Cap.RUN: 30}).of(Cap.RUN) == 30
    assert not Limits().raises(Cap.RUN, 60)
    assert Limits().raises(Cap.RUN, 91)
    assert Limits(beginner=True).raises(Cap.RUN, 60)
    low = Limits(caps={Cap.RUN: 20})
    assert allowance("self-running", [_ago(2, 10, "self-running")], NOW, low).because is Because.CAP


STEPS = st.lists(
    st.tuples(
        st.sampled_from([*HEAVY, LIGHT]),
        st.floats(60, 40_000),
        st.sampled_from([None, HandAfter.EASY, HandAfter.FIRM, HandAfter.STRAINED]),
    ),
    min_size=5,
    max_size=60,
)


@settings(max_examples=1000 * THOROUGH)
@given(STEPS, st.booleans())
def test_no_history_goes_over_a_cap(steps: list[tuple[str, float, HandAfter | None]], beginner: bool) -> None:
    """Who begins a set whenever it is allowed, and plays it out, never goes over a cap, a growth or a strain."""
    limits, bouts, now = Limits(beginner), list[Bout](), NOW
    for family, wait, hand in steps:
        now += timedelta(seconds=wait)
        found = allowance(family, bouts, now, limits)
        if found.open:
            seconds = min(found.seconds, LONGEST_SET)
            bouts.append(Bout(now, seconds, family, hand))
            now += timedelta(seconds=seconds)
    days = {bout.begun.date() for bout in bouts}
    for cap in Cap:
        by_day = {day: _spent(bouts, cap, day) for day in days}
        for day, spent in by_day.items():
            most = limits.of(cap)
            before = [by_day[d] for d in by_day if timedelta(days=7) <= day - d <= timedelta(days=28)]
            assert spent <= most + 1e-6
            assert spent <= max(AT_FIRST * most, WEEKLY_GROWTH * max(before, default=0.0)) + 1e-6
    _rests_hold(bouts)


def _spent(bouts: Sequence[Bout], cap: Cap, day: date) -> float:
    mine = [
        b for b in bouts if b.begun.date() == day and (b.heavy if cap is Cap.HEAVY else CAPPED.get(b.family) is cap)
    ]
    return sum(bout.seconds for bout in mine)


def _rests_hold(bouts: Sequence[Bout]) -> None:
    heavy = [bout for bout in bouts if bout.heavy]
    for before, after in itertools.pairwise(heavy):
        if before.begun.date() != after.begun.date():
            continue
        assert (after.begun - before.ended).total_seconds() >= before.seconds - 1e-6
        assert before.hand is not HandAfter.STRAINED
