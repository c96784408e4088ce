"""What a drill is made from: a rig, and the place of a piece that asks for it; without one, usual values."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from pathway.core.music import Event
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan
from pathway.core.practice.drill import DrillAsk, Work
from pathway.core.practice.excerpt import Bars, bars_around, cut_out
from pathway.core.practice.material import key_of
from pathway.core.rig.instrument import Rig
from pathway.core.technique.motion import usual_rate
from pathway.core.technique.stroke_types import STROKE_TYPES, StrokeType
from pathway.errors import NotFound, NotHere

_USUAL_RATE = 4.0  # notes a second, where no piece says
FINGERED = 2  # above an open string [semitones]
WHOLE_STROKE = 1.0  # time of a plain whole stroke [s]


@dataclass(frozen=True)
class Ground:
    """Rig and place of a drill."""

    ask: DrillAsk
    rig: Rig
    plan: Plan | None = None

    @cached_property
    def notes(self) -> tuple[NotePlan, ...]:
        """Return the bowed notes of the place; none without a piece."""
        plan = self.plan
        if plan is None or not self.ask.first:
            return ()
        index = plan.part.index
        if self.ask.first not in index or (self.ask.last or self.ask.first) not in index:
            raise NotFound("The notes of this drill are not in the piece any more", advice="Choose another drill.")
        first, last = index[self.ask.first], index[self.ask.last or self.ask.first]
        ids = [plan.part.events[i].id for i in range(first, last + 1)]
        return tuple(plan.note[id_] for id_ in ids if plan.note[id_].stroke)

    @cached_property
    def events(self) -> tuple[Event, ...]:
        """Return what is written there."""
        return tuple(self.plan.part.event[note.id] for note in self.notes) if self.plan else ()

    @property
    def kind(self) -> StrokeType:
        """Return the stroke type that is asked for, or that the place is played in."""
        if self.ask.kind:
            return STROKE_TYPES[self.ask.kind]
        if self.plan and self.notes:
            kinds = [self.plan.stroke[note.stroke or ""].kind for note in self.notes]
            return STROKE_TYPES[max(set(kinds), key=kinds.count)]
        return STROKE_TYPES["detache"]

    @cached_property
    def rate(self) -> float:
        """Return the notes a second of the place; of the stroke type, where there is none."""
        if self.notes:
            return 1 / min(note.duration for note in self.notes if note.duration > 0)
        return usual_rate(self.kind) if self.ask.kind else _USUAL_RATE

    @property
    def strings(self) -> int:
        """Return how many strings there are."""
        return len(self.rig.instrument.strings)

    def open(self, string: int) -> int:
        """Return the pitch of an open string, 0 the lowest."""
        return self.rig.instrument.strings[string].midi

    @cached_property
    def string(self) -> int:
        """Return the string of the place; a middle one without."""
        return self.notes[0].lead.string if self.notes else self.strings // 2

    @cached_property
    def pair(self) -> tuple[int, int]:
        """Return two neighbouring strings, the lower first: those of the place if it has some."""
        played = sorted({voice.string for note in self.notes for voice in note.voices})
        low = played[0] if len(played) > 1 else self.string
        low = min(low, self.strings - 2)
        return low, low + 1

    @cached_property
    def pitch(self) -> int:
        """Return a pitch of the place; a fingered one of a middle string without."""
        return self.notes[0].lead.midi if self.notes else self.open(self.string) + FINGERED

    @cached_property
    def pitches(self) -> tuple[int, ...]:
        """Return the pitches of the place as they follow one another."""
        return tuple(note.lead.midi for note in self.notes)

    @cached_property
    def key(self) -> int:
        """Return the fifths of the piece's key."""
        return key_of(self.plan.part) if self.plan else 1

    @cached_property
    def level_db(self) -> float:
        """Return how loud the place is asked for, against a plain mezzo-forte [dB]."""
        return sum(note.target_db for note in self.notes) / len(self.notes) if self.notes else 0.0

    @cached_property
    def slowest(self) -> float:
        """Return the time of the longest bow that the piece asks for [s]; an ordinary long one without."""
        if self.plan is None:
            return 8.0
        return max((stroke.finish - stroke.begin for stroke in self.plan.strokes), default=8.0)

    @property
    def hair(self) -> tuple[float, float]:
        """Return the first and last usable place on the hair [m]."""
        return self.rig.usable

    def at(self, share: float) -> float:
        """Return the place at a share of the usable hair [m]."""
        low, high = self.hair
        return low + share * (high - low)

    def bars(self, more: int = 0) -> Work:
        """Return the bars of the place as they are planned in the piece.

        Raises:
            NotHere: no place is known.
        """
        return cut_out(self.known_plan, self.span(more))

    def span(self, more: int = 0) -> Bars:
        """Return which bars those are."""
        return bars_around(self.known_plan, [note.id for note in self.notes], more)

    @property
    def known_plan(self) -> Plan:
        """Return the plan of the piece.

        Raises:
            NotHere: no place of a piece is known.
        """
        if self.plan is None or not self.notes:
            raise NotHere("This drill is made from bars of a piece", advice="Open it from a finding or a note.")
        return self.plan

    def one_of(self, choices: Sequence[str], usual: str = "") -> str:
        """Return which member of a pair is asked for; the usual one, or the first, if none is.

        Raises:
            NotFound: there is no such one.
        """
        member = self.ask.member or usual or choices[0]
        if member not in choices:
            raise NotFound(f"There is no such way of this drill: {member}", advice=f"Ways: {', '.join(choices)}.")
        return member
