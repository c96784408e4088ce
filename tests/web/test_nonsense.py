"""Nonsense in any field of any page: an answer in words, never a fault."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

import pytest
from fastapi import FastAPI
from fastapi.params import File
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient
from httpx2 import Response
from pydantic import BaseModel

from pathway.core.guide.measuring import MEASURES, string_measures
from pathway.core.rig import preset
from pathway.formats.rig_document import key_of
from tests.helpers import THOROUGH
from tests.web.test_guards import ENDLESS

NONSENSE = ("", "nonsense\x00[[", "-1", "nan", "9" * 25)
SOUND = {
    "key": "2", "note": "n1", "notes": "n1", "number": "1", "numbers": "0", "what": "lane", "value": "3",
    "heard": "grating", "code": "runs-out", "fix": "hook", "way": "undo", "tempo": "70", "name": "A name",
    "at": "bar 2", "bpm": "70", "start": "bar 1", "end": "bar 2", "rig": "viola", "taps": "[]", "part": "1",
    "token": "none", "place": "20", "each": "1", "id_": "1", "school": "hand", "lengths": "cm", "weights": "gram",
    "reason": "so",
}  # fmt: skip
RIG_KEY = "violin"  # where the key of the path is that of a rig


@dataclass(frozen=True)
class Field:
    """One field of one route."""

    route: APIRoute
    name: str

    def __str__(self) -> str:
        return f"{sorted(self.route.methods)[0]} {self.route.path} {self.name}"


def _fields(app: FastAPI) -> Iterator[Field]:
    for router in app.routes:
        for route in getattr(router, "original_router", app.router).routes:
            if isinstance(route, APIRoute) and route.path not in ENDLESS:
                for name in sorted({*_names(route, "path"), *_names(route, "query"), *_names(route, "body")}):
                    yield Field(route, name)


def _nonsense(app: FastAPI) -> Iterator[tuple[Field, str]]:
    """Every field with nonsense: those of a name that many routes know take turns, when there is little time."""
    known = Counter[str]()
    for field in _fields(app):
        n = known[field.name]
        known[field.name] += 1
        for value in NONSENSE if n == 0 or THOROUGH > 1 else NONSENSE[n % len(NONSENSE) :][:1]:
            yield field, value


def _names(route: APIRoute, where: str) -> list[str]:
    """Return the names of a route's fields; a form as a whole stands for its own fields."""
    found = []
    for field in getattr(route.dependant, f"{where}_params"):
        kind = field.field_info.annotation
        if isinstance(kind, type) and issubclass(kind, BaseModel):
            found += list(kind.model_fields)
        elif not isinstance(field.field_info, File):
            found.append(field.alias)
    return found


def _asked(client: TestClient, field: Field, value: str) -> Response:
    now = {"version": str(client.app.state.desk.pieces.version(2))}  # type: ignore[attr-defined]
    sound = SOUND | now | ({"key": RIG_KEY} if field.route.path.startswith(("/rigs", "/strokes")) else {})
    values = {name: sound.get(name, "1") for where in ("path", "query", "body") for name in _names(field.route, where)}
    values[field.name] = value
    path = field.route.path
    for name in _names(field.route, "path"):
        path = path.replace(f"{{{name}}}", values[name].replace("\x00", "%00").replace("/", "%2F") or "%20")
    query = {name: values[name] for name in _names(field.route, "query")}
    body = {name: values[name] for name in _names(field.route, "body")}
    method = sorted(field.route.methods)[0]
    return client.request(method, path, params=query, data=body or None, follow_redirects=False)


def test_no_field_of_any_page_takes_the_app_down(demo: TestClient) -> None:
    """Every route is asked with nonsense in each of its fields in turn; all answer, none with a fault of ours."""
    app = demo.app
    assert isinstance(app, FastAPI)
    asked = list(_nonsense(app))
    assert len({str(field) for field, _ in asked}) > 400
    faults = []
    for field, value in asked:
        try:
            answer = _asked(demo, field, value)
        except Exception as fault:
            faults.append(f"{field} = {value!r}: {type(fault).__name__}: {fault}")
            continue
        if answer.status_code >= 500:
            faults.append(f"{field} = {value!r}: {answer.status_code}")
    assert not faults, "\n".join(faults)


def test_no_number_of_a_rig_takes_the_app_down(demo: TestClient) -> None:
    """The fields of a rig depend on its strings; each is refused in words or left alone."""
    names = [key_of(measure) for measure in (*MEASURES, *string_measures(preset("viola")))]
    answers = [
        demo.post("/rigs/viola/numbers", data={name: value}, follow_redirects=False)
        for name in (*names, "hold", "strong", "hard_way", "directions")
        for value in NONSENSE
    ]
    assert {answer.status_code for answer in answers} <= {303, 422}


@pytest.mark.parametrize("upper", ["1", "1000", "long"])
def test_an_arm_that_no_player_has_is_refused_in_words(demo: TestClient, upper: str) -> None:
    """Lengths come in as a form, also where they stand in the address."""
    answer = demo.get(f"/rigs/violin/reach?upper={upper}")
    assert answer.status_code == 422
    assert "upper" in answer.text


def test_the_history_has_two_ways(demo: TestClient) -> None:
    """Undo and redo; any other word is refused and changes nothing."""
    answer = demo.post("/pieces/2/history/sideways", data={"version": "0"})
    assert answer.status_code == 422
    assert "way" in answer.text
