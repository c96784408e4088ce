"""What is known of a plan before the hair path: strokes to be, and where the left hand plays."""

from bisect import bisect_right
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.guide.notices import contradiction_notice, finger_notice
from pathway.core.music import Event, Part
from pathway.core.planning.carried import Carried
from pathway.core.planning.path.company import Company
from pathway.core.planning.path.costs import pairs_in, problem_of, with_wishes
from pathway.core.planning.path.problem import PathProblem, joined
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.asks import Ask, asks_of
from pathway.core.planning.strokes.columns import StrokeColumns, rates_of
from pathway.core.planning.strokes.compass import LeftOut, Otherwise, left_out, played_on
from pathway.core.planning.strokes.fitting import STARVED, TURNING_ROOM, fitted
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.reader import Known, read_again, segments_of
from pathway.core.planning.strokes.segments import Note, Segment, first_notes
from pathway.core.planning.strokes.strings import HandWish, Line, choose_strings
from pathway.core.planning.strokes.stroke import Stroke, on_strings
from pathway.core.planning.strokes.timing import clock_of
from pathway.core.planning.wish_checks import tuned
from pathway.core.planning.wishes import Lock, Passage, Settings
from pathway.core.rig.instrument import Rig
from pathway.core.technique.notation import contradiction
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import ScoreError


