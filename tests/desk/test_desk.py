"""The desk: a piece and its rig, what is kept at hand, and what is let go."""

import shutil
import sqlite3
import threading
from collections.abc import Callable, Iterable, Iterator
from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest

from pathway.core.planning import Lock, Plan, plan_part, replan
from pathway.core.planning.edits import Edit, What
from pathway.core.planning.finding import Finding
from pathway.core.planning.helped import fixes_for, helps, with_fix
from pathway.core.rig import preset
from pathway.desk import Anew, AtTempo, BarsTaken, ByHand, Chosen, Desk, HelpTaken, OnRig, Tuned
from pathway.errors import Conflict, NotFound, OutOfRange, ScoreError
from pathway.formats.score import ScoreFile
from pathway.store import Notebook, Pieces, Rigs, open_database
from tests.helpers import document


@pytest.fixture
def desk(tmp_path: Path, demo_data: Path) -> Desk:
    """A desk with the demo pieces."""
    shutil.copyfile(demo_data / "pathway.sqlite", tmp_path / "desk.sqlite")
    engine = open_database(f"sqlite:///{tmp_path / 'desk.sqlite'}")
    return Desk(Pieces(engine), Notebook(engine), Rigs(engine))


def test_a_piece_is_planned_anew_when_its_rig_changes(desk: Desk) -> None:
    """To be looked at without a new state of its history; an open page of before is told apart."""
    viola = preset("viola")
    key = desk.rigs.add("Mine", viola, "viola")
    desk.apply(2, 0, OnRig(desk.rigs.find(key)))
    before = desk.open(2)
    desk.rigs.save(key, replace(viola, bow=replace(viola.bow, mass=0.060)))
    now = desk.open(2)
    assert now.plan.rig.bow.mass == 0.060
    assert now.piece.version == before.piece.version + 1
    assert desk.open(2) is now
    assert [entry.label for entry in desk.pieces.history(2)] == ["As first planned", "Played on Mine"]
    with pytest.raises(Conflict):
        desk.apply(2, before.piece.version, ByHand(Edit(What.DIRECTION, ("n1",), "up")))
    edited = desk.apply(2, now.piece.version, ByHand(Edit(What.DIRECTION, ("n1",), "up"))).now
    assert (edited.piece.rig, edited.piece.rig_version) == (key, 2)


CHANGES: dict[str, Callable[[Desk, int], object]] = {
    "edit": lambda desk, version: desk.apply(2, version, ByHand(Edit(What.DIRECTION, ("n1",), "up"))),
    "tempo": lambda desk, version: desk.apply(2, version, AtTempo(71.0)),
    "tuning": lambda desk, version: desk.apply(2, version, Tuned(desk.rigs.find("viola"), (48, 54, 62, 69))),
    "choices": lambda desk, version: desk.apply(2, version, Chosen("x", replace(desk.open(2).plan.draft.settings))),
    "rig": lambda desk, version: desk.apply(2, version, OnRig(desk.rigs.find("viola"))),
    "numbers of the rig": lambda desk, version: desk.refit(2, version, lambda rig: replace(rig, torque_limit=0.6)),
    "anew": lambda desk, version: desk.apply(2, version, Anew(lambda: desk.anew(2))),
    "history": lambda desk, version: desk.step(2, version, -1),
    "bars": lambda desk, version: desk.apply(2, version, BarsTaken(desk.open(2).plan, "x", ("1",))),
}


@pytest.mark.parametrize("change", CHANGES.values(), ids=CHANGES.keys())
def test_a_change_of_what_the_player_did_not_see_is_refused_before_it_is_planned(
    desk: Desk, change: Callable[[Desk, int], object], monkeypatch: pytest.MonkeyPatch
) -> None:
    """Every change goes through one queue, and looks at the version first."""
    desk.apply(2, 0, ByHand(Edit(What.DIRECTION, ("n1",), "up")))

    def planned(*_: object) -> Plan:
        raise AssertionError("planned for nothing")

    monkeypatch.setattr("pathway.desk.changes.plan_part", planned)
    monkeypatch.setattr("pathway.desk.changes.replan", planned)
    with pytest.raises(Conflict):
        change(desk, 0)
    assert desk.open(2).piece.version == 1


