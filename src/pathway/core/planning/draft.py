"""What is known of a plan before the hair path: strokes to be, and where the left hand plays."""

from bisect import bisect_right
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from pathway.core.arrays import BoolArray, IntArray
from pathway.core.music import Part
from pathway.core.planning.path.company import Seam, seams_of, twins_of
from pathway.core.planning.path.costs import problem_of, with_wishes
from pathway.core.planning.path.problem import PathProblem, joined
from pathway.core.planning.strokes.asks import Ask, asks_of
from pathway.core.planning.strokes.fitting import fitted
from pathway.core.planning.strokes.reader import Known, read_again, segments_of
from pathway.core.planning.strokes.segments import HALF_BAR, Segment, rates_of
from pathway.core.planning.strokes.strings import Placement, choose_strings
from pathway.core.planning.strokes.timing import clock_of
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
    asks: Sequence[Ask] = ()  # of every event
    written: Sequence[Segment] = ()  # the strokes before those too long were cut
    given: PathProblem | None = None  # the path problem, where it was made from another draft's

    @classmethod
    def of(cls, part: Part, rig: Rig, settings: Settings, locks: Mapping[str, Lock] | None = None) -> "Draft":
        """Return the draft of a part; only the locks that shape its strokes count.

        Raises:
            ScoreError: nothing to bow, or a note outside the instrument.
            PlanError, OutOfRange: passages or strings that cannot be.
        """
        shapes = shapes_in(locks or {})
        asks = asks_of(part, settings, rig.instrument)
        segments = segments_of(part, clock_of(part, settings), asks, shapes)
        if not segments:
            raise ScoreError(f"The part {part.name!r} has no bowed notes", advice="Choose another part of the score.")
        placements = _led(segments, choose_strings(part, segments, rig.instrument, _strings_in(shapes)), shapes)
        fits = fitted(part, segments, placements, rig)
        return cls(part, rig, settings, shapes, fits, placements, asks, segments)

    def reshaped(self, locks: Mapping[str, Lock]) -> "Draft":
        """Return the draft under other locks, with all that they leave as it was taken over.

        Raises:
            PlanError: strings that cannot be.
        """
        shapes, part, rig = shapes_in(locks), self.part, self.rig
        known = Known.of(self.written, self.shapes)
        segments = segments_of(part, clock_of(part, self.settings), self.asks, shapes, known)
        placements = self.placements
        if _strings_in(shapes) != _strings_in(self.shapes):
            placements = choose_strings(part, segments, rig.instrument, _strings_in(shapes))
        placements = _led(segments, placements, shapes)
        fits = {id(segment): pieces for segment, pieces in _pieces(self.written, self.segments)}
        if placements != list(self.placements):
            fits = {}
        fresh = fitted(part, segments, placements, rig, fits)
        draft = Draft(part, rig, self.settings, shapes, fresh, placements, self.asks, segments)
        return draft if not fits else replace(draft, given=self._problem_of(draft))

    def at_tempo(self, tempo_bpm: float, span: slice) -> "Draft":
        """Return some whole strokes as written at another tempo, on the same strings.

        Args:
            tempo_bpm: in the part's own beat unit.
            span: of the strokes of this draft.
        """
        part, settings = self.part, replace(self.settings, tempo_bpm=tempo_bpm)
        written = slice(*(sum(not s.proposed for s in self.segments[:k]) for k in (span.start, span.stop)))
        segments = read_again(part, clock_of(part, settings), self.asks, self.written, written, self.shapes)
        placements = self.placements[self.first_notes[span.start] : self.first_notes[span.stop]]
        fits = fitted(part, segments, placements, self.rig)
        return Draft(part, self.rig, settings, self.shapes, fits, placements, self.asks, segments)

    def around(self, notes: Collection[str], margin: int) -> slice:
        """Return the strokes that carry some notes, and as many more on both sides; as written, they are whole."""
        at = [self.stroke_of[id_] for id_ in notes if id_ in self.stroke_of]
        if not at:
            return slice(0, len(self.segments))
        first, last = max(min(at) - margin, 0), min(max(at) + margin + 1, len(self.segments))
        while first > 0 and self.segments[first].proposed:
            first -= 1
        while last < len(self.segments) and self.segments[last].proposed:
            last += 1
        return slice(first, last)

    def _problem_of(self, other: "Draft") -> PathProblem:
        """Return the path problem of a draft that differs from this one in some strokes only."""
        before, after = shared_ends(self.segments, other.segments)
        first, last = max(before - 1, 0), len(other.segments) - max(after - 1, 0)
        firsts = other.first_notes
        middle = problem_of(other.segments[first:last], other.placements[firsts[first] : firsts[last]], self.rig)
        kept = len(self.segments) - max(after - 1, 0)
        parts = [self.problem.part(slice(0, before)), middle.part(slice(before - first, last - first))]
        return joined([*parts, self.problem.part(slice(kept, len(self.segments)))])

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

    def stroke_at(self, note: int) -> int:
        """Return which stroke carries the note of an index among all bowed ones."""
        return bisect_right(self.first_notes, note) - 1

    @cached_property
    def first_notes(self) -> list[int]:
        """Return the index of every stroke's first note among all bowed notes, and their count at the end."""
        firsts = [0]
        for segment in self.segments:
            firsts.append(firsts[-1] + len(segment.notes))
        return firsts

    @cached_property
    def bar_numbers(self) -> tuple[str, ...]:
        """Return the numbers of the bars, each once."""
        return tuple(dict.fromkeys(measure.number for measure in self.part.measures))

    @cached_property
    def bar_of(self) -> IntArray:
        """Return in which of the numbered bars each bowed note stands; shape (N,)."""
        place = {number: i for i, number in enumerate(self.bar_numbers)}
        bars = [place[measure.number] for measure in self.part.measures]
        return np.array([bars[note.event.measure] for segment in self.segments for note in segment.notes])

    def measure_of(self, note: str) -> str:
        """Return the number of the bar a note stands in."""
        return self.part.measures[self.part.event[note].measure].number

    @cached_property
    def problem(self) -> PathProblem:
        """Return the path problem before any sign or lock."""
        return self.given if self.given is not None else problem_of(self.segments, self.placements, self.rig)

    @cached_property
    def rates(self) -> list[float]:
        """Return the rate of every stroke's notes [1/s]; 0 where too few follow each other to make one."""
        return rates_of(self.segments)

    @cached_property
    def weak(self) -> BoolArray:
        """Return which strokes carry no weight of their own; shape (K,)."""
        return np.array([s.strength < HALF_BAR and not s.accented for s in self.segments])

    @cached_property
    def curtailed(self) -> list[int]:
        """Return which of all bowed notes cannot sound with all their heads."""
        events = [note.event for segment in self.segments for note in segment.notes]
        pairs = enumerate(zip(events, self.placements, strict=True))
        return [i for i, (event, placed) in pairs if len(placed.pitches) != len(event.heads)]

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


