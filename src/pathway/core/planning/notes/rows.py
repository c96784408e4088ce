"""Some notes of a draft in columns, one a row, with the hair that each gets and what the player set of it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.planning.draft import Draft
from pathway.core.planning.notes.sharing import Hair
from pathway.core.planning.notes.tone import Voices
from pathway.core.planning.path.problem import Path
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.columns import of_kinds
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.segments import Note
from pathway.core.planning.wishes import Link, Lock, Vibrato
from pathway.core.technique.chords import Chord, bow_chord
from pathway.core.technique.stroke_types import Contact

EARLY_WEAK_BOW = -2.0  # level of strokes in the weak direction, in early style [dB]
A_PAIR = 2  # strings; more make a chord
_ATTACK, _ONE_BOW = of_kinds(lambda kind: kind.attack), of_kinds(lambda kind: kind.one_bow)
_OFF, _GAPPED = of_kinds(lambda kind: kind.contact is not Contact.ON), of_kinds(lambda kind: kind.gap > 0)
SILENCE = 0.12  # after it a stroke off the string comes out of the air [s], our estimate


@dataclass(frozen=True)
class Rows:
    """The notes of some strokes, one a row, with the hair that each gets."""

    draft: Draft
    path: Path
    strokes: Sequence[int]  # of the draft, in order
    asked: StrokesAsked  # these
    hair: Hair
    locks: Mapping[str, Lock]

    @cached_property
    def at(self) -> list[int]:
        """Return the index of every row among all bowed notes."""
        firsts = self.draft.first_notes
        return [i for k in self.strokes for i in range(firsts[k], firsts[k + 1])]

    @property
    def firsts(self) -> IntArray:
        """Return the rows that begin a stroke."""
        return self.asked.columns.firsts

    @property
    def lasts(self) -> IntArray:
        """Return the rows that end a stroke."""
        return self.firsts + self.asked.columns.notes - 1

    def each(self, of_strokes: FloatArray) -> FloatArray:
        """Return for every row what is known of its stroke."""
        return of_strokes.repeat(self.asked.columns.notes)

    @cached_property
    def kinds(self) -> IntArray:
        """Return the manner of every row, in the order of their table."""
        kinds: IntArray = self.asked.columns.kind.repeat(self.asked.columns.notes)
        return kinds

    @cached_property
    def notes(self) -> list[Note]:
        """Return the note of every row."""
        return [note for stroke in self.asked.strokes for note in stroke.notes]

    @cached_property
    def placed(self) -> list[Placement]:
        """Return the strings of every row."""
        return [placed for stroke in self.asked.strokes for placed in stroke.placements]

    @cached_property
    def targets(self) -> FloatArray:
        """Return the wanted level of every row [dB]; in early style the weak direction is softer."""
        weak = (self.path.directions[self.strokes] != self.draft.rig.strong) & self.asked.columns.early
        return self.asked.notes.level + self.each(np.where(weak, EARLY_WEAK_BOW, 0.0))

    @cached_property
    def _set(self) -> dict[int, Lock]:
        """Return what the player set, by row."""
        if not self.locks:
            return {}
        asked = ((i, self.locks.get(note.event.id)) for i, note in enumerate(self.notes))
        return {i: lock for i, lock in asked if lock}

    def locked(self, of: str) -> dict[int, float]:
        """Return what the player set of some notes, by row."""
        asked = ((i, getattr(lock, of)) for i, lock in self._set.items())
        return {i: value for i, value in asked if value is not None}

    @cached_property
    def lead(self) -> Voices:
        """Return what is asked of the leading voices."""
        forces = np.full(len(self.notes), np.nan)
        for i, force in self.locked("force").items():
            forces[i] = force
        return Voices(
            strings=self.asked.notes.strings,
            indices=self.asked.notes.string,
            speeds=self.hair.speed,
            factors=_ATTACK[self.kinds],
            targets=self.targets,
            hair=self.places,
            colours=self._at_moments(self.colours),
            turns=np.exp(self._at_moments(self._paces) - self._paces.mean(axis=0)),
            ranges=self._ranges(),
            forces=forces,
            short=_ONE_BOW[self.kinds],
        )

    @cached_property
    def places(self) -> FloatArray:
        """Return where on the hair every row starts, is halfway and ends [m]; shape (3, N)."""
        start, end = self.hair.start, self.hair.end
        return np.stack([start, (start + end) / 2, end])

    @cached_property
    def colours(self) -> FloatArray:
        """Return the colour at the start and end of every row, −1 soft to 1 focused; shape (2, N)."""
        return np.stack([self.asked.notes.colour, self.asked.notes.colour_end])

    @cached_property
    def _paces(self) -> FloatArray:
        """Return by how much colour and role are faster than habit [ln], as each starts and ends; shape (2, N)."""
        return np.stack([self.asked.notes.pace, self.asked.notes.pace_end])

    @staticmethod
    def _at_moments(ends: FloatArray) -> FloatArray:
        """Return values at start and end with those halfway between; shape (3, N)."""
        return np.stack([ends[0], ends.mean(axis=0), ends[1]])

    def vibrato(self, i: int) -> Vibrato | None:
        """Return the vibrato wished for: of the note, else of its passage."""
        lock = self._set.get(i)
        return (lock.vibrato if lock else None) or self.notes[i].ask.vibrato

    @cached_property
    def from_air(self) -> BoolArray:
        """Return which strokes land on the string: by the player's wish; else after a lifted one, or a silence.

        After a note that was kept on the string, and at the very beginning, a stroke starts from the string.
        """
        columns = self.asked.columns
        off = _OFF[columns.kind]
        lands = off & (_OFF[self._kind_before] | (columns.rest > SILENCE)) & (np.array(self.strokes) > 0)
        for n in np.flatnonzero(off).tolist() if self.draft.shapes else ():
            lock = self.draft.shapes.get(self.asked.strokes[n].id)
            if lock and lock.from_air is not None:
                lands[n] = lock.from_air
        return lands

    @property
    def _kind_before(self) -> IntArray:
        """Return the manner of the stroke before each; the first has its own."""
        kinds: IntArray = self.draft.columns.kind[np.maximum(np.array(self.strokes) - 1, 0)]
        return kinds

    def _ranges(self) -> FloatArray:
        """Return the least and greatest β of every lead: as words ask, or the middle of the lane the player set."""
        ranges = np.stack([self.asked.notes.beta_from, self.asked.notes.beta_to], axis=1)
        for i, lane in self.locked("lane").items():
            edges = self.placed[i].lead.lane_edges()
            middle = float((edges[int(lane) - 1] * edges[int(lane)]) ** 0.5)
            ranges[i] = middle
        return ranges

    @cached_property
    def chords(self) -> dict[int, Chord]:
        """Return how chords of three strings and more are bowed, by row."""
        return {i: self._chord(i) for i, placed in enumerate(self.placed) if len(placed.strings) > A_PAIR}

    def _chord(self, i: int) -> Chord:
        placed, note, draft = self.placed[i], self.notes[i], self.draft
        lock = draft.shapes.get(note.event.id)
        form = (lock.chord if lock else None) or note.ask.chords
        start, length, early = float(self.hair.start[i]), self.hair.end[i] - self.hair.start[i], draft.settings
        return bow_chord(
            placed.strings[::-1],
            placed.pitches[::-1],
            abs(float(length)),
            float(self.hair.sounding[i]),
            start,
            form,
            draft.rig,
            before_beat=early.chords_before_beat,
        )

    @cached_property
    def ringing(self) -> BoolArray:
        """Return whether the string of every stroke's first note sounds already."""
        strokes, notes, draft = np.array(self.strokes), self.draft.asked.notes, self.draft
        first = draft.columns.firsts[strokes]
        last = np.maximum(first - 1, 0)
        rings: BoolArray = (strokes > 0) & (self.path.links[strokes] == Link.CHANGE) & (self.asked.columns.rest == 0)
        alike = notes.string[first] == notes.string[last]
        for n in np.flatnonzero(rings & (notes.voices[last] > 1)).tolist():
            alike[n] = notes.string[first[n]] in draft.strokes[strokes[n] - 1].placements[-1].strings
        rings &= alike
        for n in np.flatnonzero(rings & _GAPPED[self._kind_before]).tolist():
            rings[n] = self.out_of_ring(self.strokes[n])
        return rings

    def out_of_ring(self, k: int) -> bool:
        """Whether a stroke comes out of the ring of the one before: in early style a weak bow after a strong one."""
        strokes, rig, path = self.draft.strokes, self.draft.rig, self.path
        if k == 0 or not (strokes[k].early and strokes[k - 1].early) or len(strokes[k].notes) > 1:
            return False
        weak_after_strong = path.directions[k - 1] == rig.strong != path.directions[k]
        return bool(weak_after_strong and path.links[k] == Link.CHANGE and strokes[k].rest_before == 0)
