"""The card of the selected note: its pictures, its values to be set, why it is so and how to play it."""

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

from pathway.core.guide.cues import (
    School,
    chord_cue,
    crossing_cue,
    cushion_cue,
    elbow_cue,
    end_cue,
    grip_cue,
    kept_down_cue,
    level_cue,
    limb_cue,
    pull_cue,
    retake_cue,
    shift_cue,
    start_cue,
    turn_cue,
    vibrato_cue,
    weight_cue,
)
from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.music import pitch_name
from pathway.core.planning import LeftOut, ring_of
from pathway.core.planning.advice.hand_reason import hand_reason
from pathway.core.planning.advice.reasons import reasons_for
from pathway.core.planning.advice.shifts import shift_to
from pathway.core.planning.crossing import Crossing
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import Link, Profile, Vibrato
from pathway.core.rig.bow import Direction
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.endings import Exit
from pathway.core.technique.fingers import NAMES, OPEN, THUMB
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.core.technique.voicings import HIGHEST
from pathway.web.shared.reading import signed
from pathway.web.sheet import pictures
from pathway.web.sheet.numbers import Numbers, Value

NATURAL = {12, 19, 24, 28, 31}  # semitones above an open string that it has as harmonics
LEAST_PULL = 0.5  # lanes that are worth a word


@dataclass(frozen=True, slots=True)
class Setting:
    """A value of the note card that the player can set."""

    what: str
    name: str
    value: str
    unit: str = ""
    beside: str = ""
    step: float | None = None  # of its buttons, in its unit
    per_unit: float = 1.0  # of the document's unit in the shown one
    choices: tuple[tuple[str, str], ...] = ()  # value and name, where it is chosen from a list
    now: str = ""  # the choice that holds
    locked: bool = False


