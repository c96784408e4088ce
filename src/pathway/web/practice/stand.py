"""A drill as it stands on the stand: the line with its ribbons, the rung, what to watch, what comes next."""

from dataclasses import dataclass
from datetime import date, datetime
from functools import cached_property

from pathway.core.guide.drills import DRILL_WORDS, STOP, STRAINS, DrillWords
from pathway.core.guide.speech import Speech
from pathway.core.practice.drill import AskedBy, DrillAsk, Offer, PlannedWork, Stage, Strain
from pathway.core.practice.load import LONGEST_SET, Allowance, day_off
from pathway.core.practice.offers import neighbour, then
from pathway.core.practice.staircase import WINDOW, Climb
from pathway.desk.practising import OpenDrill, Practising, Told
from pathway.formats.staves import System
from pathway.web.practice.pictures import draw_ladder, with_arrivals
from pathway.web.practice.words import (
    against,
    beat_of,
    changes_of,
    drill_link,
    has_ways,
    name_of,
    passes_of,
    stills_of,
    tempo_of,
    where_of,
    why_of,
)
from pathway.web.shared.tracks.geometry import SIGNS, PlanIndex, tracks_of
from pathway.web.shared.tracks.look import Look
from pathway.web.shared.tracks.svg import draw_tracks

LOOK = Look(lanes=False, strings=False)
_SHORT = 16  # letters under a point of the ladder
_FEW, _NEAR = 20, 700  # notes that are drawn larger, and how wide their line is [CSS px]


@dataclass(frozen=True, slots=True)
class DrillStandLine:
    """One engraved line and the ribbons under it."""

    number: int
    engraved: str
    tracks: str
    signs: str  # room above the staff for the signs, in % of the width


def _short(name: str) -> str:
    """Return what of a rung's name stands under its point."""
    return name if len(name) <= _SHORT else " ".join(name.split()[:2]).rstrip(",")


