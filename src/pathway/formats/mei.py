"""From normalised MEI to a part as written.

Times are counted from the written values, not from the engraver's time map, which unfolds repeats.
"""

import re
from collections.abc import Collection, Iterable
from dataclasses import dataclass, field, replace
from fractions import Fraction

from lxml import etree

from pathway.core.music import (
    Event,
    Head,
    Mark,
    Measure,
    Part,
    Repeat,
    Slur,
    TempoMark,
)
from pathway.core.rig.bow import Direction
from pathway.core.technique.directions import Jump, SoundedBy, divides, ends_wood, hands_asked, jump_of
from pathway.core.technique.fingers import OPEN
from pathway.errors import ScoreError
from pathway.formats.from_here import FromHere
from pathway.formats.jumps import repeats_by_words
from pathway.formats.mei_elements import (
    NS,
    XML_ID,
    accidental,
    artics,
    beats,
    fingers,
    has_notes,
    is_played,
    local,
    number_in,
    pitch_of,
    repeated_in,
    sounding,
    text_of,
    tied,
    timed,
    tremolo_of,
    written,
)
from pathway.formats.mei_signs import Signs
from pathway.formats.musicxml_mending import TEMPI
from pathway.formats.safe_files import parse_xml
from pathway.formats.unread import told_once, unread_in
from pathway.formats.voices import merged

_MARKS = {
    "stacc": Mark.DOT, "ten": Mark.DASH, "stacciss": Mark.WEDGE, "spicc": Mark.WEDGE,
    "acc": Mark.ACCENT, "acc-soft": Mark.ACCENT, "marc": Mark.STRONG_ACCENT,
}  # fmt: skip
_BOWS = {"dnbow": Direction.DOWN, "upbow": Direction.UP}
_SIGNS = {
    "coda": Jump.CODA, "segno": Jump.SEGNO, "fine": Jump.FINE, "daCapo": Jump.TO_START, "dalSegno": Jump.TO_SEGNO,
}  # fmt: skip
MOST_BEATS, BEAT_TYPES = 64, {1, 2, 4, 8, 16, 32, 64}
_SECTION_ENDS = {"dbl", "end", "dbldashed", "dbldotted", "dblheavy", "dblsegno"}  # barlines
_SYMBOLS = {"common": (4, 4), "cut": (2, 2)}
_BY_FINGER = {"snap", "lhpizz", "stop"}  # artic: a plus over a note of strings is a left-hand pizzicato


def read_mei(root: etree._Element, title: str, name: str) -> Part:
    """Return the part of an MEI document that holds one staff.

    Raises:
        ScoreError: no bars, a percussion staff, or a bar before any time signature.
    """
    return _Reader(root).part(title, name)


def without_bow_marks(mei: str) -> str:
    """Return MEI without its printed bow marks, for a sheet that draws a sign above every stroke itself."""
    root = parse_xml(mei.encode())
    for artic in list(root.iter(f"{NS}artic")):
        signs = [sign for sign in (artic.get("artic") or "").split() if sign not in _BOWS]
        parent = artic.getparent()
        if not signs and parent is not None:
            parent.remove(artic)
    return etree.tostring(root, encoding="unicode")


@dataclass
class _State:
    """What holds at the place the reader has come to."""

    meter: tuple[int, int] | None = None
    ppq: int = 0  # of the durations the file counts; 0 where it has none
    transposition: int = 0
    transposed: bool = False


@dataclass
class _Found:
    measures: list[Measure] = field(default_factory=list)
    events: list[Event] = field(default_factory=list)
    second: list[Event] = field(default_factory=list)  # of another voice on the staff
    repeats: list[Repeat] = field(default_factory=list)
    sections: list[Fraction] = field(default_factory=list)


