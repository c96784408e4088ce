"""Pieces out and in: nothing is lost on the way, nothing is written over, and what is not sound is refused whole."""

import io
import json
import zipfile
from dataclasses import replace
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from sqlalchemy import Engine

from pathway.core.planning.edits import Edit, What
from pathway.core.planning.wishes import Passage
from pathway.core.practice.log import PlayedSet
from pathway.core.practice.staircase import Climb
from pathway.core.rig import preset
from pathway.desk import BarsTaken, ByHand, Chosen, Desk, OnRig
from pathway.desk.exchange import Exchange
from pathway.errors import Conflict, DataError, NotFound, PathwayError, PlanError, RigError, ScoreError, TooLarge
from pathway.formats.piece_file import CONTENTS, is_piece_file, read_piece_file, write_piece_file
from pathway.formats.plan_exchange import document_of
from pathway.formats.recording import flac
from pathway.formats.score import ScoreFile
from pathway.store import Notebook, Pieces, Rigs, open_database
from pathway.store.practice import PracticeLog
from pathway.store.takes import NewTake, Takes
from tests.helpers import document

TUNE = "[mf] d4:4 e4 f#4 g4 | a4:4 (b4 a4) g4 | f#4:2 e4 | d4:1"
NEWER = "[mf] d4:4 e4 f#4 g4 | e4:4 e4 e4 e4 | a4:4 (b4 a4) g4 | f#4:2 e4:4 f#4 | d4:1"  # a bar more, a note otherwise


SOUND = flac(np.zeros(9000), 8000)


