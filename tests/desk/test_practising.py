"""Drills on the desk: made, engraved, heard, played; the day from what the pieces ask for and what was played."""

import shutil
from datetime import date, datetime, time, timedelta
from pathlib import Path

import pytest

from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.edits import Edit, What
from pathway.core.practice.drill import AskedBy, DrillAsk, Stage
from pathway.core.practice.load import Because, HandAfter
from pathway.core.practice.staircase import Verdict
from pathway.core.practice.today import DayPlace
from pathway.desk import ByHand, Desk
from pathway.desk.day import day_on_disk
from pathway.desk.hearing import Hearing
from pathway.desk.practising import Practising, Told, Try
from pathway.errors import NotFound, NotHere
from pathway.store import Notebook, Pieces, Rigs, open_database
from pathway.store.practice import Day, PracticeLog

NOW = datetime.combine(date.today(), time(12)).astimezone()  # the load counts by days: an hour later is today
SLACK = 2  # the viola piece of the demo
ARRIVE = "arrive..6.n57.n58"


@pytest.fixture
def practising(tmp_path: Path, demo_data: Path) -> Practising:
    """A desk with the demo pieces and what was practised of them."""
    shutil.copyfile(demo_data / "pathway.sqlite", tmp_path / "pathway.sqlite")
    engine = open_database(f"sqlite:///{tmp_path / 'pathway.sqlite'}")
    desk = Desk(Pieces(engine), Notebook(engine), Rigs(engine))
    return Practising(desk, Hearing(desk), PracticeLog(engine))


def _try(number: int, verdict: Verdict = Verdict.CLEAN, token: str = "token-of-a-set", seconds: float = 20.0) -> Try:
    return Try(token, number, verdict, seconds, NOW)


def test_own_bars_are_engraved_as_they_are_in_the_piece(practising: Practising) -> None:
    """Every note of the rung stands in its lines, by the id that it has in the piece."""
    drill = practising.drill(SLACK, ARRIVE, "violin")
    lines = practising.lines(drill, 0, 700)
    there = {id_ for system in lines for id_ in system.notes}
    plan = drill.ready.at(0).plan
    assert {note.id for note in plan.notes} <= there
    assert all(practising.drill(SLACK, ARRIVE, "violin").now.plan.note[note.id] for note in plan.notes)  # type: ignore[union-attr]
    assert lines[-1].width == pytest.approx(700, abs=2)


@pytest.mark.parametrize("key", ["slowest-bow.down.3", "chords.pairs.2", "crossings.low to high.2", "speed-alone..3"])
def test_made_lines_are_engraved_by_the_names_of_the_drill(practising: Practising, key: str) -> None:
    """Whatever rests and ties lie between."""
    for rig in ("violin", "bass", "bass-viol"):
        drill = practising.drill(None, key, rig)
        for rung in range(drill.ready.top + 1):
            there = {id_ for system in practising.lines(drill, rung, 900) for id_ in system.notes}
            assert {note.id for note in drill.ready.at(rung).plan.notes} <= there


def test_a_drill_is_made_anew_when_its_piece_changes(practising: Practising) -> None:
    """From the plan as it is now; kept as long as nothing changes."""
    before = practising.drill(SLACK, ARRIVE, "violin")
    assert practising.drill(SLACK, ARRIVE, "violin") is before
    desk = practising._desk
    now = desk.open(SLACK)
    desk.apply(SLACK, now.piece.version, ByHand(Edit(What.DIRECTION, ("n57",), "up")))
    assert practising.drill(SLACK, ARRIVE, "violin").ready.at(2).plan != before.ready.at(2).plan


def test_a_rung_is_heard_and_its_fault_otherwise(practising: Practising) -> None:
    """The same rung sounds the same, with the fault it does not."""
    drill = practising.drill(None, "wrong-on-purpose.pressed through.3", "violin")
    plain, fault = practising.clip(drill, 0), practising.clip(drill, 0, fault=True)
    assert plain.data != fault.data
    assert practising.clip(drill, 0) is plain


def test_the_second_part_goes_along_where_there_is_one(practising: Practising) -> None:
    """None in a score of one part."""
    drill = practising.drill(SLACK, "with-second-part..6.n57.n58", "violin")
    assert practising.second(drill, 0) is None
    assert practising.second(practising.drill(None, "angle..2", "violin"), 0) is None


def test_a_try_counts_once(practising: Practising) -> None:
    """However often the page sends it; three clean ones lead up, and the set knows it."""
    drill = practising.drill(SLACK, "tempo-ladder.the speed.6.n60.n69", "violin")
    told = Told(AskedBy.CONTRAST, "calm against light", ("15",))
    for number in (1, 2, 2, 2, 3):
        climb, played = practising.tried(drill, told, _try(number))
    assert climb.rung == 2
    assert (len(played.tries), played.passed, played.why, played.bars) == (3, True, "contrast", "15")
    assert practising.climb(practising.drill(SLACK, "tempo-ladder.the speed.6.n60.n69", "violin")).rung == 2
    practising.ended("token-of-a-set", 75.0, HandAfter.FIRM, "better")
    kept = practising.log.find("token-of-a-set")
    assert kept is not None
    assert (kept.seconds, kept.hand, kept.note) == (75.0, HandAfter.FIRM, "better")
    practising.ended("never-begun", 5.0, HandAfter.EASY, "")
    assert practising.log.find("never-begun") is None


