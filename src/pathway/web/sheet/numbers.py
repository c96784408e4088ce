"""The values of a note beside those that can be set: what the note card tells under its pictures."""

import math
from dataclasses import dataclass

from pathway.core.guide.speech import Speech
from pathway.core.physics.lever import effortless_place, finger_force
from pathway.core.physics.string import swing
from pathway.core.planning import rings_of
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan
from pathway.core.rig.instrument import frequency
from pathway.core.technique.endings import Exit
from pathway.web.shared.reading import signed

LEAST_SWELL = 0.5  # between start and end of a note that is worth a line [dB]


@dataclass(frozen=True, slots=True)
class Value:
    """One line of the note card."""

    name: str
    value: str
    unit: str
    beside: str = ""


class Numbers:
    """What is told of one note in numbers."""

    def __init__(self, plan: Plan, note: NotePlan, say: Speech) -> None:
        self.plan, self.note, self.say = plan, note, say
        self.stroke = plan.stroke[note.stroke] if note.stroke else None
        self.crossing = plan.crossing_to.get(note.id)

    @property
    def all(self) -> list[Value]:
        """Return all of them, in order."""
        note = self.note
        return [
            *self._bounce_values(),
            *self._load_values(),
            Value("Level of sound", signed(note.level_db - note.target_db, 1), "dB", _against(note)),
            *self._points,
            Value("Letting go is enough", *_letting_go(note, self.plan, self.say)),
            Value("Sounds for", f"{note.sounding:.2f}", "s"),
            Value("The string swings", f"{1000 * self._swing:.1f}", "mm", "to each side"),
            *self._stroke_values(),
            *self._crossing_values(),
        ]

    def _bounce_values(self) -> list[Value]:
        """Return how a note off the string lands, and what the way from another string did to it."""
        landing = self.note.landing
        if landing is None or self.stroke is None:
            return []
        rate = self.plan.draft.columns.rate[self.plan.stroke_index[self.stroke.id]]
        touch = f"{100 * landing.share:.0f} % of the note"
        found = [
            Value("The bow answers", f"{landing.rate:.1f}", "a second", f"you play {rate:.1f}"),
            Value("It touches", f"{1000 * landing.contact:.0f}", "ms", touch),
            Value("Brushed to dry", f"{landing.dryness:.2f}", "", "0 brushed, 1 dry"),
        ]
        if not landing.led:
            weight = self.say.weight(landing.weight)
            found.insert(1, Value("It flies", f"{1000 * landing.height:.0f}", "mm high"))
            found.append(Value("It lands with", weight.number, weight.unit, "by itself"))
        before = self.plan.note[self.crossing.from_note].landing if self.crossing else None
        if before:
            rates = f"{before.rate:.1f} → {landing.rate:.1f}"
            flights = "" if landing.led else f"flight {1000 * before.height:.0f} → {1000 * landing.height:.0f} mm"
            found.append(Value("Over the crossing", rates, "a second", flights))
        return found

    def _load_values(self) -> list[Value]:
        """Return what is loaded before a caught start, and when it is let go."""
        load = self.note.load
        if load is None:
            return []
        least, most = (self.say.weight(force) for force in load.resting)
        return [
            Value("Load before it", f"{least.number}–{most.number}", most.unit, f"for {1000 * load.time:.0f} ms"),
            Value("Let half go by", f"{1000 * load.let_go:.0f}", "ms", f"all by {1000 * load.gone:.0f} ms"),
        ]

    @property
    def _points(self) -> list[Value]:
        """Return what changes from the start of the note to its end: level, weight, and what the fingers give."""
        note, say = self.note, self.say
        (loud, _, soft), (first, steady, last) = note.level_at, map(say.weight, note.force_at)
        points = f"{first.number} → {steady.number} → {last.number}"
        found = [Value("Weight as it starts, holds, ends", points, last.unit)]
        if abs(loud - soft) >= LEAST_SWELL:
            found.append(Value("Level, start to end", f"{signed(loud, 1)} → {signed(soft, 1)}", "dB", "against mf"))
        for torque, when in ((note.torque_at[0], "as it starts"), (note.torque_at[2], "at the end")):
            weight = say.weight(finger_force(torque, self.plan.rig.hold))
            found.append(Value("Index finger" if torque >= 0 else "Little finger", weight.number, weight.unit, when))
        return found

    @property
    def _swing(self) -> float:
        lead = self.note.lead
        return float(swing(self.note.speed, lead.beta, frequency(lead.midi)))

    def _stroke_values(self) -> list[Value]:
        """Return what concerns the whole stroke: how it ends, and the time it has in hand."""
        stroke = self.stroke
        if stroke is None:
            return []
        note, in_hand = self.note, f"{stroke.in_hand:.1f}" if stroke.in_hand > 0 else "none"
        found = [Value("Time in hand", in_hand, "s" if stroke.in_hand > 0 else "")]
        if note.id == stroke.notes[-1] and stroke.exit in {Exit.RINGING, Exit.LIFTED}:
            found.append(Value("Its string rings on", f"{note.rings:.1f}", "s"))
        if note.chord and (left := [v for v in note.voices if v.string not in note.chord.pieces[-1].strings]):
            found.append(Value("The low strings ring on", f"{rings_of(left, self.plan.rig.instrument):.1f}", "s"))
        return found

    def _crossing_values(self) -> list[Value]:
        """Return how far the hand goes from the string before, and how long it has."""
        crossing = self.crossing
        if crossing is None:
            return []
        travel, dip = self.say.length(crossing.travel), self.say.speed(crossing.dip)
        time = f"in {1000 * crossing.time:.0f} ms"
        found = [Value("Crossing", travel.number, f"{travel.unit} of hand", time)]
        found.append(Value("The string left rings on", f"{crossing.rings:.1f}", "s"))
        if crossing.over:
            found.append(Value("Rolls over", dip.number, dip.unit, f"for {1000 * crossing.over:.0f} ms"))
        if crossing.turn:
            found.append(Value("The stick turns", signed(math.degrees(crossing.turn), 0), "°", "seen from above"))
        return found


def _letting_go(note: NotePlan, plan: Plan, say: Speech) -> tuple[str, str, str]:
    """Return from where on the hair a player lightens by letting go alone."""
    rig = plan.rig
    share = rig.instrument.strings[note.lead.string].gravity_share
    place = effortless_place(note.force, rig.bow, share)
    if place >= rig.bow.hair:
        return "nowhere", "", "the bow is carried"
    told = say.length(max(place, 0))
    return f"from {told.number}", told.unit, "on, outward"


def _against(note: NotePlan) -> str:
    off = note.level_db - note.target_db
    if abs(off) < 1:
        return "as written"
    amount = "a little" if abs(off) < 3 else "clearly" if abs(off) < 6 else "much"
    return f"{amount} {'louder' if off > 0 else 'softer'} than written"
