"""Which wishes can be: passages that do not overlap, locks that do not contradict each other."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from itertools import pairwise

from pathway.core.music import Part
from pathway.core.planning.wishes import Break, Lock, Passage, identified
from pathway.core.rig.instrument import Instrument, Rig
from pathway.core.says import outside
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import OutOfRange, PlanError

RETUNED = 7  # most that a string bears to be tuned up or down [semitones], our choice


def tunable(instrument: Instrument, tuning: Sequence[int]) -> bool:
    """Whether an instrument's strings can be tuned to some pitches."""
    return not tuning or (
        len(tuning) == len(instrument.strings)
        and all(abs(midi - string.midi) <= RETUNED for midi, string in zip(tuning, instrument.strings, strict=True))
        and all(low < high for low, high in pairwise(tuning))
    )


def tuned(rig: Rig, tuning: Sequence[int]) -> Rig:
    """Return a rig with its strings at some pitches.

    Raises:
        PlanError: its strings cannot be tuned so.
    """
    if not tunable(rig.instrument, tuning):
        raise PlanError(
            f"The strings of the {rig.instrument.name} cannot be tuned so",
            advice=f"One pitch for each, rising, at most {RETUNED} semitones from its own.",
        )
    return rig.tuned(tuning)


def checked_passages(part: Part, passages: Sequence[Passage], strings: int) -> tuple[Passage, ...]:
    """Return the passages in the order of the music, with their relations worked into their levels.

    Raises:
        PlanError: notes that are not there, passages that overlap, relations that go round in a circle.
        OutOfRange: a number no player can mean.
    """
    passages = identified(passages)
    spans = [_span(part, n, passage) for n, passage in enumerate(passages, start=1)]
    for n, passage in enumerate(passages, start=1):
        _check_values(n, passage, strings)
    order = sorted(range(len(passages)), key=lambda i: spans[i])
    for i, j in pairwise(order):
        if spans[j][0] <= spans[i][1]:
            where = part.place(part.events[spans[j][0]])
            raise PlanError(
                f"Passages {i + 1} and {j + 1} overlap", place=where, advice="Let one end before the other begins."
            )
    levels = levels_of(passages)
    return tuple(replace(passages[i], offset_db=levels[passages[i].id], relation=None) for i in order)


def levels_of(passages: Sequence[Passage]) -> dict[int, float]:
    """Return how much louder than written every passage is [dB], its relation to others worked in, by its id.

    Raises:
        PlanError: relations to passages that there are not, or that go round in a circle.
    """
    return {passage.id: _level_of(passages, n, ()) for n, passage in enumerate(passages)}


def _span(part: Part, n: int, passage: Passage) -> tuple[int, int]:
    for id_ in (passage.start, passage.end):
        if id_ not in part.index:
            raise PlanError(f"Passage {n} lies outside the piece: there is no note {id_!r}")
    first, last = part.index[passage.start], part.index[passage.end]
    if first > last:
        raise PlanError(f"Passage {n} ends before it begins", place=part.place(part.events[first]))
    return first, last


def _check_values(n: int, passage: Passage, strings: int) -> None:
    if passage.kind is not None and passage.kind not in STROKE_TYPES:
        raise PlanError(
            f"Passage {n} asks for a stroke type {passage.kind!r} that there is not",
            advice=f"Types: {', '.join(STROKE_TYPES)}.",
        )
    for value in (passage, passage.stress):
        for name, number, low, high in outside(value):
            raise OutOfRange(f"{name} of passage {n}", number, low, high)
    if passage.string is not None and not 0 <= passage.string < strings:
        raise OutOfRange(f"string of passage {n}", passage.string, 0, strings - 1)
    stress = passage.stress
    if any(not 1 <= bar <= stress.group for bar in stress.bars):
        raise PlanError(f"Passage {n}: the heavy bars must lie in their group of {stress.group}")


def _level_of(passages: Sequence[Passage], i: int, seen: tuple[int, ...]) -> float:
    relation = passages[i].relation
    if relation is None:
        return passages[i].offset_db
    other = next((n for n, passage in enumerate(passages) if passage.id == relation.to), None)
    if other is None:
        raise PlanError(
            f"Passage {i + 1} leans on passage {relation.to}, which there is not",
            advice="Let it lean on another one, or stand alone.",
        )
    if i in seen:
        raise PlanError(f"Passage {i + 1} leans on itself, by way of others", advice="Let one of them stand alone.")
    return _level_of(passages, other, (*seen, i)) + relation.by_db


def checked_locks(part: Part, locks: Iterable[Lock]) -> dict[str, Lock]:
    """Return the locks by note.

    Raises:
        PlanError: a note that is not there, or wishes that contradict each other; names the note.
    """
    found: dict[str, Lock] = {}
    for lock in locks:
        if lock.note not in part.index:
            raise PlanError(f"There is no note {lock.note!r} to lock")
        try:
            if lock.note in found:
                raise PlanError("Two locks on one note", advice="Put their wishes into one.")
            _check(lock)
        except PlanError as error:
            raise error.at(part.place(part.event[lock.note])) from None
        found[lock.note] = lock
    return found


def _check(lock: Lock) -> None:
    if lock.kind is not None and lock.kind not in STROKE_TYPES:
        raise PlanError(f"There is no stroke type {lock.kind!r}")
    _check_places(lock)
    for name, value, low, high in outside(lock):
        raise PlanError(f"The {name} cannot be {value:g}", advice=f"{low:g} to {high:g}.")


def _check_places(lock: Lock) -> None:
    if lock.divide is Break.JOIN and (lock.direction or lock.link is not None or lock.start is not None):
        raise PlanError(
            "A note that is joined to the bow before cannot have a direction or a start of its own",
            advice="Take one of the two wishes back.",
        )
    if lock.start is None or lock.end is None:
        return
    way = lock.end - lock.start
    if lock.direction is not None and way * lock.direction <= 0:
        raise PlanError(
            f"A {lock.direction.word}-bow cannot go from {100 * lock.start:g} to {100 * lock.end:g} cm",
            advice="Turn the bow, or exchange start and end.",
        )
