"""From plan documents back to values: to be checked, and to be played."""

import math

from pathway.core.planning.note_plan import Landing, Load, NotePlan, Onset, Tone, Voice
from pathway.core.planning.plan import StrokePlan
from pathway.core.planning.validate import problems_in
from pathway.core.planning.wishes import Link
from pathway.core.rig.bow import Direction
from pathway.core.sound.playable import Playable, Plucked
from pathway.core.technique.chords import FASTER, LIGHTER, Chord, ChordPiece
from pathway.core.technique.endings import Exit
from pathway.formats.plan_document import ChordDoc, LandingDoc, LoadDoc, NoteDoc, PlanDocument, StrokeDoc, VoiceDoc
from pathway.formats.rig_document import rig_of


def broken_rules(document: PlanDocument) -> list[str]:
    """Return what breaks the rules of plans in a document, with the stroke or note named."""
    strokes = [_stroke_of(stroke) for stroke in document.strokes]
    notes = [_note_of(note) for note in document.notes]
    shifts = {crossing.to: crossing.shift_cm / 100 for crossing in document.crossings}
    return problems_in(strokes, notes, document.rig.bow.hair_cm / 100, shifts)


def playable_of(document: PlanDocument) -> Playable:
    """Return what of a plan document is needed to play it.

    Raises:
        RigError: numbers of its rig that contradict each other.
    """
    chords = {chord.note: _chord_of(chord) for chord in document.chords}
    plucked = {
        note.id: tuple(Plucked(one.midi, one.string) for one in note.plucked) for note in document.notes if note.plucked
    }
    return Playable(
        rig_of(document.rig),
        tuple(_stroke_of(stroke) for stroke in document.strokes),
        tuple(_note_of(note, chords.get(note.id)) for note in document.notes),
        plucked,
        tuple((span.begin_s, span.end_s) for span in document.muted),
    )


def _stroke_of(doc: StrokeDoc) -> StrokePlan:
    return StrokePlan(
        id=doc.id,
        direction=Direction[doc.direction.upper()],
        kind=doc.type,
        notes=tuple(doc.notes),
        start=doc.start_cm / 100,
        end=doc.end_cm / 100,
        begin=doc.begin_s,
        finish=doc.end_s,
        entry=Link.CHANGE if doc.entry == "air" else Link[doc.entry.upper()],
        exit=Exit(doc.exit),
        printed=False,
        locks=tuple(doc.locked),
        bows=doc.bows,
        from_air=doc.entry == "air",
        kept_down=doc.kept_down,
    )


def _note_of(doc: NoteDoc, chord: Chord | None = None) -> NotePlan:
    onset = None if doc.rise_s is None else Onset(doc.rise_s, doc.speak_s or 0.0, True, doc.attack_db or 0.0)
    return NotePlan(
        id=doc.id,
        measure=doc.measure,
        beat=doc.beat,
        onset=doc.onset_s,
        duration=doc.duration_s,
        sounding=doc.sounding_s,
        stroke=doc.stroke,
        voices=tuple(_voice_of(voice) for voice in doc.voices),
        start=doc.start_cm / 100,
        end=doc.end_cm / 100,
        speed=doc.speed_cm_s / 100,
        speed_ends=(doc.speed_start_cm_s / 100, doc.speed_end_cm_s / 100),
        bows=doc.bows,
        contact=doc.contact_cm / 100,
        contact_ends=(doc.contact_start_cm / 100, doc.contact_end_cm / 100),
        lane=doc.lane,
        hair_width=doc.hair_mm / 1000,
        level=math.radians(doc.level_deg),
        force_at=(doc.force_start_n, doc.force_n, doc.force_end_n),
        level_db=doc.level_db,
        target_db=doc.target_db,
        pulse_db=doc.pulse_db,
        tone=Tone(doc.tone),
        onset_of_tone=onset,
        chord=chord,
        landing=_landing_of(doc.landing) if doc.landing else None,
        load=_load_of(doc.load) if doc.load else None,
        rings=doc.rings_s,
    )


def _voice_of(doc: VoiceDoc) -> Voice:
    return Voice(
        midi=doc.midi,
        string=doc.string,
        vibrating=doc.vibrating_cm / 100,
        beta=doc.beta,
        force=doc.force_n,
        window=(doc.window.min_n, doc.window.max_n),
        place=doc.window.place,
        level_db=doc.level_db,
        lead=doc.lead,
        loops=doc.loops,
    )


def _landing_of(doc: LandingDoc) -> Landing:
    height = doc.height_mm / 1000
    return Landing(doc.rate, height, doc.contact_s, doc.share, doc.dryness, doc.weight_n, doc.led)


def _load_of(doc: LoadDoc) -> Load:
    return Load((doc.least_n, doc.most_n), doc.time_s, doc.let_go_s, doc.gone_s)


def _chord_of(doc: ChordDoc) -> Chord:
    pieces = tuple(ChordPiece(tuple(p.strings), p.time_s, p.hair_cm / 100, p.turn) for p in doc.pieces)
    level, travel = math.radians(doc.arm_level_deg), doc.turn_travel_cm / 100
    return Chord(doc.form, pieces, level, travel, LIGHTER, FASTER, doc.before_beat_s)
