"""What is known of a plan before the hair path: strokes to be, and where the left hand plays."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from pathway.core.music import Clock, Part
from pathway.core.planning.asks import asks_of
from pathway.core.planning.company import Seam, seams_of, twins_of
from pathway.core.planning.fitting import fitted
from pathway.core.planning.path_problem import PathProblem
from pathway.core.planning.path_wishes import problem_of, with_wishes
from pathway.core.planning.segments import Segment, rates_of, segments_of
from pathway.core.planning.strings import Placement, choose_strings
from pathway.core.planning.wishes import Lock, Settings
from pathway.core.rig.instrument import Rig
from pathway.core.technique.notation import contradiction
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import ScoreError


@dataclass(frozen=True)
class Draft:
    """A part on a rig at a tempo, cut into strokes."""

    part: Part
    rig: Rig
    settings: Settings
    shapes: Mapping[str, Lock]  # the player's locks that shape the strokes, by note
    segments: Sequence[Segment]
    placements: Sequence[Placement]  # of every note of every segment, in order

    @classmethod
    def of(cls, part: Part, rig: Rig, settings: Settings, locks: Mapping[str, Lock] | None = None) -> "Draft":
        """Return the draft of a part; only the locks that shape its strokes count.

        Raises:
            ScoreError: nothing to bow, or a note outside the instrument.
            PlanError: passages or strings that cannot be.
        """
        shapes = shapes_in(locks or {})
        asks = asks_of(part, settings, rig.instrument)
        segments = segments_of(part, Clock(part, settings.tempo_bpm), asks, shapes)
        if not segments:
            raise ScoreError(f"The part {part.name!r} has no bowed notes", advice="Choose another part of the score.")
        strings = {note: lock.string for note, lock in shapes.items() if lock.string is not None}
        placements = _led(segments, choose_strings(part, segments, rig.instrument, strings), shapes)
        return cls(part, rig, settings, shapes, fitted(part, segments, placements, rig), placements)

    @cached_property
    def contradictions(self) -> tuple[str, ...]:
        """Return where words over the staff contradict signs in it; the signs are planned."""
        found: dict[str, str] = {}
        for segment in self.segments:
            event, ask = segment.notes[0].event, segment.ask
            if ask.kind is None or ask.by_passage or segment.kind.key == ask.kind or segment.id in self.shapes:
                continue
            asked = STROKE_TYPES[ask.kind]
            separate = sum(not n.event.tied and not n.event.grace for n in segment.notes)
            if against := contradiction(asked, event.marks, separate):
                found.setdefault(ask.kind, f"{self.part.place(event)}: {asked.name} is asked for over {against}")
        return tuple(f"At {text}; the signs are planned." for text in found.values())

    @cached_property
    def tempo_bpm(self) -> float:
        """Return the tempo in the part's own beat unit."""
        printed = self.part.tempo
        return self.settings.tempo_bpm or printed.quarters_per_minute / float(printed.unit)

    @cached_property
    def stroke_of(self) -> dict[str, int]:
        """Return the index of the stroke that carries each note."""
        return {note.event.id: k for k, segment in enumerate(self.segments) for note in segment.notes}

    @cached_property
    def first_notes(self) -> list[int]:
        """Return the index of every stroke's first note among all bowed notes, and their count at the end."""
        firsts = [0]
        for segment in self.segments:
            firsts.append(firsts[-1] + len(segment.notes))
        return firsts

    def measure_of(self, note: str) -> str:
        """Return the number of the bar a note stands in."""
        return self.part.measures[self.part.event[note].measure].number

    @cached_property
    def problem(self) -> PathProblem:
        """Return the path problem before any sign or lock."""
        return problem_of(self.segments, self.placements, self.rig)

    @cached_property
    def rates(self) -> list[float]:
        """Return the rate of every stroke's notes [1/s]; 0 where too few follow each other to make one."""
        return rates_of(self.segments)

    @cached_property
    def twins(self) -> list[list[int]]:
        """Return the strokes that should be bowed alike."""
        return twins_of(self.segments)

    @cached_property
    def seams(self) -> list[Seam]:
        """Return where repeats go back."""
        return seams_of(self.part, self.segments)

    def problem_with(self, locks: Mapping[str, Lock]) -> PathProblem:
        """Return the path problem with printed signs and locks kept."""
        return with_wishes(self.problem, self.segments, locks)


def _led(segments: Sequence[Segment], placements: Sequence[Placement], locks: Mapping[str, Lock]) -> list[Placement]:
    """Say which voice of every double stop and chord leads: by lock, else as its passage asks."""
    notes = (note for segment in segments for note in segment.notes)
    result = []
    for note, placed in zip(notes, placements, strict=True):
        lock = locks.get(note.event.id)
        wish = (lock.lead if lock else None) or note.ask.lead
        leading = wish.of(len(placed.strings))
        result.append(replace(placed, leading=leading) if leading else placed)
    return result


def shapes_in(locks: Mapping[str, Lock]) -> dict[str, Lock]:
    """Return the locks that shape strokes, by note."""
    return {note: lock for note, lock in locks.items() if lock.shapes}
