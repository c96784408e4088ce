"""Rules of the house that no linter knows."""

import ast
import re
import subprocess
from collections import defaultdict
from pathlib import Path

import pytest

from pathway import errors
from pathway.benchmark import generated_part, measure
from pathway.errors import Busy, DataError, NotYet, OutOfRange, PathwayError
from pathway.formats.score import ScoreFile
from pathway.web.errors import STATUS, status_of

ROOT = Path(__file__).parents[1]
ERRORS = [value for value in vars(errors).values() if isinstance(value, type) and issubclass(value, PathwayError)]


@pytest.mark.parametrize("cls", ERRORS)
def test_every_error_has_a_status_and_stands_in_the_tree(cls: type[PathwayError]) -> None:
    """A 4xx of its own or of its parent; what the data cannot bear, or is not there yet, is a 503."""
    made = cls("x", 1, 2, 3) if cls is OutOfRange else cls("x")
    assert 400 <= status_of(made) < 500 or (issubclass(cls, (Busy, DataError, NotYet)) and status_of(made) == 503)
    assert cls in STATUS
    assert cls.__name__ in (errors.__doc__ or "")


def test_error_texts_say_what_where_and_what_to_do() -> None:
    """In one line."""
    assert PathwayError("It broke", place="bar 3", advice="Mend it.").text == "It broke (bar 3). Mend it."
    assert (
        OutOfRange("the tempo", 900, 10, 400, "a minute").text
        == "the tempo is 900; it must lie within 10 to 400 a minute."
    )


def test_tests_stand_as_the_sources_do() -> None:
    """Every folder of tests has its room in the house, but for the journeys in the browser."""
    tests = {path.parent.relative_to(ROOT / "tests") for path in (ROOT / "tests").rglob("test_*.py")}
    assert len(tests) > 10
    rooms = {path.parent.relative_to(ROOT / "src/pathway") for path in (ROOT / "src/pathway").rglob("*.py")}
    assert tests - rooms == {Path("browser")}


def test_a_public_class_or_constant_has_its_name_alone() -> None:
    """What two rooms would call alike has two names, or is private; every family's table is its ``ROWS``."""
    homes: dict[str, set[str]] = defaultdict(set)
    for path in (ROOT / "src/pathway").rglob("*.py"):
        if "migrations" in path.parts:
            continue
        for line in ast.parse(path.read_text(encoding="utf-8")).body:
            if isinstance(line, ast.ClassDef):
                homes[line.name].add(str(path))
            elif isinstance(line, ast.Assign | ast.AnnAssign):
                targets = line.targets if isinstance(line, ast.Assign) else [line.target]
                named = (node.id for target in targets for node in ast.walk(target) if isinstance(node, ast.Name))
                for name in (name for name in named if name.isupper() and len(name) > 1):
                    homes[name].add(str(path))
    assert len(homes) > 1000
    several = {name for name, where in homes.items() if len(where) > 1 and not name.startswith("_")}
    assert several == {"ROWS"}


def test_no_tracked_file_names_a_registry() -> None:
    """Locks hold hashes, not addresses."""
    words = "|".join(("pypi" + r"\.org", "python" + "hosted", "registry" + r"\.npmjs", "deb" + r"\.debian"))
    found = subprocess.run(["git", "grep", "-lIE", words], cwd=ROOT, capture_output=True, text=True, check=False)
    assert found.stdout == ""


def test_vendored_files_come_with_their_licences() -> None:
    """Every font and script that ships has a licence beside it."""
    static = ROOT / "src/pathway/web/static"
    licences = {path.name for path in static.rglob("LICENSE-*.txt")}
    for path in [*static.glob("vendor/*.js"), *static.glob("fonts/*.woff2")]:
        assert any(path.name.startswith(name[8:-4]) for name in licences), path.name


def test_styles_are_built_from_the_templates(tmp_path: Path) -> None:
    """The committed style sheet is what the sources give."""
    tool = ROOT / "node_modules/.bin/tailwindcss"
    target = tmp_path / "app.css"
    command = [str(tool), "-i", "src/pathway/web/assets/app.css", "-o", str(target), "--minify"]
    subprocess.run(command, cwd=ROOT, check=True, capture_output=True)
    assert target.read_text() == (ROOT / "src/pathway/web/static/css/app.css").read_text()


def test_pages_use_no_words_of_older_htmx() -> None:
    """The package's own linter finds nothing."""
    linter = ROOT / "node_modules/htmx.org/dist/scripts/upgrade-check.py"
    result = subprocess.run(
        ["python3", str(linter), "src/pathway/web/templates"], cwd=ROOT, capture_output=True, text=True, check=False
    )
    assert result.returncode == 0, result.stdout


def test_the_benchmark_measures_parts_of_the_asked_size() -> None:
    """Its ratios come from one run of both works."""
    part = ScoreFile(generated_part(60), "g.musicxml").part().part
    assert 60 <= len(part.events) <= 76
    (row,) = measure([60])
    assert float(row[3]) == pytest.approx(float(row[2]) / float(row[1]), rel=0.15)


def test_the_readme_names_the_two_commands_and_every_picture() -> None:
    """And every picture it shows is there."""
    readme = (ROOT / "README.md").read_text(encoding="utf-8")
    assert "make demo" in readme
    assert "make test" in readme
    shown = re.findall(r"\((docs/screenshots/[^)]+)\)", readme)
    assert set(shown) == {str(p.relative_to(ROOT)) for p in (ROOT / "docs/screenshots").glob("*.png")}
