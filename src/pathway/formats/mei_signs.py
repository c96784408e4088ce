"""The signs around the notes of MEI: dynamics, words, tempi, fermatas, slurs and hairpins."""

from collections.abc import Iterable, Sequence
from fractions import Fraction

from lxml import etree

from pathway.core.music import (
    ASSUMED,
    Dynamic,
    Event,
    Hairpin,
    Measure,
    Slur,
    Stretch,
    TempoMark,
    Words,
)
from pathway.core.technique.directions import in_time, quickens, slows
from pathway.core.technique.dynamic_words import dynamic_of, goes_on
from pathway.core.technique.tempo_words import spoken_tempi, tempo_word_of
from pathway.errors import ScoreError
from pathway.formats.mei_elements import NS, beats, tempo_of, text_of
from pathway.formats.musicxml_mending import TEMPI

FERMATA = 1.6  # times the written length, our choice
SLOWING = (1.1, 1.2, 1.35)  # thirds of a ritardando, our choice
QUICKENING = (0.95, 0.9, 0.84)  # and of an accelerando
LONGEST_CHANGE = Fraction(32)  # a cresc. without an end [quarters]
LONGEST_SLOWING = Fraction(8)  # one without an end [quarters]


class Signs:
    """What stands around the notes, read bar by bar as they get their places."""

    def __init__(self, measures: Sequence[Measure]) -> None:
        self.measures = measures  # as far as they are read
        self.event_of: dict[str, str] = {}  # id of any head or chord → id of its event
        self.span_of: dict[str, tuple[Fraction, Fraction]] = {}
        self.slurs: list[Slur] = []
        self.dynamics: list[Dynamic] = []
        self.hairpins: list[Hairpin] = []
        self._going_on: list[tuple[etree._Element, Fraction, int, bool]] = []  # words that ask to grow or fade
        self.marks: list[TempoMark] = []
        self.words: list[Words] = []
        self.stretches: list[Stretch] = []
        self.notices: list[str] = []
        self.sections: list[Fraction] = []

    def place(self, event: Event, ids: Iterable[str]) -> None:
        """Remember where the heads and the chord of an event stand."""
        for id_ in ids:
            self.event_of[id_] = event.id
            self.span_of[id_] = (event.onset, event.onset + event.duration)

    def rename(self, events: Iterable[Event]) -> None:
        """Let every head name the event that it begins in, once two voices are one."""
        now = {head.id: event.id for event in events for head in event.heads if not head.held}
        self.event_of = {id_: now.get(id_) or now.get(event, event) for id_, event in self.event_of.items()}

    def bar(self, node: etree._Element, measure: Measure) -> None:
        """Read the signs of a bar whose notes have their places.

        Raises:
            ScoreError: a tempo that cannot be played.
        """
        for sign in node.iter(f"{NS}dynam"):
            self._dynamic(sign, text_of(sign), measure)
        for sign in node.iter(f"{NS}dir", f"{NS}tempo"):
            if text := text_of(sign):
                self.words.append(Words(self._start(sign, measure), text))
                self._dynamic(sign, text, measure)
        for sign in node.iter(f"{NS}fermata"):
            span = self.span_of.get((sign.get("startid") or "").lstrip("#"))
            if span and span[1] > span[0]:
                self.stretches.append(Stretch(*span, FERMATA))
        for sign in node.iter(f"{NS}tempo"):
            if mark := tempo_of(sign, self._start(sign, measure), measure.beat_length):
                self._tempo(_playable(mark, measure), sign, measure)
        self.sections += [self._start(sign, measure) for sign in node.iter(f"{NS}reh")]

    def _tempo(self, mark: TempoMark, sign: etree._Element, measure: Measure) -> None:
        """Take a number; one that a file only plays is not taken where the word beside it means another by far."""
        word = None if sign.get("mm") else tempo_word_of(text_of(sign))
        if word and word.denies(mark.quarters_per_minute, measure.beat_length, Fraction(4, measure.beat_type)):
            self.notices.append(
                f"Bar {measure.number}: the file is played at {mark.beats_per_minute:.0f}, which is not what "
                f"“{word.text}” means; the word holds until you set a tempo."
            )
        else:
            self.marks.append(mark)

    def _dynamic(self, sign: etree._Element, text: str, measure: Measure) -> None:
        """Take what a sign or words say of the level: at once, and from here on."""
        at = self._start(sign, measure)
        if dynamic := dynamic_of(text, at):
            self.dynamics.append(dynamic)
        if grows := goes_on(text):
            self._going_on.append((sign, at, len(self.measures) - 1, grows > 0))

    def spanners(self, root: etree._Element) -> None:
        """Read slurs and hairpins, once every note has its place."""
        for index, node in enumerate(root.iter(f"{NS}measure")):
            for slur in node.iter(f"{NS}slur"):
                ends = [self.event_of.get((slur.get(key) or "").lstrip("#")) for key in ("startid", "endid")]
                if ends[0] and ends[1] and ends[0] != ends[1]:
                    self.slurs.append(Slur(ends[0], ends[1]))
            for pin in node.iter(f"{NS}hairpin"):
                start, end = self._start(pin, self.measures[index]), self._pin_end(pin, index)
                if end > start:
                    self.hairpins.append(Hairpin(start, end, pin.get("form") == "cres"))
        self.hairpins += self._worded()

    def _worded(self) -> list[Hairpin]:
        """Return what words ask to grow or fade: to the end of their dashes, else to the next sign of loudness."""
        last = self.measures[-1].onset + self.measures[-1].length
        signs = (
            [d.onset for d in self.dynamics] + [p.start for p in self.hairpins] + [at for _, at, _, _ in self._going_on]
        )
        found = []
        for sign, at, index, grows in self._going_on:
            end = min([s for s in signs if s > at] + [at + LONGEST_CHANGE, last])
            if sign.get("endid") or sign.get("tstamp2"):
                end = self._pin_end(sign, index)
            if end > at:
                found.append(Hairpin(at, end, grows, worded=True))
        return found

    def tempi(self) -> tuple[TempoMark, ...]:
        """Return the tempo marks in order, those with a number and those that words ask for."""
        units, words = dict[Fraction, Fraction](), []
        for told in self.words:
            word = tempo_word_of(told.text)
            if word is not None:
                measure = next(m for m in reversed(self.measures) if m.onset <= told.onset)
                units[told.onset] = measure.beat_length
                words.append((told.onset, word, measure.beat_length, Fraction(4, measure.beat_type)))
        units |= {mark.onset: mark.unit for mark in self.marks}
        numbers = [(mark.onset, mark.quarters_per_minute) for mark in self.marks]
        beat = self.measures[0].beat_length
        tempi = spoken_tempi(numbers, words, ASSUMED * float(beat))
        marks = (TempoMark(t.onset, t.quarters, units.get(t.onset, beat), t.word) for t in tempi)
        return tuple(sorted(marks, key=lambda mark: mark.onset))

    def changes_of_time(self, tempi: Iterable[TempoMark]) -> list[Stretch]:
        """Spread every ritardando and accelerando up to the next word in time, the next tempo mark or a few beats."""
        found = []
        ends = [w.onset for w in self.words if in_time(w.text)] + [tempo.onset for tempo in tempi]
        last = self.measures[-1].onset + self.measures[-1].length
        for words in self.words:
            factors = SLOWING if slows(words.text) else QUICKENING if quickens(words.text) else None
            if factors is None:
                continue
            end = min([e for e in ends if e > words.onset] + [words.onset + LONGEST_SLOWING, last])
            third = (end - words.onset) / len(factors)
            found += [
                Stretch(words.onset + i * third, words.onset + (i + 1) * third, factor)
                for i, factor in enumerate(factors)
            ]
        return found

    def _start(self, node: etree._Element, measure: Measure) -> Fraction:
        id_ = (node.get("startid") or "").lstrip("#")
        if id_ in self.span_of:
            return self.span_of[id_][0]
        return measure.onset + beats(node.get("tstamp", "1"), measure.beat_type)

    def _pin_end(self, pin: etree._Element, index: int) -> Fraction:
        id_ = (pin.get("endid") or "").lstrip("#")
        if id_ in self.span_of:
            return self.span_of[id_][1]
        bars, _, beat = (pin.get("tstamp2") or "0m+1").rpartition("m+")
        measure = self.measures[min(index + int(bars or 0), len(self.measures) - 1)]
        return measure.onset + beats(beat, measure.beat_type)


def _playable(mark: TempoMark, measure: Measure) -> TempoMark:
    if not TEMPI[0] <= mark.beats_per_minute <= TEMPI[1]:
        raise ScoreError(
            f"A tempo of {mark.beats_per_minute:g} beats a minute cannot be played",
            place=f"bar {measure.number}",
            advice=f"Write one from {TEMPI[0]:g} to {TEMPI[1]:g} in the score.",
        )
    return mark