def test_the_last_rung_passed_is_told_in_the_set(practising: Practising) -> None:
    """Again on another day too."""
    drill = practising.drill(None, "angle..2", "violin")
    practising.step_to(drill, drill.ready.top)
    for number in (1, 2, 3):
        climb, played = practising.tried(drill, Told(), _try(number))
    assert climb.passed
    assert played.top
    for number in (1, 2, 3):
        _, again = practising.tried(drill, Told(), _try(number, token="token-of-another"))
    assert again.top


def test_the_load_counts_what_was_taken_out_of_the_log(practising: Practising) -> None:
    """It was played nevertheless."""
    drill = practising.drill(None, "load-and-test.down.3", "violin")
    _, played = practising.tried(drill, Told(), _try(1, seconds=50.0))
    practising.log.remove(played.id)
    found = practising.allowance("load-and-test", NOW + timedelta(seconds=60))
    assert found.because is Because.REST
    practising.log.remove(played.id, back=True)
    practising.ended("token-of-a-set", 50, HandAfter.STRAINED, "")
    assert practising.allowance("one-throw", NOW + timedelta(hours=1)).because is Because.STRAINED


def test_a_note_has_the_drills_of_its_findings(practising: Practising) -> None:
    """Or those of its bar; what is heard has others; chosen notes theirs."""
    plan = practising._desk.open(SLACK).plan
    found = next(f for f in plan.findings if f.code == "runs-out")
    assert practising.offers_at(SLACK, found.place[0])[0].ask.family == "arrive"
    quiet = next(note.id for note in plan.bowed if not any(note.id in f.notes for f in plan.findings))
    assert practising.offers_at(SLACK, quiet)
    assert practising.offers_heard(SLACK, quiet, Heard.JOIN)[0].ask.family == "smooth-turns"
    ids = [note.id for note in plan.bowed]
    assert practising.offers_between(SLACK, ids[9], ids[2])[0].ask.first == ids[2]
    with pytest.raises(NotFound):
        practising.offers_between(SLACK, "n9999", ids[2])


def test_the_day_is_made_from_findings_and_log(practising: Practising) -> None:
    """What rests is not in it; what is pinned is; all within the minutes."""
    entries = practising.today([SLACK], 40, NOW, Day())
    assert entries[0].place is DayPlace.WARM_UP
    assert entries[-1].place is DayPlace.RUN
    assert sum(entry.minutes for entry in entries) <= 40
    drills = [entry for entry in entries if entry.place is DayPlace.DRILL]
    assert drills
    pinned = drills[-1].key
    again = practising.today([SLACK], 20, NOW, Day(pinned=(pinned,)))
    assert pinned in [entry.key for entry in again]
    other = practising.today([SLACK], 40, NOW, Day(dropped=(drills[0].key,)))
    assert drills[0].key not in [entry.key for entry in other]


def test_a_settled_finding_lets_its_drill_rest(practising: Practising) -> None:
    """The drills of findings that are not there any more are gone; those that the player chose go on."""
    plan = practising._desk.open(SLACK).plan
    gone = DrillAsk("arrive", "", Stage.BARS, plan.bowed[0].id, plan.bowed[1].id).key
    drill = practising.drill(SLACK, gone, "violin")
    practising.tried(drill, Told(AskedBy.FINDING, "runs-out", ("1",)), _try(1))
    (candidate,) = [one for one in practising.candidates([SLACK]) if one.offer.ask.key == gone]
    assert candidate.gone


def test_the_demo_tells_of_some_weeks(practising: Practising) -> None:
    """Something improves, something sticks, something rests, the hand was strained once; caps were kept."""
    climbs = practising.log.climbs(SLACK)
    assert climbs["tempo-ladder.the hair.6.n57.n58"].passed
    assert climbs["slowest-bow.down.3.n35.n35"].stuck
    assert any(one.hand is HandAfter.STRAINED for one in practising.log.sets())
    assert len({one.piece for one in practising.log.sets()}) == 3
    resting = [c for c in practising.candidates([4]) if c.offer.ask.family == "tilt-turns" and c.sessions]
    assert sum(session.top for session in resting[0].sessions) >= 3
    shares = [one.share for one in practising.log.sets(SLACK) if one.family == "tempo-ladder"]
    assert shares[-1] == 1.0 > shares[0]
    assert practising.due(SLACK) >= 0


def test_a_drill_that_makes_no_sense_is_refused(practising: Practising) -> None:
    """With a reason; and one for notes that are not there."""
    with pytest.raises(NotHere):
        practising.drill(None, ARRIVE, "violin")
    with pytest.raises(NotFound, match="not in the piece"):
        practising.drill(SLACK, "arrive..6.n9998.n9999", "violin")
    with pytest.raises(NotFound):
        practising.drill(None, "angle..2", "kazoo")


def test_the_day_can_be_asked_for_without_a_page(tmp_path: Path, demo_data: Path) -> None:
    """From the folder alone; one without data is refused."""
    shutil.copytree(demo_data, tmp_path / "data")
    entries, titles = day_on_disk(tmp_path / "data", 30)
    assert {entry.piece for entry in entries} <= set(titles)
    assert entries
    with pytest.raises(NotFound, match="no data"):
        day_on_disk(tmp_path / "nothing", 30)
