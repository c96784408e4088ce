"""Bars of a piece cut out of it, with what holds for them: signs, passages, locks, the hair of their bows."""

from collections.abc import Collection
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import TypeVar

from pathway.core.music import Dynamic, Event, Part, Slur, TempoMark
from pathway.core.planning import Path, tempo_marks
from pathway.core.planning.plan import Plan
from pathway.core.planning.wishes import Link, Lock, Passage
from pathway.core.practice.drill import Work

MOST_BARS = 6  # of one drill
Sign = TypeVar("Sign", Dynamic, TempoMark)


@dataclass(frozen=True, slots=True)
class Bars:
    """Some bars of a piece, counted from 0; the place itself, and how many belong to its surroundings."""

    first: int
    last: int


def bars_around(plan: Plan, notes: Collection[str], more: int = 0) -> Bars:
    """Return the bars of some notes with what leads in and the note that they land on; MOST_BARS at most.

    Args:
        plan: of the piece.
        notes: of the place.
        more: further bars on both sides.
    """
    part = plan.part
    places = sorted(part.index[id_] for id_ in notes)
    first, last = part.events[places[0]].measure, part.events[places[-1]].measure
    last = min(last, first + MOST_BARS - 1)
    opens = places[0] == 0 or part.events[places[0] - 1].measure != first
    closes = places[-1] + 1 < len(part.events) and part.events[places[-1] + 1].measure != last
    if opens and first > 0 and last - first + 1 < MOST_BARS:
        first -= 1
    if closes and last - first + 1 < MOST_BARS:
        last += 1
    return Bars(max(first - more, 0), min(last + more, len(part.measures) - 1))


def cut_out(plan: Plan, bars: Bars) -> Work:
    """Return bars of a piece as they are planned there: their notes keep their ids."""
    part = plan.part
    begin = part.measures[bars.first].onset
    end = part.measures[bars.last].onset + part.measures[bars.last].length
    events = [event for event in part.events if bars.first <= event.measure <= bars.last]
    ids = {event.id for event in events}
    cut = _part(plan, bars, begin, end, events)
    settings = plan.draft.settings
    passages = tuple(_clipped(part, passage, events) for passage in settings.passages if _touches(part, passage, ids))
    kept = replace(settings, tempo_bpm=None, passages=passages, tempi=())
    locks = tuple(_freed(lock, events[0].id) for note, lock in plan.locks.items() if note in ids)
    return Work(cut, kept, locks, _path(plan, ids), (bars.first, bars.last))


def _part(plan: Plan, bars: Bars, begin: Fraction, end: Fraction, events: list[Event]) -> Part:
    """Return the bars as a part that begins with them."""
    part = plan.part
    moved = tuple(
        replace(
            event,
            measure=event.measure - bars.first,
            onset=event.onset - begin,
            tied=event.tied and i > 0,
            heads=tuple(replace(head, held=head.held and i > 0) for head in event.heads),
        )
        for i, event in enumerate(events)
    )
    measures = tuple(replace(m, onset=m.onset - begin) for m in part.measures[bars.first : bars.last + 1])
    tempos = tempo_marks(part, plan.draft.settings)
    factor = plan.draft.tempo_bpm / part.tempo.beats_per_minute
    marks = tuple(
        replace(
            mark,
            onset=max(mark.onset - begin, Fraction(0)),
            quarters_per_minute=mark.quarters_per_minute * factor,
            word="",
            assumed=False,
        )
        for mark in _in_force(tempos, begin, end)
    )
    dynamics = tuple(replace(d, onset=max(d.onset - begin, Fraction(0))) for d in _loudness(part.dynamics, begin, end))
    hairpins = tuple(
        replace(h, start=max(h.start - begin, Fraction(0)), end=min(h.end, end) - begin)
        for h in part.hairpins
        if h.start < end and h.end > begin
    )
    return replace(
        part,
        measures=measures,
        events=moved,
        slurs=tuple(filter(None, (_slur(part, slur, events) for slur in part.slurs))),
        dynamics=dynamics,
        hairpins=hairpins,
        tempos=marks,
        words=tuple(replace(w, onset=w.onset - begin) for w in part.words if begin <= w.onset < end),
        stretches=tuple(
            replace(s, start=max(s.start - begin, Fraction(0)), end=min(s.end, end) - begin)
            for s in part.stretches
            if s.start < end and s.end > begin
        ),
        repeats=(),
        sections=(),
        notices=(),
    )


def _in_force(marks: tuple[Sign, ...], begin: Fraction, end: Fraction) -> list[Sign]:
    """Return the marks from a place on, and the last one before it."""
    before = [mark for mark in marks if mark.onset <= begin]
    return before[-1:] + [mark for mark in marks if begin < mark.onset < end]


def _loudness(marks: tuple[Dynamic, ...], begin: Fraction, end: Fraction) -> list[Dynamic]:
    """Return the dynamics of a place, and the last level before it."""
    levels = [mark for mark in marks if mark.level_db is not None and mark.onset < begin]
    held = [Dynamic(mark.onset, mark.level_db) for mark in levels[-1:]]
    return held + [mark for mark in marks if begin <= mark.onset < end]


def _slur(part: Part, slur: Slur, events: list[Event]) -> Slur | None:
    """Return what of a slur lies in the bars."""
    first, last = part.index[events[0].id], part.index[events[-1].id]
    start, end = max(part.index[slur.start], first), min(part.index[slur.end], last)
    return Slur(part.events[start].id, part.events[end].id) if start < end else None


def _touches(part: Part, passage: Passage, ids: set[str]) -> bool:
    return any(part.events[i].id in ids for i in range(part.index[passage.start], part.index[passage.end] + 1))


def _clipped(part: Part, passage: Passage, events: list[Event]) -> Passage:
    """Return what of a passage lies in the bars, with a level of its own."""
    first, last = part.index[events[0].id], part.index[events[-1].id]
    start, end = max(part.index[passage.start], first), min(part.index[passage.end], last)
    return replace(passage, start=part.events[start].id, end=part.events[end].id, relation=None)


def _freed(lock: Lock, first: str) -> Lock:
    """Return a lock; the first bow of the bars does not follow another one."""
    return replace(lock, link=None) if lock.note == first else lock


def _path(plan: Plan, ids: set[str]) -> Path | None:
    """Return the hair of the bows that lie wholly in the bars; nothing where one is cut."""
    inside = [k for k, stroke in enumerate(plan.strokes) if not ids.isdisjoint(stroke.notes)]
    if not inside or any(not ids.issuperset(plan.strokes[k].notes) for k in inside):
        return None
    path = plan.path.part(slice(inside[0], inside[-1] + 1))
    links = path.links.copy()
    links[0] = Link.FIRST
    return replace(path, links=links)
