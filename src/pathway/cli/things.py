"""Commands about all else: rigs, strokes, schema, serve, bench."""

import json
import sys
from dataclasses import asdict
from enum import StrEnum
from pathlib import Path
from typing import Annotated

import typer
from pydantic import BaseModel
from rich.table import Table

from pathway.cli.shared import app, out, refusals
from pathway.core.guide.descriptions import DESCRIPTIONS, Description
from pathway.core.rig import PRESETS, preset
from pathway.core.technique.stroke_types import STROKE_TYPES, StrokeType
from pathway.errors import NotFound
from pathway.formats.log_document import LogDoc
from pathway.formats.piece_file import ContentsDoc
from pathway.formats.plan_document import PlanDocument
from pathway.formats.rig_document import RigDoc, rig_document
from pathway.formats.wishes_document import WishesDoc
from pathway.report import (
    rig_row,
    stroke_page,
    stroke_row,
)


class Document(StrEnum):
    """The kinds of documents there are."""

    PLAN = "plan"
    RIG = "rig"
    ALL_WISHES = "wishes"
    LOG = "log"
    PIECE = "piece"


@app.command()
def rigs(
    as_json: Annotated[bool, typer.Option("--json")] = False,
    show: Annotated[str | None, typer.Option(help="Print one rig as a rig file to start your own from.")] = None,
) -> None:
    """List the typical rigs."""
    if show is not None:
        with refusals():
            sys.stdout.write(json.dumps(rig_document(preset(show)), indent=1) + "\n")
        return
    _table([rig_row(key, rig) for key, rig in PRESETS.items()], as_json)


@app.command()
def strokes(
    as_json: Annotated[bool, typer.Option("--json")] = False,
    show: Annotated[str | None, typer.Option(help="All about one stroke type.")] = None,
) -> None:
    """List the stroke types."""
    if show is not None:
        with refusals():
            out.print(stroke_page(*_stroke_type(show)))
        return
    rows = [stroke_row(kind) for kind in STROKE_TYPES.values()]
    if as_json:
        rows = [row | asdict(DESCRIPTIONS[str(row["key"])]) for row in rows]
    _table(rows, as_json)


def _stroke_type(key: str) -> tuple[StrokeType, Description]:
    if key not in STROKE_TYPES:
        raise NotFound(f"There is no stroke type called {key!r}", advice=f"Types: {', '.join(STROKE_TYPES)}.")
    return STROKE_TYPES[key], DESCRIPTIONS[key]


def _table(rows: list[dict[str, object]], as_json: bool) -> None:
    if as_json:
        sys.stdout.write(json.dumps(rows, ensure_ascii=False, indent=1) + "\n")
        return
    table = Table(box=None, padding=(0, 1, 0, 0))
    for i, name in enumerate(rows[0]):
        table.add_column(name.replace("_", " "), no_wrap=i == 0)
    for row in rows:
        table.add_row(*("–" if value is None else str(value) for value in row.values()))
    out.print(table)


@app.command()
def schema(
    kind: Annotated[Document, typer.Argument(help="Which kind of document.")] = Document.PLAN,
) -> None:
    """Print the JSON Schema of a kind of document."""
    models: dict[Document, type[BaseModel]] = {
        Document.PLAN: PlanDocument,
        Document.RIG: RigDoc,
        Document.ALL_WISHES: WishesDoc,
        Document.LOG: LogDoc,
        Document.PIECE: ContentsDoc,
    }
    model = models[kind]
    sys.stdout.write(json.dumps(model.model_json_schema(), indent=1) + "\n")


@app.command()
def serve(
    demo: Annotated[bool, typer.Option("--demo", help="Put the demo pieces on the shelf.")] = False,
    host: Annotated[str, typer.Option(help="Address of this computer to listen on.")] = "127.0.0.1",
    port: Annotated[int, typer.Option(help="Port to listen on; 0 for any that is free.")] = 8000,
    data: Annotated[Path | None, typer.Option(help="Folder for the data; else the user's data folder.")] = None,
    open_: Annotated[bool, typer.Option("--open", help="Open the browser.")] = False,
    share: Annotated[bool, typer.Option("--share", help="Let devices of the home network in, by a code.")] = False,
) -> None:
    """Serve the app."""
    from pathway.web.serving import serve_on  # noqa: PLC0415 - planning on the command line does not need the web

    def at(address: str, folder: Path, *, already: bool, shared: str = "") -> None:
        shelf = " with the demo pieces" if demo and not already else ""
        out.print(f"Pathway is {'already ' if already else ''}at {address}{shelf}. Data: {folder}")
        if shared:
            out.print(shared)
        if open_:
            typer.launch(address)

    with refusals():
        serve_on(host, port, data, demo=demo, at=at, share=share)


@app.command()
def bench(notes: Annotated[list[int] | None, typer.Option(help="Sizes to try.")] = None) -> None:
    """Measure planning against engraving of the same generated parts, as ratios."""
    from pathway.benchmark import measure  # noqa: PLC0415

    columns = (
        "notes",
        "engrave s",
        "plan s",
        "plan ÷ engrave",
        "µs a stroke",
        "with helps ÷",
        "edit ms",
        "edit ÷ engrave",
        "sound ÷ render",
        "drill ÷ engrave",
    )
    typer.echo("  ".join(columns))
    for row in measure(notes or [500, 1000, 2000, 5000]):
        typer.echo("  ".join(f"{value:>{len(name)}}" for name, value in zip(columns, row, strict=True)))
