"""Data of earlier versions come through with everything the player had set, whatever happens on the way."""

import json
import math
import shutil
import sqlite3
import subprocess
from contextlib import closing
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event, inspect, text

from pathway.core.planning import Lock, Passage, Settings
from pathway.core.planning.wishes import (
    Break,
    Colour,
    Link,
    Profile,
    Relation,
    Role,
    Stress,
    Style,
    TempoChange,
    Vibrato,
)
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.endings import Exit
from pathway.errors import DataError
from pathway.formats.rig_document import rig_document
from pathway.store import Notebook, Pieces, Rigs, open_database
from pathway.store.copies import FOLDER
from pathway.store.database import MIGRATIONS
from pathway.store.models import Base
from pathway.store.takes import Takes
from tests.helpers import THOROUGH

PATH = '{"directions": [1], "starts": [0.1], "ends": [0.3], "links": [0]}'
OLD_LOCK = {
    "note": "n4", "direction": -1, "start": 0.1, "end": 0.3, "link": 2, "kind": "porte", "profile": "spend",
    "divide": "split", "string": 2, "lead": "bottom", "chord": "lead below", "exit": "lifted", "lane": 3, "force": 0.5,
    "tilt": 0.25, "octave": -1, "voicing": [50, 57, 66], "vibrato": "pulse", "from_air": True,
}  # fmt: skip
LOCK = Lock(
    "n4", Direction.UP, 0.1, 0.3, Link.HOOK, "porte", Profile.SPEND, Break.SPLIT, 2, Leading.BOTTOM, Form.BELOW,
    Exit.LIFTED, 3, 0.5, 0.25, -1, (50, 57, 66), Vibrato.PULSE, True,
)  # fmt: skip
OLD_SETTINGS = {
    "tempo_bpm": 66.0, "style": "early", "chords_before_beat": True, "tuning": [55, 62, 69, 74],
    "tempi": [{"note": "n3", "beats_per_minute": 80.0}],
    "passages": [
        {
            "start": "n1", "end": "n4", "character": "calm", "kind": "legato", "colour": "soft",
            "colour_end": "focused",
            "offset_db": -2.0, "style": "early", "profile": "save", "string": 1, "gap": 0.2, "keep_back": 0.25,
            "stress": {"beats": [1.0, 3.0], "bars": [1], "group": 2, "swing": 1.5},
            "relation": {"to": 2, "by_db": -3.0},
            "lead": "bottom", "chords": "lead below", "role": "leads", "vibrato": "wide", "id": 7,
        }
    ],
}  # fmt: skip
ROOT = Path(__file__).parents[2]
SETTINGS = Settings(
    66.0,
    Style.EARLY,
    chords_before_beat=True,
    tempi=(TempoChange("n3", 80.0),),
    tuning=(55, 62, 69, 74),
    passages=(
        Passage(
            "n1", "n4", "calm", "legato", Colour.SOFT, Colour.FOCUSED, -2.0, Style.EARLY, Profile.SAVE, 1,
            lead=Leading.BOTTOM, chords=Form.BELOW, role=Role.LEADS, vibrato=Vibrato.WIDE,
            stress=Stress((1.0, 3.0), (1,), 2, 1.5), gap=0.2, keep_back=0.25, relation=Relation(2, -3.0), id=7,
        ),
    ),
)  # fmt: skip
OLD_RIG = {
    "key": "viola",
    "instrument": {
        "name": "viola",
        "strings": [
            {"name": "C3", "midi": 48, "tension": 52.0, "gravity_share": 0.98},
            {"name": "G3", "midi": 55, "tension": 52.0, "gravity_share": 0.95},
            {"name": "D4", "midi": 62, "tension": 54.0, "gravity_share": 0.87},
            {"name": "A4", "midi": 69, "tension": 75.0, "gravity_share": 0.75},
        ],
        "length": 0.375, "gap": 0.066, "spacing": 0.0125, "bridge_radius": 0.05, "drive_mf": 3.0, "loss": 90.0,
        "plain_place": 0.58, "comfort_force": 2.5, "octave_down": False, "held_down": False,
    },
    "bow": {
        "name": "viola", "mass": 0.068, "hair": 0.645, "stick": 0.74, "centre": 0.195, "pivot": 0.02, "tension": 62.0,
        "ribbon": 0.011, "clearance": 0.008, "measured_inertia": 0.0031,
    },
    "hold": {"name": "shallow", "index_lever": 0.03},
    "torque_limit": 0.6, "strong": -1, "hard_way": 1, "frog_margin": 0.02, "tip_margin": 0.045, "lifts_to_cross": False,
    "tilt_habit": math.radians(4), "says_pull": True,
}  # fmt: skip