class _House:
    """A desk with all that lies beside it."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.engine: Engine = open_database(f"sqlite:///{folder / 'pathway.sqlite'}")
        self.desk = Desk(Pieces(self.engine), Notebook(self.engine), Rigs(self.engine))
        self.log, self.takes = PracticeLog(self.engine), Takes(self.engine, folder / "takes")
        self.exchange = Exchange(self.desk, self.log, self.takes, self.engine)

    def add(self, text: str = TUNE, rig: str = "violin", **head: str) -> int:
        data = document(text, "violin", **head)
        return self.desk.add(ScoreFile(data, "tune.musicxml"), data, "tune.musicxml", None, rig)

    def turn(self, key: int, note: str, way: str) -> None:
        version = self.desk.open(key).piece.version
        self.desk.apply(key, version, ByHand(Edit(What.DIRECTION, (note,), way)))

    def furnish(self, key: int) -> None:
        """A passage, a lock, a variant, a finding laid aside, a set, a take."""
        now = self.desk.open(key)
        settings = replace(now.plan.draft.settings, passages=(Passage("n5", "n8", character="proud"),))
        self.desk.apply(key, now.piece.version, Chosen("A passage", settings))
        self.turn(key, "n5", "up")
        self.desk.notebook.keep(key, "Mine", self.desk.open(key).piece.revision)
        self.desk.notebook.lay_aside(key, "runs-out", "n5", "for now")
        self.desk.notebook.hear(key, "n5", "grating", "weight")
        begun = datetime(2026, 11, 1, 17, tzinfo=UTC)
        self.log.keep(
            PlayedSet(
                token="set-1-long-enough",
                drill="tempo-ladder.the hair.6.n5.n8",
                begun=begun,
                piece=key,
                title="Test",
                why="player",
            )
        )
        self.takes.add(NewTake(key, "One", 0, 3.0, "n1", "n8", begun), SOUND)


@pytest.fixture
def house(tmp_path: Path) -> _House:
    """An empty one."""
    return _House(tmp_path)


def test_a_piece_goes_out_and_comes_in_as_it_was(house: _House, tmp_path: Path) -> None:
    """With wishes, plan, variants, findings laid aside, log and takes; read with any zip."""
    key = house.add()
    house.furnish(key)
    data = house.exchange.pack(key, log=True, takes=True)
    names = zipfile.ZipFile(io.BytesIO(data)).namelist()
    assert {CONTENTS, "plan.json", "wishes.json", "rig.json", "log.json", "score/tune.musicxml"} <= set(names)
    (tmp_path / "other").mkdir()
    other = _House(tmp_path / "other")
    inside = other.exchange.look(data)
    assert (inside.locks, inside.passages, inside.sets, inside.same) == (1, 1, 1, ())
    assert set(inside.file.files) == set(names) - {CONTENTS}
    assert other.desk.pieces.shelf() == []
    new = other.exchange.take_new(data)
    mine, theirs = house.desk.open(key), other.desk.open(new)
    assert [s.direction for s in theirs.plan.strokes] == [s.direction for s in mine.plan.strokes]
    assert theirs.plan.draft.settings == mine.plan.draft.settings
    assert theirs.piece.revision.locks == mine.piece.revision.locks
    assert other.desk.pieces.brought(new).data == house.desk.pieces.brought(key).data
    assert [one.name for one in other.desk.notebook.variants(new)] == ["Mine"]
    assert other.desk.notebook.asides(new) == {("runs-out", "n5"): "for now"}
    assert [one.drill for one in other.log.sets(new)] == ["tempo-ladder.the hair.6.n5.n8"]
    (take,) = other.takes.of(new)
    assert other.takes.sound(take) == SOUND
    assert other.desk.rigs.own() == []


def test_a_piece_takes_its_whole_history_along(house: _House, tmp_path: Path) -> None:
    """Every state, to be undone; what was heard, where drills stand, when it is to be ready; the rig that it is on."""
    key = house.add()
    mine = house.desk.rigs.add("Mine", replace(preset("violin"), torque_limit=0.6), "violin")
    house.desk.apply(key, 0, OnRig(house.desk.rigs.find(mine)))
    house.furnish(key)
    house.log.stand(key, "tempo-ladder.the hair.6.n5.n8", Climb(2))
    house.log.set_ready_by(key, date(2026, 12, 22))
    data = house.exchange.pack(key, log=True, takes=True, history=True)
    (tmp_path / "other").mkdir()
    other = _House(tmp_path / "other")
    for _ in range(2):  # the second lies beside the first, on the same rig
        new = other.exchange.take_new(data)
    told = [(entry.label, entry.when, entry.here) for entry in other.desk.pieces.history(new)]
    assert told == [(entry.label, entry.when, entry.here) for entry in house.desk.pieces.history(key)]
    assert len(told) == 4
    assert [rig.rig.torque_limit for rig in other.desk.rigs.own()] == [0.6]
    assert other.desk.open(new).plan.rig.torque_limit == 0.6
    assert [heard.what for heard in other.desk.notebook.heard(new)] == ["grating"]
    assert other.log.climb(new, "tempo-ladder.the hair.6.n5.n8") == Climb(2)
    assert other.log.ready_by()[new] == date(2026, 12, 22)
    first = other.desk.rewind(new, other.desk.open(new).piece.version, 0).now
    assert first.plan.rig.torque_limit == preset("violin").torque_limit
    assert first.piece.revision.locks == ()


@pytest.mark.parametrize(
    ("spoil", "said"),
    [
        (lambda told: told.update(at=9), "not whole"),
        (lambda told: told["rows"]["revision"][0].update(rig="mine-7"), "not whole"),
        (lambda told: told["rows"]["revision"][0].update(wishes={"style": "odd"}), "cannot be read"),
        (lambda told: told["rows"]["revision"][0].update(created_at="0001-01-01T00:00:00Z"), "created_at"),
        (lambda told: told["rows"]["revision"][0].update(path=[]), "path must be a block"),
        (lambda told: told["rows"]["revision"].append(told["rows"]["revision"][0]), "cannot be read"),
        (lambda told: told["rows"]["heard"][0].update(more="x"), "more is not known here"),
        (lambda told: told["rows"]["heard"][0].update(note="x" * 1001), "note must have no more than 1000"),
        (lambda told: told.pop("rows"), "not sound"),
    ],
)
def test_a_history_that_is_not_sound_is_refused_and_nothing_is_kept(house: _House, spoil: Any, said: str) -> None:
    """With what is wrong in it."""
    key = house.add()
    house.furnish(key)
    told = json.loads(read_piece_file(house.exchange.pack(key, log=True, takes=True, history=True)).history or b"")
    spoil(told)
    file = read_piece_file(house.exchange.pack(key, log=True, takes=True))
    spoilt = write_piece_file(replace(file, history=json.dumps(told).encode()))
    sounds = sorted((house.folder / "takes").iterdir())
    with pytest.raises(ScoreError, match=said):
        house.exchange.take_new(spoilt)
    assert [entry.id for entry in house.desk.pieces.shelf()] == [key]
    assert sorted((house.folder / "takes").iterdir()) == sounds


def test_log_and_takes_go_along_only_if_chosen(house: _House) -> None:
    """A teacher need not hear them."""
    key = house.add()
    house.furnish(key)
    file = read_piece_file(house.exchange.pack(key, log=False, takes=False))
    assert file.log is None
    assert not file.takes


def test_ones_own_rig_comes_along_and_is_not_kept_twice(house: _House, tmp_path: Path) -> None:
    """Nor is a typical one."""
    heavy = replace(preset("violin"), bow=replace(preset("violin").bow, mass=0.066))
    key = house.add(rig=house.desk.rigs.add("Heavy", heavy, "violin"))
    data = house.exchange.pack(key, log=False, takes=False)
    (tmp_path / "other").mkdir()
    other = _House(tmp_path / "other")
    for _ in range(2):
        new = other.exchange.take_new(data)
        assert other.desk.open(new).plan.rig.bow.mass == pytest.approx(0.066)
    assert len(other.desk.rigs.own()) == 1


def test_a_teachers_bowing_comes_back_as_a_variant(house: _House, tmp_path: Path) -> None:
    """Its bows over the pupil's own, which stay; bar by bar they are taken."""
    pupil = house.add()
    (tmp_path / "teacher").mkdir()
    teacher = _House(tmp_path / "teacher")
    lent = teacher.exchange.take_new(house.exchange.pack(pupil, log=False, takes=False))
    for note in ("n1", "n5"):
        teacher.turn(lent, note, "up")
    back = teacher.exchange.pack(lent, log=False, takes=False)
    assert [(id_, share) for id_, _, share in house.exchange.look(back).same] == [(pupil, 1.0)]
    before = house.desk.open(pupil)
    brought = house.exchange.take_variant(back, pupil)
    assert (brought.lost, brought.left) == (0, ())
    assert house.desk.open(pupil).piece.version == before.piece.version
    variant, plan = house.desk.variant(pupil, brought.id)
    wanted = [s.direction for s in teacher.desk.open(lent).plan.strokes]
    assert [s.direction for s in plan.strokes] == wanted
    assert variant.name.startswith("bowing from the file of")
    now = house.desk.apply(pupil, before.piece.version, BarsTaken(plan, variant.name, ["2"])).now.plan
    bar = [stroke for stroke in plan.strokes if plan.note[stroke.id].measure == "2"]
    assert [now.stroke[stroke.id].direction for stroke in bar] == [stroke.direction for stroke in bar]
    assert [now.stroke[s.id].end for s in bar] == pytest.approx([s.end for s in bar], abs=0.002)
    assert not {lock.note for lock in house.desk.open(pupil).piece.revision.locks} & {"n1", "n2", "n3", "n4"}
    assert "Bar 2" in (house.desk.open(pupil).piece.undoes or "")


