"""The command line: files by their ending, tables, and refusals with exit code 2."""

import json
import shutil
import sqlite3
from contextlib import closing
from pathlib import Path

import numpy as np
import pytest
from filelock import FileLock
from typer.testing import CliRunner

from pathway.cli import app
from pathway.core.planning.helped import fixes_for
from pathway.formats.plan_document import read_plan_document
from pathway.formats.plan_reading import broken_rules
from pathway.formats.wav import wav
from tests.helpers import document
from tests.web.shelf.test_exchange import two_parts

runner = CliRunner()
BARS = "[mf] (d4:4 e4) f#4:8. g4. a4:4> | b4:4 a4 g4 f#4"


@pytest.fixture
def score(tmp_path: Path) -> Path:
    """A small violin score on disk."""
    path = tmp_path / "walk.musicxml"
    path.write_bytes(document(BARS, title="A Walk"))
    return path


def test_plan_prints_a_summary(score: Path) -> None:
    """Title, bows, hair, and what to look at."""
    result = runner.invoke(app, ["plan", str(score)])
    assert result.exit_code == 0
    assert "A Walk · Violin" in result.stdout
    assert "Nothing in the way." in result.stdout


@pytest.mark.parametrize("ending", ["json", "csv", "musicxml"])
def test_plan_writes_by_ending(score: Path, ending: str) -> None:
    """And says nothing when quiet."""
    target = score.with_name(f"out.{ending}")
    result = runner.invoke(app, ["plan", str(score), "--out", str(target), "--quiet", "--tempo", "60"])
    assert (result.exit_code, result.stdout) == (0, "")
    content = target.read_bytes()
    if ending == "json":
        found = read_plan_document(content)
        assert broken_rules(found) == []
        assert found.piece.tempo_bpm == 60
        assert json.loads(content)["format"] == "pathway-plan"
    elif ending == "csv":
        assert content.startswith(b"id,measure,beat")
    else:
        assert b"<down-bow/>" in content


def test_check_accepts_its_own_plans_and_refuses_broken_ones(score: Path) -> None:
    """The broken rule is named, exit code 2."""
    target = score.with_name("out.json")
    runner.invoke(app, ["plan", str(score), "--out", str(target), "--quiet"])
    assert "a sound plan" in runner.invoke(app, ["check", str(target)]).stdout
    data = json.loads(target.read_text(encoding="utf-8"))
    data["strokes"][1]["start_cm"] += 20
    target.write_text(json.dumps(data), encoding="utf-8")
    result = runner.invoke(app, ["check", str(target)])
    assert result.exit_code == 2
    assert "does not start where" in result.stderr


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["plan", "missing.xml"], "missing.xml"),
        (["plan", "{score}", "--rig", "tuba"], "no rig called 'tuba'"),
        (["plan", "{score}", "--part", "7"], "Parts: 1 Violin"),
        (["plan", "{score}", "--out", "x.doc"], "not as .doc"),
        (["plan", "{score}", "--rig", "bass"], "above the highest"),
        (["check", "{score}"], "not a plan document"),
    ],
)
def test_refusals_are_one_line_and_exit_code_two(
    score: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, arguments: list[str], said: str
) -> None:
    """Nothing is written."""
    monkeypatch.chdir(tmp_path)
    score.write_bytes(document("d4:4 e7 d7 g7"))
    before = sorted(tmp_path.iterdir())
    result = runner.invoke(app, [a.format(score=score) for a in arguments])
    assert result.exit_code == 2
    assert said in result.stderr
    assert len(result.stderr.strip().splitlines()) == 1
    assert sorted(tmp_path.iterdir()) == before


@pytest.mark.parametrize(("command", "key"), [("rigs", "viola"), ("strokes", "martele")])
def test_tables_come_as_json_too(command: str, key: str) -> None:
    """For scripts."""
    rows = json.loads(runner.invoke(app, [command, "--json"]).stdout)
    assert key in {row["key"] for row in rows}
    assert key in runner.invoke(app, [command]).stdout


def test_a_rig_of_ones_own_is_taken_from_a_file(score: Path) -> None:
    """Start from a typical rig, change a number, plan with it; the document tells the rig and the style."""
    text = runner.invoke(app, ["rigs", "--show", "violin"]).stdout
    own = score.with_name("own.json")
    own.write_text(text.replace('"mass_g": 60.0', '"mass_g": 52.0'), encoding="utf-8")
    target = score.with_name("out.json")
    arguments = ["plan", str(score), "--rig", str(own), "--style", "early", "--out", str(target), "--quiet"]
    assert runner.invoke(app, arguments).exit_code == 0
    found = read_plan_document(target.read_bytes())
    assert (found.rig.bow.mass, found.settings.style) == (0.052, "early")
    assert runner.invoke(app, [*arguments, "--set", "bow.mass_g=55"]).exit_code == 0
    assert read_plan_document(target.read_bytes()).rig.bow.mass == 0.055
    own.write_text(text.replace('"mass_g": 60.0', '"mass_g": 9.0'), encoding="utf-8")
    refused = runner.invoke(app, arguments)
    assert refused.exit_code == 2
    assert "bow.mass_g is 9" in refused.stderr


