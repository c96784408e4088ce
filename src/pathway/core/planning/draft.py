"""What is known of a plan before the hair path: strokes to be, and where the left hand plays."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

from pathway.core.music import Clock, Part
from pathway.core.planning.path_problem import PathProblem
from pathway.core.planning.path_wishes import problem_of, with_wishes
from pathway.core.planning.segments import Segment, segments_of
from pathway.core.planning.strings import Placement, choose_strings
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import Rig
from pathway.errors import ScoreError


class Style(StrEnum):
    """How strong and weak beats are told apart."""

    MODERN = "modern"  # even strokes, distribution first
    EARLY = "early"  # strong beats on the strong bow, weak ones on the weak


@dataclass(frozen=True, slots=True)
class Settings:
    """What the player chose for a whole piece."""

    tempo_bpm: float | None = None  # in the part's own beat unit; None: as printed
    style: Style = Style.MODERN


@dataclass(frozen=True)
class Draft:
    """A part on a rig at a tempo, cut into strokes."""

    part: Part
    rig: Rig
    settings: Settings
    segments: Sequence[Segment]
    placements: Sequence[Placement]  # of every note of every segment, in order

    @classmethod
    def of(cls, part: Part, rig: Rig, settings: Settings) -> "Draft":
        """Return the draft of a part.

        Raises:
            ScoreError: nothing to bow, or a note outside the instrument.
        """
        segments = segments_of(part, Clock(part, settings.tempo_bpm))
        if not segments:
            raise ScoreError(f"The part {part.name!r} has no bowed notes", advice="Choose another part of the score.")
        return cls(part, rig, settings, segments, choose_strings(part, segments, rig.instrument))

    @property
    def tempo_bpm(self) -> float:
        """Return the tempo in the part's own beat unit."""
        printed = self.part.tempo
        return self.settings.tempo_bpm or printed.quarters_per_minute / float(printed.unit)

    @cached_property
    def first_notes(self) -> list[int]:
        """Return the index of every stroke's first note among all bowed notes, and their count at the end."""
        firsts = [0]
        for segment in self.segments:
            firsts.append(firsts[-1] + len(segment.notes))
        return firsts

    @cached_property
    def problem(self) -> PathProblem:
        """Return the path problem before any sign or lock."""
        return problem_of(self.segments, self.placements, self.rig, early=self.settings.style is Style.EARLY)

    def problem_with(self, locks: Mapping[str, Direction]) -> PathProblem:
        """Return the path problem with printed signs and locks kept."""
        return with_wishes(self.problem, self.segments, locks)
