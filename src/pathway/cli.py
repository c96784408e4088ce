"""The command line: plan, sound, hear, listen, drills, today, check, rigs, strokes, schema, serve, bench.

What it prints is in `report`.
"""

import gc
import json
import math
import sys
import traceback
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import asdict, replace
from enum import StrEnum
from pathlib import Path
from typing import Annotated, NoReturn

import typer
from platformdirs import user_log_path
from pydantic import BaseModel
from rich.console import Console
from rich.progress import Progress, SpinnerColumn, TextColumn, TimeElapsedColumn
from rich.table import Table

from pathway.core.guide.descriptions import DESCRIPTIONS, Description
from pathway.core.music import Part
from pathway.core.planning import Plan, Settings, Style, plan_part
from pathway.core.planning.advice.symptoms import Heard, causes
from pathway.core.planning.beats import Beat, beats_of
from pathway.core.planning.plan import Code
from pathway.core.practice.drill import Ask, Offer
from pathway.core.practice.making import opened
from pathway.core.practice.material import key_of
from pathway.core.practice.offers import drills_for_passage, offers_of
from pathway.core.rig import PRESETS, Rig, preset
from pathway.core.sound import Manner, Playable, playable, render
from pathway.core.sound.click import with_click
from pathway.core.sound.spans import span_of_bars
from pathway.core.sound.strings import SAMPLES
from pathway.core.takes import listen
from pathway.core.takes.summary import summary
from pathway.core.technique.stroke_types import STROKE_TYPES, StrokeType
from pathway.errors import NotFound, PathwayError, ScoreError
from pathway.formats.log_document import LogDoc
from pathway.formats.midi import midi
from pathway.formats.musicxml import write_bow_marks
from pathway.formats.part_writer import write_part
from pathway.formats.plan_document import PlanDocument, read_plan_document
from pathway.formats.plan_exchange import bow_marks, document_of
from pathway.formats.plan_reading import broken_rules, playable_of
from pathway.formats.plan_table import to_csv
from pathway.formats.recording import read_recording
from pathway.formats.rig_document import RigDoc, read_rig, revised, rig_document
from pathway.formats.score import ScoreFile, at_pitch, guess_rig
from pathway.formats.take_document import take_json
from pathway.formats.wav import wav
from pathway.formats.wishes_document import WishesDoc, note_at, read_wishes, wishes_of
from pathway.report import (
    causes_of,
    day_of,
    day_rows,
    drill_rows,
    drills_of,
    findings_of,
    rig_row,
    stroke_page,
    stroke_row,
    summary_of,
)

gc.set_threshold(50_000, 20, 100)  # plans are many small values without cycles
EXIT_FAULT, EXIT_REFUSED = 1, 2  # the exit codes of a fault of ours, and of every PathwayError
app = typer.Typer(
    no_args_is_help=True, add_completion=False, pretty_exceptions_enable=False, help="Plan the bow, note by note."
)
out, err = Console(), Console(stderr=True)


class Document(StrEnum):
    """The kinds of documents there are."""

    PLAN = "plan"
    RIG = "rig"
    WISHES = "wishes"
    LOG = "log"


ScoreArg = Annotated[Path, typer.Argument(help="A score: .musicxml, .xml, .mxl, .mei, .abc or .krn.")]


@contextmanager
def _refusals() -> Iterator[None]:
    """Turn every refusal into one line on stderr and exit code 2; a fault of ours into one with exit code 1."""
    try:
        yield
    except typer.Exit:
        raise
    except PathwayError as error:
        _refuse(error.text)
    except OSError as error:
        _refuse(f"{error.filename}: {error.strerror}.")
    except Exception as error:
        log = user_log_path("pathway", appauthor=False, ensure_exists=True) / "faults.log"
        with log.open("a", encoding="utf-8") as file:
            traceback.print_exception(error, file=file)
        _refuse(f"Something went wrong in Pathway itself. The details are at the end of {log}.", EXIT_FAULT)


