"""Copies, and everything in one file: nothing comes in that is not sound, and what it replaces stays."""

import os
import shutil
import sqlite3
import zipfile
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from datetime import UTC, date, datetime, timedelta
from io import BytesIO
from pathlib import Path

import numpy as np
import pytest
from sqlalchemy import Engine, text
from sqlalchemy.orm import Session

from pathway.core.practice.log import PlayedSet
from pathway.core.practice.staircase import Climb
from pathway.core.rig import preset
from pathway.errors import Conflict, DataError, NotFound, ScoreError
from pathway.formats.recording import flac
from pathway.store import Pieces, Rigs, backup, copy_daily, fold, open_database
from pathway.store.backup import NAME, back_up, contents_of, look_into, put_in_place, take_in
from pathway.store.copies import OTHERS, copies, copies_folder, copy_before
from pathway.store.practice import PracticeLog
from pathway.store.takes import Takes


@pytest.fixture(scope="module")
def saved(tmp_path_factory: pytest.TempPathFactory, demo_data: Path) -> bytes:
    """A backup of the demo shelf and a rig."""
    folder = shutil.copytree(demo_data, tmp_path_factory.mktemp("saved"), dirs_exist_ok=True)
    engine = open_database(f"sqlite:///{folder / NAME}")
    Rigs(engine).add("Mine", preset("violin"), "violin")
    return back_up(engine)


@pytest.fixture
def engine(tmp_path: Path) -> Engine:
    """Data with one rig and no piece."""
    engine = open_database(f"sqlite:///{tmp_path / NAME}")
    Rigs(engine).add("Here", preset("cello"), "cello")
    return engine


@pytest.fixture
def takes(engine: Engine, tmp_path: Path) -> Takes:
    """Where their sounds lie."""
    return Takes(engine, tmp_path / "takes")


def test_a_backup_is_looked_into_and_then_put_in_place(engine: Engine, saved: bytes, takes: Takes) -> None:
    """Pieces with their plans, and rigs; what was there is kept as a copy, to which one can go back."""
    name = take_in(engine, saved)
    there = look_into(engine, name)
    assert (there.pieces, there.rigs, contents_of(engine).pieces) == (8, 1, 0)
    assert there.states == 8
    assert [rig.name for rig in Rigs(engine).own()] == ["Here"]
    assert put_in_place(engine, name, takes) == 8
    assert [rig.name for rig in Rigs(engine).own()] == ["Mine"]
    assert len(Pieces(engine).piece(3).revision.path.ends) > 5
    (before,) = [copy for copy in copies(engine) if copy.occasion == "before going back to another"]
    put_in_place(engine, before.name, takes)
    assert [rig.name for rig in Rigs(engine).own()] == ["Here"]
    assert Pieces(engine).shelf() == []


def test_a_page_from_before_cannot_change_what_came_after(engine: Engine, saved: bytes, takes: Takes) -> None:
    """Even where the versions happened to be alike."""
    put_in_place(engine, take_in(engine, saved), takes)
    pieces = Pieces(engine)
    open_page = pieces.piece(1)
    put_in_place(engine, take_in(engine, saved), takes)
    with pytest.raises(Conflict):
        pieces.edit(open_page, open_page.version, open_page.revision)
    now = pieces.piece(1)
    pieces.edit(now, now.version, now.revision)


def test_a_return_that_breaks_off_leaves_everything_as_it_was(
    engine: Engine, saved: bytes, takes: Takes, monkeypatch: pytest.MonkeyPatch
) -> None:
    """In the middle of writing: it is one transaction, and no hand gets between the copy and the change."""
    name = take_in(engine, saved)
    before = contents_of(engine)
    pouring = backup.pour
    raw = sqlite3.connect(str(engine.url.database), timeout=0)

    def breaks_off(source: Engine, session: Session) -> None:
        pouring(source, session)
        if session.get_bind().url == engine.url:
            with pytest.raises(sqlite3.OperationalError, match="locked"):
                raw.execute("UPDATE piece SET version = 99")
            raise KeyboardInterrupt

    with monkeypatch.context() as patched:
        patched.setattr(backup, "pour", breaks_off)
        with pytest.raises(KeyboardInterrupt):
            put_in_place(engine, name, takes)
    raw.close()
    assert contents_of(engine) == before
    assert put_in_place(engine, name, takes) == 8


def _zip(name: str, content: bytes) -> bytes:
    packed = BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(name, content)
    return packed.getvalue()


def _changed(folder: Path, saved: bytes, *statements: str) -> bytes:
    """Return a backup whose database was changed by someone."""
    path = folder / "changed.sqlite"
    path.write_bytes(zipfile.ZipFile(BytesIO(saved)).read(NAME))
    with closing(sqlite3.connect(path, isolation_level=None)) as connection:
        connection.execute("PRAGMA journal_mode=DELETE")
        for statement in statements:
            connection.execute(statement)
    return _zip(NAME, path.read_bytes())


