"""The command line: plan, check, rigs, strokes, serve, bench."""

import json
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated, NoReturn

import typer
from rich.console import Console
from rich.progress import Progress, SpinnerColumn, TextColumn, TimeElapsedColumn
from rich.table import Table

from pathway.core.planning import Plan, Settings, Style, plan_part
from pathway.core.rig import PRESETS, Rig, preset
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import PathwayError, ScoreError
from pathway.formats.musicxml import write_bow_marks
from pathway.formats.plan_document import PlanDocument, read_plan_document
from pathway.formats.plan_exchange import bow_marks, broken_rules, document_of, to_csv
from pathway.formats.rig_document import read_rig, revised, rig_document
from pathway.formats.score import ScoreFile, at_pitch, guess_rig

EXIT_REFUSED = 2  # the exit code of every PathwayError
app = typer.Typer(no_args_is_help=True, add_completion=False, help="Plan the bow, note by note.")
out, err = Console(), Console(stderr=True)

ScoreArg = Annotated[Path, typer.Argument(help="A score: .musicxml, .xml, .mxl, .mei, .abc or .krn.")]


@contextmanager
def _refusals() -> Iterator[None]:
    """Turn every refusal into one line on stderr and exit code 2."""
    try:
        yield
    except PathwayError as error:
        _refuse(error.text)
    except OSError as error:
        _refuse(f"{error.filename}: {error.strerror}.")


def _refuse(text: str) -> NoReturn:
    sys.stderr.write(text + "\n")
    raise typer.Exit(EXIT_REFUSED)


@contextmanager
def _progress(text: str, quiet: bool) -> Iterator[None]:
    if quiet or not err.is_terminal:
        yield
        return
    columns = (SpinnerColumn(), TextColumn("{task.description}"), TimeElapsedColumn())
    with Progress(*columns, console=err, transient=True) as bar:
        bar.add_task(text, total=None)
        yield


@app.command()
def plan(
    score: ScoreArg,
    part: Annotated[str | None, typer.Option(help="Part by name or number; else the first with notes.")] = None,
    rig: Annotated[
        str | None, typer.Option(help="Rig by name, or a rig file, .json; else guessed from the part's name.")
    ] = None,
    tempo: Annotated[float | None, typer.Option(help="Beats a minute; else as printed.", min=10, max=400)] = None,
    style: Annotated[Style, typer.Option(help="How strong and weak beats are told apart.")] = Style.MODERN,
    settings: Annotated[
        list[str] | None, typer.Option("--set", help="A number of the rig, such as bow.mass_g=58; may be repeated.")
    ] = None,
    output: Annotated[Path | None, typer.Option("--out", help="Write .json, .csv or .musicxml.")] = None,
    quiet: Annotated[bool, typer.Option("--quiet", help="Print nothing.")] = False,
) -> None:
    """Plan one part of a score."""
    with _refusals():
        _check_ending(output)
        with _progress("Reading the score", quiet):
            file = ScoreFile(score.read_bytes(), score.name)
            found = file.part(part)
        chosen = revised(_rig(rig or guess_rig(found.part.name)), settings or ())
        with _progress("Planning every bow", quiet):
            planned = plan_part(at_pitch(found.part, chosen), chosen, Settings(tempo, style))
        if output is not None:
            _write(output, planned, file)
        if not quiet:
            _summary(document_of(planned), output)


def _rig(wanted: str) -> Rig:
    """Return a typical rig by its key, or the player's own from a file."""
    if wanted.endswith(".json"):
        return read_rig(Path(wanted).read_bytes())
    return preset(wanted)


def _check_ending(output: Path | None) -> None:
    if output is not None and output.suffix not in {".json", ".csv", ".musicxml"}:
        raise ScoreError(
            f"Plans are written as .json, .csv or .musicxml, not as {output.suffix or 'a file without ending'}",
            place=output.name,
        )


def _write(output: Path, planned: Plan, file: ScoreFile) -> None:
    if output.suffix == ".json":
        output.write_text(document_of(planned).to_json() + "\n", encoding="utf-8")
    elif output.suffix == ".csv":
        output.write_text(to_csv(document_of(planned)), encoding="utf-8")
    elif file.takes_marks:
        output.write_bytes(write_bow_marks(file.document, bow_marks(planned)))
    else:
        raise ScoreError(
            "Bow marks can be written into MusicXML scores only",
            place=output.name,
            advice="Write .json or .csv, or bring the part in as MusicXML.",
        )


