"""Where a plan lies under an engraved system: ribbons, lanes, strings and signs. Lengths in CSS pixels.

Time runs to the right through the heads of the notes; the bow lies across it, frog at the top edge of its track.
"""

import math
from bisect import bisect_right
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.physics.string import CLOSEST, FURTHEST, LANES
from pathway.core.planning.finding import Finding
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import Link
from pathway.core.technique.crossings import CrossingManner, Sense
from pathway.formats.staves import System
from pathway.web.shared.tracks.look import WHOLE_LOOK, Look

SIGNS, _GAP = 18.0, 12.0  # room for the signs above the system, and between its tracks
LANE, STRING_ROW = 6.5, 11.0  # heights of one lane, of one string
_FOOT = 14.0
_THIN, _THICK = 2.5, 9.0  # of a ribbon without weight and at the most comfortable weight
STRAND = 1.4  # least width of one of several strands
BOW_WIDTH = 4.5  # least width of one bow of a tremolo [px]
SPLIT = 2.0  # left open where a chord turns to other strings
SIGN_ABOVE = 9.0
END_ROOM = 14.0  # from the last note's end to the system's edge
HOP_IN = 14.0  # of a hop that comes from the system before
RISE = 0.18  # of the bow's track that a retake's hop rises


@dataclass(frozen=True, slots=True)
class RibbonPiece:
    """One note's share of a ribbon."""

    note: str
    x0: float
    y0: float
    x1: float
    y1: float
    strands: tuple[float, ...]  # width for the weight on each string, the highest first
    tone: str
    paint: str  # class of its colour
    bows: int = 1  # to and fro, as many as can be drawn


@dataclass(frozen=True, slots=True)
class Ribbon:
    """One stroke, or what of it lies in this system."""

    stroke: str
    direction: str
    notes: tuple[str, ...]  # of the whole stroke
    pieces: tuple[RibbonPiece, ...]
    joints: tuple[tuple[float, float], ...]
    entry: str
    hop: tuple[float, float, float, float] | None  # from the end before to the start, if retaken
    locked: bool
    pins: tuple[tuple[float, float], ...] = ()  # a start or an end that the player set
    moved: bool = False  # by the last edit


@dataclass(frozen=True, slots=True)
class Sign:
    """The sign of one stroke above its first note."""

    stroke: str
    x: float
    y: float
    down: bool
    fixed: str  # "locked", "printed", "proposed" or ""


@dataclass(frozen=True, slots=True)
class LevelLine:
    """A level line of a track: a lane's place or a string's time."""

    note: str
    x0: float
    x1: float
    y: float
    locked: bool = False


@dataclass(frozen=True, slots=True)
class Crossed:
    """A line from string to string."""

    x0: float
    y0: float
    x1: float
    y1: float
    sense: Sense
    how: CrossingManner


@dataclass(frozen=True, slots=True)
class Hit:
    """The area that selects a note."""

    note: str
    x0: float
    x1: float
    label: str


@dataclass(frozen=True)
class Tracks:
    """Everything drawn over and under one engraved system."""

    index: int
    width: float
    height: float
    left: float
    right: float
    hair_top: float
    hair: float  # height of its track; 0 where only the signs are wanted
    hair_cm: float
    lanes_top: float
    strings_top: float
    balance_y: float
    lane_count: int  # 0 where they are folded
    string_names: tuple[str, ...]  # from the top row; none where they are folded
    bars: tuple[float, ...]
    ribbons: tuple[Ribbon, ...]
    signs: tuple[Sign, ...]
    lanes: tuple[LevelLine, ...]
    strings: tuple[LevelLine, ...]
    crossings: tuple[Crossed, ...]
    hits: tuple[Hit, ...]
    findings: tuple[tuple[float, str, str], ...]  # x, severity, code