_TAKE = (
    "INSERT INTO take (id, token, piece_id, begun_at, figures, name, first, last, state, seconds)"
    " VALUES (7, '{token}', 1, '2026-01-01 00:00:00', '{{}}', 'a take', '', '', 0, 2)"
)
_VARIANT = (
    "INSERT INTO variant (id, piece_id, name, wishes, path, summary, created_at)"
    " VALUES (9, 1, 'x', {json}, {json}, {json}, '2026-01-01 00:00:00')"
)
_SET = (
    "INSERT INTO practice_set (id, token, piece_title, drill, why, what, bars, rung, rung_name, rate, tempo, share,"
    " passed, top, tries, seconds, hand, note, begun_at) VALUES (9007, 'a-set', '', 'arrive..6', '', '', '', 0, '', 1,"
    " 60, 0, 0, 0, '{tries}', 9, '', '', '{begun}')"
)


@pytest.mark.parametrize(
    ("statements", "said"),
    [
        (["CREATE TRIGGER t AFTER UPDATE ON piece BEGIN DELETE FROM piece; END"], "did not make: t"),
        (["CREATE VIEW v AS SELECT 1"], "did not make: v"),
        (["CREATE TABLE other (a)"], "did not make: other"),
        (["UPDATE alembic_version SET version_num = '9999'"], "from a later Pathway"),
        (["DELETE FROM alembic_version"], "from a later Pathway"),
        (["DROP TABLE alembic_version"], "no pieces of Pathway"),
        (["PRAGMA foreign_keys=OFF", "DELETE FROM piece WHERE id = 1"], "belongs to pieces that are not there"),
        (["UPDATE revision SET wishes = '{\"locks\": 5}' WHERE piece_id = 2"], "cannot be read"),
        (["UPDATE revision SET path = '{}' WHERE piece_id = 2"], "cannot be read"),
        (["UPDATE piece SET created_at = 'long ago'"], "cannot be read"),
        (
            [
                "PRAGMA writable_schema=ON",
                "UPDATE sqlite_master SET sql = replace(sql, 'NOT NULL', '') WHERE name = 'piece'",
                "PRAGMA writable_schema=RESET",
                "UPDATE piece SET title = NULL",
            ],
            "cannot be read",
        ),
        (["UPDATE rig SET document = '{}'"], "a rig in it cannot be read"),
        (["ALTER TABLE piece DROP COLUMN mei"], "cannot be read"),
        ([_TAKE.format(token="/etc/passwd")], "token has a form that it cannot have in a row of its take"),
        ([_TAKE.format(token="../../music")], "token has a form"),
        ([_SET.format(begun="9999-12-31 23:59:59", tries="[]")], "begun_at .* in a row of its practice_set"),
        ([_SET.format(begun="0001-01-01 00:00:00", tries="[]")], "begun_at"),
        ([_SET.format(begun="2026-01-01 00:00:00", tries='["odd"]')], "tries.0 must be"),
        ([_VARIANT.format(json="'[]'")], "wishes must be a block"),
        ([_VARIANT.format(json="'{}'")], "cannot be read"),
        (["INSERT INTO ladder VALUES (9, 1, 'arrive..6', '[]')"], "climb must be a block"),
        (["INSERT INTO performance VALUES (1, '9999-12-31')"], "day cannot|day .* in a row of its performance"),
        (["UPDATE rig SET name = hex(zeroblob(900))"], "name must have no more than 1000"),
    ],
)
def test_what_someone_changed_in_a_backup_is_refused(
    engine: Engine, saved: bytes, tmp_path: Path, statements: list[str], said: str
) -> None:
    """Before anything is touched, and with what is wrong."""
    with pytest.raises(ScoreError, match=f"not taken: .*({said})"):
        take_in(engine, _changed(tmp_path, saved, *statements))
    assert [rig.name for rig in Rigs(engine).own()] == ["Here"]
    assert copies(engine) == []


def _with_take(saved: bytes, folder: Path, token: str, sound: bytes) -> bytes:
    """Return a backup with a take and its sound."""
    changed = _changed(folder, saved, _TAKE.format(token=token))
    packed = BytesIO(changed)
    with zipfile.ZipFile(packed, "a") as archive:
        archive.writestr(f"takes/{token}.flac", sound)
    return packed.getvalue()


