"""Some notes of a draft in columns, one a row, with the hair that each gets and what the player set of it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.physics.string import StringRow
from pathway.core.planning.draft import Draft
from pathway.core.planning.notes.sharing import Hair
from pathway.core.planning.notes.tone import Voices
from pathway.core.planning.path.problem import Path
from pathway.core.planning.strokes.columns import of_kinds
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.segments import Note
from pathway.core.planning.wishes import Link, Lock, Vibrato
from pathway.core.technique.chords import Chord, bow_chord
from pathway.core.technique.notation import place_range
from pathway.core.technique.stroke_types import Contact

EARLY_WEAK_BOW = -2.0  # level of strokes in the weak direction, in early style [dB]
A_PAIR = 2  # strings; more make a chord
_ATTACK, _ONE_BOW = of_kinds(lambda kind: kind.attack), of_kinds(lambda kind: kind.one_bow)
SILENCE = 0.12  # after it a stroke off the string comes out of the air [s], our estimate


@dataclass(frozen=True)
class Rows:
    """The notes of some strokes, one a row, with the hair that each gets."""

    draft: Draft
    path: Path
    strokes: Sequence[int]  # of the draft, in order
    hair: Hair
    locks: Mapping[str, Lock]

    @cached_property
    def at(self) -> list[int]:
        """Return the index of every row among all bowed notes."""
        firsts = self.draft.first_notes
        return [i for k in self.strokes for i in range(firsts[k], firsts[k + 1])]

    @cached_property
    def stroke(self) -> IntArray:
        """Return the stroke of every row."""
        strokes = np.array(self.strokes)
        return strokes.repeat(self.draft.columns.notes[strokes])

    @cached_property
    def firsts(self) -> NDArray[np.int64]:
        """Return the rows that begin a stroke."""
        return np.append(0, self.lasts[:-1] + 1)

    @cached_property
    def lasts(self) -> NDArray[np.int64]:
        """Return the rows that end a stroke."""
        return np.cumsum(self.draft.columns.notes[self.strokes]) - 1

    @cached_property
    def kinds(self) -> IntArray:
        """Return the manner of every row, in the order of their table."""
        return self.draft.columns.kind[self.stroke]

    @cached_property
    def notes(self) -> list[Note]:
        """Return the note of every row."""
        return [note for k in self.strokes for note in self.draft.strokes[k].notes]

    @cached_property
    def placed(self) -> list[Placement]:
        """Return the strings of every row."""
        return [placed for k in self.strokes for placed in self.draft.strokes[k].placements]

    @cached_property
    def targets(self) -> FloatArray:
        """Return the wanted level of every row [dB]; in early style the weak direction is softer."""
        weak = self.path.directions[self.strokes] != self.draft.rig.strong
        weak &= np.array([self.draft.strokes[k].early for k in self.strokes])
        softer = np.where(weak, EARLY_WEAK_BOW, 0.0).repeat(self.draft.columns.notes[self.strokes])
        return np.array([note.level_db for note in self.notes]) + softer

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
    def midi(self) -> IntArray:
        """Return the pitch of every lead."""
        return np.array([placed.pitches[placed.leading] for placed in self.placed])

    @cached_property
    def lead(self) -> Voices:
        """Return what is asked of the leading voices."""
        forces = np.full(len(self.notes), np.nan)
        for i, force in self.locked("force").items():
            forces[i] = force
        return Voices(
            strings=StringRow.of([placed.lead for placed in self.placed]),
            indices=np.array([placed.lead_string for placed in self.placed]),
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
        return np.array([(note.ask.colour, note.ask.colour_end) for note in self.notes]).reshape(-1, 2).T

    @cached_property
    def _paces(self) -> FloatArray:
        """Return by how much colour and role are faster than habit [ln], as each starts and ends; shape (2, N)."""
        return np.array([note.ask.paces for note in self.notes]).reshape(-1, 2).T

    @staticmethod
    def _at_moments(ends: FloatArray) -> FloatArray:
        """Return values at start and end with those halfway between; shape (3, N)."""
        return np.stack([ends[0], ends.mean(axis=0), ends[1]])

    def vibrato(self, i: int) -> Vibrato | None:
        """Return the vibrato wished for: of the note, else of its passage."""
        lock = self._set.get(i)
        return (lock.vibrato if lock else None) or self.notes[i].ask.vibrato

    @cached_property
    def from_air(self) -> list[bool]:
        """Return which strokes land on the string: by the player's wish; else after a lifted one, or a silence.

        After a note that was kept on the string, and at the very beginning, a stroke starts from the string.
        """
        strokes = self.draft.strokes
        found = []
        for k in self.strokes:
            lock = self.draft.shapes.get(strokes[k].id)
            off = strokes[k].kind.contact is not Contact.ON
            wish = lock.from_air if lock else None
            lifted = k > 0 and (strokes[k - 1].kind.contact is not Contact.ON or strokes[k].rest_before > SILENCE)
            found.append(off and (lifted if wish is None else wish))
        return found

    def _ranges(self) -> FloatArray:
        """Return the least and greatest β of every lead: as words ask, or the middle of the lane the player set."""
        ranges = [place_range(n.ask.where, p.lead.furthest) for n, p in zip(self.notes, self.placed, strict=True)]
        for i, lane in self.locked("lane").items():
            edges = self.placed[i].lead.lane_edges()
            middle = float((edges[int(lane) - 1] * edges[int(lane)]) ** 0.5)
            ranges[i] = (middle, middle)
        return np.array(ranges).reshape(-1, 2)

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
    def ringing(self) -> list[bool]:
        """Return whether the string of every stroke's first note sounds already."""
        strokes, turned = self.draft.strokes, (self.path.links == Link.CHANGE).tolist()
        return [
            k > 0
            and turned[k]
            and strokes[k].rest_before == 0
            and (not strokes[k - 1].kind.gap or self.out_of_ring(k))
            and strokes[k].placements[0].lead_string in strokes[k - 1].placements[-1].strings
            for k in self.strokes
        ]

    def out_of_ring(self, k: int) -> bool:
        """Whether a stroke comes out of the ring of the one before: in early style a weak bow after a strong one."""
        strokes, rig, path = self.draft.strokes, self.draft.rig, self.path
        if k == 0 or not (strokes[k].early and strokes[k - 1].early) or len(strokes[k].notes) > 1:
            return False
        weak_after_strong = path.directions[k - 1] == rig.strong != path.directions[k]
        return bool(weak_after_strong and path.links[k] == Link.CHANGE and strokes[k].rest_before == 0)
