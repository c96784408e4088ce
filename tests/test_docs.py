"""What the documents say in numbers is what the product computes with."""

from collections.abc import Mapping
from pathlib import Path

import pytest

from pathway.core.planning.path import weights
from pathway.core.planning.strokes import string_weights
from pathway.core.planning.weights import rows_of

PHYSICS = (Path(__file__).parents[1] / "docs/physics.md").read_text(encoding="utf-8").splitlines()


@pytest.mark.parametrize("table", [vars(weights), vars(string_weights)])
def test_the_physics_page_has_every_weight_as_it_is(table: Mapping[str, object]) -> None:
    """Value, unit, sentence and ground, in the order of the source and without gap."""
    rows = list(rows_of(table))
    assert len(rows) > 20
    first = PHYSICS.index(rows[0])
    assert PHYSICS[first : first + len(rows)] == rows
    assert not PHYSICS[first + len(rows)].startswith("|")