def test_sounds_come_in_with_the_yes_and_write_over_none(
    engine: Engine, saved: bytes, takes: Takes, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Before it nothing lies among the player's own; after it each has a new name; broken off none is left."""
    mine, theirs = (flac(np.full(9000, level), 8000) for level in (0.1, 0.2))
    takes.keep_sound("a-token-of-both", mine)
    folder = tmp_path / "takes"
    name = take_in(engine, _with_take(saved, tmp_path, "a-token-of-both", theirs))
    assert [file.name for file in folder.iterdir()] == ["a-token-of-both.flac"]
    with monkeypatch.context() as patched:
        patched.setattr(backup, "pour", lambda *_: 1 / 0)
        with pytest.raises(ZeroDivisionError):
            put_in_place(engine, name, takes)
    assert len(list(folder.iterdir())) == 1
    put_in_place(engine, name, takes)
    (take,) = takes.of(1)
    assert takes.sound(take) == theirs
    assert takes.sound_by("a-token-of-both") == mine


def test_what_a_foreign_log_calls_its_sets_comes_back_from_a_backup(
    engine: Engine, stocked: Engine, takes: Takes
) -> None:
    """Their names may be anything that a log takes: one's own backup is never refused for them."""
    odd = PlayedSet(token="= set of “June”, /1", drill="arrive..6", begun=datetime(2026, 6, 1, tzinfo=UTC))
    PracticeLog(stocked).bring([odd])
    long = "n" * 300  # as some scores call their notes
    PracticeLog(stocked).stand(1, f"arrive..6.{long}", Climb(1))
    Pieces(stocked).opened(1, long)
    put_in_place(engine, take_in(engine, back_up(stocked)), takes)
    assert PracticeLog(engine).find(odd.token) is not None
    assert PracticeLog(engine).climb(1, f"arrive..6.{long}") == Climb(1)
    assert Pieces(engine).where(1)[1] == long


def test_a_backup_with_what_is_no_sound_is_refused(engine: Engine, saved: bytes, tmp_path: Path) -> None:
    """Four bytes do not make one."""
    with pytest.raises(ScoreError, match="no recording"):
        take_in(engine, _with_take(saved, tmp_path, "a-long-token", b"fLaC and nothing"))
    assert copies(engine) == []


def test_what_is_no_backup_is_refused(engine: Engine, saved: bytes, takes: Takes) -> None:
    """No archive, another archive, a damaged one, one that swells, one cut off."""
    whole = bytearray(saved)
    whole[len(whole) // 2 : len(whole) // 2 + 40] = bytes(40)
    cases = {
        b"nothing": "not a backup",
        _zip("readme.txt", b"hello"): "not a backup",
        _zip(NAME, b"no database" * 100): "cannot be read through",
        _zip(NAME, b""): "no pieces of Pathway",
        _zip(NAME, bytes(60_000_000)): "too large",
        bytes(whole): "damaged",
        saved[: len(saved) // 2]: "not a backup",
    }
    for data, said in cases.items():
        with pytest.raises(ScoreError, match=said):
            take_in(engine, data)
    with pytest.raises(NotFound):
        put_in_place(engine, "../pathway", takes)
    assert [rig.name for rig in Rigs(engine).own()] == ["Here"]
    assert copies(engine) == []


def test_damaged_data_are_not_handed_out_as_a_backup(stocked: Engine) -> None:
    """The player learns of it while there are copies to go back to."""
    fold(stocked)
    stocked.dispose()
    path = Path(str(stocked.url.database))
    content = bytearray(path.read_bytes())
    content[8192:12000] = os.urandom(12000 - 8192)
    path.write_bytes(content)
    with pytest.raises((DataError, sqlite3.DatabaseError)):
        back_up(stocked)


def test_copies_of_a_week_and_of_four_weeks_are_kept(engine: Engine) -> None:
    """One a day, however often it is looked after; older than that they go."""
    today = date(2026, 11, 28)
    for back in range(60, -1, -1):
        copy_daily(engine, today - timedelta(days=back))
        assert copy_daily(engine, today - timedelta(days=back)) is None
    names = sorted(path.stem for path in copies_folder(engine).glob("day-*"))
    assert names[-7:] == [f"day-{today - timedelta(days=back)}" for back in range(6, -1, -1)]
    assert 9 <= len(names) <= 11
    assert names[0] >= f"day-{today - timedelta(weeks=5)}"
    assert copies(engine)[0].pieces == 0


def test_two_that_look_after_the_day_at_once_make_one_copy(stocked: Engine) -> None:
    """The second waits for the first, and finds it made."""
    with ThreadPoolExecutor(8) as hands:
        made = [*hands.map(lambda _: copy_daily(stocked, date(2026, 12, 1)), range(8))]
    assert [path.stem for path in made if path is not None] == ["day-2026-12-01"]
    assert not list(copies_folder(stocked).glob("*.part"))


def test_a_damaged_copy_pushes_no_sound_one_out(stocked: Engine) -> None:
    """It is not kept, and said; the copy of the day before stays."""
    copy_daily(stocked, date(2026, 12, 1))
    fold(stocked)
    stocked.dispose()
    path = Path(str(stocked.url.database))
    data = bytearray(path.read_bytes())
    data[len(data) // 2 : len(data) // 2 + 9000] = bytes(9000)
    path.write_bytes(data)
    with pytest.raises(DataError, match="damaged"):
        copy_daily(stocked, date(2026, 12, 2))
    assert [copy.name for copy in copies(stocked)] == ["day-2026-12-01"]


def test_copies_of_other_occasions_do_not_pile_up(engine: Engine) -> None:
    """The last ones stay; a foreign file between them is listed as what it is."""
    made = [copy_before(engine, "return") for _ in range(OTHERS + 3)]
    assert {copy.name for copy in copies(engine)} == {path.stem for path in made[3:]}
    (copies_folder(engine) / "mine.sqlite").write_bytes(b"x")
    (own,) = [copy for copy in copies(engine) if copy.occasion == "put there by hand"]
    assert own.pieces is None
    with engine.connect() as connection:
        assert connection.execute(text("SELECT count(*) FROM rig")).scalar() == 1
