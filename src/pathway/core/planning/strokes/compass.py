"""Which of a part's notes lie on the instrument: the others are left out, or moved by octaves as the player wishes."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from pathway.core.music import Event, Head, Part, pitch_name
from pathway.core.planning.wishes import Lock
from pathway.core.rig.instrument import Instrument
from pathway.core.technique.voicings import HIGHEST
from pathway.errors import ScoreError

ARTIFICIAL = 24  # a touched fourth sounds so much above the stopped note [semitones]
MOST_LEFT_OUT = 0.5  # share of the bowed notes: beyond it the part is another instrument's


@dataclass(frozen=True, slots=True)
class LeftOut:
    """Pitches of an event that the instrument does not have."""

    event: Event  # as written
    pitches: tuple[int, ...]


def lies_on(head: Head, instrument: Instrument) -> bool:
    """Whether an instrument has a pitch."""
    lowest, highest = instrument.strings[0].midi, instrument.strings[-1].midi + HIGHEST
    return lowest <= head.midi <= highest + ARTIFICIAL * head.harmonic


@dataclass(frozen=True, slots=True)
class Otherwise:
    """Pitches that the player wishes other than printed, by note."""

    octaves: Mapping[str, int]  # how many higher
    voicings: Mapping[str, tuple[int, ...]]  # the pitches of a chord

    @classmethod
    def of(cls, locks: Mapping[str, Lock]) -> "Otherwise":
        """Return what some locks wish."""
        return cls(
            {note: lock.octave for note, lock in locks.items() if lock.octave},
            {note: lock.voicing for note, lock in locks.items() if lock.voicing},
        )

    def __bool__(self) -> bool:
        return bool(self.octaves or self.voicings)


def played_on(part: Part, instrument: Instrument, wished: Otherwise) -> Part:
    """Return a part as an instrument plays it: heads in the octaves wished for, those outside it left out.

    Raises:
        ScoreError: most of its notes lie outside; names the first one.
    """
    lowest, highest = part.compass
    if not wished and lowest >= instrument.strings[0].midi and highest <= instrument.strings[-1].midi + HIGHEST:
        return part
    events = tuple(
        _played(_voiced(event, wished.voicings.get(event.id)), instrument, wished.octaves.get(event.id, 0))
        for event in part.events
    )
    out = [event for event in events if event.left_out]
    if len(out) > MOST_LEFT_OUT * sum(not event.plucked for event in events):
        first = part.event[out[0].id]
        side = "below the lowest" if first.top.midi < instrument.strings[0].midi else "above the highest"
        raise ScoreError(
            f"{pitch_name(first.top.midi)} is {side} note of the {instrument.name}, and most others are so",
            place=part.place(first),
            advice="Choose another part or another instrument.",
        )
    return replace(part, events=events)


def left_out(part: Part, instrument: Instrument, wished: Otherwise) -> list[LeftOut]:
    """Return what of a part as written an instrument leaves out."""
    played = played_on(part, instrument, wished)
    if played is part:
        return []
    found = []
    for event, now in zip(part.events, played.events, strict=True):
        if event.id in wished.voicings:
            continue
        kept = {head.id for head in now.heads} if now.bowed else set()
        pitches = tuple(head.midi for head in event.heads if head.id not in kept)
        if pitches and not event.plucked:
            found.append(LeftOut(event, pitches))
    return found


def octave_within(event: Event, instrument: Instrument) -> int | None:
    """Return by how many octaves the heads outside an instrument have to move, the fewest; None if none does."""
    outside = [head for head in event.heads if not lies_on(head, instrument)]
    for octave in (1, -1, 2, -2, 3, -3):
        if all(lies_on(replace(head, midi=head.midi + 12 * octave), instrument) for head in outside):
            return octave
    return None


def _voiced(event: Event, voicing: tuple[int, ...] | None) -> Event:
    """Return a chord with the pitches wished for: each on the head of its own name, other heads left out."""
    if voicing is None:
        return event
    heads: list[Head] = []
    for pitch in voicing:
        free = [head for head in event.heads if head.id not in {one.id for one in heads}]
        like = sorted((head for head in free if (head.midi - pitch) % 12 == 0), key=lambda head: abs(head.midi - pitch))
        heads += [replace(head, midi=pitch) for head in like[:1]]
    return replace(event, heads=tuple(heads)) if heads else event


def _played(event: Event, instrument: Instrument, octave: int) -> Event:
    if event.plucked:
        return event
    inside = [lies_on(head, instrument) for head in event.heads]
    if all(inside) and not octave:
        return event
    moved = tuple(
        replace(head, midi=head.midi + 12 * octave) if all(inside) or not fits else head
        for head, fits in zip(event.heads, inside, strict=True)
    )
    heads = tuple(head for head in moved if lies_on(head, instrument))
    return replace(event, heads=heads) if heads else replace(event, left_out=True)
