"""What the documents say in numbers is what the product computes with, and what they name is there."""

import re
from collections.abc import Mapping
from pathlib import Path

import pytest

from pathway.core.planning.path import weights
from pathway.core.planning.strokes import string_weights
from pathway.core.planning.weights import rows_of

ROOT = Path(__file__).parents[1]
PHYSICS = (ROOT / "docs/physics.md").read_text(encoding="utf-8").splitlines()


@pytest.mark.parametrize("table", [vars(weights), vars(string_weights)])
def test_the_physics_page_has_every_weight_as_it_is(table: Mapping[str, object]) -> None:
    """Value, unit, sentence and ground, in the order of the source and without gap."""
    rows = list(rows_of(table))
    assert len(rows) > 20
    first = PHYSICS.index(rows[0])
    assert PHYSICS[first : first + len(rows)] == rows
    assert not PHYSICS[first + len(rows)].startswith("|")


@pytest.mark.parametrize("page", ["questions", "recipes"])
def test_what_a_page_for_maintainers_names_is_there(page: str) -> None:
    """Every file, and in it the function, class or table after the colon."""
    text = (ROOT / f"docs/{page}.md").read_text(encoding="utf-8")
    named = re.findall(r"`([a-z_0-9/]+\.[a-z]+)(?::(\w+))?`", text)
    assert len(named) > 20
    for path, name in named:
        file = next((file for file in (ROOT / "src/pathway" / path, ROOT / path) if file.is_file()), None)
        assert file is not None, path
        source = file.read_text(encoding="utf-8")
        assert not name or re.search(rf"(def|class) {name}\b|^{name}\b", source, re.MULTILINE), f"{path}: {name}"