class PlanIndex:
    """A plan ordered for drawing: its notes in time, and what belongs to them."""

    def __init__(self, plan: Plan, findings: Sequence[Finding] = ()) -> None:
        self.plan = plan
        self.order = plan.part.index
        self.finding_of = {finding.notes[0]: finding for finding in reversed(findings)}

    def ids_in(self, system: System) -> list[str]:
        """Return the ids of the notes that stand in a system, in order of time."""
        return sorted((id_ for id_ in system.notes if id_ in self.plan.note), key=self.order.__getitem__)

    def notes_in(self, system: System) -> list[NotePlan]:
        """Return the notes that stand in a system, in order of time."""
        return [self.plan.note[id_] for id_ in self.ids_in(system)]

    def next_onset(self, note: NotePlan) -> float:
        """Return when the note after one begins, or when the last one ends [s]."""
        after = self.plan.note.after(note.id)
        return after.onset if after else note.onset + note.duration

    def before(self, stroke: StrokePlan) -> StrokePlan | None:
        """Return the stroke before one."""
        k = self.plan.stroke_index[stroke.id]
        return self.plan.strokes[k - 1] if k else None


def system_height(system: System, strings: int, look: Look = WHOLE_LOOK) -> float:
    """Return the height of a system with those of its tracks that are not folded."""
    lanes = _GAP + LANES * LANE if look.lanes else 0.0
    rows = _GAP + strings * STRING_ROW if look.strings else 0.0
    return SIGNS + system.height + look.hair + lanes + rows + _FOOT


def tracks_of(
    index: PlanIndex,
    system: System,
    number: int,
    moved: Collection[str] = (),
    look: Look = WHOLE_LOOK,
    say: Speech = PLAIN,
) -> Tracks:
    """Return the tracks of one system as a player looks at it; strokes that moved are told apart."""
    return _Drawer(index, system, number, moved, look, say).tracks()