def test_wishes_come_from_a_file(score: Path) -> None:
    """Passages and locks in bars and beats; the plan document carries them with their notes."""
    wishes, target = score.with_name("wishes.json"), score.with_name("out.json")
    passage = {"from": "bar 2", "to": "bar 2", "type": "porte", "offset_db": -4}
    wishes.write_text(json.dumps({"passages": [passage], "locks": [{"note": "bar 1", "direction": "up"}]}), "utf-8")
    arguments = ["plan", str(score), "--wishes", str(wishes), "--out", str(target), "--quiet"]
    assert runner.invoke(app, arguments).exit_code == 0
    found = read_plan_document(target.read_bytes())
    assert found.strokes[0].direction == "up"
    assert {s.type for s in found.strokes[-4:]} == {"porte"}
    assert found.settings.passages[0].start == "n6"
    assert found.settings.locks[0].note == "n1"
    wishes.write_text('{"locks": [{"note": "bar 7", "direction": "up"}]}', encoding="utf-8")
    refused = runner.invoke(app, arguments)
    assert refused.exit_code == 2
    assert "no bowed note at 'bar 7'" in refused.stderr


def test_a_stroke_type_is_told_in_full() -> None:
    """Sound, fingers in both schools, what goes wrong; an unknown one names those there are."""
    page = runner.invoke(app, ["strokes", "--show", "martele"]).stdout
    assert "hand school" in page
    assert "soft martelé" in page
    refused = runner.invoke(app, ["strokes", "--show", "tickle"])
    assert refused.exit_code == 2
    assert "Types: detache" in refused.stderr


