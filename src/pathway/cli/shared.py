"""What all commands share: the app, what they print on, how refusals end, how scores and rigs are read."""

import sys
import traceback
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated, NoReturn

import typer
from platformdirs import user_log_path
from rich.console import Console
from rich.progress import Progress, SpinnerColumn, TextColumn, TimeElapsedColumn

from pathway.core.music import Part
from pathway.core.rig import Rig, preset
from pathway.errors import PathwayError
from pathway.formats.rig_document import read_rig, revised
from pathway.formats.score import ScoreFile, at_pitch, tuning_for

EXIT_FAULT, EXIT_REFUSED = 1, 2  # the exit codes of a fault of ours, and of every PathwayError
app = typer.Typer(
    no_args_is_help=True, add_completion=False, pretty_exceptions_enable=False, help="Plan the bow, note by note."
)
out, err = Console(), Console(stderr=True)


ScoreArg = Annotated[Path, typer.Argument(help="A score: .musicxml, .xml, .mxl, .mei, .abc or .krn.")]


@contextmanager
def refusals() -> Iterator[None]:
    """Turn every refusal into one line on stderr and exit code 2; a fault of ours into one with exit code 1."""
    try:
        yield
    except typer.Exit:
        raise
    except PathwayError as error:
        refuse(error.text)
    except OSError as error:
        refuse(f"{error.filename}: {error.strerror}.")
    except Exception as error:
        log = user_log_path("pathway", appauthor=False, ensure_exists=True) / "faults.log"
        with log.open("a", encoding="utf-8") as file:
            traceback.print_exception(error, file=file)
        refuse(f"Something went wrong in Pathway itself. The details are at the end of {log}.", EXIT_FAULT)


def refuse(text: str, code: int = EXIT_REFUSED) -> NoReturn:
    """Say why on stderr, and end."""
    sys.stderr.write(text + "\n")
    raise typer.Exit(code)


@contextmanager
def progress(text: str, quiet: bool) -> Iterator[None]:
    """Show on a terminal that something is under way."""
    if quiet or not err.is_terminal:
        yield
        return
    columns = (SpinnerColumn(), TextColumn("{task.description}"), TimeElapsedColumn())
    with Progress(*columns, console=err, transient=True) as bar:
        bar.add_task(text, total=None)
        yield


def read_part(file: ScoreFile, part: str | None, rig: str | None, settings: Iterable[str]) -> tuple[Part, Rig]:
    """Return the part at its sounding pitch, and the rig it is played on."""
    found = file.part(part)
    entry = file.find(part)
    if rig is None and not entry.guess.named:
        told = f"“{entry.name}” names no bowed instrument; by its clef and its lowest note"
        err.print(f"{told} it is taken as {entry.guess.rig}. Choose with --rig.")
    chosen = revised(_rig(rig or entry.guess.rig), settings)
    return at_pitch(found.part, chosen), chosen.tuned(tuning_for(found.part, chosen))


def _rig(wanted: str) -> Rig:
    """Return a typical rig by its key, or the player's own from a file."""
    if wanted.endswith(".json"):
        return read_rig(Path(wanted).read_bytes())
    return preset(wanted)
