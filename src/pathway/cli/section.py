"""All string parts of a score, planned side by side and, if wished, bowed after the first."""

import re
from pathlib import Path

from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeElapsedColumn

from pathway.cli.shared import err, out
from pathway.core.planning import Settings
from pathway.core.planning.section import Desked, PlannedPart, plan_section
from pathway.core.rig import preset
from pathway.errors import NotFound, ScoreError
from pathway.formats.plan_exchange import document_of
from pathway.formats.score import PartEntry, ScoreFile, at_pitch

LISTED = 3  # places that do not agree


def plan_parts(score: Path, parts: str, settings: Settings, output: Path | None, *, unify: bool, quiet: bool) -> None:
    """Plan the string parts of a score, write a plan document for each into a folder, and say how it went.

    Raises:
        ScoreError: not "all", or something else stands where the folder should be.
        NotFound: there is no string part.
    """
    if parts != "all":
        raise ScoreError(f"Parts are planned together as all, not as {parts!r}", advice="Write --parts all.")
    if output is not None and (output.is_file() or output.suffix):
        raise ScoreError("With all parts --out is a folder", place=str(output), advice="Name one, such as plans.")
    file = ScoreFile(score.read_bytes(), score.name)
    entries = [entry for entry in file.parts if entry.notes and entry.guess.named]
    if not entries:
        names = ", ".join(entry.name for entry in file.parts)
        raise NotFound("There is no string part in this score", advice=f"Parts: {names}.")
    chosen = [_desked(file, entry) for entry in entries]
    found = _planned(chosen, settings, unify=unify, quiet=quiet)
    if output is not None:
        output.mkdir(parents=True, exist_ok=True)
    for entry, one in zip(entries, found, strict=True):
        if output is not None:
            name = re.sub(r"[^a-z0-9]+", "-", entry.name.lower()).strip("-") or "part"
            (output / f"{entry.number:02d}-{name}.json").write_text(document_of(one.plan).to_json() + "\n", "utf-8")
        if not quiet:
            out.print(_told(entry, one))


def _desked(file: ScoreFile, entry: PartEntry) -> Desked:
    rig = preset(entry.guess.rig)
    return Desked(at_pitch(file.part(entry.number).part, rig), rig)


def _planned(chosen: list[Desked], settings: Settings, *, unify: bool, quiet: bool) -> list[PlannedPart]:
    found: dict[int, PlannedPart] = {}
    columns = (TextColumn("Planning"), BarColumn(), MofNCompleteColumn(), TimeElapsedColumn())
    with Progress(*columns, console=err, transient=True, disable=quiet or not err.is_terminal) as bar:
        task = bar.add_task("parts", total=len(chosen))
        for one in plan_section(chosen, settings, unify=unify):
            found[one.number] = one
            bar.advance(task)
    return [found[n] for n in range(len(chosen))]


def _told(entry: PartEntry, one: PlannedPart) -> str:
    told = f"{entry.number} {entry.name}: {len(one.plan.strokes)} bows, {len(one.plan.findings)} findings"
    if one.found is None:
        return told
    told += f"; {len(one.found.notes)} notes after the first part"
    if one.found.left:
        more = len(one.found.left) - LISTED
        told += f", not {'; '.join(one.found.left[:LISTED])}" + (f" and {more} more" if more > 0 else "")
    return told