@dataclass(frozen=True)
class Draft:
    """A part on a rig at a tempo, cut into strokes."""

    part: Part  # as written
    rig: Rig  # tuned for the piece
    settings: Settings
    shapes: Mapping[str, Lock]  # the player's locks that shape the strokes, by note
    asked: StrokesAsked = field(compare=False)  # what is known of the strokes and their notes, quantity by quantity
    asks: Sequence[Ask] = ()  # of every event
    written: Sequence[Stroke] = ()  # before those too long were cut
    # what is made of these, kept for the next edit: line and placements; the problem, if another draft's helped
    hand: tuple[Line, Sequence[Placement]] | None = field(default=None, compare=False)
    given: PathProblem | None = field(default=None, compare=False)

    @classmethod
    def of(cls, part: Part, rig: Rig, settings: Settings, locks: Mapping[str, Lock] | None = None) -> "Draft":
        """Return the draft of a part; only the locks that shape its strokes count.

        Raises:
            ScoreError: nothing to bow, or most notes outside the instrument.
            PlanError, OutOfRange: passages, strings or a tuning that cannot be.
        """
        shapes, rig = shapes_in(locks or {}), tuned(rig, settings.tuning)
        played = played_on(part, rig.instrument, Otherwise.of(shapes))
        asks = asks_of(played, settings, rig)
        segments = segments_of(played, clock_of(part, settings), asks, shapes)
        if not segments:
            raise ScoreError(f"The part {part.name!r} has no bowed notes", advice="Choose another part of the score.")
        line = Line.of(segments, _hands_in(shapes))
        hand = line, choose_strings(line, rig.instrument)
        written = on_strings(segments, hand[1], shapes)
        return cls(part, rig, settings, shapes, fitted(part, written, rig), asks, written, hand)

    def under(self, locks: Mapping[str, Lock], passages: tuple[Passage, ...]) -> tuple["Draft", Carried]:
        """Return the draft under other locks and passages, and which of its strokes these leave as they were.

        Raises:
            PlanError, OutOfRange: strings or passages that cannot be.
        """
        shapes, part, rig = shapes_in(locks), self.part, self.rig
        settings = replace(self.settings, passages=passages)
        if shapes == self.shapes and settings == self.settings:
            return self, Carried.everything(len(self.strokes))
        moved = Otherwise.of(shapes) != Otherwise.of(self.shapes)
        played = played_on(part, rig.instrument, Otherwise.of(shapes)) if moved else self.played
        asks = self.asks if settings == self.settings else asks_of(played, settings, rig)
        segments = segments_of(played, clock_of(part, settings), asks, shapes, self.known)
        written, hand = self._on_strings(segments, shapes, None if moved else self.hand)
        same = Carried.between(self.written, written)
        begin, end = self.heads[same.before], self.heads[same.then - same.after]
        fresh = fitted(part, written[same.new], rig).strokes if written[same.new] else ()
        strokes = [*self.strokes[:begin], *fresh, *self.strokes[end:]]
        carried = Carried(len(strokes), len(self.strokes), begin, len(self.strokes) - end)
        asked, problem = self._asked_and_problem_of(strokes, carried)
        return Draft(part, rig, settings, shapes, asked, asks, written, hand, problem), carried

    def _on_strings(
        self, segments: Sequence[Segment], shapes: Mapping[str, Lock], before: tuple[Line, Sequence[Placement]] | None
    ) -> tuple[list[Stroke], tuple[Line, Sequence[Placement]]]:
        """Return strokes on their strings; those that lie on them are looked at again only if the hand goes elsewhere.

        Args:
            segments: strokes of this draft, and some read anew.
            shapes: the player's locks, by note.
            before: how the same notes lay; None where other notes are played.
        """
        firsts = first_notes(segments).tolist()
        touched = (id_ for id_ in {*shapes, *self.shapes} if shapes.get(id_) != self.shapes.get(id_))
        if before:
            at = (self.note_index[id_] for id_ in touched if id_ in self.note_index)
            anew = {k for k, segment in enumerate(segments) if not isinstance(segment, Stroke)}
            anew |= {bisect_right(firsts, i) - 1 for i in at}
            line = Line.of(segments, _hands_in(shapes), before[0], sorted(anew))
            if line.lies_as(before[0], self.rig.instrument):
                return on_strings(segments, before[1], shapes, anew), (line, before[1])
            placements = choose_strings(line, self.rig.instrument)
            elsewhere = (i for i, (now, then) in enumerate(zip(placements, before[1], strict=True)) if now is not then)
            anew |= {bisect_right(firsts, i) - 1 for i in elsewhere}
            return on_strings(segments, placements, shapes, anew), (line, placements)
        line = Line.of(segments, _hands_in(shapes))
        placements = choose_strings(line, self.rig.instrument)
        return on_strings(segments, placements, shapes), (line, placements)

    def _asked_and_problem_of(self, strokes: Sequence[Stroke], carried: Carried) -> tuple[StrokesAsked, PathProblem]:
        """Return columns and path problem of strokes that are these but for some new ones and what is beside them."""
        first, last = max(carried.before - 1, 0), carried.count - max(carried.after - 1, 0)
        asked = StrokesAsked.of(strokes[first:last])
        middle = problem_of(asked, self.rig)
        kept = carried.then - max(carried.after - 1, 0)
        parts = [self.problem.part(slice(0, carried.before)), middle.part(slice(carried.before - first, last - first))]
        problem = joined([*parts, self.problem.part(slice(kept, carried.then))])
        return self.asked.around(strokes, first, asked, carried.count - last), problem

    @cached_property
    def heads(self) -> list[int]:
        """Return the index of the first piece of every stroke as written, and the count of strokes at the end."""
        return [*np.flatnonzero(~self.columns.proposed).tolist(), len(self.strokes)]

    def at_tempo(self, tempo_bpm: float, span: slice) -> "Draft":
        """Return some whole strokes as written at another tempo, on the same strings.

        Args:
            tempo_bpm: in the part's own beat unit.
            span: of the strokes of this draft.
        """
        part, settings = self.part, replace(self.settings, tempo_bpm=tempo_bpm)
        written = slice(*np.searchsorted(self.heads, (span.start, span.stop)).tolist())
        segments = read_again(part, clock_of(part, settings), self.asks, self.written, written, self.shapes)
        placements = [placed for stroke in self.strokes[span] for placed in stroke.placements]
        asked = fitted(part, on_strings(segments, placements, self.shapes), self.rig)
        return Draft(part, self.rig, settings, self.shapes, asked, self.asks)

    def around(self, notes: Collection[str], margin: int) -> slice:
        """Return the strokes that carry some notes, and as many more on both sides; as written, they are whole."""
        at = [self.stroke_of[id_] for id_ in notes if id_ in self.stroke_of]
        if not at:
            return slice(0, len(self.strokes))
        first, last = max(min(at) - margin, 0), min(max(at) + margin + 1, len(self.strokes))
        while first > 0 and self.strokes[first].proposed:
            first -= 1
        while last < len(self.strokes) and self.strokes[last].proposed:
            last += 1
        return slice(first, last)

    @cached_property
    def played(self) -> Part:
        """Return the part as this instrument plays it; the part itself where nothing lies outside."""
        return played_on(self.part, self.rig.instrument, Otherwise.of(self.shapes))

    @cached_property
    def known(self) -> Known:
        """Return the strokes as written, for a draft under other wishes to take over."""
        return Known(self.played, self.written, self.asks, self.shapes)

    @cached_property
    def bowed(self) -> tuple[Event, ...]:
        """Return the events of all strokes, in order."""
        every, first = self.played.bowed, self.strokes[0].notes[0].event
        start = 0 if every[0] is first else every.index(first)
        return every[start : start + self.first_notes[-1]]

    @cached_property
    def printed(self) -> list[int]:
        """Return the strokes whose direction is printed."""
        return [k for k, stroke in enumerate(self.strokes) if stroke.printed is not None]

    @cached_property
    def signs(self) -> list[tuple[int, Event]]:
        """Return the events with a printed direction, each with the stroke that carries it."""
        return [(k, note.event) for k, stroke in enumerate(self.strokes) for note in stroke.notes if note.event.bow]

    @cached_property
    def unbowed(self) -> list[Event]:
        """Return the events that are plucked, or silent."""
        return [event for event in self.played.events if not event.bowed]

    @cached_property
    def left_out(self) -> list[LeftOut]:
        """Return what lies outside the instrument, in order."""
        return left_out(self.part, self.rig.instrument, Otherwise.of(self.shapes))

    @cached_property
    def contradictions(self) -> tuple[str, ...]:
        """Return where words over the staff contradict signs in it; the signs are planned."""
        found: dict[str, str] = {}
        for stroke in self.strokes:
            event, ask = stroke.notes[0].event, stroke.ask
            if ask.kind is None or ask.by_passage or stroke.kind.key == ask.kind or stroke.id in self.shapes:
                continue
            asked = STROKE_TYPES[ask.kind]
            separate = sum(not n.event.tied and not n.event.grace for n in stroke.notes)
            if against := contradiction(asked, event.marks, separate):
                found.setdefault(ask.kind, contradiction_notice(self.part.place(event), asked.name, against))
        return tuple(found.values())

    @cached_property
    def other_fingers(self) -> tuple[str, ...]:
        """Return where a finger that is printed or set cannot play its note, and which one plays it."""
        told = []
        for i, event in enumerate(self.bowed):
            lock, placed = self.shapes.get(event.id), self.placement(i)
            asked = [head.finger for head in sorted(event.heads, key=lambda head: -head.midi)]
            if lock is not None and lock.finger is not None:
                asked[0] = lock.finger
            for wanted, finger in zip(asked, placed.fingers, strict=False):
                if wanted is not None and wanted != finger:
                    told.append(finger_notice(self.part.place(event), wanted, finger))
        return tuple(told)

    @cached_property
    def tempo_bpm(self) -> float:
        """Return the tempo in the part's own beat unit."""
        return self.settings.tempo_bpm or self.part.tempo.beats_per_minute

    @cached_property
    def stroke_of(self) -> dict[str, int]:
        """Return the index of the stroke that carries each note."""
        return {note.event.id: k for k, stroke in enumerate(self.strokes) for note in stroke.notes}

    def begins_stroke(self, note: str) -> bool:
        """Whether a stroke begins with a note."""
        k = self.stroke_of.get(note)
        return k is not None and self.strokes[k].id == note

    @cached_property
    def carriers(self) -> IntArray:
        """Return which stroke carries every bowed note; shape (N,)."""
        return np.arange(len(self.strokes)).repeat(self.columns.notes)

    def stroke_at(self, note: int) -> int:
        """Return which stroke carries the note of an index among all bowed ones."""
        return int(self.carriers[note])

    def notes_at(self, k: int) -> range:
        """Return the notes that a stroke carries, by their index among all bowed ones."""
        return range(self.first_notes[k], self.first_notes[k + 1])

    def note(self, i: int) -> Note:
        """Return a note by its index among all bowed ones."""
        k = self.stroke_at(i)
        return self.strokes[k].notes[i - self.first_notes[k]]

    @property
    def line(self) -> Line:
        """Return the bowed notes as the left hand meets them."""
        assert self.hand is not None  # it was made with its strings
        return self.hand[0]

    def placement(self, i: int) -> Placement:
        """Return where a note lies, by its index among all bowed ones."""
        k = self.stroke_at(i)
        return self.strokes[k].placements[i - self.first_notes[k]]

    @property
    def strokes(self) -> Sequence[Stroke]:
        """Return the strokes."""
        return self.asked.strokes

    @property
    def columns(self) -> StrokeColumns:
        """Return what is known of the strokes, quantity by quantity."""
        return self.asked.columns

    @cached_property
    def first_notes(self) -> list[int]:
        """Return the index of every stroke's first note among all bowed notes, and their count at the end."""
        return [0, *np.cumsum(self.columns.notes).tolist()]

    @cached_property
    def note_index(self) -> dict[str, int]:
        """Return the index of each note among all bowed ones."""
        return {event.id: i for i, event in enumerate(self.bowed)}

    @cached_property
    def bar_numbers(self) -> tuple[str, ...]:
        """Return the numbers of the bars, each once."""
        return tuple(dict.fromkeys(measure.number for measure in self.part.measures))

    @cached_property
    def bar_of(self) -> IntArray:
        """Return in which of the numbered bars each bowed note stands; shape (N,)."""
        place = {number: i for i, number in enumerate(self.bar_numbers)}
        bars = [place[measure.number] for measure in self.part.measures]
        return np.array([bars[event.measure] for event in self.bowed])

    @cached_property
    def problem(self) -> PathProblem:
        """Return the path problem before any sign or lock."""
        return problem_of(self.asked, self.rig) if self.given is None else self.given

    @cached_property
    def lowest_tempi(self) -> FloatArray:
        """Return at which tempo every stroke keeps half its slowest speed, in the part's beat unit; shape (K,)."""
        (low, high), problem = self.rig.usable, self.problem
        return self.tempo_bpm * problem.each * STARVED * problem.slowest / (high - low - TURNING_ROOM)

    @cached_property
    def rates(self) -> FloatArray:
        """Return the rate of every stroke's notes [1/s]; 0 where too few follow each other to make one."""
        return rates_of(self.columns)

    @cached_property
    def in_rows(self) -> IntArray:
        """Return the strokes of notes that follow each other at a rate."""
        return np.flatnonzero(self.rates)

    @cached_property
    def pairs(self) -> list[int]:
        """Return the strokes that are a weak short note after a long one."""
        found: list[int] = np.flatnonzero(pairs_in(self.columns)).tolist()
        return found

    @cached_property
    def chord_sizes(self) -> IntArray:
        """Return of how many heads every bowed note is written; shape (N,)."""
        return np.array([len(event.heads) for event in self.bowed])

    @cached_property
    def curtailed(self) -> list[int]:
        """Return which of all bowed notes cannot sound with all their heads."""
        several = np.flatnonzero(self.chord_sizes > 1).tolist()
        return [i for i in several if len(self.placement(i).pitches) != self.chord_sizes[i]]

    @cached_property
    def company(self) -> Company:
        """Return which strokes look to each other."""
        return Company.of(self.played, self.strokes, self.columns)

    def problem_with(self, locks: Mapping[str, Lock]) -> PathProblem:
        """Return the path problem with printed signs and locks kept."""
        wished = {*self.printed, *(self.stroke_of[note] for note in locks if self.begins_stroke(note))}
        return with_wishes(self.problem, {k: self.strokes[k] for k in sorted(wished)}, locks, self.rig)


def _hands_in(shapes: Mapping[str, Lock]) -> dict[str, HandWish]:
    return {note: HandWish.of(lock) for note, lock in shapes.items()}


def shapes_in(locks: Mapping[str, Lock]) -> dict[str, Lock]:
    """Return the locks that shape strokes, by note."""
    return {note: lock for note, lock in locks.items() if lock.shapes}