def shared_ends(one: Sequence[Segment], other: Sequence[Segment]) -> tuple[int, int]:
    """Return how many strokes are the same at the beginning, and at the end, of two drafts."""
    least = min(len(one), len(other))
    before = next((i for i in range(least) if one[i] is not other[i]), least)
    after = next((i for i in range(least - before) if one[-1 - i] is not other[-1 - i]), least - before)
    return before, after


def _strings_in(shapes: Mapping[str, Lock]) -> dict[str, int]:
    return {note: lock.string for note, lock in shapes.items() if lock.string is not None}


def _pieces(written: Sequence[Segment], cut: Sequence[Segment]) -> Iterator[tuple[Segment, list[Segment]]]:
    """Yield every stroke as written with what became of it."""
    at = 0
    for segment in written:
        pieces, count = [], 0
        while count < len(segment.notes):
            pieces.append(cut[at])
            count += len(cut[at].notes)
            at += 1
        yield segment, pieces


def _led(segments: Sequence[Segment], placements: Sequence[Placement], locks: Mapping[str, Lock]) -> list[Placement]:
    """Say which voice of every double stop and chord leads: by lock, else as its passage asks."""
    notes = (note for segment in segments for note in segment.notes)
    result = []
    for note, placed in zip(notes, placements, strict=True):
        lock = locks.get(note.event.id)
        wish = (lock.lead if lock else None) or note.ask.lead
        leading = wish.of(len(placed.strings))
        result.append(placed if leading == placed.leading else replace(placed, leading=leading))
    return result


def shapes_in(locks: Mapping[str, Lock]) -> dict[str, Lock]:
    """Return the locks that shape strokes, by note."""
    return {note: lock for note, lock in locks.items() if lock.shapes}
