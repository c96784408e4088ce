"""What is taken home comes back as it was: every format is read again by a reader of its own."""

import csv
import io
import json
from pathlib import Path
from typing import Any

import mido
import pytest
import soundfile
from fastapi.testclient import TestClient
from icalendar import Calendar
from lxml import etree

from pathway.core.rig.bow import Direction
from pathway.desk import OpenPiece
from pathway.desk.home import EXPORTS, Export
from pathway.formats.plan_document import read_plan_document
from pathway.formats.plan_exchange import bow_marks, document_of
from pathway.formats.plan_table import to_csv
from pathway.formats.score import ScoreFile
from pathway.formats.tables import csv_text
from tests.helpers import document, plan_of
from tests.web.asking import HTMX

KEYS = range(1, 9)
ROOT = Path(__file__).parents[3]


def _open(demo: TestClient, key: int) -> OpenPiece:
    desk: Any = demo.app.state.desk  # type: ignore[attr-defined]
    return desk.open(key)


def _signs(data: bytes, name: str) -> dict[str, Direction]:
    """Return the bow marks of a score, by what their notes are and where they stand."""
    part = ScoreFile(data, name).part().part
    return {_place(part, event): event.bow for event in part.events if event.bow is not None}


def _place(part: Any, event: Any) -> str:
    return f"{event.measure} {event.onset} {sorted(head.midi for head in event.heads)}"


@pytest.mark.parametrize("ending", ["musicxml", "mxl", "mei"])
@pytest.mark.parametrize("key", KEYS)
def test_bow_marks_come_back_from_a_score(demo: TestClient, key: int, ending: str) -> None:
    """Each on its note, and no others; the notes are as they were."""
    now = _open(demo, key)
    answer = demo.get(f"/pieces/{key}/marked.{ending}")
    assert answer.headers["content-disposition"].endswith(f'-bowed.{ending}"')
    source = ScoreFile(now.piece.source, now.piece.source_name).part().part
    wanted = {_place(source, source.event[note]): way for note, way in bow_marks(now.plan).items()}
    assert _signs(answer.content, f"x.{ending}") == wanted
    again = ScoreFile(answer.content, f"x.{ending}").part().part
    assert [_place(again, event) for event in again.events] == [_place(source, event) for event in source.events]


@pytest.mark.parametrize("export", EXPORTS, ids=lambda one: one.address)
def test_every_kind_of_file_is_there_for_the_menu_the_command_line_and_the_readme(
    demo: TestClient, export: Export
) -> None:
    """One table: its address answers with its media type and ending, and players are told of it."""
    answer = demo.get(f"/pieces/2/{export.address}")
    assert answer.status_code == 200
    assert answer.headers["content-type"].split(";")[0] == export.kind.split(";")[0]
    assert answer.headers["content-disposition"].endswith(f'{export.ending}"')
    assert export.suffix == ".pdf" or f'/pieces/2/{export.address}">{export.name}</a>' in demo.get("/pieces/2").text
    assert f"`{export.suffix}`" in (ROOT / "README.md").read_text("utf-8")


def test_no_table_holds_a_formula() -> None:
    """Bar numbers of a foreign score, words of a log: disarmed; numbers stay numbers."""
    rows = [{"bar": "=1+1", "cm": -3.5, "word": "-"}, {"bar": "@x", "cm": 2, "word": "plain"}]
    assert csv_text(["bar", "cm", "word"], rows) == "bar,cm,word\n'=1+1,-3.5,-\n'@x,2,plain\n"
    document_ = document_of(plan_of("[mf] d4:1 | e4:1"))
    note = document_.notes[0].model_copy(update={"measure": '=HYPERLINK("x")'})
    table = to_csv(document_.model_copy(update={"notes": [note]}))
    assert "'=HYPERLINK" in table


def test_marks_that_were_printed_are_replaced_in_mei(demo: TestClient) -> None:
    """A note never has two; a chord has its mark once."""
    score = document("[mf] vd4:4 ne4 f4 g4 | g3+d4:2 d4:2")
    asked = demo.post("/imports", files={"file": ("p.musicxml", score)}, headers=HTMX).text
    token = asked.split("/imports/")[1].split('"')[0]
    key = demo.post(f"/imports/{token}", data={"part": 1, "rig": "violin"}, headers=HTMX).headers["HX-Redirect"]
    root = etree.fromstring(demo.get(f"{key}/marked.mei").content)
    signs = [node for node in root.iter("{*}artic") if node.get("artic") in {"dnbow", "upbow"}]
    plan = _open(demo, int(key.rsplit("/", 1)[1])).plan
    assert len(signs) == len(bow_marks(plan))
    assert {node.getparent().tag.rsplit("}")[1] for node in signs} == {"note", "chord"}


def test_the_plan_comes_back_from_its_documents(demo: TestClient) -> None:
    """JSON by the open format, CSV by a plain reader: a row for every note, its bow and its place on the hair."""
    plan = _open(demo, 2).plan
    read = read_plan_document(demo.get("/pieces/2/plan.json").content)
    assert [(s.id, s.direction) for s in read.strokes] == [(s.id, s.direction.name.lower()) for s in plan.strokes]
    rows = list(csv.DictReader(io.StringIO(demo.get("/pieces/2/plan.csv").text)))
    assert len(rows) == len(plan.notes)
    assert json.loads(demo.get("/pieces/2/plan.json").text)["format"] == "pathway-plan"


def test_sound_and_days_come_back(demo: TestClient) -> None:
    """WAV and MIDI as long as the plan, pitch for pitch; the calendar with its days."""
    plan = _open(demo, 8).plan
    samples, rate = soundfile.read(io.BytesIO(demo.get("/pieces/8/plan.wav").content))
    last = plan.notes[-1]
    assert len(samples) / rate == pytest.approx(last.onset + last.duration, abs=2.5)
    notes = [m for m in mido.MidiFile(file=io.BytesIO(demo.get("/pieces/8/plan.mid").content)) if m.type == "note_on"]
    assert [m.note for m in notes if m.channel == 0] == [v.midi for n in plan.bowed for v in n.voices]
    calendar = Calendar.from_ical(demo.get("/practise/days.ics").content)
    assert calendar.name == "VCALENDAR"


def test_the_picture_is_whole(demo: TestClient) -> None:
    """One file of vectors with all lines, that asks for nothing from elsewhere."""
    answer = demo.get("/pieces/2/sheet.svg")
    assert answer.headers["content-type"].startswith("image/svg+xml")
    root = etree.fromstring(answer.content)
    lines = root.findall("{http://www.w3.org/2000/svg}svg")
    assert len(lines) > 3
    assert b"http" not in answer.content.replace(b"http://www.w3.org/", b"")
