"""What was acknowledged is in the history, whatever arrives together: hands, undo, other rigs, a second desk."""

import shutil
import threading
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path

from hypothesis import settings
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule, run_state_machine_as_test
from hypothesis.strategies import booleans, integers, sampled_from

from pathway.core.planning.edits import Edit, What
from pathway.core.rig import preset
from pathway.desk import ByHand, Desk, OnRig
from pathway.errors import Conflict
from pathway.store import Notebook, Pieces, Rigs, open_database
from tests.helpers import THOROUGH


def _desk(folder: Path) -> Desk:
    engine = open_database(f"sqlite:///{folder / 'pathway.sqlite'}")
    return Desk(Pieces(engine), Notebook(engine), Rigs(engine))


def _turn(note: str, value: str) -> Edit:
    return Edit(What.DIRECTION, (note,), value)


def test_of_edits_that_arrive_together_one_is_kept_and_the_others_are_told(tmp_path: Path, demo_data: Path) -> None:
    """Through one desk and through two on the same data: as many new states as were acknowledged."""
    shutil.copytree(demo_data, tmp_path, dirs_exist_ok=True)
    desks = [_desk(tmp_path), _desk(tmp_path)]
    acknowledged = 0
    for round_ in range(3 * THOROUGH):
        version = desks[0].open(2).piece.version
        start = threading.Barrier(6)

        def hand(n: int, version: int = version, start: threading.Barrier = start) -> bool:
            start.wait()
            try:
                desks[n % 2].apply(2, version, ByHand(_turn(f"n{n + 1}", "up")))
            except Conflict:
                return False
            return True

        with ThreadPoolExecutor(6) as hands:
            done = sum(hands.map(hand, range(6)))
        assert done == 1, round_
        acknowledged += done
    assert len(desks[1].pieces.history(2)) == 1 + acknowledged
    assert desks[0].open(2).plan.locks == desks[1].open(2).plan.locks


class TwoPages(RuleBasedStateMachine):
    """Two pages, each with the version it saw last, on one piece; a line of states as the player believes it is."""

    desk: Desk

    @initialize()
    def begin(self) -> None:
        """The piece as first planned, whatever an earlier walk left ahead of it."""
        now = self.desk.rewind(2, self.desk.open(2).piece.version, 0).now.piece
        labels = [entry.label for entry in self.desk.pieces.history(2)]
        self.line, self.redo = labels[:1], labels[1:]
        self.saw = [now.version, now.version]

    @rule(page=integers(0, 1), note=sampled_from(["n1", "n3", "n5"]), up=booleans())
    def turn(self, page: int, note: str, up: bool) -> None:
        """A hand turns a bow on a page."""
        now = self.desk.open(2)
        try:
            done = self.desk.apply(2, self.saw[page], ByHand(_turn(note, "up" if up else "down"))).now
        except Conflict:
            assert self.saw[page] != now.piece.version
            self.saw[page] = now.piece.version
            return
        assert self.saw[page] == now.piece.version
        self.line.append(done.piece.revision.label)
        self.redo = []
        self.saw[page] = done.piece.version

    @rule(page=integers(0, 1), by=sampled_from([-1, 1]))
    def step(self, page: int, by: int) -> None:
        """Undo or redo on a page."""
        now = self.desk.open(2)
        try:
            done = self.desk.step(2, self.saw[page], by).now
        except Conflict:
            assert self.saw[page] != now.piece.version
            self.saw[page] = now.piece.version
            return
        if by < 0 and len(self.line) > 1:
            self.redo.insert(0, self.line.pop())
        elif by > 0 and self.redo:
            self.line.append(self.redo.pop(0))
        self.saw[page] = done.piece.version

    @rule(page=integers(0, 1), rig=sampled_from(["viola", "mine-1"]))
    def play_on(self, page: int, rig: str) -> None:
        """Another rig."""
        try:
            done = self.desk.apply(2, self.saw[page], OnRig(self.desk.rigs.find(rig))).now
        except Conflict:
            self.saw[page] = self.desk.open(2).piece.version
            return
        self.line.append(done.piece.revision.label)
        self.redo = []
        self.saw[page] = done.piece.version

    @rule(mass=integers(60, 75))
    def measure(self, mass: int) -> None:
        """The rig is measured anew meanwhile; no state of the piece comes or goes."""
        viola = preset("viola")
        self.desk.rigs.save("mine-1", replace(viola, bow=replace(viola.bow, mass=mass / 1000)))

    @rule()
    def start_again(self) -> None:
        """The server is started again: all that is at hand is gone."""
        self.desk.forget_all()

    @invariant()
    def the_history_is_what_was_acknowledged(self) -> None:
        """State by state."""
        history = self.desk.pieces.history(2)
        assert [entry.label for entry in history] == [*self.line, *self.redo]
        assert [entry.here for entry in history].index(True) == len(self.line) - 1


def test_what_was_acknowledged_is_in_the_history(tmp_path: Path, demo_data: Path) -> None:
    """Over walks of all kinds of changes from two pages."""
    shutil.copytree(demo_data, tmp_path, dirs_exist_ok=True)
    TwoPages.desk = _desk(tmp_path)
    TwoPages.desk.rigs.add("Mine", preset("viola"), "viola")
    many = settings(max_examples=8 * THOROUGH, stateful_step_count=12, deadline=None, database=None, derandomize=True)
    run_state_machine_as_test(TwoPages, settings=many)