def _upgraded(path: Path, to: str) -> Engine:
    """Return an engine on data as an earlier version left them."""
    engine = create_engine(f"sqlite:///{path}")
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, to)
    return engine


def _piece(engine: Engine, state: dict[str, Any]) -> None:
    """Put a piece with one state on the shelf, as an earlier version did."""
    names = ", ".join(state)
    values = {key: value if isinstance(value, float | str) else json.dumps(value) for key, value in state.items()}
    with engine.begin() as connection:
        connection.execute(
            text(
                "INSERT INTO piece (id, title, part_name, source_name, source, mei, rig, created_at, at, version) "
                "VALUES (1, 'Old', 'Violin', 'a.xml', x'00', '<mei/>', 'violin', '2026-01-01 00:00:00', 0, 0)"
            )
        )
        connection.execute(
            text(
                f"INSERT INTO revision (piece_id, number, label, path, summary, created_at, {names}) "
                f"VALUES (1, 0, 'first', '{PATH}', '{{}}', '2026-01-01 00:00:00', :{', :'.join(state)})"
            ),
            values,
        )
    engine.dispose()


def _opened(path: Path) -> Engine:
    return open_database(f"sqlite:///{path}")


def test_migrations_make_the_tables_of_the_models(tmp_path: Path) -> None:
    """Every column of every table, and opening twice changes nothing."""
    url = f"sqlite:///{tmp_path / 'a.sqlite'}"
    open_database(url).dispose()
    engine = open_database(url)
    seen = inspect(engine)
    for table in Base.metadata.sorted_tables:
        assert {c["name"] for c in seen.get_columns(table.name)} == {c.name for c in table.columns}
    with engine.connect() as connection:
        assert connection.execute(text("PRAGMA foreign_keys")).scalar() == 1
        assert connection.execute(text("PRAGMA journal_mode")).scalar() == "wal"
    engine.dispose()


def _git(*words: str) -> bytes:
    return subprocess.run(["git", "-C", str(ROOT), *words], capture_output=True, check=True).stdout


def test_a_folder_of_any_commit_comes_to_the_tables_of_the_models(tmp_path: Path) -> None:
    """Also of those between two versions: the history of the migrations is walked, each form opened by today's app."""
    of_old = "src/pathway/store/migrations"
    commits = _git("log", "--reverse", "--format=%h", "--", of_old).decode().split()
    assert commits
    for commit in commits:
        folder = tmp_path / commit
        folder.mkdir()
        subprocess.run(["tar", "-x", "-C", str(folder)], input=_git("archive", commit, of_old), check=True)
        engine, config = create_engine(f"sqlite:///{folder / 'old.sqlite'}"), Config()
        config.set_main_option("script_location", str(folder / of_old))
        with engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
        engine.dispose()
        opened = open_database(f"sqlite:///{folder / 'old.sqlite'}")
        seen = inspect(opened)
        for table in Base.metadata.sorted_tables:
            wanted = {c.name for c in table.columns}
            assert {c["name"] for c in seen.get_columns(table.name)} == wanted, (commit, table.name)
        opened.dispose()


def test_a_rig_table_of_a_form_that_was_not_whole_yet_is_made_whole(tmp_path: Path) -> None:
    """As some folders of form 0004 have it: without what tells that a rig was let go."""
    path = tmp_path / "old.sqlite"
    engine = _upgraded(path, "0004")
    with engine.begin() as connection:
        connection.execute(text("ALTER TABLE rig DROP COLUMN removed_at"))
    engine.dispose()
    assert Rigs(_opened(path)).own() == Rigs(_opened(path)).gone() == []


def test_locks_and_tempi_of_the_first_version_are_kept(tmp_path: Path) -> None:
    """A shelf from before passages: its directions and its tempo come through every migration."""
    path = tmp_path / "old.sqlite"
    _piece(_upgraded(path, "0001"), {"tempo_bpm": 66.0, "locks": {"n4": "up"}})
    pieces = Pieces(_opened(path))
    piece = pieces.piece(1)
    assert (piece.rig, piece.rig_version) == ("violin", 0)
    assert piece.revision.settings == Settings(tempo_bpm=66.0)
    assert piece.revision.locks == (Lock("n4", Direction.UP),)
    assert [entry.title for entry in pieces.shelf()] == ["Old"]