class _Drawer:
    def __init__(
        self, index: PlanIndex, system: System, number: int, moved: Collection[str], look: Look, say: Speech
    ) -> None:
        self.index, self.system, self.number, self.moved, self.look = index, system, number, moved, look
        self.say = say
        self.plan = index.plan
        self.notes = index.notes_in(system)
        self.names = [s.letter for s in self.plan.rig.instrument.strings]
        self.hair_top = SIGNS + system.height
        self.lanes_top = self.hair_top + look.hair + _GAP
        self.strings_top = self.lanes_top + (LANES * LANE + _GAP if look.lanes else 0.0)
        self.right = max(system.staff_right, max((s.x for s in system.notes.values()), default=0.0) + END_ROOM)
        times = [note.onset for note in self.notes]
        places = [system.notes[note.id].x for note in self.notes]
        if self.notes:
            times.append(max(index.next_onset(self.notes[-1]), times[-1] + 1e-3))
            places.append(self.right - END_ROOM / 2)
        self.times, self.places = times, places

    def x(self, time: float) -> float:
        """Return where a time lies; a note's head is its onset."""
        times, places = self.times, self.places
        i = bisect_right(times, time)
        if i == 0 or i == len(times):
            return places[min(i, len(times) - 1)]
        share = (time - times[i - 1]) / (times[i] - times[i - 1])
        return places[i - 1] + share * (places[i] - places[i - 1])

    def y(self, place: float) -> float:
        """Return where a place on the hair lies; the frog is at the top."""
        return self.hair_top + place / self.plan.rig.bow.hair * self.look.hair

    def tracks(self) -> Tracks:
        bowed = [note for note in self.notes if note.stroke]
        strokes = list(dict.fromkeys(note.stroke for note in bowed if note.stroke))
        system, rig = self.system, self.plan.rig
        return Tracks(
            index=self.number,
            width=system.width,
            height=system_height(system, len(self.names), self.look),
            left=system.staff_left,
            right=self.right,
            hair_top=self.hair_top,
            hair=self.look.hair,
            hair_cm=100 * rig.bow.hair,
            lanes_top=self.lanes_top,
            strings_top=self.strings_top,
            balance_y=self.y(rig.bow.centre),
            lane_count=LANES if self.look.lanes else 0,
            string_names=tuple(reversed(self.names)) if self.look.strings else (),
            bars=system.bars[:-1],
            ribbons=tuple(self._ribbon(self.plan.stroke[id_]) for id_ in strokes) if self.look.hair else (),
            signs=tuple(self._sign(id_) for id_ in strokes if id_ in system.notes),
            lanes=tuple(self._lane(note) for note in bowed) if self.look.lanes else (),
            strings=tuple(bar for note in bowed for bar in self._strings(note)) if self.look.strings else (),
            crossings=tuple(self._crossings(bowed)) if self.look.strings else (),
            hits=tuple(self._hits()),
            findings=tuple(self._findings()),
        )

    def _ribbon(self, stroke: StrokePlan) -> Ribbon:
        inner = [note for note in self.notes if note.stroke == stroke.id]
        pieces = tuple(piece for note in inner for piece in self._pieces(note))
        before = self.index.before(stroke)
        hop = None
        if before and stroke.entry is Link.RETAKE and inner[0].id == stroke.notes[0]:
            here = before.notes[-1] in self.system.notes
            lifted = self.x(before.finish) if here else self.x(stroke.begin) - HOP_IN
            hop = (lifted, self.y(before.left_at), self.x(stroke.begin), self.y(stroke.start))
        return Ribbon(
            stroke=stroke.id,
            direction=stroke.direction.word,
            notes=stroke.notes,
            pieces=pieces,
            joints=tuple((self.x(n.onset), self.y(n.start)) for n in inner if n.id != stroke.notes[0]),
            entry=stroke.entry.word,
            hop=hop,
            locked=stroke.locked,
            pins=tuple(self._pins(stroke)),
            moved=stroke.id in self.moved,
        )

    def _pins(self, stroke: StrokePlan) -> Iterator[tuple[float, float]]:
        if "start" in stroke.locks and stroke.notes[0] in self.system.notes:
            yield self.x(stroke.begin), self.y(stroke.start)
        if "end" in stroke.locks and stroke.notes[-1] in self.system.notes:
            yield self.x(stroke.finish), self.y(stroke.end)

    def _pieces(self, note: NotePlan) -> Iterator[RibbonPiece]:
        """Yield a note's share of its ribbon; a chord is split where the bow turns to other strings."""
        parts: list[tuple[tuple[int, ...] | None, float, float]] = [(None, note.sounding, note.length)]
        if note.chord:
            parts = [(piece.strings, piece.time, piece.hair) for piece in note.chord.pieces if not piece.turn]
        turning = sum(piece.time for piece in note.chord.pieces if piece.turn) if note.chord else 0.0
        gap = turning / max(len(parts) - 1, 1)
        time, place = note.onset, note.start
        way = 1 if note.end > note.start else -1
        for strings, seconds, hair in parts:
            x0, x1 = self.x(time), self.x(time + seconds)
            last = strings is parts[-1][0]
            end = note.end if last else place + way * hair
            x1 = max(x1, x0 + 1) if last else max(x0 + 1, x1 - SPLIT)
            yield RibbonPiece(
                note.id,
                x0,
                self.y(place),
                x1,
                self.y(end),
                self._strands(note, strings),
                note.tone.value,
                self.look.paint(note),
                _drawn(note.bows, x1 - x0),
            )
            between = next((p.hair for p in note.chord.pieces if p.turn), 0.0) if note.chord else 0.0
            time, place = time + seconds + gap, end + way * between

    def _strands(self, note: NotePlan, strings: tuple[int, ...] | None) -> tuple[float, ...]:
        """Return the width of each string's share of the weight."""
        voices = [voice for voice in note.voices if strings is None or voice.string in strings]
        most = self.plan.rig.instrument.comfort_force
        widths = [(_THICK - _THIN) * min(voice.force / most, 1.2) for voice in sorted(voices, key=lambda v: -v.string)]
        strands = (_THIN + widths[0],) if len(widths) == 1 else tuple(STRAND + width for width in widths)
        return tuple(self.look.heft * strand for strand in strands)

    def _sign(self, stroke_id: str) -> Sign:
        stroke = self.plan.stroke[stroke_id]
        spot = self.system.notes[stroke_id]
        marks = {"locked": stroke.locked, "printed": stroke.printed, "proposed": stroke.proposed}
        fixed = next((name for name, holds in marks.items() if holds), "")
        return Sign(stroke_id, spot.x, SIGNS + spot.top - SIGN_ABOVE, stroke.direction > 0, fixed)

    def _lane(self, note: NotePlan) -> LevelLine:
        beta = note.lead.beta
        reach = self.plan.rig.instrument.gap / note.lead.vibrating
        share = math.log(min(reach, FURTHEST) / beta) / math.log(min(reach, FURTHEST) / CLOSEST)
        y = self.lanes_top + min(max(share, 0.0), 1.0) * LANES * LANE
        lock = self.plan.locks.get(note.id)
        held = lock is not None and lock.lane is not None
        return LevelLine(note.id, self.x(note.onset), self.x(note.onset + note.sounding), y, held)

    def _row(self, string: int) -> float:
        return self.strings_top + (len(self.names) - 1 - string + 0.5) * STRING_ROW

    def _strings(self, note: NotePlan) -> list[LevelLine]:
        x0, x1 = self.x(note.onset), self.x(note.onset + note.sounding)
        return [LevelLine(note.id, x0, max(x1 - 2, x0 + 1), self._row(voice.string)) for voice in note.voices]

    def _crossings(self, bowed: Sequence[NotePlan]) -> list[Crossed]:
        found = []
        for note in bowed:
            crossing = self.plan.crossing_to.get(note.id)
            if crossing is None:
                continue
            x = self.x(note.onset)
            before = self.plan.note[crossing.from_note]
            start = self.x(before.onset + before.sounding) - 2 if before.id in self.system.notes else x - 8
            rows = self._row(crossing.from_string), self._row(crossing.to_string)
            found.append(Crossed(min(start, x - 3), rows[0], x, rows[1], crossing.sense, crossing.how))
        return found

    def _hits(self) -> list[Hit]:
        xs = [self.system.notes[note.id].x for note in self.notes]
        found = []
        for i, note in enumerate(self.notes):
            left = (xs[i - 1] + xs[i]) / 2 if i else max(xs[i] - 16, 0.0)
            right = (xs[i] + xs[i + 1]) / 2 if i + 1 < len(xs) else self.right
            found.append(Hit(note.id, left, max(right, left + 2), label_of(note, self.plan, self.say)))
        return found

    def _findings(self) -> list[tuple[float, str, str]]:
        return [
            (self.x(note.onset), finding.severity.value, finding.code)
            for note in self.notes
            if (finding := self.index.finding_of.get(note.id))
        ]


def label_of(note: NotePlan, plan: Plan, say: Speech = PLAIN) -> str:
    """Return what a screen reader says of a note."""
    place = note.where
    if note.stroke is None:
        return f"{place}, {'plucked' if plan.part.event[note.id].plucked else 'left out'}"
    from_music = " and ".join(spoken_pitch(v.midi) for v in note.voices)
    word = plan.rig.word(plan.stroke[note.stroke].direction)
    unit = say.names_lengths
    point = f"lane {note.lane}, {say.length(note.contact, 1).number} {unit} from the bridge"
    return f"{place}, {from_music}, {word}, {say.length(note.length).number} {unit}, {point}, {note.tone.value}"


def spoken_pitch(midi: int) -> str:
    """Return a pitch in words."""
    names = ("C", "C sharp", "D", "E flat", "E", "F", "F sharp", "G", "A flat", "A", "B flat", "B")
    return f"{names[midi % 12]} {midi // 12 - 1}"


def _drawn(bows: int, width: float) -> int:
    """Return how many bows of a tremolo are drawn in a width, even or odd as they are."""
    room = max(int(width / BOW_WIDTH), 1)
    return bows if bows <= room else room - (room - bows) % 2 or 2 - bows % 2