def test_findings_come_with_what_helps(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """On the terminal and in the document."""
    score = tmp_path / "fast.musicxml"
    score.write_bytes(document("[mf] " + " | ".join(["d4:8! e4! f4! g4! a4! g4! f4! e4!"] * 2), tempo="170"))
    result = runner.invoke(app, ["plan", str(score)])
    assert "too fast for martel" in result.stdout
    assert "→ Play soft" in result.stdout
    assert "by direction" in result.stdout
    asked = []
    monkeypatch.setattr("pathway.formats.plan_exchange.fixes_for", lambda *a: asked.append(a[1].code) or fixes_for(*a))
    both = runner.invoke(app, ["plan", str(score), "--out", str(tmp_path / "out.json")])
    assert "→ Play soft" in both.stdout
    assert len(asked) == len(set(asked))  # once for the terminal and the document together
    found = read_plan_document((tmp_path / "out.json").read_bytes())
    (finding,) = [f for f in found.findings if f.code == "too-fast-for-type"]
    assert finding.fixes[0].change.locks[0].kind == "soft-martele"


def test_what_is_heard_is_explained(score: Path) -> None:
    """Causes, likeliest first, at a place said in bars and beats; a place that is not there is refused."""
    result = runner.invoke(app, ["hear", str(score), "grating", "bar 2 beat 3"])
    assert result.exit_code == 0
    assert "bar 2, beat 3, G4" in result.stdout
    assert "Too much weight" in result.stdout
    refused = runner.invoke(app, ["hear", str(score), "grating", "bar 9"])
    assert refused.exit_code == 2
    assert "no bowed note at 'bar 9'" in refused.stderr


def test_tempi_of_ones_own_come_with_the_wishes(score: Path) -> None:
    """Half the tempo from the second bar: its notes last twice as long, and the document says so."""
    wishes, target = score.with_name("tempi.json"), score.with_name("out.json")
    arguments = ["plan", str(score), "--tempo", "80", "--out", str(target), "--quiet"]
    assert runner.invoke(app, arguments).exit_code == 0
    plain = read_plan_document(target.read_bytes())
    printed = plain.piece.tempo_bpm
    wishes.write_text(json.dumps({"tempi": [{"at": "bar 2", "bpm": printed / 2}]}), "utf-8")
    assert runner.invoke(app, [*arguments, "--wishes", str(wishes)]).exit_code == 0
    slower = read_plan_document(target.read_bytes())
    assert slower.settings.tempi[0].note == "n6"
    ratios = [b.duration_s / a.duration_s for a, b in zip(plain.notes, slower.notes, strict=True)]
    assert ratios[0] == pytest.approx(1)
    assert ratios[-1] == pytest.approx(ratios[5])
    assert ratios[-1] > 1.5
    wishes.write_text(json.dumps({"tempi": [{"at": "bar 99", "bpm": 60}]}), "utf-8")
    refused = runner.invoke(app, [*arguments, "--wishes", str(wishes)])
    assert refused.exit_code == 2
    assert "no bowed note at 'bar 99'" in refused.stderr


def test_a_fault_of_ours_is_one_sentence(score: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """With where the details lie; nothing of how Pathway is made is printed."""

    def break_down(*_: object) -> None:
        raise RuntimeError("secret detail")

    monkeypatch.setattr("pathway.cli.planning.plan_part", break_down)
    monkeypatch.setattr("pathway.cli.shared.user_log_path", lambda *_, **__: tmp_path)
    result = runner.invoke(app, ["plan", str(score)])
    assert result.exit_code == 1
    assert result.stderr.count("\n") == 1
    assert str(tmp_path / "faults.log") in result.stderr
    assert "secret" not in result.output
    assert "secret detail" in (tmp_path / "faults.log").read_text(encoding="utf-8")


def test_sound_writes_a_score_and_its_plan_alike(score: Path, tmp_path: Path) -> None:
    """The same bars from both; a click and the bare numbers are other sounds; MIDI by its ending."""
    plan, names = tmp_path / "plan.json", ("score.wav", "plan.wav", "click.wav", "bare.wav", "all.mid")
    files = [tmp_path / name for name in names]
    assert runner.invoke(app, ["plan", str(score), "--quiet", "--out", str(plan)]).exit_code == 0
    for source, out, *more in (
        (score, files[0]),
        (plan, files[1]),
        (score, files[2], "--click"),
        (score, files[3], "--no-hand"),
        (plan, files[4]),
    ):
        said = runner.invoke(app, ["sound", str(source), "--bars", "1", *more, "--out", str(out)])
        assert said.exit_code == 0, said.output
        assert "Written" in said.output
    sizes = [file.stat().st_size for file in files]
    assert sizes[0] == sizes[1] == sizes[2] == sizes[3] > 50_000
    assert files[0].read_bytes() != files[2].read_bytes()
    assert files[4].read_bytes()[:4] == b"MThd"


@pytest.mark.parametrize(
    ("more", "said"),
    [
        (["--out", "x.ogg"], "written as .wav or .mid"),
        (["--out", "x.wav", "--bars", "400"], "There are no bars '400'"),
        (["--out", "x.wav", "--part", "9"], "no part '9'"),
    ],
)
def test_sound_refuses_in_words(score: Path, tmp_path: Path, more: list[str], said: str) -> None:
    """And writes nothing."""
    more = [str(tmp_path / one) if one.startswith("x.") else one for one in more]
    found = runner.invoke(app, ["sound", str(score), *more])
    assert found.exit_code == 2
    assert said in found.output
    assert not list(tmp_path.glob("x.*"))


TIGHT = "[mf] (d4:1 e4) | [f] (f#4:1~ | f#4:1~ | f#4:1) | d4:4. d4. d4. d4."


def test_drills_are_listed_and_the_first_is_written(tmp_path: Path) -> None:
    """With their rungs in notes a second; by code, by bars, as JSON, as a score."""
    path = tmp_path / "tight.musicxml"
    path.write_bytes(document(TIGHT))
    shown = runner.invoke(app, ["drills", str(path)])
    assert shown.exit_code == 0
    assert "Arrive" in shown.stdout
    rows = json.loads(runner.invoke(app, ["drills", str(path), "--json"]).stdout)
    assert all(row["rungs"] and row["passes"] and row["aim"] for row in rows)
    code = rows[0]["asked_by"]
    same = json.loads(runner.invoke(app, ["drills", str(path), "--finding", code, "--json"]).stdout)
    assert {row["asked_by"] for row in same} == {code}
    target = tmp_path / "drill.musicxml"
    some = runner.invoke(app, ["drills", str(path), "--bars", "5", "--json", "--out", str(target)])
    assert some.exit_code == 0
    assert runner.invoke(app, ["plan", str(target), "--quiet"]).exit_code == 0


@pytest.mark.parametrize(
    ("more", "said"),
    [(["--bars", "99"], "no bars"), (["--out", "x.doc"], "as .musicxml"), (["--finding", "airy"], "")],
)
def test_drills_refuse_in_words(score: Path, more: list[str], said: str) -> None:
    """Or say that nothing asks for one."""
    result = runner.invoke(app, ["drills", str(score), *more])
    assert result.exit_code == (2 if said else 0)
    assert said in result.output
    assert said or "Nothing asks for a drill" in result.output


def test_today_looks_in_while_the_app_runs_and_changes_no_form(demo_data: Path, tmp_path: Path) -> None:
    """Data of the same Pathway are read; those of another one are refused in a sentence; the lock is given back."""
    shutil.copytree(demo_data, tmp_path / "data")
    lock = FileLock(tmp_path / "data" / "pathway.lock")
    asked = ["today", "--data", str(tmp_path / "data"), "--json"]
    with lock:
        assert runner.invoke(app, asked).exit_code == 0
        with closing(sqlite3.connect(tmp_path / "data" / "pathway.sqlite")) as data, data:
            data.execute("UPDATE alembic_version SET version_num = '9999'")
        told = runner.invoke(app, asked)
        assert told.exit_code == 2
        assert "another Pathway, which is running" in told.stderr
    told = runner.invoke(app, asked)
    assert "come from a later Pathway" in told.stderr
    with lock.acquire(timeout=0):
        pass


def test_today_lays_out_the_day(demo_data: Path, tmp_path: Path) -> None:
    """From a folder of data; as JSON too; an empty one is refused."""
    shutil.copytree(demo_data, tmp_path / "data")
    shown = runner.invoke(app, ["today", "--data", str(tmp_path / "data"), "--minutes", "40"])
    assert shown.exit_code == 0
    assert "warm-up" in shown.stdout
    rows = json.loads(runner.invoke(app, ["today", "--data", str(tmp_path / "data"), "--json"]).stdout)
    assert sum(row["minutes"] for row in rows) <= 30
    assert {row["what"] for row in rows} >= {"warm-up", "drill", "run-through"}
    assert runner.invoke(app, ["today", "--data", str(tmp_path / "none")]).exit_code == 2


def test_listen_says_what_was_played(score: Path, tmp_path: Path) -> None:
    """Against a plan document: three lines, or every note; what is no take is refused with code 2."""
    plan, sound = tmp_path / "plan.json", tmp_path / "take.wav"
    runner.invoke(app, ["plan", str(score), "--out", str(plan), "--quiet"])
    runner.invoke(app, ["sound", str(score), "--out", str(sound), "--quiet"])
    shown = runner.invoke(app, ["listen", str(plan), str(sound)])
    assert shown.exit_code == 0
    assert "notes were found" in shown.stdout
    found = json.loads(runner.invoke(app, ["listen", str(plan), str(sound), "--json"]).stdout)
    assert set(found) == {"notes", "groups", "summary"}
    assert set(found["notes"][0]) == {"id", "placed", "onset_s", "cents", "level_db", "words", "sure"}
    assert sum(note["placed"] for note in found["notes"]) >= 0.8 * len(found["notes"])
    twice = runner.invoke(app, ["listen", str(plan), str(sound), "--other", str(sound), "--json"])
    said = [note["words"] for note in json.loads(twice.stdout)["notes"]]
    assert sum(map(len, said)) >= sum(len(note["words"]) for note in found["notes"])
    sound.write_bytes(wav(np.zeros(96_000), 48_000))
    silent = runner.invoke(app, ["listen", str(plan), str(sound)])
    assert silent.exit_code == 2
    assert "silent" in silent.output


def test_all_parts_are_planned_into_a_folder(tmp_path: Path) -> None:
    """Side by side; unified ones say how much they took; what is no folder, and no string part, is refused."""
    score, folder = tmp_path / "two.musicxml", tmp_path / "plans"
    score.write_bytes(two_parts())
    plain = runner.invoke(app, ["plan", str(score), "--parts", "all", "--out", str(folder)])
    assert plain.exit_code == 0
    assert "after the first" not in plain.stdout
    names = sorted(file.name for file in folder.iterdir())
    assert names == ["01-violin-i.json", "02-violin-ii.json"]
    assert json.loads((folder / names[1]).read_text())["format"]
    told = runner.invoke(app, ["plan", str(score), "--parts", "all", "--unify"]).stdout
    assert "8 notes after the first part" in told
    assert "bar 3" in told
    for wrong in (["--parts", "some"], ["--parts", "all", "--out", str(score)], ["--parts", "all", "--out", "x.json"]):
        assert runner.invoke(app, ["plan", str(score), *wrong]).exit_code == 2
    score.write_bytes(two_parts().replace(b"Violin", b"Flute"))
    assert "no string part" in runner.invoke(app, ["plan", str(score), "--parts", "all"]).output


def test_the_bench_tells_a_row_for_every_size() -> None:
    """Under the names of its columns: how many notes, and what they took."""
    told = runner.invoke(app, ["bench", "--notes", "40", "--notes", "60"])
    assert told.exit_code == 0, told.output
    head, *rows = told.output.splitlines()
    assert head.startswith("notes")
    assert [int(row.split()[0]) >= size for row, size in zip(rows, (40, 60), strict=True)] == [True, True]
    assert all(len(row.split()) == 10 and float(row.split()[4]) > 0 for row in rows)
