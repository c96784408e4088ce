"""What the sheet's templates show: decisions are made here, layout there."""

import math
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.advice.tempi import TempoRange, tempo_range
from pathway.core.planning.finding import Finding
from pathway.core.planning.plan import Plan
from pathway.core.technique.tempo_words import Kind, tempo_word_of
from pathway.formats.staves import System
from pathway.store import Choices, StoredPiece
from pathway.web.shared.reading import signed
from pathway.web.shared.tracks.geometry import PlanIndex, system_height, tracks_of
from pathway.web.shared.tracks.look import WHOLE_LOOK, Look
from pathway.web.shared.tracks.svg import draw_tracks
from pathway.web.shared.way import Station, way_of
from pathway.web.sheet.card import NoteCard
from pathway.web.sheet.tips import tip_for

_FAIL_FIRST = 3  # bars that are named
_AT_FIRST = 3  # lines on each side of the selected note's that a page comes with
USUAL_TEMPI = (54, 66, 76, 92, 112, 132)  # beats a minute to choose from, where nothing is printed
BEAT_SIGNS = {0.25: "sixteenth", 0.5: "eighth", 1.0: "quarter", 1.5: "dotted quarter", 2.0: "half"}


@dataclass(frozen=True, slots=True)
class SystemView:
    """One system: the engraved line and what lies over it."""

    number: int
    engraved: str
    tracks: str
    width: float


@dataclass(frozen=True, slots=True)
class LineView:
    """A line of the page: its system, or the room for it where that comes later."""

    number: int
    notes: str  # ids in order
    bars: str  # each one's first note here and its number, as in "n7:2"
    width: float
    height: float
    system: SystemView | None


def _evenness(down_minus_up_db: float) -> str:
    if abs(down_minus_up_db) < 0.5:
        return "even"
    return f"{signed(down_minus_up_db, 1)} dB"


def fail_first(bars: Sequence[str]) -> str:
    """Return in words that some bars, perhaps named several times, fail first; empty where none does."""
    named = list(dict.fromkeys(bars))[:_FAIL_FIRST]
    if len(named) < 2:
        return "".join(f"bar {bar} fails first" for bar in named)
    return f"bars {', '.join(named[:-1])} and {named[-1]} fail first"


