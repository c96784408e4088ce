"""Commands about plans: plan, sound, hear, check."""

import math
from dataclasses import replace
from pathlib import Path
from typing import Annotated

import typer

from pathway.cli.section import plan_parts
from pathway.cli.shared import ScoreArg, app, out, progress, read_part, refusals, refuse
from pathway.core.planning import Settings, Style, plan_part
from pathway.core.planning.advice.symptoms import Heard, causes
from pathway.core.planning.beats import Beat, beats_of
from pathway.core.planning.wishes import Wishes
from pathway.core.sound import SAMPLES, Manner, Playable, playable, render, with_click
from pathway.core.sound.spans import span_of_bars
from pathway.desk.home import BY_SUFFIX, GoingHome
from pathway.errors import ScoreError
from pathway.formats.midi import midi
from pathway.formats.plan_document import PlanDocument, read_plan_document
from pathway.formats.plan_reading import broken_rules, playable_of
from pathway.formats.score import ScoreFile
from pathway.formats.wav import wav
from pathway.formats.wishes_document import note_at, placed, read_wishes
from pathway.report import (
    causes_of,
    findings_of,
    summary_of,
)


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
    output: Annotated[Path | None, typer.Option("--out", help=f"Write {', '.join(BY_SUFFIX)}.")] = None,
    quiet: Annotated[bool, typer.Option("--quiet", help="Print nothing.")] = False,
    *,
    parts: Annotated[
        str | None, typer.Option(help='"all": every string part, side by side; --out is a folder.')
    ] = None,
    unify: Annotated[bool, typer.Option("--unify", help="With all parts: bow them after the first.")] = False,
) -> None:
    """Plan one part of a score, or all its string parts."""
    with refusals():
        if parts is not None:
            plan_parts(score, parts, Settings(tempo, style or Style.MODERN), output, unify=unify, quiet=quiet)
            return
        _check_ending(output)
        data = score.read_bytes()
        file = ScoreFile(data, score.name)
        with progress("Reading the score", quiet):
            music, chosen = read_part(file, part, rig, settings or ())
        asked = placed(read_wishes(wishes.read_bytes()), music) if wishes else Wishes()
        choices = asked.settings
        choices = replace(choices, tempo_bpm=tempo or choices.tempo_bpm, style=style or choices.style)
        with progress("Planning every bow", quiet):
            planned = plan_part(music, chosen, choices, asked.locks)
        helps = not quiet or (output is not None and output.suffix == ".json")
        home = GoingHome(planned, data, score.name, file.part(part).mei, helps)
        with progress("Trying what helps", quiet):
            document = home.document
        if output is not None:
            output.write_bytes(_written(home, output.suffix))
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
    with refusals():
        if output.suffix not in {".wav", ".mid"}:
            raise ScoreError(f"Sounds are written as .wav or .mid, not as {output.suffix or 'a file without ending'}")
        played, beats = _played(source, part, rig, tempo, click, quiet)
        begin, end = span_of_bars(played, bars) if bars else (0.0, math.inf)
        with progress("Bowing every note", quiet):
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
    with progress("Planning every bow", quiet):
        music, chosen = read_part(ScoreFile(source.read_bytes(), source.name), part, rig, ())
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
    with refusals():
        music, chosen = read_part(ScoreFile(score.read_bytes(), score.name), part, rig, ())
        note = note_at(at, music)
        planned = plan_part(music, chosen, Settings(tempo))
        out.print(causes_of(causes(planned, note, heard), music.place(music.event[note])))


def _check_ending(output: Path | None) -> None:
    if output is not None and output.suffix not in BY_SUFFIX:
        raise ScoreError(
            f"Plans are written as {', '.join(BY_SUFFIX)}, not as {output.suffix or 'a file without ending'}",
            place=output.name,
        )


def _written(home: GoingHome, suffix: str) -> bytes:
    """Return what goes into a file."""
    write = BY_SUFFIX[suffix].write
    if write is not None:
        return write(home)
    from pathway.web.paper.command import printed_part  # noqa: PLC0415 - plans alone do not need the web

    printed = printed_part(home.plan, home.mei)
    return printed.pdf if suffix == ".pdf" else printed.svg.encode()


def _print_notes(document: PlanDocument) -> None:
    for notice in document.notices:
        out.print(notice, style="dim")
    out.print(findings_of(document))


@app.command()
def check(document: Annotated[Path, typer.Argument(help="A plan document, .json.")]) -> None:
    """Validate a plan document and print its findings."""
    with refusals():
        found = read_plan_document(document.read_bytes())
        broken = broken_rules(found)
        if broken:
            refuse("The plan breaks its own rules: " + "; ".join(broken) + ".")
        out.print(f"{found.piece.title} · {found.piece.part}: a sound plan of {len(found.strokes)} bows.")
        out.print(findings_of(found))
