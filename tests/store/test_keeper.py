"""The folder of the data is the player's alone, and holds no sound that nothing knows of."""

import os
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sqlalchemy import Engine

from pathway.core.planning import Plan, Settings
from pathway.store import NewPiece, Pieces, Revision
from pathway.store.keeper import KEPT_FOR, keep_private, sweep
from pathway.store.summary import PlanSummary
from pathway.store.takes import NewTake, Takes


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
    state = Revision("First", Settings(), (), small_plan.path, PlanSummary())
    key = Pieces(engine).add(NewPiece("T", "Violin", "x.xml", b"<x/>", "<mei/>", "violin"), state)
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