class SheetView:
    """The sheet of one piece."""

    def __init__(
        self,
        piece: StoredPiece,
        plan: Plan,
        systems: tuple[System, ...],
        selected: str | None,
        asides: Mapping[tuple[str, str], str] | None = None,
        look: Look = WHOLE_LOOK,
        choices: Choices = Choices(),
        held: Collection[int] | None = None,
        told: str = "",
    ) -> None:
        self.look, self.choices, self.held = look, choices, held
        self.piece, self.plan, self.systems, self.told = piece, plan, systems, told
        self.asides = asides or {}  # reasons of findings laid aside, by code and first note
        known = selected if selected in plan.note else None
        self.selected = known or plan.strokes[0].notes[0]
        self.moved: frozenset[str] = frozenset()  # strokes, by the last edit
        self.from_take: tuple[str, list[str]] | None = None  # when a take said something of it, and what may be heard
        self.scope: frozenset[str] = frozenset()  # notes that are looked at, where it is not all

    @cached_property
    def index(self) -> PlanIndex:
        """Return the plan ordered for drawing."""
        return PlanIndex(self.plan, self.open_findings)

    def system(self, number: int) -> SystemView:
        """Return one system."""
        system = self.systems[number]
        tracks = tracks_of(self.index, system, number, self.moved, self.look, self.choices.speech)
        return SystemView(number, system.svg, draw_tracks(tracks), tracks.width)

    @property
    def lines(self) -> list[LineView]:
        """Return every line of the page; those far from the selected note are left for later."""
        here = self._home.get(self.selected, 0)
        return [self._line(number, here) for number in range(len(self.systems))]

    def _line(self, number: int, here: int) -> LineView:
        system = self.systems[number]
        notes = self.index.ids_in(system)
        bars: dict[str, str] = {}
        for id_ in notes:
            bars.setdefault(self.plan.part.bar[id_], id_)
        return LineView(
            number,
            " ".join(notes),
            " ".join(f"{first}:{''.join(bar.split())}" for bar, first in bars.items()),
            system.width,
            system_height(system, len(self.plan.rig.instrument.strings), self.look),
            self.system(number) if abs(number - here) <= _AT_FIRST else None,
        )

    def held_systems(self, numbers: Iterable[int] | None = None) -> list[SystemView]:
        """Return the systems, or some of them, that the page already has: the others come to it as they are then."""
        wanted = range(len(self.systems)) if numbers is None else numbers
        return [self.system(i) for i in wanted if self.holds(i)]

    def holds(self, number: int) -> bool:
        """Return whether the page has a system."""
        return 0 <= number < len(self.systems) and (self.held is None or number in self.held)

    def changed_since(self, before: Plan) -> list[SystemView]:
        """Return the systems in which a stroke looks different from the plan before an edit."""
        anew = [self.plan.strokes[k] for k in self.plan.carried.anew]
        looks = [stroke for stroke in anew if stroke != before.stroke.get(stroke.id)]
        self.moved = frozenset(s.id for s in looks if s.id in before.stroke and before.stroke[s.id].end != s.end)
        touched = {note for stroke in looks for note in stroke.notes}
        touched |= {id_ for s in anew for id_ in s.notes if self.plan.note[id_] != before.note.get(id_)}
        touched |= {f.notes[0] for f in before.findings} ^ {f.notes[0] for f in self.plan.findings}
        return self.systems_of(touched)

    def systems_of(self, notes: Iterable[str]) -> list[SystemView]:
        """Return the systems at hand in which some notes stand."""
        return self.held_systems(sorted({self._home[id_] for id_ in notes if id_ in self._home}))

    @cached_property
    def _home(self) -> dict[str, int]:
        """Return in which system each note stands."""
        return {id_: i for i, system in enumerate(self.systems) for id_ in system.notes}

    @cached_property
    def card(self) -> NoteCard:
        """Return the card of the selected note."""
        return NoteCard(self.plan, self.plan.note[self.selected], self.choices.school, self.choices.speech)

    @property
    def way(self) -> list[Station]:
        """Return the path."""
        return way_of(self.piece.id, self.plan, "Bowing")

    @property
    def open_findings(self) -> list[Finding]:
        """Return the findings in sight that are not laid aside, worst first."""
        found = [f for f in self.plan.findings if f.key not in self.asides]
        return [f for f in found if not self.scope.isdisjoint(f.notes)] if self.scope else found

    @property
    def laid_aside(self) -> list[tuple[Finding, str]]:
        """Return the findings that are, with their reasons."""
        found = [(f, self.asides.get(f.key)) for f in self.plan.findings]
        return [(finding, reason) for finding, reason in found if reason is not None]

    @property
    def symptoms(self) -> list[str]:
        """Return what a player may hear."""
        return [heard.value for heard in Heard]

    @property
    def tip(self) -> str:
        """Return a hint."""
        return tip_for(self.piece.version)

    @cached_property
    def tempi(self) -> TempoRange:
        """Return the tempi at which the bows fit."""
        return tempo_range(self.plan)

    @property
    def fails_first(self) -> str:
        """Return in words which bars fail first when it gets slower; empty where none does."""
        return fail_first([self.plan.note[id_].measure for id_ in self.tempi.first_to_fail])

    @property
    def tempo(self) -> int:
        """Return the tempo in beats a minute."""
        return round(self.plan.draft.tempo_bpm)

    @property
    def notices(self) -> list[str]:
        """Return what had to be decided; the tempo is told beside its own field."""
        told = [self.told] if self.told else []
        return told + [notice for notice in self.plan.notices if notice != self.tempo_told]

    @property
    def tempo_told(self) -> str:
        """Return what is told of the tempo where no number is printed and none is set; empty else."""
        return self.plan.tempo_told

    @property
    def usual_tempi(self) -> list[int]:
        """Return tempi to take instead of one that no number says: the range of its word, or some usual ones."""
        first = self.plan.part.tempo
        word = tempo_word_of(first.word)
        if word is None or word.kind is not Kind.SETS:
            return list(USUAL_TEMPI)
        per_beat = first.beats_per_minute / word.beats
        middle = (word.low + word.high) / 2
        return sorted({round(beats * per_beat) for beats in (word.low, word.beats, middle, word.high)})

    @property
    def slider(self) -> tuple[int, int]:
        """Return the slowest and fastest tempo of the slider."""
        return max(10, self.tempo // 2), min(400, self.tempo * 2)

    def on_slider(self, tempo: float) -> str | None:
        """Return where a tempo lies along the slider [%]; None beyond its ends."""
        low, high = self.slider
        return f"{100 * (tempo - low) / (high - low):.1f}" if low <= tempo <= high else None

    @property
    def beat(self) -> str:
        """Return the name of the beat's note value."""
        return BEAT_SIGNS.get(float(self.plan.part.tempo.unit), "beat")

    @property
    def fits_from(self) -> int:
        """Return the lowest whole tempo at which every bow is long enough for its stroke."""
        return math.ceil(self.plan.totals.lowest_tempo_bpm)

    @property
    def facts(self) -> list[tuple[str, str]]:
        """Return the plan in a few figures."""
        if self.scope:
            return [("findings in these lines", str(len(self.open_findings)))]
        totals = self.plan.totals
        return [
            ("hair used", f"{totals.hair:.1f} m"),
            ("down against up", _evenness(totals.down_minus_up_db)),
            ("findings", str(len(self.open_findings))),
        ]
