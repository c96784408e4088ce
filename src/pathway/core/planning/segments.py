"""From notes to strokes: what one travel of the bow carries, before anything is known of its direction."""

from dataclasses import dataclass
from functools import cached_property

from pathway.core.music import Clock, Event, Measure, Part
from pathway.core.planning.levels import LevelCurve
from pathway.core.rig.bow import Direction
from pathway.core.technique.stroke_types import StrokeType, from_notation

GRACE = 0.07  # time of a grace note, taken from its main note [s], our estimate
GRACE_SHARE = 0.5  # most of the main note that its grace notes may take together
FIRST_BEAT, HALF_BAR, BEAT, OFF_BEAT = 1.0, 0.5, 0.25, 0.125
SAME_PLACE = 1e-6  # [quarters]
PHRASE_REST = 0.4  # a rest that ends a phrase [s]
CHANGED_LEVEL = 1.0  # a stroke grows or fades if its ends differ by this [dB]


@dataclass(frozen=True, slots=True)
class Note:
    """One event on the clock, with the level it asks for."""

    event: Event
    begin: float  # [s]
    end: float  # written end [s]
    sounding: float  # [s]
    level_db: float
    pulse_db: float


@dataclass(frozen=True)
class Segment:
    """The notes of one stroke and what speaks for one direction or the other."""

    notes: tuple[Note, ...]
    kind: StrokeType
    rest_before: float  # silence of the bow before it [s]
    printed: Direction | None
    strength: float  # metrical, 0 to 1
    first_of_bar: bool
    upbeat: bool  # the last weak stroke before a bar
    grows: int  # 1 growing, −1 fading, 0 neither

    @cached_property
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

    @cached_property
    def moving(self) -> float:
        """Return how long the bow moves [s]."""
        return sum(note.sounding for note in self.notes)

    @property
    def accented(self) -> bool:
        """Whether its first note is accented."""
        return self.notes[0].pulse_db > 0

    @property
    def is_chord(self) -> bool:
        """Whether its first note is a chord of three or more."""
        return len(self.notes[0].event.heads) > 2

    @property
    def starts_phrase(self) -> bool:
        """Whether it begins a phrase on a beat that carries weight."""
        return self.rest_before > PHRASE_REST and self.strength >= HALF_BAR


def strength_of(measure: Measure, beat: float) -> float:
    """Return the metrical strength of a beat of a bar, the first being 1."""
    if beat == 1:
        return FIRST_BEAT
    beats = float(measure.full / measure.beat_length)
    if beats % 2 == 0 and beat == 1 + beats / 2 and (beats == 4 or measure.beat_type in {2, 8}):
        return HALF_BAR
    return BEAT if beat == int(beat) else OFF_BEAT


def group_into_strokes(part: Part) -> list[list[Event]]:
    """Return the bowed events of each stroke, in order: ties and slurs joined, grace notes with their main."""
    starts = {slur.start for slur in part.slurs}
    ends = {slur.start: slur.end for slur in part.slurs}
    strokes: list[list[Event]] = []
    until = -1  # index of the last event that the running slur covers
    graces: list[Event] = []
    last_end = -1.0
    for i, event in enumerate(part.events):
        if event.plucked:
            until, last_end = -1, -1.0
            continue
        inside = i <= until
        follows = abs(float(event.onset) - last_end) < SAME_PLACE
        joined = follows and bool(strokes) and not graces
        joined = joined and event.id not in starts and event.bow is None and (event.tied or inside)
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
        last_end = _end(event)
    if graces:
        strokes.append(graces)
    return strokes


def segments_of(part: Part, clock: Clock) -> list[Segment]:
    """Return the part's strokes with their times, levels and musical weight."""
    curve = LevelCurve(part)
    groups = group_into_strokes(part)
    result: list[Segment] = []
    free_since = 0.0
    for k, group in enumerate(groups):
        main = next((event for event in group if not event.grace), group[0])
        measure = part.measures[main.measure]
        kind = _kind(group, main, clock)
        notes = _notes_on_clock(group, kind, clock, curve)
        strength = strength_of(measure, measure.beat_of(float(main.onset)))
        following = next((e for e in groups[k + 1] if not e.grace), None) if k + 1 < len(groups) else None
        ends_bar = following is None or following.measure != main.measure
        change = curve.late(group[-1]) - curve.at(float(main.onset))
        result.append(
            Segment(
                notes=notes,
                kind=kind,
                rest_before=max(0.0, notes[0].begin - free_since) if result else 0.0,
                printed=next((event.bow for event in group if event.bow), None),
                strength=strength,
                first_of_bar=strength == FIRST_BEAT,
                upbeat=ends_bar and strength < HALF_BAR,
                grows=0 if abs(change) < CHANGED_LEVEL else (1 if change > 0 else -1),
            )
        )
        free_since = notes[-1].end
    return result


def _end(event: Event) -> float:
    return float(event.onset) + float(event.duration)


def _kind(group: list[Event], main: Event, clock: Clock) -> StrokeType:
    separate = [event for event in group if not event.tied and not event.grace]
    seconds = clock.seconds(_end(group[-1])) - clock.seconds(float(main.onset))
    rate = len(separate) / seconds if seconds > 0 else 0.0
    return from_notation(main.marks, len(separate), rate)


def _notes_on_clock(group: list[Event], kind: StrokeType, clock: Clock, curve: LevelCurve) -> tuple[Note, ...]:
    notes: list[Note] = []
    waiting: list[Event] = []

    def place(event: Event, begin: float, end: float, sounding: float) -> None:
        notes.append(Note(event, begin, end, sounding, curve.of(event), curve.pulse(event)))

    def place_graces(begin: float, length: float) -> float:
        each = min(GRACE, GRACE_SHARE * length / len(waiting)) if waiting else 0.0
        for j, grace in enumerate(waiting):
            place(grace, begin + j * each, begin + (j + 1) * each, each)
        taken = each * len(waiting)
        waiting.clear()
        return begin + taken

    for event in group:
        begin, end = clock.seconds(float(event.onset)), clock.seconds(_end(event))
        if event.grace:
            waiting.append(event)
            continue
        begin = place_graces(begin, end - begin)
        silent = kind.gap if kind.stops_inside or event is group[-1] else 0.0
        place(event, begin, end, (end - begin) * (1 - silent))
    place_graces(clock.seconds(float(group[-1].onset)), GRACE)
    return tuple(notes)