class NoteCard:
    """The selected note in pictures and numbers."""

    def __init__(self, plan: Plan, note: NotePlan, school: School = School.HAND, say: Speech = PLAIN) -> None:
        self.plan, self.note, self.school, self.say = plan, note, school, say
        self.stroke: StrokePlan | None = plan.stroke[note.stroke] if note.stroke else None

    @property
    def title(self) -> str:
        """Return bar, beat and pitch."""
        if self.outside is not None:
            return f"Bar {self.note.measure} · {pitch_name(self.outside.pitches[-1])}, left out"
        if self.stroke is None:
            return f"Bar {self.note.measure} · plucked"
        return f"Bar {self.note.measure} · {pictures.pitches(self.note)}"

    @property
    def subtitle(self) -> str:
        """Return direction, manner and string."""
        if self.outside is not None:
            return f"It lies outside the {self.plan.rig.instrument.name}; the bow passes it by."
        if self.stroke is None:
            return "No bow here; it travels freely to the next bowed note."
        strings = self.plan.rig.instrument.strings
        count = len(self.stroke.notes)
        manner = self.say.manner(self.stroke.kind) + (f" over {count} notes" if count > 1 else "")
        if self.stroke.bows > 1:
            rate = self.stroke.bows / (self.stroke.finish - self.stroke.begin)
            manner += f", {self.stroke.bows} bows, {rate:.1f} a second"
        letters = [strings[voice.string].letter for voice in self.note.voices]
        on = " and ".join([", ".join(letters[:-1]), letters[-1]] if len(letters) > 1 else letters)
        return f"{manner} · on {on} · beat {self.note.beat:.3g}"

    @property
    def outside(self) -> LeftOut | None:
        """Return what it is, if it is left out as a whole."""
        if self.stroke is not None:
            return None
        return next((out for out in self.plan.draft.left_out if out.event.id == self.note.id), None)

    @property
    def fixed(self) -> str:
        """Return who decided the direction."""
        if self.stroke is None:
            return ""
        if self.stroke.locked:
            return "set by you"
        if self.stroke.proposed:
            return "proposed: too long for one bow"
        return "printed in the part" if self.stroke.printed else "found by the plan"

    @property
    def bow(self) -> str:
        """Return the bow's picture."""
        direction = self.stroke.direction if self.stroke else None
        return pictures.bow_picture(self.note, self.plan.rig, direction, self.say) if direction else ""

    @property
    def string(self) -> str:
        """Return the strings' picture."""
        return pictures.string_picture(self.note, self.plan.rig)

    @property
    def bridge(self) -> str:
        """Return the bridge's picture."""
        return pictures.bridge_picture(self.note, self.plan.rig)

    @property
    def window(self) -> str:
        """Return the force window's picture."""
        return pictures.window_picture(self.note, self.plan.rig)

    @property
    def tone(self) -> str:
        """Return the tone's class, for the style sheet."""
        return self.note.tone.value

    @property
    def tone_words(self) -> str:
        """Return what the tone does, in words."""
        place = self.note.lead.place
        words = {
            "core": "core tone",
            "airy": "airy: too light here",
            "pressed": "pressed: too heavy here",
            "choked": "choked: it may start mute",
        }
        return f"{words[self.tone]} · {100 * place:.0f} % up the window"

    @cached_property
    def _locked(self) -> set[str]:
        """What the player set of this note and its stroke."""
        own = self.plan.locks[self.note.id].names if self.note.id in self.plan.locks else []
        return {*own, *(self.stroke.locks if self.stroke else ())}

    @property
    def anything_set(self) -> bool:
        """Whether the player set anything of it."""
        return bool(self._locked)

    @property
    def under_bow(self) -> list[Setting]:
        """Return where the stroke starts and ends, to be moved."""
        stroke = self.stroke
        if stroke is None:
            return []
        places = (("start", "Starts", stroke.start), ("end", "Ends at", stroke.end))
        told = [(what, name, self.say.length(place, 1)) for what, name, place in places]
        return [
            Setting(what, name, place.number, place.unit, step=1, locked=what in self._locked)
            for what, name, place in told
        ]

    @property
    def speed(self) -> Value:
        """Return hair and speed of the note."""
        hair = self.say.length(self.note.length, 1)
        return Value("Hair", hair.number, hair.unit, str(self.say.speed(self.note.speed)))

    @property
    def under_string(self) -> Setting:
        """Return the sounding point."""
        near, far = (self.say.length(contact, 1) for contact in self.note.contact_ends)
        turned = near.number != far.number
        beside = f"{near.number} → {far}" if turned else str(self.say.length(self.note.contact, 1))
        return Setting("lane", "Lane", str(self.note.lane), "", beside, 1, locked="lane" in self._locked)

    @property
    def under_bridge(self) -> Value:
        """Return the bow's level."""
        level = math.degrees(self.note.level)
        return Value("Level", signed(level, 0), "°")

    @property
    def under_window(self) -> Setting:
        """Return the weight."""
        force = self.note.force
        step = max(0.02, round(0.1 * force, 2))
        told, beside = self.say.weight(force), self.say.other_weight(force)
        locked = "weight" in self._locked
        return Setting("weight", "Weight", told.number, told.unit, str(beside), step, locked=locked)

    @property
    def tilt(self) -> Setting:
        """Return the tilt."""
        note = self.note
        return Setting(
            "tilt", "Tilt", _tilt(note), "°", f"{1000 * note.hair_width:.0f} mm of hair", 5,
            locked="tilt" in self._locked,
        )  # fmt: skip

    @property
    def lists(self) -> list[Setting]:
        """Return what is chosen from lists: manner, distribution, ending, string, lead, chord."""
        stroke, note = self.stroke, self.note
        if stroke is None:
            return [self._octave] if self.outside else []
        kinds = tuple((key, self.say.manner(key)) for key in STROKE_TYPES)
        strings = tuple((str(i), self._on_string(i)) for i in range(len(self.plan.rig.instrument.strings)))
        found = [
            self._list("type", "Stroke type", kinds, stroke.kind),
            self._list("profile", "Distribution", _named(Profile), stroke.profile.value),
            self._list("exit", "Ending", _named(Exit), stroke.exit),
        ]
        if len(note.voices) == 1:
            found.append(self._list("string", "String", strings, str(note.lead.string)))
            finger = NAMES[note.lead.finger] if note.lead.finger is not None else ""
            found.append(self._list("finger", "Finger", self._fingers, finger))
        else:
            voices = sorted(note.voices, key=lambda voice: -voice.string)
            lead = next(n for n, voice in enumerate(voices) if voice.lead)
            choices = tuple(c for c in _named(Leading) if len(voices) > 2 or c[0] != "middle")
            now = next(name.value for name in Leading if name.of(len(voices)) == lead)
            found.append(self._list("lead", "Leads", choices, now))
        if note.chord:
            found.append(self._list("chord", "Chord", _named(Form), note.chord.form.value))
        found.append(self._list("vibrato", "Vibrato", (("", "as you like"), *_named(Vibrato)), note.vibrato or ""))
        if note.landing and note.id == stroke.id:
            now = "air" if stroke.from_air else "string"
            found.append(self._list("from air", "Begins", (("string", "on the string"), ("air", "from the air")), now))
        if "octave" in self._locked:
            found.append(self._octave)
        return found

    @property
    def _fingers(self) -> tuple[tuple[str, str], ...]:
        """Return the fingers there are, as the card tells them."""
        nought = "harmonic" if self.note.lead.loops > 1 else "open, or a harmonic"
        told = {OPEN: f"0 · {nought}", THUMB: "T · thumb"}
        fingers = [finger for finger in NAMES if finger != THUMB or self.plan.rig.instrument.held_down]
        return tuple((NAMES[finger], told.get(finger, NAMES[finger])) for finger in fingers)

    def _on_string(self, string: int) -> str:
        """Return a string's name, and how the note would ring on it."""
        instrument, midi = self.plan.rig.instrument, self.note.lead.midi
        own = instrument.strings[string]
        above = midi - own.midi
        if len(self.note.voices) > 1 or not 0 <= above <= HIGHEST:
            return own.letter
        if string == self.note.lead.string and self.note.lead.loops > 1:
            return f"{own.letter} · harmonic, rings {self.note.rings:.1f} s"
        ring = ring_of(instrument, string, stopped=above > 0)
        found = f"{own.letter} · {'stopped' if above else 'open'}, rings {ring:.1f} s"
        if above in NATURAL:
            found += f" (as a harmonic {ring_of(instrument, string, stopped=False, loops=2):.1f})"
        return found

    @property
    def _octave(self) -> Setting:
        """How many octaves it is played above the printed one."""
        lock = self.plan.locks.get(self.note.id)
        return self._list("octave", "Octave", _OCTAVES, str(lock.octave or 0 if lock else 0))

    def _list(self, what: str, name: str, choices: tuple[tuple[str, str], ...], now: str) -> Setting:
        return Setting(what, name, "", choices=choices, now=now, locked=what in self._locked)

    @property
    def reasons(self) -> list[str]:
        """Return why the stroke is as it is."""
        if self.stroke is None:
            return []
        return [*(why.text(self.say) for why in reasons_for(self.plan, self.stroke)), hand_reason(self.plan, self.note)]

    @property
    def more(self) -> list[Value]:
        """Return the other values."""
        return Numbers(self.plan, self.note, self.say).all

    @cached_property
    def crossing(self) -> Crossing | None:
        """Return the crossing that leads to the note, if there is one."""
        return self.plan.crossing_to.get(self.note.id)

    @property
    def cues(self) -> list[str]:
        """Return how to play it, for hand and arm."""
        note, stroke, rig = self.note, self.stroke, self.plan.rig
        if stroke is None:
            return []
        kind = STROKE_TYPES[stroke.kind]
        cues = [weight_cue(self.school, note.torque_end, rig.torque_limit)]
        if note.onset_of_tone is not None:
            cues.append(start_cue(self.school, kind, note.onset_of_tone.rise, from_air=stroke.from_air))
        if stroke.kept_down:
            cues.append(kept_down_cue())
        cues += grip_cue(note.colour)
        on_open = note.lead.midi == rig.instrument.strings[note.lead.string].midi
        cues += vibrato_cue(note.vibrato, on_open=on_open)
        if note.pull >= LEAST_PULL:
            cues.append(pull_cue(note.pull))
        if note.chord:
            cues.append(chord_cue(stroke.direction is Direction.UP, stroke.entry is Link.RETAKE))
        elif len(note.voices) > 1:
            cues.append(level_cue(self.school, rig.instrument.held_down))
        cues += self._ways
        cues.append(limb_cue(stroke.limb))
        if shift := shift_to(self.plan, note):
            cues.append(shift_cue(shift.time, shift.through, stopped_before=shift.stopped_before))
        if note.id == stroke.notes[-1] and (stroke.exit is not Exit.JOINED or stroke.dip > 0):
            cues.append(end_cue(stroke.exit, stroke.dip, self.say))
        if note.id == stroke.notes[-1] and stroke.exit is Exit.JOINED and stroke.dip > 0:
            cues.append(cushion_cue(stroke.end, rig.bow.hair))
        return cues

    @property
    def _ways(self) -> list[str]:
        """Return how bow and arm come to the note: over strings, through the air, to the level of its string."""
        note, stroke, rig, crossing = self.note, self.stroke, self.plan.rig, self.crossing
        found, down = [], rig.instrument.held_down
        if crossing:
            found.append(crossing_cue(self.school, crossing.how, crossing.limb, falls=crossing.falls))
            found += turn_cue(crossing.turn, held_down=down)
            found.append(elbow_cue(note.lead.string / max(len(rig.instrument.strings) - 1, 1), held_down=down))
        if stroke and stroke.entry is Link.RETAKE and note.id == stroke.id:
            before = self.plan.strokes[self.plan.stroke_index[stroke.id] - 1]
            found.append(retake_cue(abs(stroke.start - before.left_at), stroke.begin - before.finish, self.say))
        return found

    @property
    def troubled(self) -> bool:
        """Whether a finding speaks of it."""
        return any(self.note.id in finding.notes for finding in self.plan.findings)

    @property
    def down_word(self) -> str:
        """Return what this rig calls the way from frog to tip."""
        return self.plan.rig.word(Direction.DOWN).removesuffix("-bow").capitalize()

    @property
    def up_word(self) -> str:
        """Return what this rig calls the way from tip to frog."""
        return self.plan.rig.word(Direction.UP).removesuffix("-bow").capitalize()


_OCTAVES = (
    ("0", "as printed"), ("1", "one higher"), ("-1", "one lower"), ("2", "two higher"), ("-2", "two lower"),
    ("3", "three higher"), ("-3", "three lower"),
)  # fmt: skip


def _named(words: type[StrEnum]) -> tuple[tuple[str, str], ...]:
    return tuple((word.value, word.value) for word in words)


def _tilt(note: NotePlan) -> str:
    """Return the tilt, or both of them where it changes inside the note."""
    opening, closing = (f"{math.degrees(angle):.0f}" for angle in (note.tilt, note.tilt_end))
    return opening if opening == closing else f"{opening} → {closing}"