def _summary(document: PlanDocument, output: Path | None) -> None:
    piece, totals = document.piece, document.totals
    table = Table(title=f"{piece.title} · {piece.part}", title_justify="left", show_header=False, box=None)
    table.add_row("rig", document.rig.instrument.name)
    table.add_row("tempo", f"{piece.tempo_bpm:g} a minute; no bow too short from {totals.lowest_tempo_bpm:.0f}")
    downs = sum(stroke.direction == "down" for stroke in document.strokes)
    table.add_row("bows", f"{len(document.strokes)}: {downs} down, {len(document.strokes) - downs} up")
    links = {kind: sum(s.entry == kind for s in document.strokes) for kind in ("hook", "retake")}
    table.add_row("links", ", ".join(f"{count} {kind}s" for kind, count in links.items()))
    table.add_row("hair", f"{totals.hair_m:.1f} m")
    table.add_row("down − up", f"{totals.balance.down_minus_up_db:+.1f} dB, spread {totals.balance.spread_db:.1f} dB")
    if output is not None:
        table.add_row("written", str(output))
    out.print(table)
    for notice in document.notices:
        out.print(notice, style="dim")
    _print_findings(document)


def _print_findings(document: PlanDocument) -> None:
    if not document.findings:
        out.print("Nothing in the way.")
        return
    table = Table("", "what to look at", box=None, padding=(0, 1))
    for finding in document.findings:
        table.add_row(finding.severity, finding.text)
    out.print(table)


@app.command()
def check(document: Annotated[Path, typer.Argument(help="A plan document, .json.")]) -> None:
    """Validate a plan document and print its findings."""
    with _refusals():
        found = read_plan_document(document.read_bytes())
        broken = broken_rules(found)
        if broken:
            _refuse("The plan breaks its own rules: " + "; ".join(broken) + ".")
        out.print(f"{found.piece.title} · {found.piece.part}: a sound plan of {len(found.strokes)} bows.")
        _print_findings(found)


@app.command()
def rigs(
    as_json: Annotated[bool, typer.Option("--json")] = False,
    show: Annotated[str | None, typer.Option(help="Print one rig as a rig file to start your own from.")] = None,
) -> None:
    """List the typical rigs."""
    if show is not None:
        with _refusals():
            sys.stdout.write(rig_document(preset(show)).model_dump_json(indent=1) + "\n")
        return
    rows: list[dict[str, object]] = [
        {
            "key": key,
            "strings": " ".join(s.name for s in rig.instrument.strings),
            "bow_g": round(1000 * rig.bow.mass),
            "hair_cm": round(100 * rig.bow.hair, 1),
            "most_torque_nm": rig.torque_limit,
        }
        for key, rig in PRESETS.items()
    ]
    _table(rows, as_json)


@app.command()
def strokes(as_json: Annotated[bool, typer.Option("--json")] = False) -> None:
    """List the stroke types."""
    rows: list[dict[str, object]] = [
        {
            "key": kind.key,
            "name": kind.name,
            "where": "by level" if kind.zone is None else f"{kind.zone[0]:g}–{kind.zone[1]:g} of the hair",
            "gap": kind.gap,
            "most_per_second": kind.most_per_second,
            "tilt_deg": kind.tilt_deg,
        }
        for kind in STROKE_TYPES.values()
    ]
    _table(rows, as_json)


def _table(rows: list[dict[str, object]], as_json: bool) -> None:
    if as_json:
        sys.stdout.write(json.dumps(rows, ensure_ascii=False, indent=1) + "\n")
        return
    table = Table(*[name.replace("_", " ") for name in rows[0]], box=None)
    for row in rows:
        table.add_row(*("–" if value is None else str(value) for value in row.values()))
    out.print(table)


@app.command()
def schema() -> None:
    """Print the JSON Schema of plan documents."""
    sys.stdout.write(json.dumps(PlanDocument.model_json_schema(), indent=1) + "\n")


@app.command()
def serve(
    demo: Annotated[bool, typer.Option("--demo", help="Put the demo pieces on the shelf.")] = False,
    host: Annotated[str, typer.Option(help="Address to listen on.")] = "127.0.0.1",
    port: Annotated[int, typer.Option(help="Port to listen on.")] = 8000,
    data: Annotated[Path | None, typer.Option(help="Folder for the data; else the user's data folder.")] = None,
    open_: Annotated[bool, typer.Option("--open", help="Open the browser.")] = False,
) -> None:
    """Serve the app."""
    import uvicorn  # noqa: PLC0415 - planning on the command line does not need the web

    from pathway.web.app import create_app  # noqa: PLC0415
    from pathway.web.settings import AppSettings  # noqa: PLC0415

    plain = AppSettings()
    settings = AppSettings(data=data or plain.data, demo=demo, hosts=(*plain.hosts, host))
    with _refusals():
        web = create_app(settings)
    address = f"http://{host}:{port}"
    out.print(f"Pathway is at {address}{' with the demo pieces' if demo else ''}. Data: {settings.data}")
    if open_:
        typer.launch(address)
    uvicorn.run(web, host=host, port=port, log_level="warning")


@app.command()
def bench(notes: Annotated[list[int] | None, typer.Option(help="Sizes to try.")] = None) -> None:
    """Measure planning against engraving of the same generated parts, as ratios."""
    from pathway.benchmark import measure  # noqa: PLC0415

    table = Table("notes", "engrave s", "plan s", "plan ÷ engrave", "edit ms", "edit ÷ engrave", box=None)
    for row in measure(notes or [250, 500, 1000, 2000]):
        table.add_row(*row)
    out.print(table)
