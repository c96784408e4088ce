"""The log, the ladders, the days and the limits are kept."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

import pytest
from sqlalchemy import Engine, text
from sqlalchemy.orm import Session

from pathway.core.planning import Settings
from pathway.core.practice.load import Cap, HandAfter
from pathway.core.practice.log import PlayedSet
from pathway.core.practice.staircase import Climb, Verdict
from pathway.errors import NotFound
from pathway.store import NewPiece, Pieces, Revision
from pathway.store.database import writing
from pathway.store.practice import Day, LimitsDoc, PracticeLog, known_cap
from pathway.store.summary import PlanSummary
from tests.helpers import document, plan_of

PLAN = plan_of("[mf] d4:4 e4 f#4 g4")
WHEN = datetime(2026, 11, 20, 17, 5, tzinfo=UTC)
C = Verdict.CLEAN


@pytest.fixture
def log(engine: Engine) -> PracticeLog:
    """A log beside a shelf with one piece."""
    state = Revision("First", Settings(), (), PLAN.path, PlanSummary(findings={"high": 2, "low": 1}))
    Pieces(engine).add(NewPiece("Title", "Violin", "x.musicxml", document("d4:1"), "<mei/>", "violin"), state)
    return PracticeLog(engine)


def _set(token: str = "one", **more: object) -> PlayedSet:
    return replace(
        PlayedSet(token=token, drill="arrive..6.n1.n2", begun=WHEN, piece=1, tries=(C,), seconds=60.0), **more
    )  # type: ignore[arg-type]


def test_a_set_grows(log: PracticeLog) -> None:
    """By its token it is one line, however often it is sent; it knows the title of its piece."""
    log.keep(_set())
    kept = log.keep(_set(tries=(C, Verdict.NEARLY), seconds=90.0, hand=HandAfter.FIRM))
    assert [one.tries for one in log.sets()] == [(C, Verdict.NEARLY)]
    assert (kept.title, kept.hand, kept.seconds, kept.begun) == ("Title", HandAfter.FIRM, 90.0, WHEN)
    assert log.find("one") == kept
    assert log.find("two") is None


def test_sets_are_taken_out_and_come_back(log: PracticeLog) -> None:
    """One, or all of a piece."""
    one, two = log.keep(_set()), log.keep(_set("two", begun=WHEN + timedelta(days=1)))
    log.remove(one.id)
    assert [s.token for s in log.sets()] == ["two"]
    assert [s.token for s in log.sets(removed=True)] == ["one"]
    log.remove(one.id, back=True)
    log.remove_piece(1)
    assert log.sets(1) == []
    log.remove_piece(1, back=True)
    assert [s.id for s in log.sets(1)] == [one.id, two.id]
    with pytest.raises(NotFound):
        log.remove(99)


def test_notes_are_written_beside_a_set(log: PracticeLog) -> None:
    """And a set that there is not is refused."""
    one = log.keep(_set())
    assert log.annotate(one.id, "thumb").note == "thumb"
    with pytest.raises(NotFound):
        log.annotate(99, "x")


def test_the_log_outlives_its_piece(log: PracticeLog, engine: Engine) -> None:
    """Its sets stay with the title; its ladders and its day go with it."""
    log.keep(_set())
    log.stand(1, "arrive..6.n1.n2", Climb(2))
    log.set_ready_by(1, date(2026, 12, 22))
    with writing(engine) as session:
        session.execute(text("DELETE FROM piece"))
    (kept,) = log.sets()
    assert (kept.piece, kept.title) == (None, "Title")
    assert log.climbs(1) == {}
    assert log.ready_by() == {}


def test_a_ladder_remembers_where_the_player_stands(log: PracticeLog) -> None:
    """For each piece and drill, and for drills of no piece; what cannot be read begins anew."""
    climb = Climb(2, (C, Verdict.NOT_YET), {3: 1}, passed=False, stuck=True)
    log.stand(1, "a..6", climb)
    log.stand(None, "a..6", Climb(1))
    assert log.climb(1, "a..6") == climb
    assert log.climb(None, "a..6") == Climb(1)
    assert log.climb(1, "b..6") == Climb()
    log.stand(1, "a..6", Climb(4, passed=True))
    assert log.climbs(1) == {"a..6": Climb(4, passed=True)}


def test_a_broken_ladder_begins_anew(log: PracticeLog, engine: Engine) -> None:
    """Nothing else is lost."""
    log.stand(1, "a..6", Climb(2))
    with Session(engine) as session, session.begin():
        session.execute(text("""UPDATE ladder SET climb = '{"rung": "x"}'"""))
    assert log.climb(1, "a..6") == Climb()


def test_the_state_of_a_piece_is_that_of_its_ladders(log: PracticeLog) -> None:
    """Untouched, in work, settled."""
    assert log.state(1) == "untouched"
    log.stand(1, "a..6", Climb(2))
    assert log.state(1) == "in work"
    log.stand(1, "a..6", Climb(2, passed=True))
    assert log.state(1) == "settled"


def test_a_piece_has_a_day_to_be_ready(log: PracticeLog) -> None:
    """Which can be moved and taken back."""
    log.set_ready_by(1, date(2026, 12, 22))
    log.set_ready_by(1, date(2026, 12, 23))
    assert log.ready_by() == {1: date(2026, 12, 23)}
    log.set_ready_by(1, None)
    assert log.ready_by() == {}
    with pytest.raises(NotFound):
        log.set_ready_by(9, date(2026, 12, 22))


def test_days_and_limits_are_kept(log: PracticeLog) -> None:
    """A cap that is raised is noted, one that is lowered is not."""
    wanted = Day(minutes=45, pinned=("1:a",), order=("1:b", "1:a"))
    log.keep_day(date(2026, 11, 28), wanted)
    assert log.day(date(2026, 11, 28)) == wanted
    assert log.day(date(2026, 11, 29)) == Day()
    limits = LimitsDoc().with_cap(Cap.RUN, 30, date(2026, 11, 28))
    assert limits.raised == ()
    log.set_limits(limits.with_cap(Cap.RUN, 200, date(2026, 11, 29)))
    assert log.limits().limits.of(Cap.RUN) == 200
    assert log.limits().raised == ("2026-11-29: self-running staccato from 30 to 200 s",)
    assert known_cap("strong pulses") is Cap.PULSES
    with pytest.raises(NotFound):
        known_cap("juggling")


def test_a_saved_log_is_added_once(log: PracticeLog) -> None:
    """By the sets' names; each finds its piece by the title."""
    log.keep(_set())
    others = [_set("two", piece=None, title="Title"), _set("three", piece=None, title="Gone"), _set()]
    assert log.bring(others) == 2
    assert log.bring(others) == 0
    assert {one.token: one.piece for one in log.sets()} == {"one": 1, "two": 1, "three": None}


