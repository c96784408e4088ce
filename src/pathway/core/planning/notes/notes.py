"""From the hair to the notes: tone, tilt, hand and onset of all notes of some strokes together."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import FloatArray
from pathway.core.physics.hair import FROM_AIR, NEAR_FROG, hair_share, tilt_at, wood_force
from pathway.core.physics.lever import hand_torque
from pathway.core.planning.draft import Draft
from pathway.core.planning.notes.onsets import Sounds, onsets_of
from pathway.core.planning.notes.sharing import Hair
from pathway.core.planning.notes.strings_together import Sounded, sounded
from pathway.core.planning.notes.tone import Voices, tone_class, tone_of
from pathway.core.planning.path.problem import Path
from pathway.core.planning.plan import NotePlan, Onset, Tone
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.segments import Note
from pathway.core.planning.strokes.stroke import Stroke
from pathway.core.planning.wishes import Link, Lock
from pathway.core.rig.instrument import frequency
from pathway.core.technique.chords import Chord, bow_chord
from pathway.core.technique.notation import place_range
from pathway.core.technique.stroke_types import Contact

EARLY_WEAK_BOW = -2.0  # level of strokes in the weak direction, in early style [dB]
SOFT_TILT, FOCUSED_TILT = 15.0, -10.0  # for a whole step of colour [degrees]
_CORE = Tone.CORE  # looked up once: an enumeration looks its members up by name


@dataclass(frozen=True)
class Rows:
    """The notes of some strokes, one a row, with the hair that each gets."""

    draft: Draft
    path: Path
    strokes: Sequence[int]  # of the draft, in order
    hair: Hair
    locks: Mapping[str, Lock]

    @cached_property
    def at(self) -> list[int]:
        """Return the index of every row among all bowed notes."""
        firsts = self.draft.first_notes
        return [i for k in self.strokes for i in range(firsts[k], firsts[k + 1])]

    @cached_property
    def stroke(self) -> list[int]:
        """Return the stroke of every row."""
        return [k for k in self.strokes for _ in self.draft.strokes[k].notes]

    @cached_property
    def firsts(self) -> NDArray[np.int64]:
        """Return the rows that begin a stroke."""
        return np.append(0, self.lasts[:-1] + 1)

    @cached_property
    def lasts(self) -> NDArray[np.int64]:
        """Return the rows that end a stroke."""
        return np.cumsum([len(self.draft.strokes[k].notes) for k in self.strokes]) - 1

    @cached_property
    def segments(self) -> list[Stroke]:
        """Return the stroke to be of every row."""
        return [self.draft.strokes[k] for k in self.stroke]

    @cached_property
    def notes(self) -> list[Note]:
        """Return the note of every row."""
        return [note for k in self.strokes for note in self.draft.strokes[k].notes]

    @cached_property
    def placed(self) -> list[Placement]:
        """Return the strings of every row."""
        return [placed for k in self.strokes for placed in self.draft.strokes[k].placements]

    @cached_property
    def targets(self) -> FloatArray:
        """Return the wanted level of every row [dB]; in early style the weak direction is softer."""
        against = (self.path.directions != self.draft.rig.strong)[self.stroke]
        early = np.array([segment.early for segment in self.segments])
        return np.array([note.level_db for note in self.notes]) + np.where(against & early, EARLY_WEAK_BOW, 0.0)

    def locked(self, of: str) -> dict[int, float]:
        """Return what the player set of some notes, by row."""
        if not self.locks:
            return {}
        asked = ((i, getattr(self.locks.get(note.event.id), of, None)) for i, note in enumerate(self.notes))
        return {i: value for i, value in asked if value is not None}

    @cached_property
    def lead(self) -> Voices:
        """Return what is asked of the leading voices."""
        forces = np.full(len(self.notes), np.nan)
        for i, force in self.locked("force").items():
            forces[i] = force
        return Voices(
            strings=[placed.lead for placed in self.placed],
            indices=[placed.lead_string for placed in self.placed],
            speeds=self.hair.speed,
            factors=np.array([segment.kind.attack for segment in self.segments]),
            targets=self.targets,
            hair=self.places,
            colours=self.colours.mean(axis=0),
            ranges=self._ranges(),
            forces=forces,
        )

    @cached_property
    def places(self) -> FloatArray:
        """Return where on the hair every row starts, is halfway and ends [m]; shape (3, N)."""
        start, end = self.hair.start, self.hair.end
        return np.stack([start, (start + end) / 2, end])

    @cached_property
    def colours(self) -> FloatArray:
        """Return the colour at the start and end of every row, −1 soft to 1 focused; shape (2, N)."""
        return np.array([(note.ask.colour, note.ask.colour_end) for note in self.notes]).reshape(-1, 2).T

    def _ranges(self) -> FloatArray:
        """Return the least and greatest β of every lead: as words ask, or the middle of the lane the player set."""
        ranges = [place_range(n.ask.where, p.lead.furthest) for n, p in zip(self.notes, self.placed, strict=True)]
        for i, lane in self.locked("lane").items():
            edges = self.placed[i].lead.lane_edges()
            middle = float((edges[int(lane) - 1] * edges[int(lane)]) ** 0.5)
            ranges[i] = (middle, middle)
        return np.array(ranges).reshape(-1, 2)

    def chord(self, i: int) -> Chord | None:
        """Return how a chord of three strings and more is bowed."""
        placed, note, draft = self.placed[i], self.notes[i], self.draft
        if len(placed.strings) < 3:
            return None
        lock = draft.shapes.get(note.event.id)
        form = (lock.chord if lock else None) or note.ask.chords
        start, length, early = float(self.hair.start[i]), self.hair.end[i] - self.hair.start[i], draft.settings
        return bow_chord(
            placed.strings[::-1],
            placed.pitches[::-1],
            abs(float(length)),
            float(self.hair.sounding[i]),
            start,
            form,
            draft.rig,
            before_beat=early.chords_before_beat,
        )

    @cached_property
    def ringing(self) -> list[bool]:
        """Return whether the string of every stroke's first note sounds already."""
        strokes, turned = self.draft.strokes, (self.path.links == Link.CHANGE).tolist()
        return [
            k > 0
            and turned[k]
            and strokes[k].rest_before == 0
            and not strokes[k - 1].kind.gap
            and strokes[k].placements[0].lead_string in strokes[k - 1].placements[-1].strings
            for k in self.strokes
        ]


