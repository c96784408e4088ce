"""What is wrong with a field is said in our own words."""

from enum import Enum
from typing import Annotated, Any, Literal

import pytest
from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

from pathway.errors import PlanError
from pathway.formats.misread import first_fault
from pathway.formats.wishes_document import read_wishes


class Hold(Enum):
    """A choice."""

    LIGHT = "light"
    FIRM = "firm"


class Doc(BaseModel):
    """A document with a field of each kind."""

    model_config = ConfigDict(extra="forbid")

    mass: Annotated[float, Field(ge=20, le=250, allow_inf_nan=False)] = 60
    share: Annotated[float, Field(gt=0, lt=1)] = 0.5
    count: int = 1
    name: Annotated[str, Field(min_length=1, max_length=5, pattern="^[a-z]+$")] = "a"
    notes: Annotated[list[str], Field(min_length=1, max_length=2)] = ["n1"]
    hold: Hold = Hold.LIGHT
    way: Literal["up", "down"] = "up"
    sure: bool = True
    place: tuple[float, float] = (0, 1)
    inner: dict[str, int] = {}

    @field_validator("place")
    @classmethod
    def _rising(cls, place: tuple[float, float]) -> tuple[float, float]:
        if place[1] < place[0]:
            raise ValueError("must end after its beginning")
        return place


class Needs(BaseModel):
    """A document with a field that must be there."""

    doc: Doc


@pytest.mark.parametrize(
    ("field", "value", "said"),
    [
        ("mass", 5, "must be at least 20"),
        ("mass", 500, "must be at most 250"),
        ("mass", "much", "must be a number"),
        ("mass", [], "must be a number"),
        ("mass", float("nan"), "must be a number"),
        ("share", 0, "must be more than 0"),
        ("share", 1, "must be less than 1"),
        ("count", 1.5, "must be a whole number"),
        ("count", "many", "must be a whole number"),
        ("count", "9" * 5000, "is too large"),
        ("name", 5, "must be text"),
        ("name", "", "must have at least 1 letters"),
        ("name", "abcdef", "must have no more than 5 letters"),
        ("name", "A", "has a form that it cannot have"),
        ("notes", [], "must have at least 1 entries"),
        ("notes", ["a", "b", "c"], "must have no more than 2 entries"),
        ("notes", 5, "must be a list"),
        ("hold", "limp", "must be 'light' or 'firm'"),
        ("way", "left", "must be 'up' or 'down'"),
        ("sure", "perhaps", "must be true or false"),
        ("sure", [], "must be true or false"),
        ("place", 5, "must be a list"),
        ("place", (1, 0), "must end after its beginning"),
        ("inner", 5, "must be a block of fields"),
        ("weight", 5, "is not known here"),
    ],
)
def test_every_fault_is_said_in_words(field: str, value: Any, said: str) -> None:
    """The field by name, and what it must be."""
    with pytest.raises(ValidationError) as caught:
        Doc.model_validate({field: value})
    assert first_fault(caught.value) == (field, said)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        ({}, ("doc", "is missing")),
        ({"doc": 5}, ("doc", "must be a block of fields")),
        ({"doc": {"mass": 1}}, ("doc.mass", "must be at least 20")),
        (5, ("the whole file", "must be a block of fields")),
    ],
)
def test_a_fault_within_is_named_by_its_way(data: Any, said: tuple[str, str]) -> None:
    """As a dotted key."""
    with pytest.raises(ValidationError) as caught:
        Needs.model_validate(data)
    assert first_fault(caught.value) == said


def test_a_file_that_is_no_json_is_told_its_place() -> None:
    """Line and column, not the library's sentence."""
    with pytest.raises(PlanError, match=r"the whole file is not JSON \(line 2, column 3\)") as caught:
        read_wishes(b'{"locks":\n  oh}')
    assert "expected" not in caught.value.text
