"""The open plan format: round trip, rules, table, schema."""

import csv
import io
import json
from pathlib import Path

import pytest
from pydantic import BaseModel

from pathway.core.planning import Plan
from pathway.errors import PlanError
from pathway.formats.log_document import LogDoc
from pathway.formats.plan_document import PlanDocument, read_plan_document
from pathway.formats.plan_exchange import document_of
from pathway.formats.plan_reading import broken_rules
from pathway.formats.plan_table import PLAN_COLUMNS, to_csv
from pathway.formats.rig_document import RigDoc
from pathway.formats.wishes_document import WishesDoc
from tests.helpers import plan_of

DOCS = Path(__file__).parents[2] / "docs"


def test_a_document_survives_json(small_plan: Plan) -> None:
    """Written, read, the same, and sound."""
    document = document_of(small_plan)
    assert read_plan_document(document.to_json().encode()).to_json() == document.to_json()
    assert broken_rules(document) == []


def test_units_are_the_players(small_plan: Plan) -> None:
    """cm, grams-force beside newtons, degrees."""
    note, core = document_of(small_plan).notes[0], small_plan.notes[0]
    assert note.length_cm == pytest.approx(100 * core.length, abs=1e-4)
    assert note.weight_g == pytest.approx(core.force * 101.97, abs=0.1)
    assert note.tilt_deg == pytest.approx(15, abs=0.01)


@pytest.mark.parametrize(
    ("where", "change", "said"),
    [
        (("strokes", 1), {"start_cm": 60.0}, "stroke n3 does not start where"),
        (("strokes", 0), {"direction": "up"}, "stroke n1 does not move"),
        (("strokes", 0), {"end_cm": 99.0}, "stroke n1 leaves the hair"),
        (("notes", 0), {"speed_cm_s": 999.0}, "note n1: speed × time"),
        (("notes", 0), {"contact_cm": 9.0}, "note n1: β"),
        (("notes", 0), {"voices": []}, "note n1 needs one leading voice"),
    ],
)
def test_broken_rules_are_found_and_named(
    small_plan: Plan, where: tuple[str, int], change: dict[str, object], said: str
) -> None:
    """Each rule, broken by hand, with the stroke or note."""
    data = json.loads(document_of(small_plan).to_json())
    data[where[0]][where[1]] |= change
    broken = broken_rules(PlanDocument.model_validate(data))
    assert any(said in problem for problem in broken), broken


def test_what_is_no_plan_says_where(small_plan: Plan) -> None:
    """The first wrong field is named."""
    data = json.loads(document_of(small_plan).to_json())
    data["strokes"][2]["direction"] = "sideways"
    with pytest.raises(PlanError, match=r"strokes\.2\.direction"):
        read_plan_document(json.dumps(data).encode())
    with pytest.raises(PlanError, match="whole file"):
        read_plan_document(b"not json")


def test_the_table_has_a_row_for_every_note() -> None:
    """Plucked notes too, with empty bow columns."""
    plan = plan_of("d4:4 e4 {pizz.} f4 g4")
    rows = list(csv.DictReader(io.StringIO(to_csv(document_of(plan)))))
    assert [row["type"] for row in rows] == ["detache", "detache", "plucked", "plucked"]
    assert tuple(rows[0]) == PLAN_COLUMNS
    assert rows[0]["pitch"] == "D4"
    assert rows[2]["direction"] == ""


@pytest.mark.parametrize(
    ("name", "model"), [("plan", PlanDocument), ("rig", RigDoc), ("wishes", WishesDoc), ("log", LogDoc)]
)
def test_the_schema_files_are_current(name: str, model: type[BaseModel]) -> None:
    """Written by `pathway schema`, kept in docs."""
    kept = json.loads((DOCS / f"{name}.schema.json").read_text(encoding="utf-8"))
    assert kept == model.model_json_schema()