def test_every_wish_becomes_a_document(tmp_path: Path) -> None:
    """Passages and locks with all they can hold, in the plan and in a variant."""
    path = tmp_path / "old.sqlite"
    engine = _upgraded(path, "0005")
    _piece(engine, {"settings": OLD_SETTINGS, "locks": [OLD_LOCK]})
    with engine.begin() as connection:
        connection.execute(
            text(
                "INSERT INTO variant (piece_id, name, settings, locks, path, summary, created_at) "
                "SELECT piece_id, 'Mine', settings, locks, path, summary, created_at FROM revision"
            )
        )
        connection.execute(text("UPDATE piece SET rig = 'mine-3', rig_version = 4"))
    engine.dispose()
    engine = _opened(path)
    piece = Pieces(engine).piece(1)
    assert (piece.rig, piece.rig_version) == ("mine-3", 4)
    (variant,) = Notebook(engine).variants(1)
    for kept in (piece.revision, variant.revision):
        assert kept.settings == SETTINGS
        (lock,) = kept.locks
        assert replace(lock, tilt=LOCK.tilt) == LOCK
        assert lock.tilt == pytest.approx(LOCK.tilt)


@pytest.mark.parametrize(
    ("changed", "rates", "stretch"),
    [
        ({"staccato_rate": 9.0}, (9.0, 9.0), None),
        ({"staccato_rate": None}, (None, None), None),
        ({"staccato": [{"rate": 8.0, "stretch": [0.2, 0.4]}, {"rate": None, "stretch": None}]}, (8.0, None), (20, 40)),
    ],
)
def test_a_rig_becomes_a_rig_file(
    tmp_path: Path, changed: dict[str, Any], rates: tuple[float | None, ...], stretch: tuple[float, float] | None
) -> None:
    """Every number stays; what rigs did not know of yet is estimated as for a rig file."""
    path = tmp_path / "old.sqlite"
    engine = _upgraded(path, "0005")
    with engine.begin() as connection:
        connection.execute(
            text(
                "INSERT INTO rig (id, name, base, document, version, created_at) "
                "VALUES (1, 'Mine', 'viola', :document, 2, '2026-01-01 00:00:00')"
            ),
            {"document": json.dumps(OLD_RIG | changed)},
        )
    engine.dispose()
    known = Rigs(_opened(path)).find("mine-1")
    assert known.fault == ""
    doc = rig_document(known.rig)
    assert (doc["staccato_down"]["per_second"], doc["staccato_up"]["per_second"]) == rates
    assert (doc["staccato_down"]["from_cm"], doc["staccato_down"]["to_cm"]) == (stretch or (None, None))
    assert (doc["bow"]["mass_g"], doc["bow"]["inertia_g_m2"], doc["usable_cm"]) == (68.0, 3.1, [2.0, 60.0])
    assert (doc["strong"], doc["directions"], doc["lifts_to_cross"], doc["tilt_habit_deg"]) == (
        "up",
        "pull and push",
        False,
        4.0,
    )
    asides = [string.aside for string in known.rig.instrument.strings]
    assert asides == pytest.approx([string.aside for string in preset("viola").instrument.strings])


def _half_made(path: Path, script: list[str], until: int) -> None:
    """Leave a folder as a crash of an earlier Pathway did, whose statements were each kept at once."""
    with closing(sqlite3.connect(path)) as connection:
        for statement in script[:until]:
            connection.execute(statement)
        connection.commit()


def test_a_folder_that_was_left_half_made_is_finished(tmp_path: Path) -> None:
    """Whatever statement of the first start an earlier Pathway was stopped after."""
    whole = tmp_path / "whole.sqlite"
    _upgraded(whole, "0004").dispose()
    with closing(sqlite3.connect(whole)) as connection:
        script = [
            row[0] for row in connection.execute("SELECT sql FROM sqlite_master WHERE sql NOT NULL ORDER BY rowid")
        ]
    assert len(script) > 8
    for until in range(len(script) + 1):
        path = tmp_path / f"half{until}.sqlite"
        _half_made(path, script, until)
        engine = _opened(path)
        seen = inspect(engine)
        for table in Base.metadata.sorted_tables:
            assert {c["name"] for c in seen.get_columns(table.name)} == {c.name for c in table.columns}
        assert Pieces(engine).shelf() == []


class _CrashError(Exception):
    """The power is cut."""


