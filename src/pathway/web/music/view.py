"""What the station Music shows: the engraved lines with their bands, the steps between passages, the tempi."""

from collections.abc import Collection
from dataclasses import dataclass
from functools import cached_property

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.planning import Plan, tempo_marks
from pathway.core.planning.wishes import Passage, Style, identified
from pathway.formats.staves import System
from pathway.store import StoredPiece
from pathway.web.music.bands import BANDS_HEIGHT, Bands
from pathway.web.music.panel import Panel
from pathway.web.music.steps import StepRow, rows_of
from pathway.web.shared.way import Station, way_of

_AT_FIRST = 4  # lines that a page comes with


@dataclass(frozen=True, slots=True)
class MusicLine:
    """One line of the page: its engraving and its bands, or the room for them where they come later."""

    number: int
    spots: str  # places of its notes, as in "n7:125.5"
    width: float
    height: float
    engraved: str
    bands: str


@dataclass(frozen=True, slots=True)
class TempoRow:
    """The tempo from a place on."""

    place: str
    bpm: int  # at the tempo the piece has now
    note: str  # that the player set it at; empty for a printed one
    word: str  # that asks for it; empty where a number is printed


class MusicView:
    """The music of one piece."""

    def __init__(
        self,
        piece: StoredPiece,
        plan: Plan,
        systems: tuple[System, ...] = (),
        held: Collection[int] | None = None,
        say: Speech = PLAIN,
    ) -> None:
        self.piece, self.plan, self.systems, self.held, self.say = piece, plan, systems, held, say

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
    def title(self) -> str:
        """Return how many characters there are."""
        bars, count = len(self.plan.part.measures), len(self.passages)
        if not count:
            return f"{bars} bars, as written"
        return f"{count} passage{'s' if count > 1 else ''} in {bars} bars"

    @cached_property
    def _bands(self) -> Bands:
        return Bands(self.plan, self.passages, self.say)

    def line(self, number: int, *, here: bool = True) -> MusicLine:
        """Return one line, or the room for it."""
        system, index = self.systems[number], self.plan.part.index
        notes = sorted((id_ for id_ in system.notes if id_ in self.plan.note), key=index.__getitem__)
        spots = " ".join(f"{id_}:{system.notes[id_].x:.1f}" for id_ in notes)
        drawn = self.bands(number) if here else ""
        engraved = system.svg if here else ""
        return MusicLine(number, spots, system.width, system.height + BANDS_HEIGHT, engraved, drawn)

    def bands(self, number: int) -> str:
        """Return the bands of one line."""
        return self._bands.drawn(self.systems[number], self.plan.draft.settings.tempi, self.tempo_factor)

    @property
    def lines(self) -> list[MusicLine]:
        """Return every line; those further down are left for later."""
        return [self.line(number, here=number < _AT_FIRST) for number in range(len(self.systems))]

    @property
    def held_lines(self) -> list[MusicLine]:
        """Return the lines that the page has."""
        return [self.line(n) for n in range(len(self.systems)) if self.held is None or n in self.held]

    @property
    def steps(self) -> list[StepRow]:
        """Return the steps from passage to passage."""
        return rows_of(self.plan, self.passages)

    def panel(self, passage: Passage) -> Panel:
        """Return the panel of a passage, or of a stretch that is none yet."""
        return Panel(self.plan, self.passages, passage, self.say)

    @property
    def style(self) -> str:
        """Return the style of the piece."""
        return self.plan.draft.settings.style.value

    @property
    def styles(self) -> list[str]:
        """Return the styles there are."""
        return [style.value for style in Style]

    @property
    def early_chords(self) -> bool:
        """Whether the low strings of a chord come before the beat."""
        return self.plan.draft.settings.chords_before_beat

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