def _refuse(text: str, code: int = EXIT_REFUSED) -> NoReturn:
    sys.stderr.write(text + "\n")
    raise typer.Exit(code)


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
    style: Annotated[Style | None, typer.Option(help="How strong and weak beats are told apart.")] = None,
    wishes: Annotated[
        Path | None, typer.Option(help="Passages and locks, a wish file, .json (docs/wishes.schema.json).")
    ] = None,
    settings: Annotated[
        list[str] | None, typer.Option("--set", help="A number of the rig, such as bow.mass_g=58; may be repeated.")
    ] = None,
    output: Annotated[Path | None, typer.Option("--out", help="Write .json, .csv or .musicxml.")] = None,
    quiet: Annotated[bool, typer.Option("--quiet", help="Print nothing.")] = False,
) -> None:
    """Plan one part of a score."""
    with _refusals():
        _check_ending(output)
        file = ScoreFile(score.read_bytes(), score.name)
        with _progress("Reading the score", quiet):
            music, chosen = _read(file, part, rig, settings or ())
        asked = read_wishes(wishes.read_bytes()) if wishes else WishesDoc()
        choices, locks = wishes_of(asked, music)
        choices = replace(choices, tempo_bpm=tempo or choices.tempo_bpm, style=style or choices.style)
        with _progress("Planning every bow", quiet):
            planned = plan_part(music, chosen, choices, locks)
        helps = not quiet or (output is not None and output.suffix == ".json")
        with _progress("Trying what helps", quiet):
            document = document_of(planned, with_fixes=helps)
        if output is not None:
            _write(output, planned, document, file)
        if not quiet:
            out.print(summary_of(document))
            if output is not None:
                out.print(f"Written: {output}")
            _print_notes(document)


@app.command()
def sound(
    source: Annotated[Path, typer.Argument(help="A score, or a plan document, .json.")],
    output: Annotated[Path, typer.Option("--out", help="Write .wav or .mid.")],
    part: Annotated[str | None, typer.Option(help="Part by name or number; else the first with notes.")] = None,
    rig: Annotated[str | None, typer.Option(help="Rig by name, or a rig file; else guessed.")] = None,
    bars: Annotated[str | None, typer.Option(help="Which bars, such as 3-8; else all.")] = None,
    tempo: Annotated[float | None, typer.Option(help="Beats a minute; else as printed.", min=10, max=400)] = None,
    no_hand: Annotated[bool, typer.Option("--no-hand", help="Without the help of a competent hand.")] = False,
    click: Annotated[bool, typer.Option("--click", help="With a click on the beats; of a score only.")] = False,
    quiet: Annotated[bool, typer.Option("--quiet", help="Print nothing.")] = False,
) -> None:
    """Write a plan as it would sound."""
    with _refusals():
        if output.suffix not in {".wav", ".mid"}:
            raise ScoreError(f"Sounds are written as .wav or .mid, not as {output.suffix or 'a file without ending'}")
        played, beats = _played(source, part, rig, tempo, click, quiet)
        begin, end = span_of_bars(played, bars) if bars else (0.0, math.inf)
        with _progress("Bowing every note", quiet):
            if output.suffix == ".mid":
                output.write_bytes(midi(played, begin, end))
            else:
                heard = render(played, begin, end, Manner(helped=not no_hand))
                output.write_bytes(wav(with_click(heard.samples, heard.begin, beats, SAMPLES), SAMPLES))
        if not quiet:
            out.print(f"Written: {output}")


def _played(
    source: Path, part: str | None, rig: str | None, tempo: float | None, click: bool, quiet: bool
) -> tuple[Playable, list[Beat]]:
    """Return what a score or a plan document holds to be played, and the beats to click on."""
    if source.suffix == ".json":
        if part or rig or tempo or click:
            raise ScoreError("A plan document has its part, rig and tempo already, and no beats", place=source.name)
        return playable_of(read_plan_document(source.read_bytes())), []
    with _progress("Planning every bow", quiet):
        music, chosen = _read(ScoreFile(source.read_bytes(), source.name), part, rig, ())
        planned = plan_part(music, chosen, Settings(tempo))
    return playable(planned), beats_of(planned) if click else []


