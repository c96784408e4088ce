"""Strokes to be: what one travel of the bow carries, before anything is known of its direction."""

from collections.abc import Sequence

import numpy as np
from msgspec import Struct

from pathway.core.arrays import IntArray
from pathway.core.music import Event, Measure, Part
from pathway.core.planning.strokes.asks import NOTHING, Ask
from pathway.core.planning.wishes import BY_METER, Profile, Stress, Style
from pathway.core.rig.bow import Direction
from pathway.core.technique.stroke_types import StrokeType

FIRST_BEAT, HALF_BAR, BEAT, OFF_BEAT = 1.0, 0.5, 0.25, 0.125


class Note(Struct, frozen=True):
    """One event on the clock, with the level it asks for."""

    event: Event
    begin: float  # [s]
    end: float  # written end [s]
    sounding: float  # [s]
    level_db: float  # mean
    pulse_db: float
    level_ends: tuple[float, float] = (0.0, 0.0)  # as it begins and as it ends [dB]
    ask: Ask = NOTHING
    place: float = 0.0  # onset in quarters from the start of the part
    bows: int = 0  # strokes to and fro that it is repeated in; 0 where it is not


class Segment(Struct, frozen=True):
    """The notes of one stroke and what speaks for one direction or the other."""

    notes: tuple[Note, ...]
    kind: StrokeType
    rest_before: float  # silence of the bow before it [s]
    printed: Direction | None
    strength: float  # metrical, 0 to 1
    first_of_bar: bool
    upbeat: bool  # the last weak stroke before a bar
    grows: int  # 1 growing, −1 fading, 0 neither
    profile: Profile = Profile.EVEN
    proposed: bool = False  # begins with a bow change that the page does not have

    @property
    def id(self) -> str:
        """Return the id of the stroke's first note."""
        return self.notes[0].event.id

    @property
    def begin(self) -> float:
        """Return when it begins [s]."""
        return self.notes[0].begin

    @property
    def end(self) -> float:
        """Return when its last note ends as written [s]."""
        return self.notes[-1].end

    @property
    def bows(self) -> int:
        """Return how many strokes to and fro it is made of: one, or more where its notes are repeated."""
        return max(1, sum(note.bows for note in self.notes))

    @property
    def ask(self) -> Ask:
        """Return what is asked of its first note."""
        return self.notes[0].ask

    @property
    def early(self) -> bool:
        """Whether the bow's direction tells strong from weak."""
        return self.ask.style is Style.EARLY

    @property
    def is_chord(self) -> bool:
        """Whether its first note is a chord of three or more."""
        return len(self.notes[0].event.heads) > 2


def strength_of(measure: Measure, beat: float, stress: Stress = BY_METER, bar: int = 0) -> float:
    """Return the metrical strength of a beat, the first being 1.

    Args:
        measure: the bar it lies in.
        beat: counted from 1.
        stress: a pattern of one's own.
        bar: the bar's number since the pattern began, from 0.
    """
    if stress.beats:
        strength = _by_pattern(beat, stress.beats)
    elif beat == 1:
        strength = FIRST_BEAT
    else:
        beats = measure.beat_count
        middle = beats % 2 == 0 and beat == 1 + beats / 2 and (beats == 4 or measure.beat_type in {2, 8})
        strength = HALF_BAR if middle else BEAT if beat == int(beat) else OFF_BEAT
    light_bar = bool(stress.bars) and bar % stress.group + 1 not in stress.bars
    return min(strength, HALF_BAR) if light_bar else strength


def _by_pattern(beat: float, beats: Sequence[float]) -> float:
    if beat in beats:
        return FIRST_BEAT if beat == beats[0] else HALF_BAR
    return BEAT if beat == int(beat) else OFF_BEAT


def first_notes(segments: Sequence[Segment]) -> IntArray:
    """Return the index of every stroke's first note among the notes of all, and their count at the end."""
    return np.concatenate([[0], np.cumsum([len(segment.notes) for segment in segments])]).astype(np.int64)


def strength_at(part: Part, note: Note) -> float:
    """Return the metrical strength of the place of a note."""
    return strength_of_event(part, note.event, note.ask)


def strength_of_event(part: Part, event: Event, ask: Ask) -> float:
    """Return the metrical strength of the place of an event."""
    measure = part.measures[event.measure]
    return strength_of(measure, measure.beat_of(event.place), ask.stress, event.measure - ask.first_bar)
