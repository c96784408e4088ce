"""What the station Music shows: the piece as a map of bars, its passages, and how far neighbours lie apart."""

from dataclasses import dataclass
from functools import cached_property

from pathway.core.planning import Plan
from pathway.core.planning.findings.contrast import Contrast, contrasts
from pathway.core.planning.wishes import Colour, Passage, Profile, Style
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.store import StoredPiece
from pathway.web.sheet.pictures import signed
from pathway.web.way import Station, way_of


@dataclass(frozen=True, slots=True)
class BarCell:
    """One bar on the map."""

    number: str
    passages: tuple[int, ...]  # counted from 1
    begins: str  # character of a passage that begins here
    repeat: str  # "from", "to" or both
    tempo: str
    findings: int


@dataclass(frozen=True, slots=True)
class PassageRow:
    """One passage, ready to be edited."""

    number: int
    passage: Passage
    first: str
    last: str
    step: str  # how far it lies from the one before


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
        return sorted(self.plan.draft.settings.passages, key=lambda passage: index[passage.start])

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
        marks = {mark.onset: mark.quarters_per_minute / float(mark.unit) for mark in part.tempos}
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
                )
            )
        return cells

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
        }


def _told(step: Contrast) -> str:
    amount = "hardly" if step.thin else "a little" if abs(step.level_db) < 3 else "clearly"
    colour = "brighter" if step.brightness > 0.1 else "darker" if step.brightness < -0.1 else "alike in colour"
    return f"{amount} apart: {signed(step.level_db, 1)} dB, {colour}"