def test_wishes_and_plans_come_in_as_variants(house: _House) -> None:
    """A wish file by bars and beats, a plan document by its bows; other notes and other files are refused."""
    key, other = house.add(), house.add("c4:1 | e4:1")
    wishes = json.dumps({"locks": [{"note": "bar 2", "direction": "up"}], "passages": []}).encode()
    variant, plan = house.desk.variant(key, house.exchange.take_document(key, wishes, "my wishes.json").id)
    assert variant.name == "as in my wishes"
    assert plan.stroke["n5"].direction.word == "up"
    house.turn(key, "n1", "up")
    document_ = document_of(house.desk.open(key).plan).to_json().encode()
    house.desk.step(key, house.desk.open(key).piece.version, -1)
    _, plan = house.desk.variant(key, house.exchange.take_document(key, document_, "plan.json").id)
    assert plan.stroke["n1"].direction.word == "up"
    for piece, data in ((other, document_), (key, b"{}x"), (key, b'{"locks": [{"note": "bar 99"}]}')):
        with pytest.raises(PlanError):
            house.exchange.take_document(piece, data, "x.json")


def test_a_file_of_other_notes_is_no_variant(house: _House) -> None:
    """It says what to do instead."""
    one, other = house.add(), house.add("c4:4 g4 c5 g4 | e4:1 | f4:1 | c4:1")
    data = house.exchange.pack(one, log=False, takes=False)
    assert [id_ for id_, _, _ in house.exchange.look(data).same] == [one]
    with pytest.raises(ScoreError, match="other notes"):
        house.exchange.take_variant(data, other)
    with pytest.raises(NotFound):
        house.exchange.take_variant(data, 99)


