"""What the station Music shows: the piece as a map of bars, its passages, and how far neighbours lie apart."""

from dataclasses import dataclass
from functools import cached_property

from pathway.core.planning import Plan
from pathway.core.planning.findings.contrast import Contrast, contrasts
from pathway.core.planning.strokes.timing import tempo_marks
from pathway.core.planning.wishes import Colour, Passage, Profile, Style, identified
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.store import StoredPiece
from pathway.web.shared.reading import signed
from pathway.web.shared.way import Station, way_of


@dataclass(frozen=True, slots=True)
class BarCell:
    """One bar on the map."""

    number: str
    passages: tuple[int, ...]  # counted from 1
    begins: str  # character of a passage that begins here
    repeat: str  # "from", "to" or both
    tempo: str
    findings: int
    edges: tuple["Edge", ...] = ()  # of passages that begin or end here
    words: tuple["Said", ...] = ()  # over the staff that colour the tone here


@dataclass(frozen=True, slots=True)
class Said:
    """Words that hold in a bar."""

    text: str
    begins: bool  # here, and not in a bar before


@dataclass(frozen=True, slots=True)
class Edge:
    """The beginning or the end of a passage."""

    number: int  # of the passage, counted from 1
    side: str  # start or end


@dataclass(frozen=True, slots=True)
class PassageRow:
    """One passage, ready to be edited."""

    number: int
    passage: Passage
    first: str
    last: str
    step: str  # how far it lies from the one before


@dataclass(frozen=True, slots=True)
class TempoRow:
    """The tempo from a place on."""

    place: str
    bpm: int  # at the tempo the piece has now
    note: str  # that the player set it at; empty for a printed one
    word: str  # that asks for it; empty where a number is printed


class MusicView:
    """The music of one piece."""

    def __init__(self, piece: StoredPiece, plan: Plan) -> None:
        self.piece, self.plan = piece, plan

    @property
    def way(self) -> list[Station]:
        """Return the path."""
        return way_of(self.piece.id, self.plan, "Music")

    @cached_property
    def passages(self) -> list[Passage]:
        """Return the passages in the order of the music."""
        index = self.plan.part.index
        return sorted(identified(self.plan.draft.settings.passages), key=lambda passage: index[passage.start])

    @property
    def tempo_factor(self) -> float:
        """Return how much faster the piece is now than printed."""
        first = self.plan.part.tempo
        return self.plan.draft.tempo_bpm * float(first.unit) / first.quarters_per_minute

    @property
    def tempi(self) -> list[TempoRow]:
        """Return every tempo of the piece in order."""
        part, settings = self.plan.part, self.plan.draft.settings
        own = {part.event[tempo.note].onset: tempo.note for tempo in settings.tempi}
        rows = []
        for mark in tempo_marks(part, settings):
            measure = next(m for m in reversed(part.measures) if m.onset <= mark.onset)
            beat = measure.beat_of(float(mark.onset))
            place = f"bar {measure.number}" + (f" beat {beat:.3g}" if beat != 1 else "")
            bpm = mark.quarters_per_minute / float(part.tempo.unit) * self.tempo_factor
            rows.append(TempoRow(place, round(bpm), own.get(mark.onset, ""), mark.word))
        return rows

    @property
    def cells(self) -> list[BarCell]:
        """Return every bar."""
        part = self.plan.part
        spans = [
            (part.event[p.start].measure, part.event[p.end].measure, p.character or "passage") for p in self.passages
        ]
        flagged: dict[str, int] = {}
        for finding in self.plan.findings:
            bar = self.plan.note[finding.notes[0]].measure
            flagged[bar] = flagged.get(bar, 0) + 1
        starts = {repeat.start for repeat in part.repeats}
        ends = {repeat.end for repeat in part.repeats}
        factor = self.tempo_factor / float(part.tempo.unit)
        marks = {m.onset: m.quarters_per_minute * factor for m in tempo_marks(part, self.plan.draft.settings)}
        said, before = self._said, set[str]()
        cells = []
        for i, measure in enumerate(part.measures):
            end = measure.onset + measure.length
            tempo = next((bpm for onset, bpm in marks.items() if measure.onset <= onset < end), None)
            repeat = " ".join(w for w, holds in (("from", measure.onset in starts), ("to", end in ends)) if holds)
            cells.append(
                BarCell(
                    number=measure.number,
                    passages=tuple(n for n, (a, b, _) in enumerate(spans, 1) if a <= i <= b),
                    begins=next((name for a, _, name in spans if a == i), ""),
                    repeat=repeat,
                    tempo=f"{tempo:.0f}" if tempo else "",
                    findings=flagged.get(measure.number, 0),
                    edges=tuple(
                        Edge(n, side)
                        for n, (a, b, _) in enumerate(spans, 1)
                        for side, bar in (("start", a), ("end", b))
                        if bar == i
                    ),
                    words=tuple(Said(text, text not in before) for text in sorted(said.get(i, ()))),
                )
            )
            before = said.get(i, before)
        return cells

    @property
    def _said(self) -> dict[int, set[str]]:
        """Which words over the staff colour the tone in every bar that has notes."""
        found: dict[int, set[str]] = {}
        for event, ask in zip(self.plan.part.events, self.plan.draft.asks, strict=True):
            found.setdefault(event.measure, set()).update(ask.words.values())
        return found

    @property
    def rows(self) -> list[PassageRow]:
        """Return the passages with their step from the one before."""
        steps = {step.after: step for step in self._contrasts}
        place = self._place
        return [
            PassageRow(n + 1, p, place(p.start), place(p.end), _told(steps[n]) if n in steps else "")
            for n, p in enumerate(self.passages)
        ]

    @cached_property
    def _contrasts(self) -> list[Contrast]:
        groups = []
        order = self.plan.part.index
        for passage in self.passages:
            first, last = order[passage.start], order[passage.end]
            groups.append([note for note in self.plan.bowed if first <= order[note.id] <= last])
        return contrasts(groups)

    def _place(self, note: str) -> str:
        event = self.plan.part.event[note]
        measure = self.plan.part.measures[event.measure]
        return f"bar {measure.number} beat {measure.beat_of(event.place):g}"

    @property
    def lists(self) -> dict[str, list[tuple[str, str]]]:
        """Return what can be chosen for a passage."""
        return {
            "type": [(kind.key, kind.name) for kind in STROKE_TYPES.values()],
            "colour": [(colour.value, colour.value) for colour in Colour],
            "style": [(style.value, style.value) for style in Style],
            "profile": [(profile.value, profile.value) for profile in Profile],
            "lead": [(lead.value, lead.value) for lead in Leading],
            "chords": [(form.value, form.value) for form in Form],
            "string": [(str(i), s.letter) for i, s in enumerate(self.plan.rig.instrument.strings)],
            "like": [(str(p.id), f"{n}. {p.character or 'passage'}") for n, p in enumerate(self.passages, 1)],
        }


def _told(step: Contrast) -> str:
    amount = "hardly" if step.thin else "a little" if abs(step.level_db) < 3 else "clearly"
    colour = "brighter" if step.brightness > 0.1 else "darker" if step.brightness < -0.1 else "alike in colour"
    return f"{amount} apart: {signed(step.level_db, 1)} dB, {colour}"