@app.command()
def hear(
    score: ScoreArg,
    heard: Annotated[Heard, typer.Argument(help="What you hear.")],
    at: Annotated[str, typer.Argument(help='Where: "bar 12 beat 3", or a note id.')],
    part: Annotated[str | None, typer.Option(help="Part by name or number; else the first with notes.")] = None,
    rig: Annotated[str | None, typer.Option(help="Rig by name, or a rig file; else guessed.")] = None,
    tempo: Annotated[float | None, typer.Option(help="Beats a minute; else as printed.", min=10, max=400)] = None,
) -> None:
    """Say what may cause what you hear on a note, the likeliest first."""
    with _refusals():
        music, chosen = _read(ScoreFile(score.read_bytes(), score.name), part, rig, ())
        note = note_at(at, music)
        planned = plan_part(music, chosen, Settings(tempo))
        out.print(causes_of(causes(planned, note, heard), music.place(music.event[note])))


@app.command()
def drills(
    score: ScoreArg,
    part: Annotated[str | None, typer.Option(help="Part by name or number; else the first with notes.")] = None,
    rig: Annotated[str | None, typer.Option(help="Rig by name, or a rig file; else guessed.")] = None,
    tempo: Annotated[float | None, typer.Option(help="Beats a minute; else as printed.", min=10, max=400)] = None,
    finding: Annotated[Code | None, typer.Option(help="Only for findings of this code.")] = None,
    bars: Annotated[str | None, typer.Option(help="Only for these bars, such as 12-15.")] = None,
    as_json: Annotated[bool, typer.Option("--json")] = False,
    output: Annotated[Path | None, typer.Option("--out", help="Write the first drill as .musicxml.")] = None,
) -> None:
    """List the drills that a score asks for, the most useful first."""
    with _refusals():
        if output is not None and output.suffix != ".musicxml":
            raise ScoreError("Drills are written as .musicxml", place=output.name)
        music, chosen = _read(ScoreFile(score.read_bytes(), score.name), part, rig, ())
        planned = plan_part(music, chosen, Settings(tempo))
        found = _offered(planned, finding, bars)
        rows = drill_rows(planned, found)
        if as_json:
            sys.stdout.write(json.dumps(rows, ensure_ascii=False, indent=1) + "\n")
        else:
            out.print(drills_of(rows))
        if output is not None:
            if not rows:
                raise NotFound("Nothing asks for a drill there", advice="Take other bars.")
            ready = opened(Ask.of(str(rows[0]["drill"])), chosen, planned)
            last = ready.rungs[-1]
            tempo_there = last.rung.work.quarters_per_minute
            written = write_part(last.plan.part, chosen.instrument, key_of(music), tempo_there)
            output.write_bytes(written.data)
            out.print(f"Written: {output}")


def _offered(planned: Plan, code: Code | None, bars: str | None) -> list[Offer]:
    """Return the drills that a plan asks for: by its findings, or for some bars."""
    if bars is None:
        return [one for one in offers_of(planned) if code is None or one.what == code.value]
    begin, end = span_of_bars(playable(planned), bars)
    inside = [note for note in planned.notes if begin <= note.onset <= end]
    found = drills_for_passage(planned, [note.id for note in inside], f"bars {bars}")
    return [one for one in found if code is None or one.what == code.value]


