"""Between plans and their documents: units at the border.

Inside everything is SI and radians; documents speak cm, degrees and grams-force.
"""

from collections.abc import Iterable, Mapping
from dataclasses import replace

from pathway.core.guide.speech import GRAMS_PER_NEWTON
from pathway.core.planning.advice.balance import BalanceGroup, balance_of
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.advice.tempi import TempoRange, tempo_range
from pathway.core.planning.crossing import Crossing
from pathway.core.planning.helped import fixes_for
from pathway.core.planning.note_plan import Landing, Load, NotePlan, Onset, Voice
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import Link
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import open_pitch
from pathway.core.says import AS_IT_IS, CM, CM_S, DEG
from pathway.core.sound import StartWeight, start_of
from pathway.core.sound.playable import Plucked, playable
from pathway.core.technique.chords import Chord, ChordPiece
from pathway.formats.codec import DIGITS, Codec
from pathway.formats.plan_document import (
    BalanceDoc,
    ChangeDoc,
    ChordDoc,
    CrossingDoc,
    FindingDoc,
    FixDoc,
    GroupDoc,
    LandingDoc,
    LoadDoc,
    MeasureDoc,
    NoteDoc,
    PieceDoc,
    PieceOfChordDoc,
    PlanDocument,
    PluckedDoc,
    SettingsDoc,
    SpanDoc,
    StartDoc,
    StrokeDoc,
    TempiDoc,
    TotalsDoc,
    VoiceDoc,
    WindowDoc,
)


def _stroke_of(doc: StrokeDoc) -> StrokePlan:
    lands = doc.entry == "air"
    return PLANNED_STROKES.value(doc, entry=Link.CHANGE if lands else Link[doc.entry.upper()], from_air=lands)


def _voice_of(doc: VoiceDoc) -> Voice:
    return SOUNDING_VOICES.value(doc, window=(doc.window.min_n, doc.window.max_n), place=doc.window.place)


PLANNED_STROKES = Codec(StrokePlan, StrokeDoc, read=_stroke_of, rounded=True)
SOUNDING_VOICES = Codec(Voice, VoiceDoc, read=_voice_of, rounded=True)
Codec(Landing, LandingDoc, rounded=True)
Codec(Load, LoadDoc, rounded=True)
Codec(Onset, NoteDoc, rounded=True)
PLANNED_NOTES = Codec(NotePlan, NoteDoc, rounded=True)
START_WEIGHTS = Codec(StartWeight, StartDoc, rounded=True)
CROSSING_WAYS = Codec(Crossing, CrossingDoc, rounded=True)
Codec(ChordPiece, PieceOfChordDoc, rounded=True)
BOWED_CHORDS = Codec(Chord, ChordDoc, rounded=True)
PLUCKED_NOTES = Codec(Plucked, PluckedDoc)
BALANCE_GROUPS = Codec(BalanceGroup, GroupDoc, rounded=True)
TEMPO_RANGES = Codec(TempoRange, TempiDoc, rounded=True)


def document_of(plan: Plan, *, with_fixes: bool = False) -> PlanDocument:
    """Return the document of a plan; fixes are tried one by one on the whole piece, which takes its time."""
    part, played = plan.part, playable(plan)
    return PlanDocument(
        piece=PieceDoc(
            title=part.title,
            part=part.name,
            measures=len(part.measures),
            tempo_bpm=_round(plan.draft.tempo_bpm),
            beat_unit=float(part.tempo.unit),
        ),
        rig=plan.rig,
        settings=SettingsDoc(
            style=plan.draft.settings.style.value,
            tempi=[
                replace(tempo, beats_per_minute=_round(tempo.beats_per_minute)) for tempo in plan.draft.settings.tempi
            ],
            tuning=[string.name for string in plan.rig.instrument.strings] if plan.draft.settings.tuning else [],
            passages=list(plan.draft.settings.passages),
            locks=list(plan.locks.values()),
        ),
        strokes=[_stroke(stroke) for stroke in plan.strokes],
        notes=[_note(note, plan, played.plucked.get(note.id, ())) for note in plan.notes],
        crossings=[_crossing(crossing, plan) for crossing in plan.crossings],
        chords=[_chord(note) for note in plan.bowed if note.chord],
        muted=[SpanDoc(begin_s=_round(on), end_s=_round(off)) for on, off in played.muted],
        findings=[
            FindingDoc(
                code=f.code,
                severity=f.severity.value,
                notes=list(f.notes),
                text=f.text(),
                numbers=_in_document(f.numbers),
                fixes=[_fix(fix) for fix in fixes_for(plan, f)] if with_fixes else [],
            )
            for f in plan.findings
        ],
        totals=_totals(plan),
        notices=list(plan.notices),
    )