@dataclass(frozen=True, slots=True)
class Hand:
    """What bow and hand do in every row."""

    tilt: FloatArray  # as it begins and as it ends [rad]; shape (2, N)
    force: FloatArray  # as it starts, steady and as it ends [N]; shape (3, N)
    torque: FloatArray  # likewise [N m]
    wood: NDArray[np.bool_]  # no tilt keeps the stick off the string; shape (N,)


def note_plans(rows: Rows) -> tuple[list[NotePlan], Sounds]:
    """Return the plans of the notes, and how they sound for the joins between strokes."""
    rig = rows.draft.rig
    tone = tone_of(rows.lead, rig)
    strings = sounded(rows.lead, tone, rows.placed, rig)
    chords = [rows.chord(i) for i in range(len(strings))]
    sounds = _sounds(rows, strings, tone.forces / tone.force)
    kinds = [rows.draft.strokes[k].kind for k in rows.strokes]
    onsets: list[Onset | None] = [None] * len(strings)
    for i, onset in zip(rows.firsts, onsets_of(sounds.at(rows.firsts), kinds, rows.ringing, rig), strict=True):
        onsets[i] = onset
    force = _pressed(strings, chords) * sounds.swell
    for i in rows.firsts[[rows.draft.strokes[k].accented for k in rows.strokes]]:
        onset = onsets[i]
        force[0, i] *= 10 ** (onset.attack_db / 20) if onset else 1.0
    hand = _hand(rows, force, strings, sounds.gravity_share)
    lightest = np.where(sounds.swell.min(axis=0) < 1, tone.lightest, sounds.place)
    return _plans(rows, strings, chords, onsets, sounds, hand, lightest), sounds


