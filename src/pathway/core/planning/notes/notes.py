"""From the hair to the notes: tone, tilt, hand and onset of all notes of some strokes together."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray
from pathway.core.physics.hair import hair_share
from pathway.core.planning.columns import NoteColumns
from pathway.core.planning.note_plan import Landing, Load, NotePlan, Points, Tone
from pathway.core.planning.notes.hand import BowHand, hand_in
from pathway.core.planning.notes.landings import landings
from pathway.core.planning.notes.onsets import Onsets, Sounds, loads_of, onsets_of
from pathway.core.planning.notes.ringing import rings_of
from pathway.core.planning.notes.rows import A_PAIR, Rows
from pathway.core.planning.notes.strings_together import Strings, sounding
from pathway.core.planning.notes.tone import ToneOfVoices, in_core, tone_class, tone_of
from pathway.core.planning.strokes.columns import of_kinds
from pathway.core.rig.instrument import frequency
from pathway.core.technique.stroke_types import Start

_CAUGHT = of_kinds(lambda kind: kind.start is Start.CATCH)
_LOADED = of_kinds(lambda kind: kind.catch > 0 or kind.one_bow)
ANEW = 0.035  # to load anew inside a staccato in one bow: its first note, after a crossing or a chord [s], our estimate


@dataclass(frozen=True)
class NoteTable:
    """What becomes of some notes, one a row: quantity by quantity, or each as it is looked at."""

    rows: Rows
    strings: Strings
    tone: ToneOfVoices  # of the leads, were each alone
    sounds: Sounds
    onsets: Onsets  # of the notes that begin a stroke
    loads: Mapping[int, Load]
    hand: BowHand

    @classmethod
    def of(cls, rows: Rows) -> "NoteTable":
        """Return what becomes of some notes."""
        draft, columns = rows.draft, rows.asked.columns
        tone = tone_of(rows.lead, draft.rig)
        strings = sounding(rows.lead, tone, rows.placed, draft.rig)
        sounds = _sounds(rows, strings, tone.forces / tone.force)
        onsets = onsets_of(sounds.at(rows.firsts), _CAUGHT[columns.kind], rows.ringing, draft.rig)
        loads = _loads(rows, sounds)
        force = strings.pressed(rows.chords) * sounds.swell
        accented = columns.accented
        force[0, rows.firsts[accented]] *= 10 ** (onsets.attack_db[accented] / 20)
        for i, load in loads.items():
            force[0, i] = max(force[0, i], load.resting[0])
        hand = hand_in(rows, force, strings.lane, sounds.gravity_share)
        return cls(rows, strings, tone, sounds, onsets, loads, hand)

    @cached_property
    def columns(self) -> NoteColumns:
        """Return what rules and sums look at."""
        rows, hair, strings, notes = self.rows, self.rows.hair, self.strings, self.rows.asked.notes
        count, firsts = len(hair.start), rows.firsts
        late, accent, let_go = np.zeros(count, bool), np.zeros(count, bool), np.full(count, np.inf)
        late[firsts], accent[firsts] = self.onsets.speak > hair.sounding[firsts], rows.asked.columns.accented
        for i in self.loads:
            let_go[i] = self.hand.force[0, i] / self.hand.force[1, i]
        return NoteColumns(
            onset=notes.begin,
            sounding=hair.sounding,
            start=hair.start,
            end=hair.end,
            bows=hair.bows,
            speed=self.sounds.speed,
            target=rows.targets,
            off=strings.level_db - rows.targets,
            core=in_core(self._lightest) & ~self._choked,
            wood=self.hand.wood,
            string=notes.string,
            midi=notes.midi,
            vibrating=notes.length,
            voices=notes.voices,
            contact=strings.contact,
            lane=strings.lane,
            position=notes.position,
            torque=np.abs(self.hand.torque[1]),
            late=late,
            accent=accent,
            let_go=let_go,
        )

    @cached_property
    def _lightest(self) -> FloatArray:
        """Return where in the force window every note is lightest."""
        return np.where(self.sounds.swell.min(axis=0) < 1, self.tone.lightest, self.sounds.place)

    @cached_property
    def _choked(self) -> BoolArray:
        """Return which notes never start."""
        choked = np.zeros(len(self.hand.wood), bool)
        choked[self.rows.firsts] = ~self.onsets.clean
        return choked

    @cached_property
    def _strokes(self) -> list[int]:
        """Return which of the strokes carries every row."""
        counts = self.rows.asked.columns.notes
        return np.arange(len(counts)).repeat(counts).tolist()

    @cached_property
    def _hair_widths(self) -> FloatArray:
        """Return the hair on the string as every note begins [m]."""
        return np.asarray(self.rows.draft.rig.bow.ribbon * hair_share(self.hand.tilt[0]))

    @cached_property
    def _landings(self) -> dict[int, Landing]:
        return landings(self.rows, self.strings, self.hand)

    def note(self, i: int) -> NotePlan:
        """Return one note."""
        rows, hair, strings, sounds, hand = self.rows, self.rows.hair, self.strings, self.sounds, self.hand
        note, placed, draft = rows.notes[i], rows.placed[i], rows.draft
        measure, n = draft.part.measures[note.event.measure], self._strokes[i]
        voices, chord, segment = strings.voices(i), rows.chords.get(i), rows.asked.strokes[n]
        speed, contact, instrument = float(sounds.speed[i]), float(strings.contact[i]), draft.rig.instrument
        heard = tone_class(float(self._lightest[i]))
        return NotePlan(
            id=note.event.id,
            measure=measure.number,
            beat=measure.beat_of(note.place),
            onset=note.begin,
            duration=note.end - note.begin,
            sounding=float(hair.sounding[i]),
            bows=segment.bows,
            stroke=segment.id,
            voices=voices,
            start=float(hair.start[i]),
            end=float(hair.end[i]),
            speed=speed,
            speed_ends=(speed * float(hair.opening[i]), speed * float(hair.closing[i])),
            contact=contact,
            contact_ends=(contact * float(self.tone.turns[0, i]), contact * float(self.tone.turns[2, i])),
            lane=int(strings.lane[i]),
            tilt=float(hand.tilt[0, i]),
            tilt_end=float(hand.tilt[1, i]),
            wood=bool(hand.wood[i]),
            hair_width=float(self._hair_widths[i]),
            level=chord.arm_level if chord else instrument.level(sum(placed.strings) / len(placed.strings)),
            force_at=_points(hand.force, i),
            torque_at=_points(hand.torque, i),
            target_db=float(rows.targets[i]),
            pulse_db=note.pulse_db,
            level_db=voices[0].level_db,
            brightness=float(strings.brightness[i]),
            tone=Tone.CHOKED if heard is Tone.CORE and self._choked[i] else heard,
            onset_of_tone=self.onsets.of(n) if note is segment.notes[0] else None,
            position=placed.position,
            chord=chord,
            colour=(note.ask.colour, note.ask.colour_end),
            vibrato=rows.vibrato(i),
            landing=self._landings.get(i),
            load=self.loads.get(i),
            rings=rings_of(voices, instrument),
            pull=float(self.tone.pull[i]),
        )


def _points(values: FloatArray, i: int) -> Points:
    return float(values[0, i]), float(values[1, i]), float(values[2, i])


def _loads(rows: Rows, sounds: Sounds) -> dict[int, Load]:
    """Return what is loaded before notes, by row: before each of a stroke that stops inside, else only the first."""
    times: dict[int, float] = {}
    firsts, lasts = rows.firsts.tolist(), rows.lasts.tolist()
    for n in np.flatnonzero(_LOADED[rows.asked.columns.kind]).tolist():
        kind, first, last = rows.asked.strokes[n].kind, firsts[n], lasts[n]
        for i in range(first, last + 1):
            anew = i == first or _set_anew(rows, i)
            if kind.catch and (i == first or kind.stops_inside):
                times[i] = max(kind.catch, ANEW) if anew and kind.one_bow else kind.catch
            elif kind.one_bow and anew:
                times[i] = ANEW
    at = np.array(list(times), dtype=np.int64)
    return dict(zip(times, loads_of(sounds.at(at), list(times.values())), strict=True))


def _set_anew(rows: Rows, i: int) -> bool:
    """Whether the hand has to load anew inside one bow: after a chord, or on another string."""
    before, here = rows.placed[i - 1].strings, rows.placed[i].strings
    return len(before) > A_PAIR or {*before}.isdisjoint(here)


def _sounds(rows: Rows, strings: Strings, swell: FloatArray) -> Sounds:
    """Return how the leading voices sound.

    Args:
        rows: N notes.
        strings: theirs.
        swell: force as each starts, is steady and ends, over the steady one; shape (3, N).
    """
    lead, hair, pitches = rows.lead, rows.hair, rows.asked.notes.midi.tolist()
    shares = np.array([string.gravity_share for string in rows.draft.rig.instrument.strings])
    return Sounds(
        impedance=lead.strings.impedance,
        loops=lead.strings.loops,
        frequency=np.array([frequency(midi) for midi in pitches]),
        speed=hair.speed,
        force=strings.force,
        swell=swell,
        greatest=strings.upper,
        beta=strings.beta,
        place=strings.place,
        sounding=hair.sounding,
        hair=hair.start,
        gravity_share=shares[lead.indices],
    )
