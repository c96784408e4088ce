"""Commands about practice: drills, listen, today."""

import json
import math
import sys
from pathlib import Path
from typing import Annotated

import typer

from pathway.cli.shared import ScoreArg, app, out, progress, read_part, refusals
from pathway.core.planning import Plan, Settings, plan_part
from pathway.core.planning.finding import Code
from pathway.core.practice import key_of
from pathway.core.practice.drill import DrillAsk, Offer
from pathway.core.practice.making import opened
from pathway.core.practice.offers import drills_for_passage, offers_of
from pathway.core.sound import playable
from pathway.core.sound.spans import span_of_bars
from pathway.core.takes import listen
from pathway.core.takes.summary import summary
from pathway.errors import NotFound, ScoreError
from pathway.formats.part_writer import write_part
from pathway.formats.plan_document import read_plan_document
from pathway.formats.plan_reading import playable_of
from pathway.formats.recording import read_recording
from pathway.formats.score import ScoreFile
from pathway.formats.take_document import take_json
from pathway.report import (
    day_of,
    day_rows,
    drill_rows,
    drills_of,
)


@app.command()
def drills(
    score: ScoreArg,
    part: Annotated[str | None, typer.Option(help="Part by name or number; else the first with notes.")] = None,
    rig: Annotated[str | None, typer.Option(help="Rig by name, or a rig file; else guessed.")] = None,
    tempo: Annotated[float | None, typer.Option(help="Beats a minute; else as printed.", min=10, max=400)] = None,
    finding: Annotated[Code | None, typer.Option(help="Only for findings of this code.")] = None,
    bars: Annotated[str | None, typer.Option(help="Only for these bars, such as 12-15.")] = None,
    as_json: Annotated[bool, typer.Option("--json")] = False,
    output: Annotated[Path | None, typer.Option("--out", help="Write the first as .musicxml, or some as .pdf.")] = None,
) -> None:
    """List the drills that a score asks for, the most useful first."""
    with refusals():
        if output is not None and output.suffix not in {".musicxml", ".pdf"}:
            raise ScoreError("Drills are written as .musicxml or .pdf", place=output.name)
        music, chosen = read_part(ScoreFile(score.read_bytes(), score.name), part, rig, ())
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
            asks = [DrillAsk.of(str(row["drill"])) for row in rows]
            output.write_bytes(_pdf(planned, asks) if output.suffix == ".pdf" else _first(planned, asks[0]))
            out.print(f"Written: {output}")


def _first(planned: Plan, ask: DrillAsk) -> bytes:
    """Return the last rung of a drill as MusicXML."""
    last = opened(ask, planned.rig, planned).rungs[-1]
    tempo = last.rung.work.quarters_per_minute
    return write_part(last.plan.part, planned.rig.instrument, key_of(planned.part), tempo).data


def _pdf(planned: Plan, asks: list[DrillAsk]) -> bytes:
    from pathway.web.paper.command import printed_drills  # noqa: PLC0415 - lists alone do not need the web

    return printed_drills(planned, asks)


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
    other: Annotated[
        list[Path] | None, typer.Option(help="Another take of them; what is heard in both is said. May be repeated.")
    ] = None,
    as_json: Annotated[bool, typer.Option("--json")] = False,
) -> None:
    """Say what was played in a recording, against its plan."""
    with refusals():
        played = playable_of(read_plan_document(document.read_bytes()))
        begin, end = span_of_bars(played, bars) if bars else (0.0, math.inf)
        with progress("Listening", as_json):
            heard, *others = (
                listen(played, *read_recording(file.read_bytes()), begin, end) for file in (recording, *(other or ()))
            )
        heard = heard.beside([one.could for one in others])
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

    with refusals():
        rows = day_rows(*day_on_disk(data, minutes))
        if as_json:
            sys.stdout.write(json.dumps(rows, ensure_ascii=False, indent=1) + "\n")
        else:
            out.print(day_of(rows))
