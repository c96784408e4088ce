"""What of a plan goes home as a file: one table for addresses, menu, command line and docs."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from pathway.core.planning import Plan
from pathway.core.sound import SAMPLES, playable, render
from pathway.errors import ScoreError
from pathway.formats.marked import write_mei_marks, write_mxl
from pathway.formats.midi import midi
from pathway.formats.musicxml import write_bow_marks
from pathway.formats.plan_document import PlanDocument
from pathway.formats.plan_exchange import bow_marks, document_of
from pathway.formats.plan_table import to_csv
from pathway.formats.score import ScoreFile
from pathway.formats.wav import wav


@dataclass(frozen=True)
class GoingHome:
    """A plan with the score that it is of."""

    plan: Plan
    source: bytes
    filename: str
    mei: str
    helps: bool = False  # tried on the plan for its document, which takes its time

    @cached_property
    def document(self) -> PlanDocument:
        """Return the plan as a document."""
        return document_of(self.plan, with_fixes=self.helps)

    @property
    def marked(self) -> bytes:
        """Return the player's own document with the bow marks in it.

        Raises:
            ScoreError: it is of a kind that takes none.
        """
        score = ScoreFile(self.source, self.filename)
        if not score.takes_marks:
            raise ScoreError(
                "Bow marks can be written into MusicXML scores only; this one came in another format",
                place=self.filename,
                advice="Take it as MEI, the plan as JSON or CSV, or bring the part in as MusicXML.",
            )
        return write_bow_marks(score.document, bow_marks(self.plan))


def _sound(home: GoingHome) -> bytes:
    return wav(render(playable(home.plan)).samples, SAMPLES)


@dataclass(frozen=True, slots=True)
class Export:
    """One kind of file."""

    address: str  # below that of the piece
    ending: str  # of the file's name
    name: str  # in the menu
    kind: str  # media type
    write: Callable[[GoingHome], bytes] | None  # None: drawn, by the paper room

    @property
    def suffix(self) -> str:
        """Return by which ending the command line knows it."""
        return self.ending[self.ending.rindex(".") :]


EXPORTS = (
    Export("marked.musicxml", "-bowed.musicxml", "Your score with bow marks",
           "application/vnd.recordare.musicxml+xml", lambda home: home.marked),
    Export("marked.mxl", "-bowed.mxl", "The same, compressed (MXL)", "application/vnd.recordare.musicxml",
           lambda home: write_mxl(home.marked)),
    Export("marked.mei", "-bowed.mei", "The part with bow marks (MEI)", "application/mei+xml",
           lambda home: write_mei_marks(home.mei, bow_marks(home.plan))),
    Export("sheet.svg", ".svg", "The sheet as a picture (SVG)", "image/svg+xml", None),
    Export("part.pdf", ".pdf", "The part on paper (PDF)", "application/pdf", None),
    Export("plan.csv", "-plan.csv", "Every note as a table (CSV)", "text/csv; charset=utf-8",
           lambda home: to_csv(home.document).encode()),
    Export("plan.json", "-plan.json", "The whole plan (JSON)", "application/json",
           lambda home: home.document.to_json().encode()),
    Export("plan.wav", ".wav", "The plan as sound (WAV)", "audio/wav", _sound),
    Export("plan.mid", ".mid", "The plan as MIDI", "audio/midi", lambda home: midi(playable(home.plan))),
)  # fmt: skip
BY_SUFFIX = {one.suffix: one for one in EXPORTS}
