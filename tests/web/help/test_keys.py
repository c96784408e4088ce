"""The keys a player is told of are those that the pages listen to."""

import re
from collections.abc import Sequence
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

import pathway.web
from pathway.web.help.keys import AT_A_DRILL, ON_THE_SHEET, Keys

SCRIPTS = Path(pathway.web.__file__).parent / "static/js"
LANES = {str(lane) for lane in range(1, 7)}  # set in a loop


def _listened_to(script: str, *tables: str) -> set[str]:
    """Return the names in some tables of a script."""
    text = (SCRIPTS / script).read_text(encoding="utf-8")
    found = set[str]()
    for table in tables:
        body = re.search(rf"const {table} = \{{(.*?)\}};?\n", text, re.DOTALL)
        assert body, table
        flat = re.sub(r"\{[^{}]*\}", "", body[1])
        names = re.findall(r'(?:^\s*|[,;]\s*)(?:"([^"]+)"|(\w+)):\s', flat)
        found |= {quoted or plain for quoted, plain in names}
    return found


@pytest.mark.parametrize(
    ("told", "listened"),
    [
        (ON_THE_SHEET, _listened_to("sheet/sheet.js", "keys") | LANES),
        (AT_A_DRILL, _listened_to("practice/run.js", "keys", "VERDICTS")),
    ],
    ids=["sheet", "drill"],
)
def test_every_key_is_told_of_and_none_that_does_nothing(told: Sequence[Keys], listened: set[str]) -> None:
    """Both ways: a key without words, or words without a key, is a fault."""
    pressed = [key for keys in told for key in keys.pressed]
    assert len(pressed) == len(set(pressed))
    assert set(pressed) == listened


def test_the_list_shows_all(client: TestClient) -> None:
    """On its page, and over the sheet."""
    for headers in ({}, {"HX-Request": "true"}):
        page = client.get("/keys", headers=headers).text
        assert page.count("<dt>") == len(ON_THE_SHEET) + len(AT_A_DRILL)
