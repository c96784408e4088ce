"""What the bench shows: figures beside pictures, for two strings, a crossing and a chord."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from pathway.core.guide.cues import School, level_cue
from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.music import pitch_name
from pathway.core.physics.geometry import (
    crossing_angle,
    hand_travel,
    is_hard_way,
    stick_turn,
    strings_at,
)
from pathway.core.planning import TwoStrings, single_band
from pathway.core.planning.note_plan import NotePlan
from pathway.core.rig import Rig
from pathway.core.rig.bow import Direction
from pathway.core.technique.crossings import mover_of
from pathway.core.technique.double_stops import UNDER, Shared
from pathway.core.technique.hand_loops import Figure, hand_loop
from pathway.web.bench import pictures
from pathway.web.bench.ask import FIGURE_TIME, BenchAsk
from pathway.web.shared.reading import signed

PLACES = (("frog", 0.08), ("middle", 0.5), ("tip", 0.92))  # shares of the hair at which crossings are shown


@dataclass(frozen=True, slots=True)
class Lead:
    """One of the two voices leading, at its best."""

    name: str
    here: bool  # the one chosen
    place: str
    share: str
    second: str  # what the other voice loses


@dataclass(frozen=True, slots=True)
class CrossingAt:
    """A crossing at one place of the bow."""

    name: str
    travel: str
    limb: str


class BenchView:
    """Two strings of a rig under one bow, and the way between them."""

    def __init__(
        self, ask: BenchAsk, rig: Rig, say: Speech = PLAIN, note: NotePlan | None = None, figure: Figure | None = None
    ) -> None:
        self.ask, self.rig, self.say, self.note, self.figure = ask, rig, say, note, figure
        self.two: TwoStrings = ask.two(rig)

    @property
    def strings(self) -> list[str]:
        """Return the names of the strings, from the lowest."""
        return [string.letter for string in self.rig.instrument.strings]

    @property
    def bow_words(self) -> tuple[str, str]:
        """Return what this rig calls its two ways."""
        return self.rig.word(Direction.DOWN), self.rig.word(Direction.UP)

    @property
    def pitches(self) -> tuple[str, str]:
        """Return the lower and the higher pitch."""
        strings = self.rig.instrument.strings
        low, high = self.ask.lower, self.ask.lower + 1
        return pitch_name(strings[low].midi + self.ask.low_stop), pitch_name(strings[high].midi + self.ask.high_stop)

    @cached_property
    def chosen(self) -> Shared:
        """Return what the place and the share on the sliders make; the best ones where they were not moved."""
        best = self.two.best
        if self.ask.place is None and self.ask.share is None:
            return best
        contact = self.ask.place / 100 if self.ask.place is not None else float(best.contact[0])
        share = self.ask.share / 100 if self.ask.share is not None else float(best.share[0])
        return self.two.at(contact, share)

    @property
    def place(self) -> str:
        """Return the place on the slider, in the player's unit."""
        return self._length(float(self.chosen.contact[0]))

    @property
    def place_range(self) -> tuple[str, str]:
        """Return the slider's ends, in the player's unit."""
        near, far = self.two.range
        return self._length(near), self._length(far)

    def _length(self, metres: float) -> str:
        return f"{self.say.shown(100 * metres, 'cm'):.{1 if self.say.unit('cm') == 'cm' else 2}f}"

    @property
    def share(self) -> int:
        """Return the lead's share of the weight [%]."""
        return round(100 * float(self.chosen.share[0]))

    @property
    def weight(self) -> str:
        """Return both weights together."""
        return str(self.say.weight(float(self.chosen.force[0].sum())))

    @property
    def windows(self) -> str:
        """Return the picture of both force windows, the lower voice first."""
        rows = []
        for name, side in self._sides:
            low, high = (float(limit[0, side]) for limit in (self.chosen.window.lower, self.chosen.window.upper))
            rows.append((name, low, high, float(self.chosen.force[0, side]), float(self.chosen.place[0, side])))
        return pictures.window_bars(rows, self.say)

    @property
    def levels(self) -> str:
        """Return the picture of both levels."""
        wanted = (self.ask.level, self.ask.level - UNDER)
        return pictures.level_bars([(n, float(self.chosen.level_db[0, s]), wanted[s]) for n, s in self._sides])

    @property
    def _sides(self) -> list[tuple[str, int]]:
        """The lower and the higher voice, with their columns."""
        low, high = self.pitches
        return [(low, 0), (high, 1)] if self.ask.lead == "lower" else [(low, 1), (high, 0)]

    @property
    def verdict(self) -> str:
        """Return what becomes of the second voice, in words."""
        lead, second = (float(self.chosen.level_db[0, side]) for side in (0, 1))
        places = [float(self.chosen.place[0, side]) for side in (0, 1)]
        name = self.pitches[0 if self.ask.lead == "higher" else 1]
        if min(places) < 0.08:
            weak = self._sides[0][0] if places[self._sides[0][1]] < 0.08 else self._sides[1][0]
            return f"{weak} has too little weight to speak here."
        if max(places) > 0.92:
            return "One of the two is pressed; give it less of the weight."
        under = lead - second
        side = "under" if under > 0 else "over"
        gain = self.say.length(self.two.second_gains_at, 1)
        return f"{name} lies {abs(under):.1f} dB {side} the lead. It would have its level {gain} from the bridge."

    @cached_property
    def leads(self) -> list[Lead]:
        """Return both leads at their best, side by side."""
        found = []
        for lead in ("higher", "lower"):
            here = lead == self.ask.lead
            two = self.two if here else self.two.turned
            best = two.best
            under = float(best.level_db[0, 0] - best.level_db[0, 1])
            name = self.pitches[1 if lead == "higher" else 0]
            found.append(
                Lead(
                    name=f"{name} leads",
                    here=here,
                    place=str(self.say.length(float(best.contact[0]), 1)),
                    share=f"{100 * float(best.share[0]):.0f} %",
                    second=f"{signed(-under, 1)} dB",
                )
            )
        return found

    @property
    def level(self) -> float:
        """Return the level of the bow [rad]."""
        if self.ask.tilt is None:
            return self.rig.instrument.level(self.ask.lower + 0.5)
        return math.radians(self.ask.tilt)

    @cached_property
    def bands(self) -> list[float]:
        """Return how far the level may stray on each string [rad], at the weight and place chosen."""
        force = float(self.chosen.force[0].max())
        contact = float(self.chosen.contact[0])
        return [single_band(self.rig, i, force, contact) for i in range(len(self.strings))]

    @cached_property
    def touched(self) -> tuple[int, ...]:
        """Return the strings under the bow."""
        band = min(max(self.bands[self.ask.lower], 0.0), max(self.bands[self.ask.lower + 1], 0.0))
        return strings_at(self.rig.instrument, self.level, band)

    @property
    def level_words(self) -> str:
        """Return what the bow touches at its level, and how far it may stray."""
        names = [self.strings[i] for i in self.touched]
        at = f"{signed(math.degrees(self.level), 1)}°"
        if len(names) == 2:
            return f"{at}: on {names[0]} and {names[1]} together"
        i = self.touched[0]
        room = math.degrees(self.bands[i] - abs(self.level - self.rig.instrument.level(i)))
        return f"{at}: on {names[0]} alone, {max(room, 0):.1f}° from touching another"

    @property
    def bridge(self) -> str:
        """Return the picture of the bridge."""
        return pictures.bridge_picture(self.rig, self.level, self.bands, self.touched, self.level_words)

    @property
    def level_cues(self) -> list[str]:
        """Return how arm and hand make a double stop's level."""
        return [level_cue(school, self.rig.instrument.held_down) for school in (School.HAND, School.ARM)]

    @property
    def loops(self) -> str:
        """Return the picture of the hand's way at frog, middle and tip."""
        return self._loops(self.ask.figure, PLACES)

    @property
    def own_loops(self) -> str:
        """Return the picture of what the hand draws around the note as it is played, and elsewhere on the hair."""
        if self.figure is None or self.note is None:
            return ""
        here = (self.note.start + self.note.end) / 2 / self.rig.bow.hair
        return self._loops(self.figure, (("here", here), *PLACES))

    def _loops(self, figure: Figure, places: Sequence[tuple[str, float]]) -> str:
        hair = self.rig.bow.hair
        return pictures.loops_picture([(name, hand_loop(figure, share * hair, self.rig)) for name, share in places])

    @property
    def crossings(self) -> list[CrossingAt]:
        """Return the crossing at frog, middle and tip."""
        angle = crossing_angle(self.rig.instrument, self.ask.lower, self.ask.lower + 1)
        found = []
        for name, share in PLACES:
            travel = float(hand_travel(angle, share * self.rig.bow.hair, self.rig.bow))
            found.append(CrossingAt(name, str(self.say.length(travel, 1)), mover_of(travel, 1 / FIGURE_TIME).said))
        return found

    @property
    def way_round(self) -> str:
        """Return whether the figure goes the easy or the hard way round, and how the stick turns."""
        turn = math.degrees(stick_turn(self.rig.instrument, self.ask.lower, self.ask.lower + 1))
        turned = f" The stick turns by {abs(turn):.1f}°, seen from above." if turn else ""
        if self.ask.notes > 1 or not self.rig.hard_way:
            return f"No easy or hard way round here.{turned}"
        hard = is_hard_way(1 if self.ask.higher_on_down else -1, Direction.DOWN, self.rig.hard_way)
        return f"This is the {'hard' if hard else 'easy'} way round.{turned}"

    @property
    def chord(self) -> str:
        """Return the picture of the note's chord in time, if it is one."""
        if self.note is None or self.note.chord is None:
            return ""
        return pictures.chord_picture(self.note.chord, self.strings, self.say)

    @property
    def chord_words(self) -> str:
        """Return how the chord is bowed."""
        chord = self.note.chord if self.note else None
        if chord is None:
            return ""
        pivot = " and ".join(self.strings[i] for i in chord.pivot)
        turn = f"The bow turns over {pivot}, a quarter faster and lighter; " if pivot else ""
        level = f"{signed(math.degrees(chord.arm_level), 0)}°"
        return f"{turn}the arm is set for the last strings, at {level}, and the hand makes the way before."
