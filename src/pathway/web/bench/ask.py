"""What is on the bench: read from the page's fields, or taken from a note."""

import math
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from pathway.core.guide.speech import Speech
from pathway.core.planning import TwoStrings
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan
from pathway.core.rig import Rig
from pathway.core.rig.bow import Direction
from pathway.core.technique.hand_loops import Figure, Step, alternating
from pathway.errors import OutOfRange

_LIMITS = {"speed": (2.0, 150.0), "hair": (1.0, 90.0), "place": (0.5, 30.0)}  # [cm/s], [cm]


class BenchAsk(BaseModel):
    """The fields of the bench, in the player's units; strings count from the lowest, 0."""

    model_config = ConfigDict(extra="ignore", frozen=True)

    rig: str = "violin"
    lower: Annotated[int, Field(ge=0, le=7)] = 1
    low_stop: Annotated[int, Field(ge=0, le=24)] = 0
    high_stop: Annotated[int, Field(ge=0, le=24)] = 0
    lead: Literal["higher", "lower"] = "higher"
    speed: Annotated[float, Field(gt=0, le=150)] = 25.0
    level: Annotated[float, Field(ge=-20, le=12)] = 0.0
    hair: Annotated[float, Field(gt=0, le=90)] = 30.0
    place: Annotated[float, Field(gt=0, le=30)] | None = None  # cm from the bridge; None: the best
    share: Annotated[float, Field(ge=1, le=99)] | None = None  # of the weight for the lead, %; None: the best
    tilt: Annotated[float, Field(ge=-60, le=60)] | None = None  # level of the bow [°]; None: between the two strings
    notes: Annotated[int, Field(ge=1, le=6)] = 1
    begins: Literal["lower", "higher"] = "lower"
    bow: Literal["down", "up"] = "down"

    def meant(self, say: Speech) -> "BenchAsk":
        """Return it in metric units, as the player meant what was written.

        Raises:
            OutOfRange: a number that is outside its limits in these units.
        """
        told = {name: getattr(self, name) for name in _LIMITS.keys() & self.model_fields_set}
        meant = {name: say.meant(value, "cm") for name, value in told.items() if value is not None}
        for name, value in meant.items():
            low, high = _LIMITS[name]
            if not low * (1 - ROUNDED) <= value <= high * (1 + ROUNDED):
                unit = "cm/s" if name == "speed" else "cm"
                least, most = (round(say.shown(limit, unit), 2) for limit in (low, high))
                raise OutOfRange(f"the {name}", told[name], least, most, say.unit(unit))
        return self.model_copy(update=meant)

    def two(self, rig: Rig) -> TwoStrings:
        """Return the double stop on a rig.

        Raises:
            OutOfRange: the strings are not there, or the place lies off the hair.
        """
        self._check(rig)
        pair, stops = (self.lower, self.lower + 1), (self.low_stop, self.high_stop)
        strings = TwoStrings(rig, pair, stops, self.speed / 100, self.level, self.hair / 100)
        return strings if self.lead == "lower" else strings.turned

    def _check(self, rig: Rig) -> None:
        if self.lower > len(rig.instrument.strings) - 2:
            raise OutOfRange("the lower string", self.lower, 0, len(rig.instrument.strings) - 2)
        low, high = rig.usable
        if not low <= self.hair / 100 <= high:
            raise OutOfRange("the place on the hair", self.hair, 100 * low, 100 * high, "cm")

    @property
    def higher_on_down(self) -> bool:
        """Whether the higher string begins the down-bow; an odd pattern meets the up-bow with the other string."""
        return (self.begins == "higher") != (self.notes % 2 == 1 and self.bow == "up")

    @property
    def figure(self) -> Figure:
        """Return the crossing figure."""
        return alternating(self.lower, self.notes, self.speed / 100 * FIGURE_TIME, higher_on_down=self.higher_on_down)


ROUNDED = 0.001  # by which the ends of a field may miss its limits in other units
FIGURE_TIME = 0.25  # of one note of the figure [s]


def ask_of(plan: Plan, note: NotePlan) -> BenchAsk:
    """Return a note laid on the bench: its strings, or its own and the next one where it has one only."""
    strings = plan.rig.instrument.strings
    voices = sorted(note.voices, key=lambda voice: voice.string)
    lower = min(voices[0].string, len(strings) - 2)
    stops = {voice.string: _semitones(plan, voice.vibrating) for voice in voices}
    double = len(voices) > 1
    return BenchAsk(
        rig=plan.rig.key,
        lower=lower,
        low_stop=stops.get(lower, 0),
        high_stop=stops.get(lower + 1, 0),
        lead="lower" if note.lead.string == lower else "higher",
        speed=round(min(max(100 * note.speed, _LIMITS["speed"][0]), _LIMITS["speed"][1]), 1),
        level=round(min(max(note.target_db, -20), 12), 1),
        hair=round(100 * (note.start + note.end) / 2, 1),
        tilt=None if double else round(math.degrees(note.level), 1),
    )


def figure_of(plan: Plan, note: NotePlan) -> Figure | None:
    """Return what the stroke of a note and its neighbour in the other direction draw; None on one string, or alone."""
    k = plan.stroke_index[note.stroke or ""]
    near = [plan.strokes[i] for i in (k + 1, k - 1) if 0 <= i < len(plan.strokes)]
    other = next((stroke for stroke in near if stroke.direction is not plan.strokes[k].direction), None)
    if other is None:
        return None
    pair = [plan.strokes[k], other] if plan.strokes[k].direction is Direction.DOWN else [other, plan.strokes[k]]
    down, up = ([_step(plan.note[id_]) for id_ in stroke.notes] for stroke in pair)
    if len({step.string for step in (*down, *up)}) == 1:
        return None
    return Figure(down, up, abs(plan.strokes[k].end - plan.strokes[k].start))


def _step(note: NotePlan) -> Step:
    strings = [voice.string for voice in note.voices]
    return Step(sum(strings) / len(strings), note.sounding)


def _semitones(plan: Plan, vibrating: float) -> int:
    return min(24, round(12 * math.log2(plan.rig.instrument.length / vibrating)))