def test_a_newer_edition_keeps_all_that_finds_its_notes(house: _House) -> None:
    """A bar was put in and a note changed: wishes, practice, takes and notes follow; what is lost is listed."""
    key = house.add()
    house.furnish(key)
    brought = house.exchange.renew(key, document(NEWER), "newer.musicxml")
    now = house.desk.open(brought.id)
    assert now.piece.title == "Test"
    (passage,) = now.plan.draft.settings.passages
    assert now.plan.note[passage.start].measure == now.plan.note[passage.end].measure == "3"
    (lock,) = now.piece.revision.locks
    assert now.plan.note[lock.note].measure == "3"
    assert now.plan.stroke[lock.note].direction.word == "up"
    assert [one.name for one in house.desk.notebook.variants(brought.id)] == ["Mine"]
    ((_, note),) = house.desk.notebook.asides(brought.id)
    assert note == passage.start
    assert [heard.note for heard in house.desk.notebook.heard(brought.id)] == [note]
    (played,) = house.log.sets(brought.id)
    assert played.drill == f"tempo-ladder.the hair.6.{passage.start}.{passage.end}"
    (take,) = house.takes.of(brought.id)
    assert (take.first, take.last) == ("n1", passage.end)
    assert len(brought.left) == 1
    assert "bar 3, beat 3" in brought.left[0]
    assert [entry.id for entry in house.desk.pieces.shelf()] == [brought.id]
    house.desk.pieces.remove(key, back=True)
    assert house.desk.open(key).plan.draft.settings.passages


def test_an_edit_that_comes_while_an_edition_is_read_is_not_taken_off_the_shelf_with_it(house: _House) -> None:
    """It is told as a conflict; nothing of the edition is there, and nothing of the old piece has gone."""
    key = house.add()
    house.furnish(key)
    seen = house.desk.open(key).piece.version
    house.turn(key, "n1", "up")
    with pytest.raises(Conflict):
        house.exchange.renew(key, document(NEWER), "newer.musicxml", seen)
    assert [entry.id for entry in house.desk.pieces.shelf()] == [key]
    assert len(house.log.sets(key)) == len(house.takes.of(key)) == 1
    assert house.desk.notebook.asides(key) == {("runs-out", "n5"): "for now"}


def test_another_piece_is_no_newer_edition(house: _House) -> None:
    """And nothing has changed."""
    key = house.add()
    with pytest.raises(ScoreError, match="edition"):
        house.exchange.renew(key, document("c5:1 | c5:1 | g4:1"), "x.musicxml")
    assert [entry.id for entry in house.desk.pieces.shelf()] == [key]


def test_a_renamed_piece_still_goes_out_and_in(house: _House) -> None:
    """By the place of its part in the score."""
    key = house.add()
    house.desk.rename(key, "  Another   name ", "Violin of mine")
    now = house.desk.open(key)
    assert (now.piece.title, now.piece.part_name, now.plan.part.name) == ("Another name",) + ("Violin of mine",) * 2
    again = house.exchange.take_new(house.exchange.pack(key, log=False, takes=False))
    assert house.desk.open(again).piece.part_name == "Violin of mine"
    with pytest.raises(ScoreError, match="need a name"):
        house.desk.rename(key, " ", "x")
    with pytest.raises(NotFound):
        house.desk.rename(99, "x", "y")


def _changed(data: bytes, changes: dict[str, bytes | None]) -> bytes:
    out = io.BytesIO()
    source = zipfile.ZipFile(io.BytesIO(data))
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in source.namelist():
            if name not in changes:
                archive.writestr(name, source.read(name))
        for name, content in changes.items():
            if content is not None:
                archive.writestr(name, content)
    return out.getvalue()


@pytest.mark.parametrize(
    "changes",
    [
        {"plan.json": None},
        {"plan.json": b"{}"},
        {"wishes.json": b"[1]"},
        {
            "wishes.json": json.dumps(
                {"format": "pathway-wishes", "version": 1, "locks": [{"note": "n999", "direction": "up"}]}
            ).encode()
        },
        {"rig.json": b"not json"},
        {"score/tune.musicxml": None},
        {"score/tune.musicxml": b"<!DOCTYPE x [<!ENTITY e SYSTEM 'file:///etc/passwd'>]><x>&e;</x>"},
        {CONTENTS: b'{"format": "other"}'},
        {"takes/1.flac": b"MZ evil", "takes/1.json": b'{"begun": "2026-01-01T00:00:00+00:00"}'},
        {"log.json": b"{"},
    ],
)
def test_a_file_that_someone_changed_is_refused_whole(house: _House, changes: dict[str, bytes | None]) -> None:
    """In words, and nothing of it is kept."""
    data = _changed(house.exchange.pack(house.add(), log=False, takes=False), changes)
    count = len(house.desk.pieces.shelf())
    with pytest.raises((ScoreError, PlanError, RigError, PathwayError)):
        house.exchange.take_new(data)
    assert len(house.desk.pieces.shelf()) == count
    assert house.takes.size == 0


