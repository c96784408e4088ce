"""The folder of the data is the player's alone, and holds no sound that nothing knows of."""

import os
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sqlalchemy import Engine

from pathway.core.planning import Plan, Settings
from pathway.core.practice.log import PlayedSet
from pathway.store import NewPiece, Notebook, Pieces, Revision, copy_daily
from pathway.store.away import KEPT_FOR, Away, AwayKind
from pathway.store.keeper import keep_private, sweep
from pathway.store.practice import PracticeLog
from pathway.store.summary import PlanSummary
from pathway.store.takes import NewTake, Takes


def first_of(plan: Plan) -> Revision:
    """Return the first state of a plan."""
    return Revision("First", Settings(), (), plan.path, PlanSummary())


def test_nobody_else_reads_the_folder(tmp_path: Path) -> None:
    """Folders 700, files 600; what a link points to is left alone."""
    outside = tmp_path / "outside.txt"
    outside.write_text("mine")
    outside.chmod(0o644)
    data = tmp_path / "data"
    (data / "takes").mkdir(parents=True)
    for file in (data / "pathway.sqlite", data / "takes" / "a.flac"):
        file.write_bytes(b"x")
        file.chmod(0o666)
    (data / "link").symlink_to(outside)
    keep_private(data)
    modes = {path.name: path.stat().st_mode & 0o777 for path in (data, *data.rglob("*")) if not path.is_symlink()}
    assert modes == {"data": 0o700, "takes": 0o700, "pathway.sqlite": 0o600, "a.flac": 0o600}
    assert outside.stat().st_mode & 0o777 == 0o644


def test_sounds_that_nothing_knows_of_go_after_a_month(engine: Engine, small_plan: Plan, tmp_path: Path) -> None:
    """Those of takes stay however old, those let go lately too: a copy may still know of them."""
    key = Pieces(engine).add(NewPiece("T", "Violin", "x.xml", b"<x/>", "<mei/>", "violin"), first_of(small_plan))
    takes, folder = Takes(engine, tmp_path / "takes"), tmp_path / "takes"
    takes.add(NewTake(key, "One", 0, 3.0), b"kept")
    for token in ("old-orphan", "new-orphan"):
        takes.keep_sound(token, b"orphan")
    takes.add_piece("never-finished", 0, b"pcm")
    now = datetime.now(UTC)
    long_ago = (now - KEPT_FOR - timedelta(days=1)).timestamp()
    for path in [*folder.glob("*.flac"), *folder.glob("unfinished/*.pcm")]:
        if path.stem != "new-orphan":
            os.utime(path, (long_ago, long_ago))
    assert sweep(engine, folder, now) == 2
    assert takes.sound(takes.of(key)[0]) == b"kept"
    assert {path.stem for path in folder.rglob("*.*")} == {"new-orphan", takes.of(key)[0].token}
    assert sweep(engine, tmp_path / "nothing-here", now) == 0


def test_a_sound_that_a_copy_knows_of_stays(engine: Engine, small_plan: Plan, tmp_path: Path) -> None:
    """Its take was put away and its time is over; going back to the copy brings it with its sound."""
    key = Pieces(engine).add(NewPiece("T", "Violin", "x.xml", b"<x/>", "<mei/>", "violin"), first_of(small_plan))
    folder = tmp_path / "takes"
    takes = Takes(engine, folder)
    id_ = takes.add(NewTake(key, "One", 0, 3.0), b"kept")
    copy = copy_daily(engine)
    takes.put_away(key, id_)
    later = datetime.now(UTC) + KEPT_FOR - timedelta(days=1)
    sweep(engine, folder, later)
    assert [one.kind for one in Away(engine, takes).all] == [AwayKind.TAKE]
    later += timedelta(days=2)
    assert sweep(engine, folder, later) == 0
    assert Away(engine, takes).all == []
    assert len(list(folder.glob("*.flac"))) == 1
    assert copy is not None
    copy.unlink()
    assert sweep(engine, folder, later) == 1


def test_what_was_put_away_goes_after_a_month(engine: Engine, small_plan: Plan, tmp_path: Path) -> None:
    """Pieces with their sounds, takes, variants; sets of the log stay, for they count."""
    pieces, notebook, takes = Pieces(engine), Notebook(engine), Takes(engine, tmp_path / "takes")
    keys = [pieces.add(NewPiece("T", "V", "x.xml", b"<x/>", "<mei/>", "violin"), first_of(small_plan)) for _ in "ab"]
    for key in keys:
        takes.add(NewTake(key, "One", 0, 3.0), b"sound")
    variant = notebook.keep(keys[0], "Slow", first_of(small_plan))
    notebook.put_away(keys[0], variant)
    pieces.remove(keys[1])
    played = PracticeLog(engine).keep(PlayedSet(token="one", drill="a..6", begun=datetime.now(UTC)))
    PracticeLog(engine).remove(played.id)
    away = Away(engine, takes)
    assert {one.kind for one in away.all} == {AwayKind.VARIANT, AwayKind.PIECE, AwayKind.SET}
    assert away.sweep(datetime.now(UTC) + KEPT_FOR - timedelta(hours=1)) == 0
    assert away.sweep(datetime.now(UTC) + KEPT_FOR + timedelta(hours=1)) == 2
    assert [one.kind for one in away.all] == [AwayKind.SET]
    assert sweep(engine, tmp_path / "takes", datetime.now(UTC) + KEPT_FOR + timedelta(hours=1)) == 1
    assert len(list((tmp_path / "takes").glob("*.flac"))) == 1
