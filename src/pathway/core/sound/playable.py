"""What of a plan is needed to play it: its bows and notes, what is plucked, and where a mute is on."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from pathway.core.music import Event
from pathway.core.planning import clock_of
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.rig.instrument import Instrument, Rig

_OFF = ("senza", "via", "without", "take off", "no ")


@dataclass(frozen=True, slots=True)
class Plucked:
    """A pitch that a finger plucks."""

    midi: int
    string: int  # 0 is the lowest


@dataclass(frozen=True)
class Playable:
    """Bows, notes and plucked notes, as they follow one another."""

    rig: Rig
    strokes: Sequence[StrokePlan]
    notes: Sequence[NotePlan]
    plucked: Mapping[str, tuple[Plucked, ...]]  # by note
    muted: tuple[tuple[float, float], ...] = ()  # from when to when [s]

    @cached_property
    def note(self) -> dict[str, NotePlan]:
        """Return the notes by id."""
        return {note.id: note for note in self.notes}


def playable(plan: Plan) -> Playable:
    """Return what of a plan is needed to play it."""
    events = plan.part.event
    picked = [note for note in plan.unbowed if events[note.id].plucked and not events[note.id].left_out]
    instrument = plan.rig.instrument
    plucked = {note.id: _plucked(instrument, events[note.id]) for note in picked}
    return Playable(plan.rig, plan.strokes, plan.notes, plucked, tuple(_muted(plan)))


def _plucked(instrument: Instrument, event: Event) -> tuple[Plucked, ...]:
    """Return pitches and strings: as printed, or on the highest string that has them."""
    found: list[Plucked] = []
    strings = len(instrument.strings)
    for head in sorted(event.heads, key=lambda head: -head.midi):
        taken = {one.string for one in found}
        fits = [i for i, string in enumerate(instrument.strings) if string.midi <= head.midi and i not in taken]
        printed = head.string is not None and 1 <= head.string <= strings
        string = strings - (head.string or 0) if printed else max(fits, default=0)
        found.append(Plucked(head.midi, string))
    return tuple(found)


def _muted(plan: Plan) -> list[tuple[float, float]]:
    """Return where words in the part put a mute on the bridge, and take it off."""
    clock = clock_of(plan.part, plan.draft.settings)
    spans: list[tuple[float, float]] = []
    since: float | None = None
    for words in plan.part.words:
        text, at = words.text.lower(), clock.seconds(float(words.onset))
        if "sord" not in text and "mute" not in text:
            continue
        if text.startswith(_OFF):
            spans += [] if since is None else [(since, at)]
            since = None
        elif since is None:
            since = at
    end = plan.notes[-1].onset + plan.notes[-1].duration + 10 if plan.notes else 0.0
    return spans + ([] if since is None else [(since, end)])