def test_looking_at_a_piece_whose_rig_changed_keeps_what_can_be_redone(desk: Desk) -> None:
    """Undone and opened again after the rig was measured anew, it can still be redone."""
    key = desk.rigs.add("Mine", preset("viola"), "viola")
    desk.apply(2, 0, OnRig(desk.rigs.find(key)))
    desk.apply(2, 1, ByHand(Edit(What.DIRECTION, ("n1",), "up")))
    desk.step(2, 2, -1)
    desk.rigs.save(key, replace(preset("viola"), torque_limit=0.6))
    looked = desk.open(2)
    assert looked.piece.redoes
    assert looked.plan.rig.torque_limit == 0.6
    redone = desk.step(2, looked.piece.version, 1).now
    assert redone.plan.locks["n1"].direction == -1
    assert redone.plan.rig.torque_limit == 0.6


def test_a_piece_on_a_rig_that_cannot_be_read_says_so(desk: Desk, tmp_path: Path) -> None:
    """It opens on the typical one, and the player is told why."""
    key = desk.rigs.add("Mine", preset("viola"), "viola")
    desk.apply(2, 0, OnRig(desk.rigs.find(key)))
    with closing(sqlite3.connect(tmp_path / "desk.sqlite")) as connection, connection:
        connection.execute("UPDATE rig SET document = '{}'")
    desk.forget_all()
    now = desk.open(2)
    assert "The numbers of Mine cannot be read" in now.told
    assert now.plan.rig.instrument == preset("viola").instrument


def test_undo_brings_the_rig_back(desk: Desk) -> None:
    """And redo the other one; on the shelf, too."""
    first = desk.open(2).piece.rig
    now = desk.apply(2, 0, OnRig(desk.rigs.find("violin" if first != "violin" else "viola"))).now
    back = desk.step(2, now.piece.version, -1).now
    assert (back.piece.rig, back.plan.rig.key) == (first, first)
    assert {entry.id: entry.rig for entry in desk.pieces.shelf()}[2] == first
    again = desk.step(2, back.piece.version, 1).now
    assert again.plan.rig.key == again.piece.rig == now.piece.rig


def test_what_does_not_fit_a_rig_is_left_out_and_said(desk: Desk) -> None:
    """An end near the tip set by hand is not on a bow that ends before it; the label says so."""
    desk.apply(2, 0, ByHand(Edit(What.END, ("n1",), "62")))
    short = preset("viola").with_hair(0.01, 0.40)
    key = desk.rigs.add("Short", short, "viola")
    now = desk.apply(2, 1, OnRig(desk.rigs.find(key))).now
    assert now.piece.revision.locks == ()
    assert "did not fit" in desk.pieces.history(2)[-1].label
    assert max(stroke.end for stroke in now.plan.strokes) <= 0.40 + 1e-9
    back = desk.step(2, now.piece.version, -1).now
    assert back.plan.rig.key == "viola"
    assert "n1" in back.plan.locks
    desk.forget_all()
    assert desk.open(2).plan.path.ends.tolist() == back.plan.path.ends.tolist()


def test_a_piece_that_does_not_lie_on_an_instrument_stays_where_it_was(desk: Desk) -> None:
    """A cello part goes below the violin: refused with its note, nothing changed."""
    with pytest.raises(ScoreError, match="below the lowest note of the violin"):
        desk.apply(4, 0, OnRig(desk.rigs.find("violin")))
    assert desk.open(4).piece.rig == "cello"
    assert desk.open(4).piece.version == 0
    with pytest.raises(NotFound):
        desk.apply(4, 0, OnRig(desk.rigs.find("mine-9")))


def test_a_glance_keeps_nothing(desk: Desk) -> None:
    """The piece stays as it is; tempi nobody means are refused."""
    seen = desk.glance(1, 50)
    assert seen.plan.draft.tempo_bpm == 50
    assert desk.open(1).plan.draft.tempo_bpm == 76
    with pytest.raises(OutOfRange, match="the tempo is 1000"):
        desk.glance(1, 1000)


def test_the_desk_holds_the_last_few_pieces(desk: Desk) -> None:
    """Opened again they are the same plan; after other data came, they are read anew."""
    first = desk.open(1)
    for key in range(2, 9):
        desk.open(key)
    assert desk.open(1) is first
    desk.forget_all()
    again = desk.open(1)
    assert again is not first
    assert again.plan.path.ends.tolist() == first.plan.path.ends.tolist()