class _Reader:
    def __init__(self, root: etree._Element) -> None:
        self.root = root
        self.state = _State()
        self.found = _Found()
        self.fingered: set[str] = set()  # events of a tremolo between two notes
        self.bar = "1"  # number of the one that is read, for messages
        self.signs = Signs(self.found.measures)
        self.fingers, self.tied = fingers(root), tied(root)
        layers = {layer.get("n", "1") for layer in root.iter(f"{NS}layer") if has_notes(layer)}
        self.layers = sorted(layers, key=lambda n: int(n) if n.isdigit() else 99)
        self.hands = FromHere(SoundedBy.HAIR)
        self.divided = FromHere(value=False)
        self.jumps: list[tuple[Fraction, Jump]] = []
        self.repeat_from = Fraction(0)
        self.without_length: list[int] = []  # measures of notes that say none
        self.played_at = 0.0  # at the beginning, by the file [quarters a minute]

    def part(self, title: str, name: str) -> Part:
        for node in self.root.iter(f"{NS}scoreDef", f"{NS}staffDef", f"{NS}measure"):
            if local(node) == "measure":
                self._measure(node)
            else:
                self._definition(node)
        if not self.found.measures:
            raise ScoreError("The score has no bars", advice="Choose another file.")
        notices = []
        found = self.found
        events = found.events
        if found.second:
            events = merged(found.events, found.second)
            self.signs.rename(events)
        self.signs.spanners(self.root)
        signs = self.signs
        if len(self.layers) > 1 or self.divided.ever(state=True):
            notices.append(self._voices_told())
        notices += self.signs.notices
        if self.hands.ever(SoundedBy.WOOD):
            notices.append("Where the wood strikes or strokes the string no hair is planned: col legno.")
        for index in dict.fromkeys(self.without_length):
            notices.append(f"Bar {found.measures[index].number}: a note that has no length is left out.")
        events = slurred_fingers_alone(events, signs.slurs, self.fingered)
        tempos = self._tempos()
        return Part(
            title=title,
            name=name,
            measures=tuple(found.measures),
            events=tuple(events),
            slurs=tuple(signs.slurs),
            dynamics=tuple(sorted(signs.dynamics, key=lambda d: d.onset)),
            hairpins=tuple(signs.hairpins),
            tempos=tempos,
            words=tuple(sorted(signs.words, key=lambda w: w.onset)),
            stretches=(*signs.stretches, *signs.changes_of_time(tempos)),
            repeats=(*found.repeats, *repeats_by_words(self.jumps, found.measures)),
            sections=tuple(sorted({*found.sections, *signs.sections})),
            transposed=self.state.transposed,
            notices=tuple(notices),
            unread=told_once(unread_in(self.root)),
            tuning=_tuning_in(self.root),
        )

    def _tempos(self) -> tuple[TempoMark, ...]:
        """Return the tempo marks; where none is printed at the beginning, the tempo that the file is played at."""
        tempos, first = self.signs.tempi(), self.found.measures[0]
        begins = first.length if first.pickup else Fraction(0)
        if any(mark.onset <= begins for mark in tempos) or not TEMPI[0] <= self.played_at <= TEMPI[1]:
            return tempos
        return TempoMark(Fraction(0), self.played_at, first.beat_length), *tempos

    def _voices_told(self) -> str:
        count = len(self.layers)
        if self.divided.ever(state=True):
            return "Where the staff is divided among players the upper voice is planned."
        if count == 2:
            return "The staff has 2 voices; where they sound together they are planned as double stops."
        return f"The staff has {count} voices; the first two are planned, as double stops where they sound together."

    def _definition(self, node: etree._Element) -> None:
        clef = next(node.iter(f"{NS}clef"), None)
        if (clef is not None and clef.get("shape") == "perc") or node.get("clef.shape") == "perc":
            raise percussion()
        if clef is not None and clef.get("dis"):
            self.state.transposed = True
        if node.get("midi.bpm") and not self.found.measures:
            self.played_at = number_in(node.get("midi.bpm", ""))
        self.state.ppq = int(node.get("ppq") or "0") or self.state.ppq
        if node.get("trans.semi") is not None:
            self.state.transposition = int(node.get("trans.semi", "0"))
            self.state.transposed = self.state.transposed or self.state.transposition != 0
        self._meter(node)
        for sign in node.iter(f"{NS}meterSig"):
            self._meter(sign)

    def _meter(self, node: etree._Element) -> None:
        count = node.get("count") or node.get("meter.count")
        unit = node.get("unit") or node.get("meter.unit")
        symbol = node.get("sym") or node.get("meter.sym")
        if count and unit:
            beats = sum(int(n) for n in re.findall(r"\d{1,6}", count))
            self.state.meter = (beats, int(unit) if unit.isdecimal() and len(unit) < 7 else 0)
            if not 1 <= beats <= MOST_BEATS or self.state.meter[1] not in BEAT_TYPES:
                raise ScoreError(
                    f"The time signature {count[:12]}/{unit[:12]} cannot be counted",
                    place=f"bar {self.bar}",
                    advice=f"Up to {MOST_BEATS} beats, of 1, 2, 4, 8, 16, 32 or 64. Correct it in the score.",
                )
        elif symbol in _SYMBOLS:
            self.state.meter = _SYMBOLS[symbol]

    def _measure(self, node: etree._Element) -> None:
        self.bar = number = node.get("n") or str(len(self.found.measures) + 1)
        for sign in node.iter(f"{NS}meterSig"):
            self._meter(sign)
        if self.state.meter is None:
            raise ScoreError(
                "There is no time signature",
                place=f"bar {number}",
                advice="Add one in the program the score came from; the plan needs to know the beats.",
            )
        beats, beat_type = self.state.meter
        full = Fraction(4 * beats, beat_type)
        measures = self.found.measures
        onset = measures[-1].onset + measures[-1].length if measures else Fraction(0)
        index = len(measures)
        self._said_from_here(node, onset, beat_type)
        lengths = []
        voices = dict(zip(self.layers, (self.found.events, self.found.second), strict=False))
        for layer in node.iter(f"{NS}layer"):
            lengths.append(self._layer(layer, index, onset, full, voices.get(layer.get("n", "1"))))
        length = max([*lengths, Fraction(0)]) or full
        pickup = length < full and (index == 0 or self._completes(measures[-1], length, full))
        measures.append(Measure(number, onset, length, beats, beat_type, pickup))
        self.signs.bar(node, measures[-1])
        self._repeat(node, onset, onset + length)

    def _repeat(self, node: etree._Element, start: Fraction, end: Fraction) -> None:
        if node.get("right") in _SECTION_ENDS:
            self.found.sections.append(end)
        if node.get("left") == "rptstart":
            self.repeat_from = start
        if node.get("right") in {"rptend", "rptboth"}:
            self.found.repeats.append(Repeat(self.repeat_from, end))
            self.repeat_from = end

    def _completes(self, before: Measure, length: Fraction, full: Fraction) -> bool:
        return before.length < full and before.length + length <= full

    def _layer(
        self, layer: etree._Element, measure: int, start: Fraction, full: Fraction, into: list[Event] | None
    ) -> Fraction:
        """Read the events of one layer, unless it is nobody's here; return its length."""
        at = start
        for node, ratio, grace in timed(layer, Fraction(1), False):
            kind = local(node)
            if kind in {"mRest", "mSpace", "multiRest", "mRpt"}:
                bars = int(node.get("num", "1")) if kind == "multiRest" else 1
                at += full * bars
                continue
            length = Fraction(0) if grace else self._duration(node, ratio)
            mine = into is self.found.events or not self.divided.at(at)
            if into is not None and mine and kind in {"note", "chord"} and is_played(node):
                if length or grace:
                    into.append(self._event(node, measure, at, length, grace))
                else:
                    self.without_length.append(measure)
            at += length
        return at - start

    def _duration(self, node: etree._Element, ratio: Fraction) -> Fraction:
        """Return what a note lasts: as the file counts it where it does, else as its value is written."""
        counted = node.get("dur.ppq")
        if counted and self.state.ppq and (int(counted) > 0 or node.get("dur") is None):
            return max(Fraction(int(counted), self.state.ppq), Fraction(0))
        return written(node) * ratio

    def _event(self, node: etree._Element, measure: int, at: Fraction, length: Fraction, grace: bool) -> Event:
        notes = list(node.iter(f"{NS}note")) if local(node) == "chord" else [node]
        heads = sounding(tuple(self._head(note) for note in notes))
        if self.divided.at(at):
            heads = (max(heads, key=lambda head: head.midi),)
        signs = {sign for part in (node, *notes) for sign in artics(part)}
        event = Event(
            id=heads[0].id,
            measure=measure,
            onset=at,
            duration=length,
            heads=heads,
            marks=frozenset(_MARKS[sign] for sign in signs if sign in _MARKS) | tremolo_of(node),
            bow=next((_BOWS[sign] for sign in sorted(signs) if sign in _BOWS), None),
            tied=not grace and all(head.id in self.tied for head in heads),
            grace=grace,
            plucked=self.hands.at(at) is not SoundedBy.HAIR or bool(signs & _BY_FINGER),
            repeated=repeated_in(node),
        )
        parent = node.getparent()
        if parent is not None and local(parent) == "fTrem":
            self.fingered.add(event.id)
        self.signs.place(event, (node.get(XML_ID) or "", *(head.id for head in heads)))
        return event

    def _head(self, note: etree._Element) -> Head:
        midi = pitch_of(note)
        if midi is None:
            raise percussion()
        id_ = note.get(XML_ID, "")
        string = note.get("tab.string")
        return Head(
            id=id_,
            midi=midi + accidental(note) + self.state.transposition,
            string=int(string) if string else None,
            finger=self.fingers.get(id_, OPEN if "open" in artics(note) else None),
            harmonic="harm" in artics(note) or note.get("head.shape") == "diamond",
        )

    def _said_from_here(self, node: etree._Element, onset: Fraction, beat_type: int) -> None:
        """Note from where the bar's words ask for fingers, wood or hair, for one of several players, and for jumps."""
        for words in node.iter(f"{NS}dir", f"{NS}tempo", f"{NS}repeatMark"):
            text, at = text_of(words), onset + beats(words.get("tstamp", "1"), beat_type)
            if (hands := hands_asked(text)) is not None:
                self.hands.say(at, hands)
            elif ends_wood(text) and self.hands.at(at) is SoundedBy.WOOD:
                self.hands.say(at, SoundedBy.HAIR)
            if (divided := divides(text)) is not None:
                self.divided.say(at, divided)
            jump = _SIGNS.get(words.get("func", "")) or jump_of(text)
            if jump is not None:
                self.jumps.append((at, jump))


def _tuning_in(root: etree._Element) -> tuple[tuple[int, int], ...]:
    """Return the strings that a staff is tuned to, the highest first, and their pitches; none where it does not say."""
    found = ((pitch_of(course), accidental(course)) for course in root.iter(f"{NS}course"))
    return tuple(enumerate(sorted((pitch + sign for pitch, sign in found if pitch is not None), reverse=True), start=1))


def slurred_fingers_alone(events: list[Event], slurs: Iterable[Slur], fingered: Collection[str]) -> list[Event]:
    """Return the events in which a tremolo between two notes under a slur is the fingers' and not the bow's."""
    index = {event.id: i for i, event in enumerate(events)}
    held = {
        events[i].id
        for slur in slurs
        if slur.start in index and slur.end in index
        for i in range(index[slur.start], index[slur.end] + 1)
    } & set(fingered)
    return [replace(event, repeated=None) if event.id in held else event for event in events]


def percussion() -> ScoreError:
    """Return the refusal of a part without pitches."""
    return ScoreError("This is a percussion part", advice="Choose the part of a bowed instrument.")
