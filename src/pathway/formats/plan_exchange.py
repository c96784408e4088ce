"""Between plans and their documents: units at the border.

Inside everything is SI and radians; documents speak cm, degrees and grams-force.
"""

import math
from collections.abc import Iterable, Mapping

from pathway.core.guide.speech import GRAMS_PER_NEWTON
from pathway.core.planning.advice.balance import balance_of
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.advice.tempi import tempo_range
from pathway.core.planning.crossing import Crossing
from pathway.core.planning.helped import fixes_for
from pathway.core.planning.note_plan import Landing, Load, NotePlan
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.wishes import Link
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import open_pitch
from pathway.core.sound import start_of
from pathway.core.sound.playable import Plucked, playable
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
from pathway.formats.rig_document import rig_document
from pathway.formats.wishes_document import TempoDoc, lock_document, passage_document

_DIGITS = 5  # of rounded numbers


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
        rig=rig_document(plan.rig),
        settings=SettingsDoc(
            style=plan.draft.settings.style.value,
            tempi=[TempoDoc(at=tempo.note, bpm=_round(tempo.beats_per_minute)) for tempo in plan.draft.settings.tempi],
            tuning=[string.name for string in plan.rig.instrument.strings] if plan.draft.settings.tuning else [],
            passages=[passage_document(passage) for passage in plan.draft.settings.passages],
            locks=[lock_document(lock) for lock in plan.locks.values()],
        ),
        strokes=[_stroke(stroke) for stroke in plan.strokes],
        notes=[_note(note, plan, played.plucked.get(note.id, ())) for note in plan.notes],
        crossings=_crossings(plan),
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


_UNITS = (("_m_s", "_cm_s", 100.0), ("_m", "_cm", 100.0), ("_rad", "_deg", math.degrees(1.0)))


def _in_document(numbers: Mapping[str, float]) -> dict[str, float]:
    """Return the numbers of a finding in the units of documents, which their names end with."""
    found = {}
    for name, value in numbers.items():
        old, new, factor = next((unit for unit in _UNITS if name.endswith(unit[0])), ("", "", 1.0))
        found[name.removesuffix(old) + new] = _round(factor * value)
    return found


