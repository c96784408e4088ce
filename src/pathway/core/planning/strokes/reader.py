"""Reads strokes off a part: groups of notes under one bow, on the clock and on the level curve."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

import numpy as np
from msgspec import Struct, structs

from pathway.core.music import Clock, Event, Mark, Part
from pathway.core.planning.strokes.asks import Ask
from pathway.core.planning.strokes.levels import LATE, LevelCurve
from pathway.core.planning.strokes.segments import FIRST_BEAT, HALF_BAR, Note, Segment, strength_of_event
from pathway.core.planning.wishes import Break, Lock, Profile, Style
from pathway.core.technique.endings import Exit
from pathway.core.technique.notation import at_rate, contradiction, type_of
from pathway.core.technique.stroke_types import STROKE_TYPES, StrokeType

GRACE = 0.07  # time of a grace note, taken from its main note [s], our estimate
GRACE_SHARE = 0.5  # most of the main note that its grace notes may take together
SAME_PLACE = 1e-6  # [quarters]
TREMOLO_LEVELS, TREMOLO_RATES = (-14.0, 8.0), (10.0, 14.0)  # dynamics [dB] → strokes a second of a tremolo
UNCOUNTED = TREMOLO_RATES[0]  # repeated notes as fast as these are played as a tremolo [1/s]
THIRTY_SECOND, FREE_FROM = Fraction(1, 8), 8.0  # three slashes are counted where they are slower than this [1/s]
REBOUNDING = {"spiccato", "short-detache"}  # what dots mean on a bow that does not rebound by itself
REBOUNDS_UP_TO = 7.0  # notes a second
CHANGED_LEVEL = 1.0  # a stroke grows or fades if its ends differ by this [dB]
_EVEN = Profile.EVEN  # looked up once: an enumeration looks its members up by name


def group_into_strokes(part: Part, divides: Mapping[str, Break] | None = None) -> list[list[Event]]:
    """Return the bowed events of each stroke, in order: ties and slurs joined, grace notes with their main.

    Args:
        part: the part as written.
        divides: where the player begins a stroke, or goes on in one, against the page.
    """
    divides = divides or {}
    starts = {slur.start for slur in part.slurs}
    ends = {slur.start: slur.end for slur in part.slurs}
    strokes: list[list[Event]] = []
    until = -1  # index of the last event that the running slur covers
    graces: list[Event] = []
    last_end = -1.0
    for i, event in enumerate(part.events):
        if event.plucked:
            until, last_end = -1, -1.0
        if not event.bowed:
            continue
        inside = i <= until
        follows = abs(event.place - last_end) < SAME_PLACE
        joined = follows and bool(strokes) and not graces
        joined = joined and event.id not in starts and event.bow is None and (event.tied or event.held or inside)
        if event.id in divides:
            joined = divides[event.id] is Break.JOIN and bool(strokes) and not graces
        if event.id in ends:
            until = max(part.index.get(ends[event.id], i), i)
        if event.grace and not joined:
            graces.append(event)
            continue
        if joined:
            strokes[-1].append(event)
        else:
            strokes.append([*graces, event])
            graces = []
        last_end = event.until
    if graces:
        strokes.append(graces)
    return strokes


def segments_of(
    part: Part,
    clock: Clock,
    asks: Sequence[Ask],
    locks: Mapping[str, Lock] | None = None,
    known: "Known | None" = None,
) -> list[Segment]:
    """Return the part's strokes with their times, levels and musical weight.

    Args:
        part: the part as written.
        clock: its times.
        asks: what is asked of every event.
        locks: the player's, by note; those that shape strokes count here.
        known: strokes on the same clock under other locks, or asked for otherwise.
    """
    locks = locks or {}
    reader = _Reader(part, clock, asks)
    if known is None:
        return _read(reader, group_into_strokes(part, _divides(locks)), locks)
    groups = known.groups
    if part is not known.part or _divides(locks) != _divides(known.locks):
        groups = group_into_strokes(part, _divides(locks))
    return _read(reader, groups, locks, known.kept(groups, locks, asks))


def _divides(locks: Mapping[str, Lock]) -> dict[str, Break]:
    return {note: lock.divide for note, lock in locks.items() if lock.divide is not None}


def read_again(
    part: Part, clock: Clock, asks: Sequence[Ask], segments: Sequence[Segment], span: slice, locks: Mapping[str, Lock]
) -> list[Segment]:
    """Return some of a part's strokes at other times.

    Args:
        part: the part as written.
        clock: its times.
        asks: what is asked of every event.
        segments: all its strokes as written.
        span: which of them.
        locks: the player's, by note; those that shape strokes count here.
    """
    before = max(span.start - 1, 0)  # its end tells the silence before the first
    groups = [[note.event for note in segment.notes] for segment in segments[before : span.stop + 1]]
    read = _read(_Reader(part, clock, asks), groups, locks)
    return read[span.start - before : span.stop - before]


def _read(
    reader: "_Reader", groups: Sequence[list[Event]], locks: Mapping[str, Lock], kept: Sequence[Segment | None] = ()
) -> list[Segment]:
    """Return the strokes of some groups; those that are known are kept, if the bow is as long silent before them."""
    result: list[Segment] = []
    for k, group in enumerate(groups):
        segment = kept[k] if kept else None
        if segment is not None and k and result[-1] is kept[k - 1]:
            result.append(segment)  # it follows what it followed
            continue
        free_since = result[-1].end if result else None
        if segment is None or segment.rest_before != _silence(free_since, segment.begin):
            following = groups[k + 1] if k + 1 < len(groups) else None
            segment = reader.segment(group, following, free_since, locks.get(group[0].id))
        result.append(segment)
    return result


def _silence(free_since: float | None, begin: float) -> float:
    """Return how long the bow is silent before a stroke [s]."""
    silent = 0.0 if free_since is None else begin - free_since
    return silent if silent > 0 else 0.0


@dataclass(frozen=True)
class Known:
    """The strokes of a part as written under other wishes: those that would come out the same are taken over."""

    part: Part
    segments: Sequence[Segment]
    asks: Sequence[Ask]
    locks: Mapping[str, Lock]

    @cached_property
    def groups(self) -> list[list[Event]]:
        """Return the events of every stroke."""
        return [[note.event for note in segment.notes] for segment in self.segments]

    def kept(
        self, groups: Sequence[list[Event]], locks: Mapping[str, Lock], asks: Sequence[Ask]
    ) -> list[Segment | None]:
        """Return the known stroke of every group, or None where the events, its lock or what is asked are others.

        At both ends the groups are the known ones. A stroke looks to the one after it, too.
        """
        before, after = shared_ends(self.groups, groups)
        between = len(groups) - before - after
        found = [*self.segments[:before], *[None] * between, *self.segments[len(self.segments) - after :]]
        if before and before + after < max(len(groups), len(self.groups)):  # some have come or gone behind it
            found[before - 1] = None
        locked = {note for note in {*locks, *self.locks} if locks.get(note) != self.locks.get(note)}
        pairs = zip(self.part.events, asks, self.asks, strict=True) if asks is not self.asks else ()
        asked = {event.id for event, ask, old in pairs if ask is not old and ask != old}
        for k, group in enumerate(groups) if locked or asked else ():
            if group[0].id in locked or (asked and any(event.id in asked for event in group)):
                found[k] = None
        return found


def shared_ends(then: Sequence[object], now: Sequence[object]) -> tuple[int, int]:
    """Return how many values two sequences share at their beginnings, and at their ends beyond that."""
    least = min(len(then), len(now))
    before = next((i for i in range(least) if then[i] != now[i]), least)
    return before, next((i for i in range(least - before) if then[-1 - i] != now[-1 - i]), least - before)


class _Read(Struct, frozen=True):
    """An event on the clock and on the level curve."""

    event: Event
    ask: Ask
    begin: float  # [s]
    end: float  # [s]
    opening: float  # level as it begins [dB]
    closing: float  # and near its end [dB]
    bows: "_Bows"


class _Bows(Struct, frozen=True):
    """In how many strokes to and fro a note is repeated."""

    number: int = 0  # 0 where it is not
    free: bool = False  # as many as come, rather than counted


_ONE_STROKE = _Bows()


def _bows(event: Event, seconds: float, level: float) -> _Bows:
    """Return how a note is repeated: by a counted value, or freely, 10 to 14 a second by dynamic.

    Of free ones there is an odd number, so that the bow is left as after one stroke.
    """
    if event.repeated is not None:
        count = round(event.duration / event.repeated)
        if event.repeated > THIRTY_SECOND or count < FREE_FROM * seconds:
            return _Bows(count) if count > 1 else _ONE_STROKE
    elif Mark.TREMOLO not in event.marks:
        return _ONE_STROKE
    rate = float(np.interp(level, TREMOLO_LEVELS, TREMOLO_RATES))
    return _Bows(2 * round((rate * seconds - 1) / 2) + 1, free=True) if rate * seconds > 2 else _ONE_STROKE


class _Reader:
    """Reads strokes off a part."""

    def __init__(self, part: Part, clock: Clock, asks: Sequence[Ask]) -> None:
        self.part, self.clock, self.curve, self.asks = part, clock, LevelCurve(part), asks
        places, untils = part.places
        late = places + LATE * (untils - places)
        self._times: list[list[float]] = [clock.times(where).tolist() for where in (places, untils)]
        self._levels: list[list[float]] = [self.curve.along(where).tolist() for where in (places, late)]

    def segment(
        self, group: list[Event], following: list[Event] | None, free_since: float | None, lock: Lock | None
    ) -> Segment:
        """Return one stroke."""
        read = [self._read(event) for event in group]
        main = next((one for one in read if not one.event.grace), read[0])
        kind = self._kind(read, main, lock)
        notes = self._notes(read, kind, lock.exit if lock else None)
        strength = strength_of_event(self.part, main.event, main.ask)
        after = next((event for event in following or () if not event.grace), None)
        change = notes[-1].level_ends[1] - notes[0].level_ends[0]
        plain = Profile.SWELL if main.ask.style is Style.EARLY else _EVEN
        return Segment(
            notes=notes,
            kind=kind,
            rest_before=_silence(free_since, notes[0].begin),
            printed=next((event.bow for event in group if event.bow), None),
            strength=strength,
            first_of_bar=strength == FIRST_BEAT,
            upbeat=(after is None or after.measure != main.event.measure) and strength < HALF_BAR,
            grows=0 if abs(change) < CHANGED_LEVEL else (1 if change > 0 else -1),
            profile=(lock.profile if lock else None) or main.ask.profile or plain,
        )

    def _read(self, event: Event) -> _Read:
        i = self.part.index[event.id]
        ask, begin, end = self.asks[i], self._times[0][i], self._times[1][i]
        if ask.stress.swing != 1.0:
            begin, end = (self._swung(event, ask.stress.swing, place) for place in (event.place, event.until))
        opening, closing = self._levels[0][i], self._levels[1][i]
        bows = _bows(event, end - begin, (opening + closing) / 2)
        return _Read(event, ask, begin, end, opening, closing, bows)

    def _swung(self, event: Event, swing: float, onset: float) -> float:
        """Return when an event begins or ends [s] in a passage that swings."""
        measure = self.part.measures[event.measure]
        length = float(measure.beat_length)
        beats, share = divmod((onset - float(measure.onset)) / length, 1.0)
        turn = swing / (1 + swing)
        swung = share * 2 * turn if share < 0.5 else turn + (share - 0.5) * 2 * (1 - turn)
        return self.clock.seconds(float(measure.onset) + (beats + swung) * length)

    def _kind(self, read: Sequence[_Read], main: _Read, lock: Lock | None) -> StrokeType:
        if lock is not None and lock.kind is not None:
            return STROKE_TYPES[lock.kind]
        separate = sum(not one.event.tied and not one.event.grace for one in read)
        seconds = read[-1].end - main.begin
        rate = separate / seconds if seconds > 0 else 0.0
        repeated = [one.bows for one in read if one.bows.number]
        if repeated:
            separate, rate = 1, sum(one.number for one in repeated) / max(seconds, 1e-9)
            if rate >= UNCOUNTED or any(one.free for one in repeated):
                return STROKE_TYPES["tremolo"]
        printed = type_of(main.event.marks, separate, rate, (main.opening + main.closing) / 2)
        if main.ask.rebounds and printed.key in REBOUNDING and rate <= REBOUNDS_UP_TO and separate == 1:
            printed = STROKE_TYPES["rebound"]
        if main.ask.kind is None:
            return printed
        asked = at_rate(STROKE_TYPES[main.ask.kind], rate)
        against = contradiction(asked, main.event.marks, separate)
        return printed if against and not (main.ask.by_passage and against == "dots") else asked

    def _notes(self, read: Sequence[_Read], kind: StrokeType, exits: Exit | None) -> tuple[Note, ...]:
        notes: list[Note] = []
        waiting: list[_Read] = []
        for one in read:
            if one.event.grace:
                waiting.append(one)
                continue
            begin = self._graces(waiting, one.begin, one.end - one.begin, notes) if waiting else one.begin
            gap, last = one.ask.gap, one is read[-1]
            silent = kind.gap if gap is None or len(read) > 1 else gap
            if exits is not None and last:
                silent = max(silent, exits.silence) if exits is not Exit.JOINED else 0.0
            sounds = 1 - silent * (kind.stops_inside or last)
            notes.append(self._note(one, begin, one.end, (one.end - begin) * sounds))
        if waiting:
            self._last_graces(waiting, notes)
        return tuple(notes)

    def _last_graces(self, waiting: list[_Read], notes: list[Note]) -> None:
        """Lay grace notes that end a stroke into the end of the note before them, or by themselves."""
        begin = waiting[0].begin
        if not notes:
            self._graces(waiting, begin, GRACE * len(waiting) / GRACE_SHARE, notes)
            return
        before = notes[-1]
        begin -= len(waiting) * min(GRACE, GRACE_SHARE * (begin - before.begin) / len(waiting))
        notes[-1] = structs.replace(before, end=begin, sounding=min(before.sounding, begin - before.begin))
        self._graces(waiting, begin, (waiting[0].begin - begin) / GRACE_SHARE, notes)

    def _graces(self, waiting: list[_Read], begin: float, length: float, notes: list[Note]) -> float:
        """Lay the waiting grace notes at the beginning of a length of time [s]; return where they end [s]."""
        each = min(GRACE, GRACE_SHARE * length / len(waiting))
        for j, grace in enumerate(waiting):
            notes.append(self._note(grace, begin + j * each, begin + (j + 1) * each, each))
        end = begin + each * len(waiting)
        waiting.clear()
        return end

    def _note(self, read: _Read, begin: float, end: float, sounding: float) -> Note:
        event, ask = read.event, read.ask
        ends = read.opening + ask.offset_db, read.closing + ask.offset_db
        pulse = self.curve.pulse(event)
        return Note(event, begin, end, sounding, sum(ends) / 2, pulse, ends, ask, event.place, read.bows.number)
