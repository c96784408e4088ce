"""From the hair to the notes: tone, tilt, hand and onset of all notes of some strokes together."""

from collections.abc import Sequence

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.physics.hair import hair_share
from pathway.core.planning.note_plan import Load, NotePlan, Onset, Tone
from pathway.core.planning.notes.hand import BowHand, hand_in
from pathway.core.planning.notes.landings import landings
from pathway.core.planning.notes.onsets import Sounds, loads_of, onsets_of
from pathway.core.planning.notes.ringing import rings_of
from pathway.core.planning.notes.rows import Rows
from pathway.core.planning.notes.strings_together import Sounded, sounded
from pathway.core.planning.notes.tone import ToneOfVoices, tone_class, tone_of
from pathway.core.rig.instrument import frequency
from pathway.core.technique.chords import Chord

ANEW = 0.035  # to load anew inside a staccato in one bow: its first note, after a crossing or a chord [s], our estimate
A_PAIR = 2  # strings; more make a chord
_CORE = Tone.CORE  # looked up once: an enumeration looks its members up by name


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
    loads = _loads(rows, sounds)
    force = _pressed(strings, chords) * sounds.swell
    for i in rows.firsts[[rows.draft.strokes[k].accented for k in rows.strokes]]:
        onset = onsets[i]
        force[0, i] *= 10 ** (onset.attack_db / 20) if onset else 1.0
    for i, load in enumerate(loads):
        if load:
            force[0, i] = max(force[0, i], load.resting[0])
    hand = hand_in(rows, force, strings, sounds.gravity_share)
    lightest = np.where(sounds.swell.min(axis=0) < 1, tone.lightest, sounds.place)
    return _plans(rows, strings, chords, onsets, loads, sounds, hand, tone, lightest), sounds


def _loads(rows: Rows, sounds: Sounds) -> list[Load | None]:
    """Return what is loaded before every note: each of a stroke that stops inside, else only the first."""
    found: list[Load | None] = [None] * len(rows.notes)
    firsts = set(rows.firsts.tolist())
    times: dict[int, float] = {}
    for i, segment in enumerate(rows.segments):
        kind, anew = segment.kind, i in firsts or _set_anew(rows, i)
        if kind.catch and (i in firsts or kind.stops_inside):
            times[i] = max(kind.catch, ANEW) if anew and kind.one_bow else kind.catch
        elif kind.one_bow and anew:
            times[i] = ANEW
    at = np.array(list(times), dtype=np.int64)
    for i, load in zip(times, loads_of(sounds.at(at), list(times.values())), strict=True):
        found[i] = load
    return found


def _set_anew(rows: Rows, i: int) -> bool:
    """Whether the hand has to load anew inside one bow: after a chord, or on another string."""
    before, here = rows.placed[i - 1].strings, rows.placed[i].strings
    return len(before) > A_PAIR or {*before}.isdisjoint(here)


def _plans(
    rows: Rows,
    strings: Sequence[Sounded],
    chords: Sequence[Chord | None],
    onsets: Sequence[Onset | None],
    loads: Sequence[Load | None],
    sounds: Sounds,
    hand: BowHand,
    tone: ToneOfVoices,
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
    lands, contacts = landings(rows, strings, hand), (tone.turns * [one.contact for one in strings])[::2].T.tolist()
    colours, pulls = rows.colours.T.tolist(), tone.pull.tolist()
    result = []
    for i, (note, segment, placed) in enumerate(zip(rows.notes, rows.segments, rows.placed, strict=True)):
        measure, sound, onset, chord = measures[note.event.measure], strings[i], onsets[i], chords[i]
        lead = sound.voices[0]
        heard = classes[i]
        choked = onset is not None and not onset.clean and heard is _CORE
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
                contact_ends=tuple(contacts[i]),
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
                tone=Tone.CHOKED if choked else heard,
                onset_of_tone=onset,
                position=placed.position,
                chord=chord,
                colour=tuple(colours[i]),
                vibrato=rows.vibrato(i),
                landing=lands[i],
                load=loads[i],
                rings=rings_of(sound.voices, instrument),
                pull=pulls[i],
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