@pytest.mark.parametrize("version", ["base", "0001", "0003", "0005"])
def test_a_start_cut_off_anywhere_leaves_data_that_open(
    tmp_path: Path, version: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """At every fourth statement of an update: the next start finishes it, and nothing of the player's is lost."""
    states = {
        "0001": {"tempo_bpm": 66.0, "locks": {"n4": "up"}},
        "0003": {"settings": {"tempo_bpm": 66.0}, "locks": [{"note": "n4", "direction": -1}]},
    }
    states["0005"] = states["0003"]
    before = tmp_path / "before.sqlite"
    if version != "base":
        _piece(_upgraded(before, version), states[version])
    for cut in range(1, 400, 4 if THOROUGH == 1 else 1):
        path = tmp_path / f"cut{cut}.sqlite"
        if version != "base":
            shutil.copyfile(before, path)
        if _cut_off(path, cut, monkeypatch):
            break
        pieces = Pieces(_opened(path))
        if version != "base":
            assert pieces.piece(1).revision.locks == (Lock("n4", Direction.UP),)
            assert pieces.piece(1).revision.settings == Settings(tempo_bpm=66.0)
        else:
            assert pieces.shelf() == []
    assert 20 < cut < 390


def _cut_off(path: Path, cut: int, monkeypatch: pytest.MonkeyPatch) -> bool:
    """Start, and stop before so many statements were run; return whether it came to its end all the same."""
    left = cut

    def counted(statement: str) -> None:
        nonlocal left
        left -= 1
        if left <= 0:
            raise _CrashError(statement)

    engine = create_engine(f"sqlite:///{path}")
    with monkeypatch.context() as patched:
        patched.setattr("pathway.store.database.create_engine", lambda *_, **__: engine)
        event.listen(engine, "before_cursor_execute", lambda *args: counted(args[2]))
        try:
            open_database(f"sqlite:///{path}")
        except _CrashError:
            return False
        finally:
            engine.dispose()
    return True


def test_a_copy_is_kept_before_each_change_of_form(tmp_path: Path) -> None:
    """As the data were; none where they are new or already of today's form."""
    path = tmp_path / "old.sqlite"
    _piece(_upgraded(path, "0001"), {"tempo_bpm": 66.0, "locks": {"n4": "up"}})
    _opened(path).dispose()
    _opened(path).dispose()
    (copy,) = (tmp_path / FOLDER).glob("*.sqlite")
    assert copy.name.startswith("before-form-0001")
    with closing(sqlite3.connect(copy)) as connection:
        assert connection.execute("SELECT tempo_bpm FROM revision").fetchone() == (66.0,)
    (tmp_path / "new").mkdir()
    _opened(tmp_path / "new" / "a.sqlite").dispose()
    assert not (tmp_path / "new" / FOLDER).exists()


def test_every_migration_follows_the_one_before() -> None:
    """One line of them, none left out."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    names = [script.revision for script in ScriptDirectory.from_config(config).walk_revisions()]
    assert names == [f"{n:04}" for n in range(len(names), 0, -1)]


def test_data_that_cannot_be_opened_are_left_alone(tmp_path: Path) -> None:
    """Of a later Pathway, or damaged: said in words, with what to do; the file stays as it is."""
    later, damaged = tmp_path / "later.sqlite", tmp_path / "damaged.sqlite"
    engine = _opened(later)
    with engine.begin() as connection:
        connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    engine.dispose()
    damaged.write_bytes(b"not a database at all" * 300)
    for path, said in ((later, "come from a later Pathway"), (damaged, "damaged")):
        before = path.read_bytes()
        with pytest.raises(DataError, match=said):
            _opened(path)
        assert path.read_bytes() == before


def test_takes_of_before_they_were_listened_to_are_kept(tmp_path: Path) -> None:
    """Data in which a take had no figures yet open, and the take is there, not listened to."""
    path = tmp_path / "old.sqlite"
    engine = _upgraded(path, "0008")
    assert "figures" not in {column["name"] for column in inspect(engine).get_columns("take")}
    _piece(engine, {"wishes": "{}"})
    with engine.begin() as connection:
        connection.execute(
            text(
                "INSERT INTO take (token, piece_id, name, begun_at) "
                "VALUES ('abcdefgh', 1, 'Old', '2026-01-01 00:00:00')"
            )
        )
    engine.dispose()
    (take,) = Takes(_opened(path), tmp_path / "takes").of(1)
    assert (take.name, take.figures) == ("Old", None)