def _troubled(desk: Desk) -> str:
    """Return a note of the second piece with a finding that a lock can help."""
    plan = desk.open(2).plan
    helped = (f for f in plan.findings for fix in fixes_for(plan, f) if fix.tempo_bpm is None and fix.passage is None)
    return next(helped).notes[0]


def test_helps_stop_being_tried_once_the_plan_is_another_one(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    """An edit came between two trials: what is tried from then on would help nobody."""
    note = _troubled(desk)

    def overtaken(_plan: Plan, _finding: Finding) -> Iterator[None]:
        yield None
        desk.apply(2, 0, ByHand(Edit(What.LANE, ("n1",), "3")))
        yield None
        pytest.fail("a change was tried on a plan that is not there any more")

    monkeypatch.setattr("pathway.desk.helps.helps", overtaken)
    assert desk.helps(2, note)[0].fixes == ()
    assert desk.open(2).piece.version == 1


def test_an_edit_goes_before_the_helps_that_are_tried(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    """While one is planned no further change is tried."""
    note, order = _troubled(desk), []
    planning, go_on = threading.Event(), threading.Event()

    def slowly(plan: Plan, locks: Iterable[Lock]) -> Plan:
        planning.set()
        assert go_on.wait(5)
        order.append("edit")
        return replan(plan, locks)

    def two(_plan: Plan, _finding: Finding) -> Iterator[None]:
        assert planning.wait(5)
        threading.Timer(0.2, go_on.set).start()
        yield None
        order.append("second trial")

    monkeypatch.setattr("pathway.desk.changes.replan", slowly)
    monkeypatch.setattr("pathway.desk.helps.helps", two)
    editing = threading.Thread(target=desk.apply, args=(2, 0, ByHand(Edit(What.LANE, ("n1",), "3"))))
    editing.start()
    desk.helps(2, note)
    editing.join()
    assert order == ["edit"]


def test_a_help_is_tried_and_planned_once(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    """The list, the ghost and the taking share one trial and one plan; other findings of the note are left alone."""
    note = _troubled(desk)
    tried, planned = [], []
    monkeypatch.setattr("pathway.desk.helps.helps", lambda plan, f: tried.append(f.code) or helps(plan, f))
    monkeypatch.setattr(
        "pathway.core.planning.helped.with_fix", lambda plan, fix: planned.append(fix.id) or with_fix(plan, fix)
    )
    told = desk.with_fix(2, note, *_first_fix(desk, note))
    assert desk.with_fix(2, note, *_first_fix(desk, note)) is told
    taken = desk.apply(2, 0, HelpTaken(note, lambda: desk.with_fix(2, note, *_first_fix(desk, note))))
    assert taken.now.plan is told.plan
    assert len(tried) == len(set(tried))
    assert len(planned) == len(set(planned))


def _first_fix(desk: Desk, note: str) -> tuple[str, str]:
    """Return code and id of a help of a note that needs no other tempo or passage."""
    found = next(h for h in desk.helps(2, note) if h.fixes)
    return found.finding.code, next(fix.id for fix in found.fixes if fix.tempo_bpm is None and fix.passage is None)


def test_only_the_finding_asked_for_is_tried(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    """A help of one finding does not wait for those of the others."""
    plan = desk.open(2).plan
    note = _troubled(desk)
    other = replace(plan.findings[0], code="stuck")
    crowded = replace(desk.open(2), plan=replace(plan, findings=(other, *plan.findings)))
    monkeypatch.setattr(desk, "open", lambda _key: crowded)
    tried = []
    monkeypatch.setattr("pathway.desk.helps.helps", lambda _plan, f: tried.append(f.code) or iter(()))
    with pytest.raises(NotFound, match="not offered any more"):
        desk.with_fix(2, note, plan.findings[0].code, "hook")
    assert tried == [plan.findings[0].code]


def test_what_is_brought_in_is_planned_once(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    """The plan that was made to see whether the part can be planned is the one that is opened."""
    planned = []
    monkeypatch.setattr("pathway.desk.desk.plan_part", lambda *args: planned.append(1) or plan_part(*args))
    data = document("d4:4 e4 f#4 g4")
    key = desk.add(ScoreFile(data, "brought.musicxml"), data, "brought.musicxml", None, "violin")
    assert len(desk.open(key).plan.strokes) == 4
    assert planned == [1]
    desk.forget_all()
    assert len(desk.open(key).plan.strokes) == 4