_VARIANT = json.dumps({"name": "One", "wishes": {"format": "pathway-wishes", "version": 1}}).encode()


def test_more_variants_than_can_be_kept_are_refused_before_anything_is(house: _House) -> None:
    """In the look already; as many as can be come by their numbers."""
    data = house.exchange.pack(house.add(), log=False, takes=False)
    files = {f"variants/{n}.json": _VARIANT.replace(b"One", str(n).encode()) for n in range(1, 14)}
    for reading in (house.exchange.look, house.exchange.take_new):
        with pytest.raises(ScoreError, match="13 variants; 12 can be kept"):
            reading(_changed(data, dict(files)))
    assert len(house.desk.pieces.shelf()) == 1
    del files["variants/13.json"]
    new = house.exchange.take_new(_changed(data, dict(files)))
    assert [one.name for one in house.desk.notebook.variants(new)] == [str(n) for n in range(1, 13)]


def test_a_take_of_bars_that_are_not_there_is_one_of_the_whole(house: _House) -> None:
    """Known ones stay."""
    data = house.exchange.pack(house.add(), log=False, takes=False)
    changes: dict[str, bytes | None] = {}
    for n, last in enumerate(("n4", "n999"), start=1):
        told = {"begun": "2026-01-01T00:00:00+00:00", "first": "n1", "last": last}
        changes |= {f"takes/{n}.flac": SOUND, f"takes/{n}.json": json.dumps(told).encode()}
    new = house.exchange.take_new(_changed(data, changes))
    assert {(take.first, take.last) for take in house.takes.of(new)} == {("n1", "n4"), ("", "")}


def test_a_piece_file_that_breaks_off_at_its_second_take_leaves_nothing(
    house: _House, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The disk is full: no half of a piece, no sound, and pressed again with room there is one."""
    key = house.add()
    house.furnish(key)
    house.takes.add(NewTake(key, "Two", 0, 3.0), SOUND)
    data = house.exchange.pack(key, log=True, takes=True, history=True)
    sounds = sorted((house.folder / "takes").iterdir())
    keep, kept = house.takes.keep_sound, list[str]()

    def fills_up(token: str, flac: bytes) -> None:
        if kept:
            raise DataError("The recording could not be kept")
        kept.append(token)
        keep(token, flac)

    with monkeypatch.context() as patched:
        patched.setattr(house.takes, "keep_sound", fills_up)
        with pytest.raises(DataError):
            house.exchange.take_new(data)
    assert [entry.id for entry in house.desk.pieces.shelf()] == [key]
    assert len(house.log.sets()) == 1
    assert sorted((house.folder / "takes").iterdir()) == sounds
    assert len(house.takes.of(house.exchange.take_new(data))) == 2


def test_a_piece_file_with_what_is_no_sound_is_refused(house: _House) -> None:
    """Four bytes do not make one; a take of no year of ours is none either."""
    data = house.exchange.pack(house.add(), log=False, takes=False)
    told = json.dumps({"begun": "2026-01-01T00:00:00+00:00"}).encode()
    with pytest.raises(ScoreError, match="no recording"):
        house.exchange.take_new(_changed(data, {"takes/1.flac": b"fLaC no more", "takes/1.json": told}))
    old = json.dumps({"begun": "0001-01-01T00:00:00+00:00"}).encode()
    with pytest.raises(ScoreError, match="in the year 1"):
        house.exchange.take_new(_changed(data, {"takes/1.flac": SOUND, "takes/1.json": old}))


def test_names_that_climb_out_are_left_alone_and_bombs_are_refused(house: _House, tmp_path: Path) -> None:
    """Only what the format knows is read."""
    data = house.exchange.pack(house.add(), log=False, takes=False)
    sly = _changed(data, {"../../evil.sh": b"x", "takes/../../evil.flac": b"fLaC", "/abs.json": b"{}"})
    house.exchange.take_new(sly)
    assert not list(tmp_path.parent.rglob("evil*"))
    with pytest.raises(TooLarge):
        house.exchange.take_new(_changed(data, {"variants/1.json": b" " * 250_000_000}))
    assert is_piece_file(data)
    assert not is_piece_file(b"PK\x03\x04 broken")