def _fix(fix: Fix) -> FixDoc:
    change = ChangeDoc(
        locks=[lock_document(lock) for lock in fix.locks],
        frees=list(fix.frees),
        passage=passage_document(fix.passage) if fix.passage else None,
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
    return round(value, _DIGITS)


def _cm(metres: float) -> float:
    return round(100 * metres, _DIGITS)


def _stroke(stroke: StrokePlan) -> StrokeDoc:
    return StrokeDoc(
        id=stroke.id,
        direction="down" if stroke.direction > 0 else "up",
        type=stroke.kind,
        notes=list(stroke.notes),
        start_cm=_cm(stroke.start),
        end_cm=_cm(stroke.end),
        begin_s=_round(stroke.begin),
        end_s=_round(stroke.finish),
        entry="air" if stroke.from_air and stroke.entry is Link.CHANGE else stroke.entry.word,
        exit=stroke.exit,
        profile=stroke.profile.value,
        locked=list(stroke.locks),
        bows=stroke.bows,
        proposed=stroke.proposed,
        in_hand_s=_round(stroke.in_hand),
        lowest_tempo_bpm=_round(stroke.lowest_tempo),
        exit_s=_round(stroke.exit_time),
        limb=stroke.limb,
        kept_down=stroke.kept_down,
    )


def _note(note: NotePlan, plan: Plan, plucked: Iterable[Plucked]) -> NoteDoc:
    strings, onset = plan.rig.instrument.strings, note.onset_of_tone
    voices = [
        VoiceDoc(
            midi=v.midi,
            string=v.string,
            string_name=strings[v.string].letter,
            vibrating_cm=_cm(v.vibrating),
            beta=_round(v.beta),
            force_n=_round(v.force),
            window=WindowDoc(min_n=_round(v.window[0]), max_n=_round(v.window[1]), place=_round(v.place)),
            level_db=_round(v.level_db),
            lead=v.lead,
            loops=v.loops,
        )
        for v in note.voices
    ]
    return NoteDoc(
        id=note.id,
        measure=note.measure,
        beat=_round(note.beat),
        onset_s=_round(note.onset),
        duration_s=_round(note.duration),
        sounding_s=_round(note.sounding),
        stroke=note.stroke,
        voices=voices,
        start_cm=_cm(note.start),
        end_cm=_cm(note.end),
        length_cm=_cm(note.length),
        bows=note.bows,
        speed_cm_s=_cm(note.speed),
        contact_cm=_cm(note.contact),
        contact_start_cm=_cm(note.contact_ends[0]),
        contact_end_cm=_cm(note.contact_ends[1]),
        lane=note.lane,
        force_n=_round(note.force),
        weight_g=round(note.force * GRAMS_PER_NEWTON, 2),
        tilt_deg=_round(math.degrees(note.tilt)),
        tilt_end_deg=_round(math.degrees(note.tilt_end)),
        speed_start_cm_s=_cm(note.speed_ends[0]),
        speed_end_cm_s=_cm(note.speed_ends[1]),
        rise_s=_round(onset.rise) if onset else None,
        speak_s=_round(onset.speak) if onset else None,
        attack_db=_round(onset.attack_db) if onset else None,
        hair_mm=_round(1000 * note.hair_width),
        level_deg=_round(math.degrees(note.level)),
        hand_torque_nm=_round(note.torque_end),
        hand_torque_start_nm=_round(note.torque_at[0]),
        hand_torque_steady_nm=_round(note.torque_at[1]),
        force_start_n=_round(note.force_at[0]),
        force_end_n=_round(note.force_at[2]),
        level_start_db=_round(note.level_at[0]),
        level_end_db=_round(note.level_at[2]),
        target_db=_round(note.target_db),
        pulse_db=_round(note.pulse_db),
        level_db=_round(note.level_db),
        brightness=_round(note.brightness),
        tone=note.tone.value,
        vibrato=note.vibrato,
        landing=_landing(note.landing) if note.landing else None,
        load=_load(note.load) if note.load else None,
        start=_start(note, plan),
        plucked=[PluckedDoc(midi=one.midi, string=one.string) for one in plucked],
        rings_s=_round(note.rings),
        pull_lanes=_round(note.pull),
        locked=_locked(note, plan),
    )


def _landing(landing: Landing) -> LandingDoc:
    return LandingDoc(
        rate=_round(landing.rate),
        height_mm=_round(1000 * landing.height),
        contact_s=_round(landing.contact),
        share=_round(landing.share),
        dryness=_round(landing.dryness),
        weight_n=_round(landing.weight),
        led=landing.led,
    )


def _start(note: NotePlan, plan: Plan) -> StartDoc | None:
    if not note.voices:
        return None
    start = start_of(note, note.lead, plan.rig.instrument.impedances[note.lead.string])
    if start is None:
        return None
    return StartDoc(weight_n=_round(start.weight), hold_s=_round(start.hold), fade_s=_round(start.fade))


def _load(load: Load) -> LoadDoc:
    least, most = load.resting
    return LoadDoc(
        least_n=_round(least),
        most_n=_round(most),
        time_s=_round(load.time),
        let_go_s=_round(load.let_go),
        gone_s=_round(load.gone),
    )


def _locked(note: NotePlan, plan: Plan) -> list[str]:
    """Return what the player set of a note: its own wishes, or its stroke's."""
    own = plan.locks[note.id].names if note.id in plan.locks else []
    stroke = list(plan.stroke[note.stroke].locks) if note.stroke else []
    return list(dict.fromkeys([*stroke, *own]))


def _crossings(plan: Plan) -> list[CrossingDoc]:
    return [
        CrossingDoc.model_validate(
            {
                "from": c.from_note,
                "to": c.to_note,
                "from_string": c.from_string,
                "to_string": c.to_string,
                "angle_deg": _round(math.degrees(c.angle)),
                "hand_travel_cm": _cm(c.travel),
                "time_s": _round(c.time),
                "limb": c.limb,
                "sense": c.sense,
                "skips": c.skips,
                "how": c.how,
                "hand_speed_m_s": _round(c.speed),
                "turn_deg": _round(math.degrees(c.turn)),
                "drift_cm": _cm(c.drift),
                "shift_cm": _cm(c.shift),
                "dip_cm_s": _cm(c.dip),
                "over_s": _round(c.over),
                "begin_s": _round(_sets_out(c, plan)),
                "end_s": _round(_sets_out(c, plan) + c.time),
                "falls": c.falls,
                "rings_s": _round(c.rings),
            }
        )
        for c in plan.crossings
    ]


def _sets_out(crossing: Crossing, plan: Plan) -> float:
    """Return when the hand sets out for another string [s], to be there with the note."""
    return plan.note[crossing.to_note].onset - crossing.time


def _chord(note: NotePlan) -> ChordDoc:
    chord = note.chord
    assert chord is not None
    return ChordDoc(
        note=note.id,
        form=chord.form.value,
        pieces=[
            PieceOfChordDoc(strings=list(p.strings), time_s=_round(p.time), hair_cm=_cm(p.hair), turn=p.turn)
            for p in chord.pieces
        ],
        arm_level_deg=_round(math.degrees(chord.arm_level)),
        pivot=list(chord.pivot),
        turn_travel_cm=_cm(chord.travel),
        before_beat_s=_round(chord.before_beat),
    )


def _totals(plan: Plan) -> TotalsDoc:
    totals, strings = plan.totals, plan.rig.instrument.strings
    balance, tempi = balance_of(plan), tempo_range(plan)
    return TotalsDoc(
        hair_m=_round(totals.hair),
        per_measure=[
            MeasureDoc(measure=number, hair_cm=_cm(hair), net_cm=_cm(net)) for number, hair, net in totals.per_measure
        ],
        lowest_tempo_bpm=_round(totals.lowest_tempo_bpm),
        tempi=TempiDoc(
            lowest_bpm=_round(tempi.lowest),
            comfortable_bpm=_round(tempi.comfortable),
            in_context_bpm=None if tempi.in_context is None else _round(tempi.in_context),
            first_to_fail=list(tempi.first_to_fail),
        ),
        balance=BalanceDoc(
            down_minus_up_db=_round(totals.down_minus_up_db),
            by_string_db={strings[i].letter: _round(db) for i, db in totals.by_string_db.items()},
            spread_db=_round(totals.spread_db),
            groups=[
                GroupDoc(
                    kind=g.kind,
                    name=g.name,
                    notes=g.notes,
                    off_db=_round(g.off_db),
                    attack_db=None if g.attack_db is None else _round(g.attack_db),
                )
                for g in balance.groups
            ],
            worst_notes=list(balance.worst),
        ),
    )