_UNITS = (("_m_s", CM_S), ("_m", CM), ("_rad", DEG))


def _in_document(numbers: Mapping[str, float]) -> dict[str, float]:
    """Return the numbers of a finding in the units of documents, which their names end with."""
    found = {}
    for name, value in numbers.items():
        old, unit = next((one for one in _UNITS if name.endswith(one[0])), ("", AS_IT_IS))
        found[name.removesuffix(old) + unit.ending] = _round(unit.per_si * value)
    return found


def _fix(fix: Fix) -> FixDoc:
    change = ChangeDoc(
        locks=list(fix.locks),
        frees=list(fix.frees),
        passage=fix.passage,
        tempo_bpm=fix.tempo_bpm,
        tuning=[open_pitch(midi) for midi in fix.tuning],
    )
    return FixDoc(id=fix.id, text=fix.text(), effect=fix.effect, change=change)


def bow_marks(plan: Plan) -> dict[str, Direction]:
    """Return the direction of every stroke by the note that carries its sign: its first that is no grace note."""
    events = plan.part.event
    return {
        next((id_ for id_ in stroke.notes if not events[id_].grace), stroke.notes[0]): stroke.direction
        for stroke in plan.strokes
    }


def _round(value: float) -> float:
    return round(value, DIGITS)


def _cm(metres: float) -> float:
    return _round(CM.per_si * metres)


def _stroke(stroke: StrokePlan) -> StrokeDoc:
    lands = stroke.from_air and stroke.entry is Link.CHANGE
    return PLANNED_STROKES.document(stroke, entry="air" if lands else stroke.entry.word)


def _note(note: NotePlan, plan: Plan, plucked: Iterable[Plucked]) -> NoteDoc:
    start, _, end = note.level_at
    return PLANNED_NOTES.document(
        note,
        voices=[_voice(voice, plan) for voice in note.voices],
        length_cm=_cm(note.length),
        force_n=_round(note.force),
        weight_g=round(note.force * GRAMS_PER_NEWTON, 2),
        level_start_db=_round(start),
        level_end_db=_round(end),
        start=_start(note, plan),
        plucked=[PLUCKED_NOTES.dump(one) for one in plucked],
        locked=_locked(note, plan),
    )


def _voice(voice: Voice, plan: Plan) -> VoiceDoc:
    least, most = voice.window
    window = WindowDoc(min_n=_round(least), max_n=_round(most), place=_round(voice.place))
    return SOUNDING_VOICES.document(voice, string_name=plan.rig.instrument.strings[voice.string].letter, window=window)


def _start(note: NotePlan, plan: Plan) -> StartDoc | None:
    if not note.voices:
        return None
    start = start_of(note, note.lead, plan.rig.instrument.impedances[note.lead.string])
    return None if start is None else START_WEIGHTS.document(start)


def _locked(note: NotePlan, plan: Plan) -> list[str]:
    """Return what the player set of a note: its own wishes, or its stroke's."""
    own = plan.locks[note.id].names if note.id in plan.locks else []
    stroke = list(plan.stroke[note.stroke].locks) if note.stroke else []
    return list(dict.fromkeys([*stroke, *own]))


def _crossing(crossing: Crossing, plan: Plan) -> CrossingDoc:
    there = plan.note[crossing.to_note].onset  # the hand sets out so that it is there with the note
    return CROSSING_WAYS.document(
        crossing,
        hand_speed_m_s=_round(crossing.speed),
        begin_s=_round(there - crossing.time),
        end_s=_round(there),
    )


def _chord(note: NotePlan) -> ChordDoc:
    assert note.chord is not None
    return BOWED_CHORDS.document(note.chord, note=note.id, pivot=list(note.chord.pivot))


def _totals(plan: Plan) -> TotalsDoc:
    totals, strings = plan.totals, plan.rig.instrument.strings
    balance = balance_of(plan)
    return TotalsDoc(
        hair_m=_round(totals.hair),
        per_measure=[
            MeasureDoc(measure=number, hair_cm=_cm(hair), net_cm=_cm(net)) for number, hair, net in totals.per_measure
        ],
        lowest_tempo_bpm=_round(totals.lowest_tempo_bpm),
        tempi=TEMPO_RANGES.document(tempo_range(plan)),
        balance=BalanceDoc(
            down_minus_up_db=_round(totals.down_minus_up_db),
            by_string_db={strings[i].letter: _round(db) for i, db in totals.by_string_db.items()},
            spread_db=_round(totals.spread_db),
            groups=[BALANCE_GROUPS.document(group) for group in balance.groups],
            worst_notes=list(balance.worst),
        ),
    )