def _plans(
    rows: Rows,
    strings: Sequence[Sounded],
    chords: Sequence[Chord | None],
    onsets: Sequence[Onset | None],
    sounds: Sounds,
    hand: Hand,
    lightest: FloatArray,
) -> list[NotePlan]:
    """Put the columns together, row by row."""
    measures, instrument, hair = rows.draft.part.measures, rows.draft.rig.instrument, rows.hair
    starts, ends, sounding, speeds = (c.tolist() for c in (hair.start, hair.end, hair.sounding, sounds.speed))
    opening, closing = (sounds.speed * hair.opening).tolist(), (sounds.speed * hair.closing).tolist()
    tilt, tilt_end = hand.tilt.tolist()
    forces, torques = (list(zip(*points.tolist(), strict=True)) for points in (hand.force, hand.torque))
    wood, targets = hand.wood.tolist(), rows.targets.tolist()
    classes = [tone_class(place) for place in lightest.tolist()]
    widths = np.multiply(rows.draft.rig.bow.ribbon, hair_share(hand.tilt[0])).tolist()
    result = []
    for i, (note, segment, placed) in enumerate(zip(rows.notes, rows.segments, rows.placed, strict=True)):
        measure, sound, onset, chord = measures[note.event.measure], strings[i], onsets[i], chords[i]
        lead = sound.voices[0]
        tone = classes[i]
        choked = onset is not None and not onset.clean and tone is _CORE
        result.append(
            NotePlan(
                id=note.event.id,
                measure=measure.number,
                beat=measure.beat_of(note.place),
                onset=note.begin,
                duration=note.end - note.begin,
                sounding=sounding[i],
                bows=segment.bows,
                stroke=segment.id,
                voices=sound.voices,
                start=starts[i],
                end=ends[i],
                speed=speeds[i],
                speed_ends=(opening[i], closing[i]),
                contact=sound.contact,
                lane=sound.lane,
                tilt=tilt[i],
                tilt_end=tilt_end[i],
                wood=wood[i],
                hair_width=widths[i],
                level=chord.arm_level if chord else instrument.level(sum(placed.strings) / len(placed.strings)),
                force_at=forces[i],
                torque_at=torques[i],
                target_db=targets[i],
                pulse_db=note.pulse_db,
                level_db=lead.level_db,
                brightness=sound.brightness,
                tone=Tone.CHOKED if choked else tone,
                onset_of_tone=onset,
                position=placed.position,
                chord=chord,
            )
        )
    return result


def _pressed(strings: Sequence[Sounded], chords: Sequence[Chord | None]) -> FloatArray:
    """Return the whole force of every row [N]; of a chord in pieces, that of its last one."""
    return np.array(
        [
            sum(v.force for v in one.voices if chord is None or v.string in chord.pieces[-1].strings)
            for one, chord in zip(strings, chords, strict=True)
        ]
    )


def _sounds(rows: Rows, strings: Sequence[Sounded], swell: FloatArray) -> Sounds:
    """Return how the leading voices sound.

    Args:
        rows: N notes.
        strings: theirs.
        swell: force as each starts, is steady and ends, over the steady one; shape (3, N).
    """
    leads, shares = [one.voices[0] for one in strings], rows.draft.rig.instrument.strings
    columns = np.array(
        [
            (p.lead.impedance, p.lead.loops, frequency(v.midi), v.force, v.window[1], v.beta, v.place)
            for p, v in zip(rows.placed, leads, strict=True)
        ]
    ).reshape(-1, 7)
    impedance, loops, pitch, force, greatest, beta, place = columns.T
    return Sounds(
        impedance=impedance,
        loops=loops,
        frequency=pitch,
        speed=rows.hair.speed,
        force=force,
        swell=swell,
        greatest=greatest,
        beta=beta,
        place=place,
        sounding=rows.hair.sounding,
        hair=rows.hair.start,
        gravity_share=np.array([shares[voice.string].gravity_share for voice in leads]),
    )


def _hand(rows: Rows, force: FloatArray, strings: Sequence[Sounded], gravity_share: FloatArray) -> Hand:
    """Return tilt and moment of the hand; a tilt that the player set is kept."""
    bow, places, steady = rows.draft.rig.bow, rows.places[::2], force[1]
    length = np.array([one.voices[0].vibrating for one in strings])
    found = tilt_at(_wanted_tilt(rows, places), force[::2], places, bow, length)
    tilt, wood = found.angle, np.any(found.wood, axis=0)
    for i, angle in rows.locked("tilt").items():
        tilt[:, i], wood[i] = angle, force[2, i] > wood_force(float(places[1, i]), angle, bow)
    softest = np.clip(bow.hair / 2, places.min(axis=0), places.max(axis=0))
    wood |= tilt_at(0.0, steady, softest, bow, length).wood
    return Hand(tilt, force, np.asarray(hand_torque(force, rows.places, bow, gravity_share)), wood)


def _wanted_tilt(rows: Rows, places: FloatArray) -> FloatArray:
    """Return the tilt [rad] that stroke type and colour ask for; a landing near the frog takes part of the ribbon."""
    by_type = np.array([segment.kind.tilt_deg for segment in rows.segments])
    colours = rows.colours
    by_colour = np.where(colours < 0, -SOFT_TILT, FOCUSED_TILT) * colours
    wanted = np.maximum(0.0, np.radians(by_type + by_colour) + rows.draft.rig.tilt_habit)
    lands = np.zeros(len(by_type), bool)
    lands[rows.firsts] = [rows.draft.strokes[k].kind.contact is not Contact.ON for k in rows.strokes]
    lands = lands & (places < NEAR_FROG * rows.draft.rig.bow.hair)
    return np.where(lands, np.maximum(wanted, FROM_AIR), wanted)