def test_a_drill_is_told_day_by_day(log: PracticeLog) -> None:
    """A day is passed where any of its sets was; a set without a try is none, one that was taken out neither."""
    later = WHEN + timedelta(days=2)
    sets = [_set(passed=True), _set("two"), _set("three", begun=later, top=True, tries=()), _set("four", begun=later)]
    for one in [*sets, _set("five", begun=later, top=True)]:
        kept = log.keep(one)
    log.remove(kept.id)
    (days,) = log.sessions(1).values()
    assert [(one.day, one.passed, one.top) for one in days] == [
        (WHEN.astimezone().date(), True, False),
        (later.astimezone().date(), False, False),
    ]
    assert log.sessions(2) == {}


def test_of_a_long_log_the_last_sets_are_looked_at(log: PracticeLog, monkeypatch: pytest.MonkeyPatch) -> None:
    """However often a drill was played."""
    monkeypatch.setattr("pathway.store.practice._LOOKED_AT", 30)
    for n in range(40):
        log.keep(_set(f"set-{n}", begun=WHEN - timedelta(days=n)))
    (days,) = log.sessions(1).values()
    assert len(days) == 30
    assert days[-1].day == WHEN.astimezone().date()


def test_the_log_is_paged_newest_first(log: PracticeLog) -> None:
    """Those that were taken out on pages of their own; counted without being read."""
    ids = [log.keep(_set(f"set-{n}", begun=WHEN + timedelta(days=n), piece=1 if n % 2 else None)).id for n in range(5)]
    log.remove(ids[0])
    assert [one.token for one in log.page(0, 3)] == ["set-4", "set-3", "set-2"]
    assert [one.token for one in log.page(1, 3)] == ["set-1"]
    assert [one.token for one in log.page(0, 3, removed=True)] == ["set-0"]
    assert (log.count(), log.count(1), log.practised()) == (4, 2, {1})


def test_what_a_drill_came_to_is_asked_of_the_data(log: PracticeLog) -> None:
    """Its last set, the last with a try, whether its last rung was passed, and how fast."""
    log.keep(_set(passed=True, tempo=60.0, top=True))
    log.keep(_set("two", begun=WHEN + timedelta(days=1), passed=True, tempo=72.0))
    log.keep(_set("three", begun=WHEN + timedelta(days=2), tries=(), tempo=90.0))
    log.keep(_set("other", drill="b..6", piece=None))
    assert log.last(1)["arrive..6.n1.n2"].token == "three"
    assert log.last(1, tried=True)["arrive..6.n1.n2"].token == "two"
    assert list(log.last(None)) == ["b..6"]
    assert log.topped(1) == {"arrive..6.n1.n2"}
    assert log.fastest(1) == {"arrive..6.n1.n2": 72.0}


def test_the_first_plan_is_remembered_by_its_findings(log: PracticeLog, engine: Engine) -> None:
    """So that what was settled on paper can be told."""
    assert Pieces(engine).findings_at_first(1) == 3
    assert Pieces(engine).findings_at_first(9) == 0
