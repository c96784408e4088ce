"""A note of a plan as it would be otherwise: as it should be, or with what a player may hear on it."""

import math
from collections.abc import Callable, Collection, Mapping
from dataclasses import replace

from msgspec import structs

from pathway.core.physics.string import AIRY, CLOSEST, LANES, PRESSED, SoundingString, force_window
from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.note_plan import NotePlan, Tone, Voice
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import Link
from pathway.core.technique.endings import Exit
from pathway.errors import OutOfRange

_CLEAR = 0.55  # q of a tone that nothing is wrong with
CLEAR_FROM, CLEAR_TO = 0.30, 0.82  # q between which nothing is changed
BREATHY, SQUEALS, GRATING, KNOCKS = -0.30, -0.80, 1.25, 1.60  # q
_LATE, _LATEST = 0.12, 0.4  # the tone comes so late [s]; at most this share of the note
_LOUDER, _SOFTER = 6.0, -8.0  # a note that sticks out, one that is buried [dB]
THINS = 0.35  # speed at the end of a bow that has nowhere left to go
_LIGHTEST, _HEAVIEST = 0.001, 30.0  # weights that a bow can have [N]
HEARD_DB = 1.0  # a smaller difference of level is hardly heard
MISSING = 0.12  # weight on the string that is lost [1]


def as_it_should(plan: Plan, notes: Collection[str]) -> Plan:
    """Return a plan in which some notes have their level, and their weight well inside the window."""

    def mended(note: NotePlan) -> NotePlan:
        place = note.lead.place if CLEAR_FROM <= note.lead.place <= CLEAR_TO else _CLEAR
        voices = tuple(_at(voice, place) for voice in note.voices)
        wanted = note.speed * 10 ** ((note.target_db - note.level_db) / 20)
        return faster(structs.replace(_weighed(note, voices), tone=Tone.CORE), wanted / max(note.speed, 1e-6))

    return _changed(plan, {id_: mended(plan.note[id_]) for id_ in notes if plan.note[id_].voices})


def sounds_otherwise(plan: Plan, notes: Collection[str]) -> bool:
    """Whether some notes would sound otherwise as they should be: not where only the hand or the way is at fault."""
    should = as_it_should(plan, notes)
    pairs = [(plan.note[id_], should.note[id_]) for id_ in notes if plan.note[id_].voices]
    return any(
        is_.lead.place != be.lead.place or abs(is_.target_db - is_.level_db) > HEARD_DB or is_.tone is not be.tone
        for is_, be in pairs
    )


def at_point(plan: Plan, note: str, lane: float, force: float) -> Plan:
    """Return a plan in which a note is bowed elsewhere and with another weight, at the speed it has.

    Args:
        plan: the plan.
        note: in it.
        lane: 0 at the fingerboard's edge of the lanes to 6 at the bridge's.
        force: on the leading string [N].

    Raises:
        NotFound: there is no bowed note there.
        OutOfRange: no place for a bow, or no weight.
    """
    found = plan.bowed_note(note)
    if not 0 <= lane <= LANES:
        raise OutOfRange("the lane", lane, 0, LANES)
    if not _LIGHTEST <= force <= _HEAVIEST:
        raise OutOfRange("the weight", force, _LIGHTEST, _HEAVIEST, "N")
    instrument, lead = plan.rig.instrument, found.lead
    above = 12 * math.log2(instrument.length / lead.vibrating)
    far = max(SoundingString.of(instrument, lead.string, above, lead.loops).furthest, lead.beta)
    beta = far * (CLOSEST / far) ** (lane / LANES)
    contact, factor = beta * lead.vibrating, force / lead.force
    voices = tuple(_moved(plan, voice, found.speed, contact, factor) for voice in found.voices)
    tone = next((tone for tone in map(_tone, voices) if tone is not Tone.CORE), Tone.CORE)
    moved = structs.replace(_weighed(found, voices), contact=contact, contact_ends=(0.0, 0.0), tone=tone)
    return _changed(plan, {note: moved})


def _moved(plan: Plan, voice: Voice, speed: float, contact: float, factor: float) -> Voice:
    """Return a voice at another distance from the bridge [m] and with so many times its weight."""
    instrument, beta = plan.rig.instrument, contact / voice.vibrating
    above = 12 * math.log2(instrument.length / voice.vibrating)
    window = force_window(speed, beta, SoundingString.of(instrument, voice.string, above, voice.loops))
    force = voice.force * factor
    limits = (float(window.lower), float(window.upper))
    return structs.replace(voice, beta=beta, force=force, window=limits, place=float(window.place(force)))


def pushed(plan: Plan, place: float) -> Plan:
    """Return a plan whose notes all have their weight at a place in the window, inside it or beyond."""
    return _changed(plan, {note.id: with_place(note, place) for note in plan.notes if note.voices})


def with_symptom(plan: Plan, note: str, heard: Heard) -> Plan:
    """Return a plan in which a note sounds as a player may hear it: to be compared by ear.

    Raises:
        NotFound: there is no bowed note there.
    """
    found = plan.bowed_note(note)
    if heard is Heard.JOIN:
        return _joined_badly(plan, found)
    return _changed(plan, {note: _SYMPTOMS[heard](found)})