@app.command(name="listen")
def listen_to(
    document: Annotated[Path, typer.Argument(help="A plan document, .json.")],
    recording: Annotated[Path, typer.Argument(help="A recording of it: .wav, .flac, .ogg or .mp3.")],
    bars: Annotated[str | None, typer.Option(help="Which bars were played, such as 3-8; else all.")] = None,
    as_json: Annotated[bool, typer.Option("--json")] = False,
) -> None:
    """Say what was played in a recording, against its plan."""
    with _refusals():
        played = playable_of(read_plan_document(document.read_bytes()))
        samples, rate = read_recording(recording.read_bytes())
        begin, end = span_of_bars(played, bars) if bars else (0.0, math.inf)
        with _progress("Listening", as_json):
            heard = listen(played, samples, rate, begin, end)
        told = summary(heard)
        if as_json:
            sys.stdout.write(take_json(heard, told))
        else:
            for line in told.lines:
                out.print(line)


@app.command()
def today(
    minutes: Annotated[float, typer.Option(help="How many there are.", min=5, max=240)] = 30,
    data: Annotated[Path | None, typer.Option(help="Folder of the data; else the user's data folder.")] = None,
    as_json: Annotated[bool, typer.Option("--json")] = False,
) -> None:
    """Lay out the day's work from the pieces on the shelf and the log."""
    from pathway.desk.day import day_on_disk  # noqa: PLC0415 - planning on the command line does not need the data

    with _refusals():
        rows = day_rows(*day_on_disk(data, minutes))
        if as_json:
            sys.stdout.write(json.dumps(rows, ensure_ascii=False, indent=1) + "\n")
        else:
            out.print(day_of(rows))


def _read(file: ScoreFile, part: str | None, rig: str | None, settings: Iterable[str]) -> tuple[Part, Rig]:
    """Return the part at its sounding pitch, and the rig it is played on."""
    found = file.part(part)
    chosen = revised(_rig(rig or guess_rig(found.part.name)), settings)
    return at_pitch(found.part, chosen), chosen


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


def _write(output: Path, planned: Plan, document: PlanDocument, file: ScoreFile) -> None:
    if output.suffix == ".json":
        output.write_text(document.to_json() + "\n", encoding="utf-8")
    elif output.suffix == ".csv":
        output.write_text(to_csv(document), encoding="utf-8")
    elif file.takes_marks:
        output.write_bytes(write_bow_marks(file.document, bow_marks(planned)))
    else:
        raise ScoreError(
            "Bow marks can be written into MusicXML scores only",
            place=output.name,
            advice="Write .json or .csv, or bring the part in as MusicXML.",
        )


def _print_notes(document: PlanDocument) -> None:
    for notice in document.notices:
        out.print(notice, style="dim")
    out.print(findings_of(document))


@app.command()
def check(document: Annotated[Path, typer.Argument(help="A plan document, .json.")]) -> None:
    """Validate a plan document and print its findings."""
    with _refusals():
        found = read_plan_document(document.read_bytes())
        broken = broken_rules(found)
        if broken:
            _refuse("The plan breaks its own rules: " + "; ".join(broken) + ".")
        out.print(f"{found.piece.title} · {found.piece.part}: a sound plan of {len(found.strokes)} bows.")
        out.print(findings_of(found))


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
    _table([rig_row(key, rig) for key, rig in PRESETS.items()], as_json)


@app.command()
def strokes(
    as_json: Annotated[bool, typer.Option("--json")] = False,
    show: Annotated[str | None, typer.Option(help="All about one stroke type.")] = None,
) -> None:
    """List the stroke types."""
    if show is not None:
        with _refusals():
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
        Document.WISHES: WishesDoc,
        Document.LOG: LogDoc,
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
) -> None:
    """Serve the app."""
    from pathway.web.serving import serve_on  # noqa: PLC0415 - planning on the command line does not need the web

    def at(address: str, folder: Path, *, already: bool) -> None:
        shelf = " with the demo pieces" if demo and not already else ""
        out.print(f"Pathway is {'already ' if already else ''}at {address}{shelf}. Data: {folder}")
        if open_:
            typer.launch(address)

    with _refusals():
        serve_on(host, port, data, demo=demo, at=at)


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
    table = Table(*columns, box=None)
    for row in measure(notes or [500, 1000, 2000, 5000]):
        table.add_row(*row)
    out.print(table)