class Stand:
    """One drill at the rung where the player is."""

    def __init__(
        self,
        practising: Practising,
        drill: OpenDrill,
        told: Told,
        say: Speech,
        width: int,
        day: str = "",
    ) -> None:
        self._practising, self.drill, self.told, self._say, self._width = practising, drill, told, say, width
        self.day = day  # which of the day's work it is
        self.climb: Climb = practising.climb(drill)

    @property
    def one(self) -> PlannedWork:
        """Return the present rung."""
        return self.drill.ready.at(self.climb.rung)

    @property
    def words(self) -> DrillWords:
        """Return what is told of the family."""
        return DRILL_WORDS[self.drill.ask.family]

    @property
    def name(self) -> str:
        """Return the name of the drill."""
        return name_of(self.drill.ask)

    @property
    def place(self) -> str:
        """Return where it comes from, or on what it is played."""
        bars = self._practising.bars_told(self.drill)
        told = f"bar{'s' * ('–' in bars)} {bars} of {self.drill.title}" if bars else self.drill.rig.name
        return f"{told} · {where_of(self.drill.ask)}"

    @property
    def asked(self) -> str:
        """Return what asks for it, in its first sentence."""
        told = self.told
        if told.why is AskedBy.PLAYER:
            return ""
        plan = self.drill.now.plan if self.drill.now else None
        whole = why_of(Offer(self.drill.ask, told.why, told.what, told.bars), plan, self._say)
        return whole.split(". ")[0].rstrip(".")

    @property
    def bars(self) -> str:
        """Return the address of its bars on the sheet."""
        ask, piece = self.drill.ask, self.drill.piece
        return f"/pieces/{piece}?note={ask.first}" if piece and ask.first else ""

    @cached_property
    def lines(self) -> list[DrillStandLine]:
        """Return the lines with the ribbons of the rung's plan."""
        index = PlanIndex(self.one.plan)
        width = _NEAR if len(self.one.plan.notes) <= _FEW else self._width
        systems = self._practising.lines(self.drill, self.climb.rung, width)
        return [self._line(index, system, n) for n, system in enumerate(systems)]

    def _line(self, index: PlanIndex, system: System, number: int) -> DrillStandLine:
        tracks = tracks_of(index, system, number, look=LOOK, say=self._say)
        drawn = draw_tracks(tracks)
        if self.drill.ask.family == "arrive":
            drawn = with_arrivals(drawn, tracks, index.plan, self._say)
        return DrillStandLine(number, system.svg, drawn, f"{100 * SIGNS / system.width:.2f}")

    @property
    def ladder(self) -> str:
        """Return the ladder."""
        ready = self.drill.ready
        last = ready.rungs[-1]
        goal = (
            f"{last.rate:.1f} notes a second: {last.rung.name}, {beat_of(last.plan.part)} = {last.beats_per_minute:.0f}"
        )
        rates = [f"{one.rate:.1f}" for one in ready.rungs]
        if len(set(rates)) == 1:  # it is something else that changes
            rates = [_short(one.rung.name) for one in ready.rungs]
        return draw_ladder(rates, self.climb.rung, self.climb.passed, goal)

    @property
    def rung(self) -> str:
        """Return the present rung in words."""
        return f"{self.one.rung.name} · {tempo_of(self.one)}"

    @property
    def number(self) -> str:
        """Return which rung it is."""
        return f"rung {self.climb.rung + 1} of {self.drill.ready.top + 1}"

    @property
    def changes(self) -> list[str]:
        """Return what is otherwise than in the piece."""
        return changes_of(self.drill.ready, self.climb.rung, self._say)

    @property
    def stills(self) -> str:
        """Return what must not move."""
        return stills_of(self.drill.ready, self.one, self._say)

    @property
    def passes(self) -> str:
        """Return by what the rung is passed."""
        return passes_of(self.drill.ready, self.one)

    @property
    def tries(self) -> list[str]:
        """Return the tries that the staircase looks at."""
        return [one.value for one in self.climb.tries[-WINDOW:]]

    @property
    def heavy(self) -> bool:
        """Whether it is heavy work."""
        return self.drill.ready.row.load is Strain.HEAVY

    @cached_property
    def allowance(self) -> Allowance:
        """Return how long the next set may be."""
        return self._practising.allowance(self.drill.ask.family, datetime.now().astimezone())

    @property
    def cautions(self) -> list[str]:
        """Return what is said before heavy work."""
        if not self.heavy:
            return []
        today = date.today()
        off = day_off(self.drill.ask.key, self._practising.bouts(), today)
        return [STRAINS, STOP] + (["It strained the hand on two days running: leave it out for a day."] if off else [])

    @property
    def against(self) -> str:
        """Return why a set cannot begin now."""
        return against(self.allowance)

    @property
    def longest(self) -> float:
        """Return how long a set may last [s]; 0 where it need not end."""
        return min(self.allowance.seconds, LONGEST_SET) if self.heavy else 0.0

    @property
    def waits(self) -> float:
        """Return how long the rest still is [s]."""
        return self.allowance.wait

    @property
    def closed(self) -> bool:
        """Whether there is no more of it today."""
        return self.allowance.seconds <= 0

    @property
    def silent(self) -> str:
        """Return what is told of a drill that is not played on the strings."""
        if self.drill.ask.stage is Stage.HAND:
            return "Without the instrument: the line is the time of the hand."
        if self.drill.ask.stage is Stage.SILENT:
            return "The bow on the string, without sound: the line is its time."
        return ""

    @property
    def next(self) -> tuple[str, str] | None:
        """Return the drill that comes after this one, nearer to the piece; where the last rung is passed."""
        return self._told(then(self.drill.ask)) if self.climb.passed else None

    @property
    def beside(self) -> tuple[str, str] | None:
        """Return the neighbour drill, where this one does not move."""
        return self._told(neighbour(self.drill.ask)) if self.climb.stuck else None

    def _told(self, ask: DrillAsk | None) -> tuple[str, str] | None:
        return None if ask is None else (f"{name_of(ask)}, {where_of(ask)}", drill_link(self.drill.piece, ask))

    @property
    def members(self) -> list[tuple[str, str, bool]]:
        """Return the ways of this drill, with their addresses."""
        ask, members = self.drill.ask, self.drill.ready.row.members
        chosen = ask.member or members[0]
        if not has_ways(ask):
            return []
        made = [(one, DrillAsk(ask.family, one, ask.stage, ask.first, ask.last, ask.kind)) for one in members]
        return [(one, drill_link(self.drill.piece, other), one == chosen) for one, other in made]

    @property
    def stages(self) -> list[tuple[str, str, bool]]:
        """Return the stages of this drill, with their addresses."""
        ask = self.drill.ask
        there = [s for s in self.drill.ready.row.stages if s < Stage.BARS or (ask.first and self.drill.piece)]
        if len(there) < 2:
            return []
        return [(s.word, drill_link(self.drill.piece, ask.at(s)), s is ask.stage) for s in there]

    @property
    def fault(self) -> str:
        """Return the fault that can be heard on this rung; empty without one."""
        return self.one.rung.fault.value if self.one.rung.fault else ""

    @property
    def second(self) -> bool:
        """Whether the second part goes with it."""
        return self.drill.ask.family == "with-second-part"

    @property
    def query(self) -> str:
        """Return what names the drill in addresses."""
        piece = f"&piece={self.drill.piece}" if self.drill.piece else ""
        version = self.drill.now.piece.version if self.drill.now else self.drill.rig.version
        return f"drill={self.drill.ask.key}{piece}&rung={self.climb.rung}&version={version}".replace(" ", "%20")
