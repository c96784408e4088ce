"""What a plan says: strokes, totals, and all of it together. SI units, angles in radians."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, TypeAlias

from msgspec import Struct

from pathway.core.guide.notices import hairpin_notices, proposed_notice, tempo_notice, unread_notice
from pathway.core.music import Part
from pathway.core.planning.carried import Carried
from pathway.core.planning.columns import NoteColumns
from pathway.core.planning.crossing import Crossing, Crossings
from pathway.core.planning.draft import Draft
from pathway.core.planning.finding import Finding
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.strokes.levels import LevelCurve
from pathway.core.planning.views import Named, Views
from pathway.core.planning.wishes import Link, Lock, Profile
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import Rig
from pathway.core.says import BPM, CM, S, Says
from pathway.core.technique.endings import Exit
from pathway.core.technique.limbs import Limb
from pathway.errors import NotFound


class StrokePlan(Struct, frozen=True):
    """One travel of the bow in one direction."""

    id: str
    direction: Direction
    kind: Annotated[str, Says(key="type")]  # key of the stroke type
    notes: tuple[str, ...]
    start: Annotated[float, Says(CM)]  # along the hair, frog = 0 [m]; of the first of its bows
    end: Annotated[float, Says(CM)]
    begin: Annotated[float, Says(S)]  # while the bow moves [s]
    finish: Annotated[float, Says(S, key="end_s")]
    entry: Annotated[Link, Says(kept=False)]  # documents say it with how it lands
    exit: Exit
    printed: Annotated[bool, Says(kept=False)] = False  # the part prints this direction
    locks: Annotated[tuple[str, ...], Says(key="locked")] = ()  # what the player set
    bows: int = 1  # strokes to and fro that it is made of, each from start to end or back: more in a tremolo
    profile: Profile = Profile.EVEN
    proposed: bool = False  # begins with a bow change that the page does not have
    in_hand: Annotated[float, Says(S)] = 0.0  # how much longer it could last [s]
    lowest_tempo: Annotated[float, Says(BPM)] = 0.0  # at which it keeps half its slowest speed [beats a minute]
    dip: Annotated[float, Says(kept=False)] = 0.0  # of the tone where the bow turns into the next stroke [s]
    exit_time: Annotated[float, Says(S, key="exit_s")] = 0.0  # what its ending takes [s]
    from_air: Annotated[bool, Says(kept=False)] = False  # lands on the string, rather than starting on it
    kept_down: bool = False  # stays on the string among strokes that leave it
    limb: Limb = Limb.FOREARM  # that moves it

    @property
    def left_at(self) -> float:
        """Return where on the hair the bow is after it [m]."""
        return self.end if self.bows % 2 else self.start

    @property
    def left_by(self) -> Direction:
        """Return the direction of the last of its bows."""
        return self.direction if self.bows % 2 else self.direction.other

    @property
    def locked(self) -> bool:
        """Whether the player set its direction."""
        return "direction" in self.locks

    @property
    def length(self) -> float:
        """Return the hair used [m]."""
        return abs(self.end - self.start)


@dataclass(frozen=True, slots=True)
class Totals:
    """The plan summed up."""

    hair: float  # [m]
    per_measure: tuple[tuple[str, float, float], ...]  # number, hair, net movement [m]
    lowest_tempo_bpm: float
    down_minus_up_db: float
    by_string_db: Mapping[int, float]
    spread_db: float


@dataclass(frozen=True)
class Plan:
    """Everything the planner found out about one part on one rig."""

    draft: Draft
    locks: Mapping[str, Lock]  # the player's, by note
    path: Path
    strokes: Views[StrokePlan]
    bowed: Views[NotePlan]  # the notes under the bow, in order
    unbowed: tuple[NotePlan, ...]  # plucked ones, and silent ones
    columns: NoteColumns  # of the bowed ones
    crossed: Crossings
    findings: tuple[Finding, ...]
    totals: Totals
    carried: Carried  # from the plan before an edit; nothing, if it was planned whole

    @property
    def part(self) -> Part:
        """Return the part as written."""
        return self.draft.part

    @property
    def rig(self) -> Rig:
        """Return the rig it was planned for."""
        return self.draft.rig

    @cached_property
    def problem(self) -> PathProblem:
        """Return what the path's cost knew of the strokes, the locks left aside."""
        return self.draft.problem

    @cached_property
    def notices(self) -> tuple[str, ...]:
        """Return what the reader and the planner had to decide, and what of the page no plan listens to."""
        return (*self.decided, *filter(None, [unread_notice(self.part.unread)]))

    @cached_property
    def decided(self) -> tuple[str, ...]:
        """Return what the reader and the planner had to decide."""
        told = (self.tempo_told,) if self.tempo_told else ()
        places = (self.part.place(stroke.notes[0].event) for stroke in self.draft.strokes if stroke.proposed)
        curve, bar = LevelCurve(self.part), self.part.bar_at
        pins = hairpin_notices(*([bar(at) for at in found] for found in (curve.gestures, curve.steps)))
        return (
            *self.part.notices,
            *told,
            *pins,
            *self.draft.contradictions,
            *self.draft.other_fingers,
            *map(proposed_notice, places),
        )

    @property
    def tempo_told(self) -> str:
        """Return what is told of the tempo where no number is printed and the player has set none; empty else."""
        first = self.part.tempo
        if self.draft.settings.tempo_bpm or not (first.word or first.assumed):
            return ""
        return tempo_notice(first.word, first.beats_per_minute)

    @cached_property
    def notes(self) -> Views[NotePlan]:
        """Return all notes, in the order of the part."""
        if not self.unbowed:
            return self.bowed
        bowed, unbowed, note_index = self.bowed, {note.id: note for note in self.unbowed}, self.draft.note_index
        ids = self._ids
        return Views(len(ids), lambda n: unbowed[ids[n]] if ids[n] in unbowed else bowed[note_index[ids[n]]])

    @property
    def _ids(self) -> list[str]:
        """Return the ids of all notes, in the order of the part."""
        return sorted((*self.draft.note_index, *(note.id for note in self.unbowed)), key=self.part.index.__getitem__)

    @cached_property
    def note(self) -> Named[NotePlan]:
        """Return the notes by id."""
        at = {id_: n for n, id_ in enumerate(self._ids)} if self.unbowed else self.draft.note_index
        return Named(self.notes, at)

    def any_note(self, id_: str) -> NotePlan:
        """Return a note, under the bow or not.

        Raises:
            NotFound: there is no such note.
        """
        if id_ not in self.note:
            raise NotFound("There is no such note", advice="Choose another note.")
        return self.note[id_]

    def bowed_note(self, id_: str) -> NotePlan:
        """Return a note under the bow.

        Raises:
            NotFound: there is no such note, or it is plucked or left out.
        """
        found = self.note.get(id_)
        if found is None or found.stroke is None:
            raise NotFound("There is no bowed note there", advice="Choose another note.")
        return found

    @property
    def crossings(self) -> tuple[Crossing, ...]:
        """Return every way from string to string, in order."""
        return self.crossed.all

    @cached_property
    def crossing_to(self) -> Mapping[str, Crossing]:
        """Return the way from string to string that leads to a note, by the note's id."""
        return self.crossed.by_note([event.id for event in self.draft.bowed])

    @cached_property
    def stroke_index(self) -> dict[str, int]:
        """Return the place of every stroke by its id."""
        return {stroke.id: k for k, stroke in enumerate(self.draft.strokes)}

    @cached_property
    def stroke(self) -> Mapping[str, StrokePlan]:
        """Return the strokes by id."""
        return Named(self.strokes, self.stroke_index)


Known: TypeAlias = tuple[Plan, Carried]  # the plan before an edit, and what of it is carried over
