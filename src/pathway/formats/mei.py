"""From normalised MEI to a part as written.

Times are counted from the written values, not from the engraver's time map, which unfolds repeats.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction

from lxml import etree

from pathway.core.music import (
    ASSUMED,
    Dynamic,
    Event,
    Hairpin,
    Head,
    Mark,
    Measure,
    Part,
    Repeat,
    Slur,
    Stretch,
    TempoMark,
    Words,
    dynamic_of,
)
from pathway.core.rig.bow import Direction
from pathway.core.technique.notation import wording_of
from pathway.core.technique.tempo_words import spoken_tempi, tempo_word_of
from pathway.errors import ScoreError
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
    sounding,
    tempo_of,
    text_of,
    tied,
    timed,
    tremolo_of,
    written,
)
from pathway.formats.musicxml_mending import TEMPI
from pathway.formats.safe_files import parse_xml
from pathway.formats.voices import merged

_STEPS = {"c": 0, "d": 2, "e": 4, "f": 5, "g": 7, "a": 9, "b": 11}
_MARKS = {
    "stacc": Mark.DOT, "ten": Mark.DASH, "stacciss": Mark.WEDGE, "spicc": Mark.WEDGE,
    "acc": Mark.ACCENT, "marc": Mark.STRONG_ACCENT,
}  # fmt: skip
_BOWS = {"dnbow": Direction.DOWN, "upbow": Direction.UP}
FERMATA = 1.6  # times the written length, our choice
_SLOWING = re.compile(r"\b(rit|rall|riten|ritard|slargando|allarg|molto rit|c[ée]dez|langsamer werden)", re.IGNORECASE)
_IN_TIME = re.compile(r"a tempo|tempo (i|primo)\b|au mouvement|im tempo", re.IGNORECASE)
SLOWING = (1.1, 1.2, 1.35)  # thirds of a ritardando, our choice
MOST_BEATS, BEAT_TYPES = 64, {1, 2, 4, 8, 16, 32, 64}
_SECTION_ENDS = {"dbl", "end", "dbldashed", "dbldotted", "dblheavy", "dblsegno"}  # barlines
LONGEST_SLOWING = Fraction(8)  # one without an end [quarters]
_SYMBOLS = {"common": (4, 4), "cut": (2, 2)}
_DIVIDED = re.compile(r"\bdiv(\.|isi\b)|\bgeteilt\b|\bdivis[ée]s?\b", re.IGNORECASE)
_PLUCKED = re.compile(r"\bpizz", re.IGNORECASE)
_BOWED = re.compile(r"\b(arco|col arco|bowed|avec l.archet|mit bogen)\b", re.IGNORECASE)


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
    plucked: bool = False


@dataclass
class _Found:
    measures: list[Measure] = field(default_factory=list)
    events: list[Event] = field(default_factory=list)
    second: list[Event] = field(default_factory=list)  # of another voice on the staff
    slurs: list[Slur] = field(default_factory=list)
    dynamics: list[Dynamic] = field(default_factory=list)
    hairpins: list[Hairpin] = field(default_factory=list)
    tempos: list[TempoMark] = field(default_factory=list)
    words: list[Words] = field(default_factory=list)
    stretches: list[Stretch] = field(default_factory=list)
    repeats: list[Repeat] = field(default_factory=list)
    sections: list[Fraction] = field(default_factory=list)


class _Reader:
    def __init__(self, root: etree._Element) -> None:
        self.root = root
        self.state = _State()
        self.found = _Found()
        self.bar = "1"  # number of the one that is read, for messages
        self.event_of: dict[str, str] = {}  # id of any head or chord → id of its event
        self.span_of: dict[str, tuple[Fraction, Fraction]] = {}
        self.fingers, self.tied = fingers(root), tied(root)
        layers = {layer.get("n", "1") for layer in root.iter(f"{NS}layer") if has_notes(layer)}
        self.layers = sorted(layers, key=lambda n: int(n) if n.isdigit() else 99)
        self.plucks = False
        self.divided = any(_DIVIDED.search(text_of(words)) for words in root.iter(f"{NS}dir", f"{NS}tempo"))
        self.repeat_from = Fraction(0)

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
            self._rename(events)
        self._spanners()
        if len(self.layers) > 1:
            notices.append(self._voices_told())
        found.tempos = list(self._tempi())
        return Part(
            title=title,
            name=name,
            measures=tuple(found.measures),
            events=tuple(events),
            slurs=tuple(found.slurs),
            dynamics=tuple(sorted(found.dynamics, key=lambda d: d.onset)),
            hairpins=tuple(found.hairpins),
            tempos=tuple(sorted(found.tempos, key=lambda t: t.onset)),
            words=tuple(sorted(found.words, key=lambda w: w.onset)),
            stretches=(*found.stretches, *self._slowings()),
            repeats=tuple(found.repeats),
            sections=tuple(sorted({*found.sections})),
            transposed=self.state.transposed,
            notices=tuple(notices),
        )

    def _rename(self, events: list[Event]) -> None:
        """Let every head name the event that it begins in, once two voices are one."""
        now = {head.id: event.id for event in events for head in event.heads if not head.held}
        self.event_of = {id_: now.get(id_) or now.get(event, event) for id_, event in self.event_of.items()}

    def _voices_told(self) -> str:
        count = len(self.layers)
        if self.divided:
            return f"The staff is divided among players; the first of its {count} voices is planned."
        if count == 2:
            return "The staff has 2 voices; where they sound together they are planned as double stops."
        return f"The staff has {count} voices; the first two are planned, as double stops where they sound together."

    def _definition(self, node: etree._Element) -> None:
        clef = next(node.iter(f"{NS}clef"), None)
        if (clef is not None and clef.get("shape") == "perc") or node.get("clef.shape") == "perc":
            raise percussion()
        if clef is not None and clef.get("dis"):
            self.state.transposed = True
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
        self._pluck_changes(node, onset, beat_type)
        lengths = []
        played = [self.found.events] if self.divided else [self.found.events, self.found.second]
        voices = dict(zip(self.layers, played, strict=False))
        for layer in node.iter(f"{NS}layer"):
            lengths.append(self._layer(layer, index, onset, full, voices.get(layer.get("n", "1"))))
        length = max([*lengths, Fraction(0)]) or full
        pickup = length < full and (index == 0 or self._completes(measures[-1], length, full))
        measures.append(Measure(number, onset, length, beats, beat_type, pickup))
        self._marks(node, onset, beat_type)
        self._repeat(node, onset, onset + length)

    def _repeat(self, node: etree._Element, start: Fraction, end: Fraction) -> None:
        if node.get("right") in _SECTION_ENDS:
            self.found.sections.append(end)
        if node.get("left") == "rptstart":
            self.repeat_from = start
        if node.get("right") in {"rptend", "rptboth"}:
            self.found.repeats.append(Repeat(self.repeat_from, end))
            self.repeat_from = end

    def _tempi(self) -> Iterator[TempoMark]:
        """Yield the tempo marks in order, those with a number and those that words ask for."""
        units = {mark.onset: mark.unit for mark in self.found.tempos}
        words = []
        for told in self.found.words:
            word, manner = tempo_word_of(told.text), wording_of(told.text, ())
            if word is not None and (manner is None or not manner.kind):
                measure = next(m for m in reversed(self.found.measures) if m.onset <= told.onset)
                words.append((told.onset, word, measure.beat_length, Fraction(4, measure.beat_type)))
        numbers = [(mark.onset, mark.quarters_per_minute) for mark in self.found.tempos]
        beat = self.found.measures[0].beat_length
        for mark in spoken_tempi(numbers, words, ASSUMED * float(beat)):
            yield TempoMark(mark.onset, mark.quarters, units.get(mark.onset, beat), mark.word)

    def _slowings(self) -> list[Stretch]:
        """Spread every ritardando up to the next word in time, the next tempo mark or a few beats."""
        found = []
        ends = [w.onset for w in self.found.words if _IN_TIME.search(w.text)] + [t.onset for t in self.found.tempos]
        last = self.found.measures[-1].onset + self.found.measures[-1].length
        for words in self.found.words:
            if not _SLOWING.search(words.text):
                continue
            end = min([e for e in ends if e > words.onset] + [words.onset + LONGEST_SLOWING, last])
            third = (end - words.onset) / len(SLOWING)
            found += [
                Stretch(words.onset + i * third, words.onset + (i + 1) * third, factor)
                for i, factor in enumerate(SLOWING)
            ]
        return found

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
            if into is not None and kind in {"note", "chord"} and is_played(node):
                into.append(self._event(node, measure, at, length, grace))
            at += length
        return at - start

    def _duration(self, node: etree._Element, ratio: Fraction) -> Fraction:
        """Return what a note lasts: as the file counts it where it does, else as its value is written."""
        counted = node.get("dur.ppq")
        if counted and self.state.ppq:
            return Fraction(int(counted), self.state.ppq)
        return written(node) * ratio

    def _event(self, node: etree._Element, measure: int, at: Fraction, length: Fraction, grace: bool) -> Event:
        notes = list(node.iter(f"{NS}note")) if local(node) == "chord" else [node]
        heads = sounding(tuple(self._head(note) for note in notes))
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
            plucked=self.plucks_at(at),
        )
        for id_ in (node.get(XML_ID), *(head.id for head in heads)):
            self.event_of[id_ or ""] = event.id
            self.span_of[id_ or ""] = (at, at + length)
        return event

    def _head(self, note: etree._Element) -> Head:
        if note.get("pname") is None:
            raise percussion()
        id_ = note.get(XML_ID, "")
        string = note.get("tab.string")
        octave = note.get("oct.ges") or note.get("oct") or "4"
        midi = 12 * (int(octave) + 1) + _STEPS[note.get("pname", "c")]
        return Head(
            id=id_,
            midi=midi + accidental(note) + self.state.transposition,
            string=int(string) if string else None,
            finger=self.fingers.get(id_),
            harmonic="harm" in artics(note) or note.get("head.shape") == "diamond",
        )

    def _pluck_changes(self, node: etree._Element, onset: Fraction, beat_type: int) -> None:
        """Note from where the bar's words ask for plucking and for the bow again."""
        self.pluck_marks: list[tuple[Fraction, bool]] = []
        for words in node.iter(f"{NS}dir", f"{NS}tempo"):
            text = text_of(words)
            if _PLUCKED.search(text) or _BOWED.search(text):
                at = onset + beats(words.get("tstamp", "1"), beat_type)
                self.pluck_marks.append((at, bool(_PLUCKED.search(text))))
        self.pluck_marks.sort()

    def plucks_at(self, at: Fraction) -> bool:
        """Whether the note at a place is plucked."""
        while self.pluck_marks and self.pluck_marks[0][0] <= at:
            self.plucks = self.pluck_marks.pop(0)[1]
        return self.plucks

    def _marks(self, node: etree._Element, onset: Fraction, beat_type: int) -> None:
        for sign in node.iter(f"{NS}dynam"):
            at = self._place(sign, "startid", "tstamp", onset, beat_type)
            dynamic = dynamic_of(text_of(sign), at)
            if dynamic:
                self.found.dynamics.append(dynamic)
        for sign in node.iter(f"{NS}dir", f"{NS}tempo"):
            if text := text_of(sign):
                self.found.words.append(Words(self._place(sign, "startid", "tstamp", onset, beat_type), text))
        for sign in node.iter(f"{NS}fermata"):
            span = self.span_of.get((sign.get("startid") or "").lstrip("#"))
            if span and span[1] > span[0]:
                self.found.stretches.append(Stretch(*span, FERMATA))
        for sign in node.iter(f"{NS}tempo"):
            mark = tempo_of(sign, self._place(sign, "startid", "tstamp", onset, beat_type))
            if mark is None:
                continue
            if not TEMPI[0] <= mark.beats_per_minute <= TEMPI[1]:
                raise ScoreError(
                    f"A tempo of {mark.beats_per_minute:g} beats a minute cannot be played",
                    place=f"bar {self.bar}",
                    advice=f"Write one from {TEMPI[0]:g} to {TEMPI[1]:g} in the score.",
                )
            self.found.tempos.append(mark)
        self.found.sections += [
            self._place(sign, "startid", "tstamp", onset, beat_type) for sign in node.iter(f"{NS}reh")
        ]

    def _place(self, node: etree._Element, id_key: str, beat_key: str, onset: Fraction, beat_type: int) -> Fraction:
        id_ = (node.get(id_key) or "").lstrip("#")
        if id_ in self.span_of:
            return self.span_of[id_][0]
        return onset + beats(node.get(beat_key, "1"), beat_type)

    def _spanners(self) -> None:
        """Slurs and hairpins, once every note has its place."""
        for index, node in enumerate(self.root.iter(f"{NS}measure")):
            measure = self.found.measures[index]
            for slur in node.iter(f"{NS}slur"):
                ends = [self.event_of.get((slur.get(key) or "").lstrip("#")) for key in ("startid", "endid")]
                if ends[0] and ends[1] and ends[0] != ends[1]:
                    self.found.slurs.append(Slur(ends[0], ends[1]))
            for pin in node.iter(f"{NS}hairpin"):
                start = self._place(pin, "startid", "tstamp", measure.onset, measure.beat_type)
                end = self._pin_end(pin, index)
                if end > start:
                    self.found.hairpins.append(Hairpin(start, end, pin.get("form") == "cres"))

    def _pin_end(self, pin: etree._Element, index: int) -> Fraction:
        id_ = (pin.get("endid") or "").lstrip("#")
        if id_ in self.span_of:
            return self.span_of[id_][1]
        bars, _, beat = (pin.get("tstamp2") or "0m+1").rpartition("m+")
        measure = self.found.measures[min(index + int(bars or 0), len(self.found.measures) - 1)]
        return measure.onset + beats(beat, measure.beat_type)


def percussion() -> ScoreError:
    """Return the refusal of a part without pitches."""
    return ScoreError("This is a percussion part", advice="Choose the part of a bowed instrument.")
