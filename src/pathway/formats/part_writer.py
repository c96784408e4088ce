"""A part made by the core, written as MusicXML: to be engraved, and to be taken home."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from math import lcm

from lxml import etree

from pathway.core.music import DYNAMIC_LEVELS, Event, Mark, Measure, Part
from pathway.core.rig.instrument import Instrument

VALUES = {Fraction(4): "whole", Fraction(2): "half", Fraction(1): "quarter", Fraction(1, 2): "eighth",
          Fraction(1, 4): "16th", Fraction(1, 8): "32nd", Fraction(1, 16): "64th"}  # fmt: skip
DOTS = ((Fraction(1), 0), (Fraction(3, 2), 1), (Fraction(7, 4), 2))
TUPLETS = ((3, 2), (5, 4), (6, 4), (7, 4), (7, 8))
SHARP_STEPS = ("C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B")
FLAT_STEPS = ("C", "Db", "D", "Eb", "E", "F", "Gb", "G", "Ab", "A", "Bb", "B")
_SIGNS = {Mark.DOT: "staccato", Mark.DASH: "tenuto", Mark.WEDGE: "staccatissimo", Mark.ACCENT: "accent",
         Mark.STRONG_ACCENT: "strong-accent"}  # fmt: skip
_CLEFS = {"treble": ("G", "2"), "alto": ("C", "3"), "bass": ("F", "4")}
OCTAVE = 12


@dataclass(frozen=True)
class Written:
    """A part as a document, and which of its notes is which head: the n-th note of a document goes by n<n>."""

    data: bytes
    heads: Mapping[str, str]  # ids of heads, by those that the reader gives to the document's notes


def write_part(part: Part, instrument: Instrument, fifths: int = 0, tempo: float | None = None) -> Written:
    """Return a part as MusicXML.

    Args:
        part: at its sounding pitch.
        instrument: that it is for: its clef, and whether it is written an octave up.
        fifths: of the key.
        tempo: quarters a minute; that of the part if not said.
    """
    root = etree.Element("score-partwise", version="4.0")
    etree.SubElement(etree.SubElement(root, "work"), "work-title").text = part.title
    entry = etree.SubElement(etree.SubElement(root, "part-list"), "score-part", id="P1")
    etree.SubElement(entry, "part-name").text = part.name
    writer = _Writer(part, instrument, fifths)
    writer.write(etree.SubElement(root, "part", id="P1"), tempo)
    return Written(bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8")), writer.heads)


class _Writer:
    """Writes the bars of one part."""

    def __init__(self, part: Part, instrument: Instrument, fifths: int) -> None:
        self.part, self.fifths = part, fifths
        self.octave_up = instrument.octave_down
        written = [head.midi + self._up for event in part.events for head in event.heads]
        self.clef = clef_of(instrument, sorted(written)[len(written) // 2] if written else 0)
        spans = [event.duration for event in part.events] + [measure.length for measure in part.measures]
        spans += [event.onset for event in part.events]
        self.divisions = lcm(*(span.denominator for span in spans), 4) if spans else 4
        self.opens = {slur.start for slur in part.slurs}
        self.closes = {slur.end for slur in part.slurs}
        self.beams = dict(_beams(part))
        self.heads: dict[str, str] = {}
        self._count = 0

    def _note(self, bar: etree._Element) -> etree._Element:
        self._count += 1
        return etree.SubElement(bar, "note")

    @property
    def _up(self) -> int:
        return OCTAVE if self.octave_up else 0

    def write(self, into: etree._Element, tempo: float | None) -> None:
        """Write every bar."""
        for n, measure in enumerate(self.part.measures):
            bar = etree.SubElement(into, "measure", number=measure.number)
            if n == 0:
                self._begin(bar, measure, tempo)
            elif (measure.beats, measure.beat_type) != self._meter(n - 1):
                self._time(etree.SubElement(bar, "attributes"), measure)
            for event, value in self._filled(n, measure):
                if event is None:
                    self._rest(bar, value)
                else:
                    self._directions(bar, event)
                    self._chord(bar, event)
        last = etree.SubElement(bar, "barline", location="right")
        etree.SubElement(last, "bar-style").text = "light-heavy"

    def _meter(self, n: int) -> tuple[int, int]:
        measure = self.part.measures[n]
        return measure.beats, measure.beat_type

    def _begin(self, bar: etree._Element, measure: Measure, tempo: float | None) -> None:
        attributes = etree.SubElement(bar, "attributes")
        etree.SubElement(attributes, "divisions").text = str(self.divisions)
        etree.SubElement(etree.SubElement(attributes, "key"), "fifths").text = str(self.fifths)
        self._time(attributes, measure)
        clef = etree.SubElement(attributes, "clef")
        sign, line = _CLEFS[self.clef]
        etree.SubElement(clef, "sign").text, etree.SubElement(clef, "line").text = sign, line
        if self.octave_up:
            transpose = etree.SubElement(attributes, "transpose")
            etree.SubElement(transpose, "diatonic").text = etree.SubElement(transpose, "chromatic").text = "0"
            etree.SubElement(transpose, "octave-change").text = "-1"
        direction = etree.SubElement(bar, "direction", placement="above")
        metronome = etree.SubElement(etree.SubElement(direction, "direction-type"), "metronome")
        etree.SubElement(metronome, "beat-unit").text = "quarter"
        told = f"{tempo or self.part.tempo.quarters_per_minute:.0f}"
        etree.SubElement(metronome, "per-minute").text = told
        etree.SubElement(direction, "sound", tempo=told)

    @staticmethod
    def _time(attributes: etree._Element, measure: Measure) -> None:
        time = etree.SubElement(attributes, "time")
        etree.SubElement(time, "beats").text = str(measure.beats)
        etree.SubElement(time, "beat-type").text = str(measure.beat_type)

    def _filled(self, n: int, measure: Measure) -> Iterator[tuple[Event | None, Fraction]]:
        """Yield the events of a bar, and the silences between them."""
        at = measure.onset
        for event in self.part.events:
            if event.measure != n:
                continue
            if event.onset > at:
                yield None, event.onset - at
            yield event, event.duration
            at = max(at, event.end)
        if at < measure.onset + measure.length:
            yield None, measure.onset + measure.length - at

    def _rest(self, bar: etree._Element, value: Fraction) -> None:
        for piece in _values(value):
            note = self._note(bar)
            etree.SubElement(note, "rest")
            self._length(note, piece)

    def _directions(self, bar: etree._Element, event: Event) -> None:
        """Write the dynamic that begins with an event."""
        for dynamic in self.part.dynamics:
            if dynamic.onset == event.onset and (level := dynamic.level_db) is not None:
                direction = etree.SubElement(bar, "direction", placement="below")
                kind = etree.SubElement(etree.SubElement(direction, "direction-type"), "dynamics")
                nearest = min(DYNAMIC_LEVELS, key=lambda name: abs(DYNAMIC_LEVELS[name] - level))
                etree.SubElement(kind, nearest)

    def _chord(self, bar: etree._Element, event: Event) -> None:
        pieces = [event.duration] if event.grace else list(_values(event.duration))
        continued = self._continued(event)
        for n, value in enumerate(pieces):
            for i, head in enumerate(event.heads):
                note = self._note(bar)
                if n == 0:
                    self.heads[f"n{self._count}"] = head.id
                if event.grace:
                    etree.SubElement(note, "grace")
                if i:
                    etree.SubElement(note, "chord")
                self._pitch(note, head.midi + self._up)
                ties = [("stop", event.tied or n > 0), ("start", continued or n < len(pieces) - 1)]
                self._length(note, value, ties, grace=event.grace)
                if i == 0 and n == 0 and event.id in self.beams:
                    self._beam(note, self.beams[event.id], value)
                if i == 0 or any(there for _, there in ties):
                    self._notations(note, event, ties, first=i == 0 and n == 0, last=i == 0 and n == len(pieces) - 1)

    def _continued(self, event: Event) -> bool:
        at = self.part.index[event.id] + 1
        return at < len(self.part.events) and self.part.events[at].tied

    def _pitch(self, note: etree._Element, midi: int) -> None:
        name = (FLAT_STEPS if self.fifths < 0 else SHARP_STEPS)[midi % 12]
        pitch = etree.SubElement(note, "pitch")
        etree.SubElement(pitch, "step").text = name[0]
        if len(name) > 1:
            etree.SubElement(pitch, "alter").text = "1" if name[1] == "#" else "-1"
        etree.SubElement(pitch, "octave").text = str(midi // 12 - 1)

    def _length(
        self, note: etree._Element, value: Fraction, ties: list[tuple[str, bool]] | None = None, *, grace: bool = False
    ) -> None:
        if not grace:
            etree.SubElement(note, "duration").text = str(int(value * self.divisions))
        for kind, there in ties or ():
            if there:
                etree.SubElement(note, "tie", type=kind)
        etree.SubElement(note, "voice").text = "1"
        name, dots, tuplet = _written(value)
        etree.SubElement(note, "type").text = name
        for _ in range(dots):
            etree.SubElement(note, "dot")
        if tuplet:
            change = etree.SubElement(note, "time-modification")
            etree.SubElement(change, "actual-notes").text = str(tuplet[0])
            etree.SubElement(change, "normal-notes").text = str(tuplet[1])

    @staticmethod
    def _beam(note: etree._Element, kind: str, value: Fraction) -> None:
        for number in range(1, 3 if value < Fraction(1, 2) else 2):
            etree.SubElement(note, "beam", number=str(number)).text = kind

    def _notations(
        self, note: etree._Element, event: Event, ties: list[tuple[str, bool]], *, first: bool, last: bool
    ) -> None:
        notations = etree.SubElement(note, "notations")
        for kind, there in ties:
            if there:
                etree.SubElement(notations, "tied", type=kind)
        if last and event.id in self.closes:
            etree.SubElement(notations, "slur", type="stop", number="1")
        if first and event.id in self.opens:
            etree.SubElement(notations, "slur", type="start", number="1")
        marks = [_SIGNS[mark] for mark in sorted(event.marks) if mark in _SIGNS] if first and not event.tied else []
        if marks:
            articulations = etree.SubElement(notations, "articulations")
            for mark in marks:
                etree.SubElement(articulations, mark)
        if len(notations) == 0:
            note.remove(notations)


def _beams(part: Part) -> Iterator[tuple[str, str]]:
    """Yield the notes under beams, and whether each begins, continues or ends one: short notes of one beat."""
    groups: dict[tuple[int, int], list[Event]] = {}
    for event in part.events:
        if event.duration < 1 and not event.grace:
            measure = part.measures[event.measure]
            groups.setdefault((event.measure, int((event.onset - measure.onset) / measure.beat_length)), []).append(
                event
            )
    for group in groups.values():
        joined = all(one.end == other.onset for one, other in pairwise(group))
        if len(group) > 1 and joined:
            for n, event in enumerate(group):
                yield event.id, "begin" if n == 0 else "end" if n == len(group) - 1 else "continue"


def clef_of(instrument: Instrument, middle: int) -> str:
    """Return the clef that players of an instrument read, for notes around a written pitch."""
    strings = [string.midi for string in instrument.strings]
    open_middle = (strings[0] + strings[-1]) / 2 + (OCTAVE if instrument.octave_down else 0)
    if open_middle >= 61:
        return "treble"
    if open_middle >= 54:
        return "treble" if middle > 72 else "alto"
    return "treble" if middle > 66 else "bass"


def _written(value: Fraction) -> tuple[str, int, tuple[int, int] | None]:
    """Return how a value is written: its name, its dots, its tuplet."""
    for factor, dots in DOTS:
        if value / factor in VALUES:
            return VALUES[value / factor], dots, None
    for actual, normal in TUPLETS:
        whole = value * actual / normal
        for factor, dots in DOTS:
            if whole / factor in VALUES:
                return VALUES[whole / factor], dots, (actual, normal)
    nearest = min(VALUES, key=lambda one: abs(one - value))
    return VALUES[nearest], 0, None


def _values(value: Fraction) -> Iterator[Fraction]:
    """Yield values that can be written and last so long together."""
    plain = {base * factor for base in VALUES for factor, _ in DOTS}
    plain |= {one * normal / actual for one in set(VALUES) for actual, normal in TUPLETS}
    while value > 0:
        here = value if value in plain else max((one for one in VALUES if one <= value), default=value)
        yield here
        value -= here