def _at(voice: Voice, place: float) -> Voice:
    """Return a voice with its weight at a place in its window."""
    low, high = voice.window
    return structs.replace(voice, force=low * (max(high, 1.02 * low) / low) ** place, place=place)


def _weighed(note: NotePlan, voices: tuple[Voice, ...]) -> NotePlan:
    """Return a note with other weights, even from beginning to end."""
    whole = sum(voice.force for voice in voices)
    return structs.replace(note, voices=voices, force_at=(whole, whole, whole), load=None)


def _tone(voice: Voice) -> Tone:
    return Tone.AIRY if voice.place < AIRY else Tone.PRESSED if voice.place > PRESSED else Tone.CORE


def with_place(note: NotePlan, place: float) -> NotePlan:
    """Return a note with all its weights at a place in the window, or beyond it."""
    voices = tuple(_at(voice, place) for voice in note.voices)
    return structs.replace(_weighed(note, voices), tone=_tone(voices[0]))


def faster(note: NotePlan, factor: float) -> NotePlan:
    """Return a note at another speed and with the weight that goes with it."""
    first, last = note.speed_ends
    voices = tuple(
        structs.replace(
            voice,
            force=voice.force * factor,
            window=(voice.window[0] * factor, voice.window[1] * factor),
            level_db=voice.level_db + 20 * math.log10(factor),
        )
        for voice in note.voices
    )
    start, steady, end = note.force_at
    return structs.replace(
        note,
        voices=voices,
        speed=note.speed * factor,
        speed_ends=(first * factor, last * factor),
        force_at=(start * factor, steady * factor, end * factor),
        level_db=note.level_db + 20 * math.log10(factor),
    )


def _louder(note: NotePlan, db: float) -> NotePlan:
    return faster(note, 10 ** (db / 20))


def _late(note: NotePlan) -> NotePlan:
    """Return a note whose tone comes late."""
    late = min(_LATE, _LATEST * note.sounding)
    return structs.replace(note, onset=note.onset + late, duration=note.duration - late, sounding=note.sounding - late)


def _thins(note: NotePlan) -> NotePlan:
    first, _ = note.speed_ends
    return structs.replace(note, speed_ends=(1.2 * first, THINS * first))


def _flat_accent(note: NotePlan) -> NotePlan:
    _, steady, end = note.force_at
    return structs.replace(note, force_at=(steady, steady, end), pulse_db=0.0, load=None)


def _one_voice(note: NotePlan) -> NotePlan:
    lost = tuple(v if v.lead else structs.replace(v, force=MISSING * v.force, place=-1.0) for v in note.voices)
    return structs.replace(note, voices=lost, tone=Tone.AIRY)


def _no_bounce(note: NotePlan) -> NotePlan:
    """Return a note that stays on the string, pressed, in place of leaving it."""
    return structs.replace(with_place(note, GRATING), landing=None)


_SYMPTOMS: Mapping[Heard, Callable[[NotePlan], NotePlan]] = {
    Heard.BREATHY: lambda note: with_place(note, BREATHY),
    Heard.GRATING: lambda note: with_place(note, GRATING),
    Heard.MUTE: _late,
    Heard.SQUEAL: lambda note: structs.replace(
        with_place(note, SQUEALS), speed_ends=(1.6 * note.speed, 1.6 * note.speed)
    ),
    Heard.STICKS_OUT: lambda note: _louder(note, _LOUDER),
    Heard.BURIED: lambda note: _louder(note, _SOFTER),
    Heard.NOWHERE: _thins,
    Heard.ACCENT: _flat_accent,
    Heard.VOICE: _one_voice,
    Heard.BOUNCE: _no_bounce,
    Heard.WOOD: lambda note: with_place(note, KNOCKS),
}


def _joined_badly(plan: Plan, note: NotePlan) -> Plan:
    """Return a plan in which the bow before a note halts, and the note starts from rest."""
    k = plan.stroke_index[note.stroke or ""]
    strokes = {k: structs.replace(plan.strokes[k], entry=Link.CHANGE)}
    shorter = {}
    if k:
        strokes[k - 1] = _halted(plan.strokes[k - 1])
        last = plan.note[strokes[k - 1].notes[-1]]
        shorter = {last.id: structs.replace(last, sounding=0.8 * last.sounding)}
    return replace(_changed(plan, shorter), strokes=plan.strokes.but({i: i for i in strokes}, strokes.__getitem__))


def _halted(stroke: StrokePlan) -> StrokePlan:
    return structs.replace(stroke, exit=Exit.STOPPED)


def _changed(plan: Plan, notes: Mapping[str, NotePlan]) -> Plan:
    at = {id_: plan.draft.note_index[id_] for id_ in notes}
    changed = {at[id_]: note for id_, note in notes.items()}
    return replace(plan, bowed=plan.bowed.but({i: i for i in changed}, changed.__getitem__))
