"""Up and down the ladder: as laws over random tries, and case by case."""

from hypothesis import given
from hypothesis import strategies as st

from pathway.core.practice.staircase import BIG_STEP, WINDOW, Climb, Verdict, after

C, N, X = Verdict.CLEAN, Verdict.NEARLY, Verdict.NOT_YET
TOP = 6


def _climbed(tries: list[Verdict], top: int = TOP) -> Climb:
    climb = Climb()
    for verdict in tries:
        climb = after(climb, verdict, top)
    return climb


def test_three_clean_of_three_is_the_next_rung() -> None:
    """One step where the first try was not clean, a bigger one where it was."""
    assert _climbed([N, C, C, C]).rung == 1
    assert _climbed([C, C, C]).rung == BIG_STEP
    assert _climbed([C, C, N]).rung == 0
    assert _climbed([C, N, C, C]).rung == 0


def test_two_not_yet_of_three_is_one_down() -> None:
    """Never under the first."""
    up = _climbed([C, C, C])
    assert after(after(up, X, TOP), X, TOP).rung == up.rung - 1
    assert _climbed([X, X]).rung == 0
    assert after(after(after(up, X, TOP), C, TOP), X, TOP).rung == up.rung - 1
    assert after(after(after(after(up, X, TOP), C, TOP), C, TOP), X, TOP).rung == up.rung


def test_after_two_falls_from_one_rung_it_is_no_more_pushed() -> None:
    """And is again when it moves."""
    climb = _climbed([X, X])
    assert not climb.stuck
    climb = after(after(climb, X, TOP), X, TOP)
    assert climb.stuck
    for verdict in (C, C, C):
        climb = after(climb, verdict, TOP)
    assert not climb.stuck


def test_the_last_rung_is_passed_by_three_clean() -> None:
    """And the climb stays there."""
    climb = _climbed([N, C, C, C], 1)
    assert climb.rung == 1
    assert not climb.passed
    for verdict in (C, C, C):
        climb = after(climb, verdict, 1)
    assert climb.passed
    assert climb.rung == 1


@given(st.lists(st.sampled_from(Verdict), max_size=60), st.integers(0, 8))
def test_no_tries_lead_off_the_ladder(tries: list[Verdict], top: int) -> None:
    """One try moves two rungs up at most and one down; only three clean ones move up."""
    climb = Climb()
    for n, verdict in enumerate(tries):
        led = after(climb, verdict, top)
        assert 0 <= led.rung <= top
        assert -1 <= led.rung - climb.rung <= BIG_STEP
        if led.rung > climb.rung or (led.passed and not climb.passed):
            assert tries[n - WINDOW + 1 : n + 1] == [C] * WINDOW
        assert led.falls.get(climb.rung, 0) - climb.falls.get(climb.rung, 0) in {0, 1}
        climb = led


@given(st.lists(st.sampled_from([C, C, C, C, C, N]), min_size=200, max_size=200))
def test_who_mostly_plays_clean_arrives(tries: list[Verdict]) -> None:
    """Wherever the others fall among them."""
    if all(tries[i : i + 3] != [C, C, C] for i in range(len(tries) - 2)):
        return
    assert _climbed(tries, 1).rung >= 1 or _climbed(tries, 1).passed
