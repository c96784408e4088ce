"""Fixes keep their promise, tempi fit, symptoms follow the margins, balance adds up."""

import pytest

from pathway.core.planning import Passage, Plan, Settings, plan_part
from pathway.core.planning.advice.balance import balance_of
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.advice.tempi import tempo_range
from pathway.core.planning.finding import Finding
from pathway.core.planning.helped import fixes_for
from pathway.core.planning.wishes import Link, Lock
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from tests.helpers import part_of, plan_of

WEIGHT = {"high": 3, "medium": 2, "low": 1}
TROUBLES = (
    ("[f] (d4:1 | e4:1) | (f4:1 | g4:1) | a4:4 b4 a4 g4", 84),
    ("[mf] (" + " | ".join(["d4:1 e4:1"] * 3) + ") | a4:1", 60),
    ("[mf] " + " | ".join(["d4:8! e4! f4! g4! a4! g4! f4! e4!"] * 2), 170),
    ("[mf] {sautille} " + " | ".join(["d4:8. e4. f4. g4. a4. g4. f4. e4."] * 2), 100),
    ("[f] " + " | ".join(["(d4:2 e4:4) f4:4"] * 6), 66),
)


def _taken(plan: Plan, fix: Fix) -> Plan:
    """The whole piece planned with a fix."""
    from dataclasses import replace

    locks = {note: lock for note, lock in plan.locks.items() if note not in fix.frees} | {
        lock.note: lock for lock in fix.locks
    }
    settings = plan.draft.settings
    passages = (*settings.passages, fix.passage) if fix.passage else settings.passages
    settings = replace(settings, passages=passages, tempo_bpm=fix.tempo_bpm or settings.tempo_bpm)
    return plan_part(plan.part, plan.rig, settings, locks.values())


def _still(plan: Plan, finding: Finding) -> int:
    first = finding.notes[0]
    return max(
        (WEIGHT[f.severity.value] for f in plan.findings if f.code == finding.code and first in f.notes), default=0
    )


@pytest.mark.parametrize(("text", "tempo"), TROUBLES)
def test_a_fix_taken_in_the_whole_piece_lowers_its_finding(text: str, tempo: float) -> None:
    """What was tried on a few strokes holds, nearly always, when everything is planned anew."""
    plan = plan_of(text, tempo=tempo)
    tried = kept = 0
    for finding in plan.findings:
        fixes = fixes_for(plan, finding)
        assert len(fixes) <= 3
        for fix in fixes:
            assert fix.effect.startswith(("removes it", "lowers it"))
            tried += 1
            kept += _still(_taken(plan, fix), finding) < WEIGHT[finding.severity.value]
    assert tried > 0
    assert kept >= 0.75 * tried


def test_a_bad_lock_can_be_taken_back() -> None:
    """The first thing offered against a finding on a locked stroke, if it helps."""
    text = "[mf] " + " | ".join(["d4:16 e4 f4 g4 d4 e4 f4 g4 d4 e4 f4 g4 d4 e4 f4 g4"] * 2)
    plan = plan_of(text, tempo=150, locks=[Lock("n7", link=Link.RETAKE)])
    hurried = next(f for f in plan.findings if f.code == "retake-no-time")
    assert fixes_for(plan, hurried)[0].frees == ("n7",)


def test_a_fix_keeps_what_the_player_had_set_there() -> None:
    """Another manner for a stroke whose direction is locked: both stand in its lock."""
    text = "[mf] " + " | ".join(["d4:8! e4! f4! g4! a4! g4! f4! e4!"] * 2)
    plan = plan_of(text, tempo=170, locks=[Lock("n3", Direction.UP)])
    finding = next(f for f in plan.findings if f.code == "too-fast-for-type")
    fix = next(f for f in fixes_for(plan, finding) if f.id == "type-soft-martele")
    assert Lock("n3", Direction.UP, kind="soft-martele") in fix.locks


def test_tempi_fit_where_they_say() -> None:
    """Alone, at ease, and in their order; a little slower names the first that fails."""
    plan = plan_of("[mf] (d4:1 | e4:1) | f4:4 g4 a4 b4 | (c5:1 | d5:1)", tempo=90)
    tempi = tempo_range(plan)
    assert tempi.in_context is not None
    assert tempi.lowest < tempi.comfortable
    assert tempi.lowest < tempi.in_context + 3
    assert set(tempi.first_to_fail) <= plan.stroke.keys()
    assert tempi.first_to_fail


def test_bows_that_only_fail_in_their_order_are_not_at_ease_there() -> None:
    """Six halves on one long down-bow after another want a quicker tempo than any of them alone; plain ones do not."""
    down = [Lock(f"n{i}", Direction.DOWN, link=Link.HOOK if i > 1 else None) for i in range(1, 7)]
    chained = tempo_range(plan_of("[f] d4:2 e4:2 | f4:2 g4:2 | a4:2 b4:2", tempo=120, locks=down))
    assert chained.in_context is not None
    assert chained.comfortable >= chained.in_context > 3 * chained.lowest
    plain = tempo_range(plan_of("[f] d4:2 e4:2 | f4:2 g4:2 | a4:2 b4:2", tempo=120))
    assert plain.in_context == plain.lowest
    assert plain.first_to_fail == ()


def test_time_in_hand_is_what_a_fermata_may_draw_on() -> None:
    """Held so much longer, the stroke just reaches its end at its slowest speed."""
    plan = plan_of("[p] d4:4 e4 f4 g4 | a4:2 r:2")
    stroke = plan.strokes[0]
    slowest = plan.problem.slowest[0]
    ahead = 0.64 - stroke.start if stroke.direction is Direction.DOWN else stroke.start - 0.01
    assert (stroke.finish - stroke.begin + stroke.in_hand) * slowest == pytest.approx(ahead)


def test_balance_counts_every_note_once_in_each_way() -> None:
    """By direction, string and third; the worst come first."""
    plan = plan_of("[ff] d4:1 | d4:4> e4> f4> g4> | a5:4 b5 a5 g5", tempo=60)
    balance = balance_of(plan)
    for kind in ("direction", "string", "third"):
        assert sum(g.notes for g in balance.groups if g.kind == kind) == len(plan.bowed)
    off = [abs(plan.note[id_].level_db - plan.note[id_].target_db) for id_ in balance.worst]
    assert off == sorted(off, reverse=True)
    attacks = [g.attack_db for g in balance.groups if g.kind == "direction"]
    assert all(attack is not None and 0 <= attack <= 3.6 for attack in attacks)


def test_balance_weighs_notes_by_time_and_second_voices_by_themselves() -> None:
    """Strings of one name are told together; what nobody plays is not told of."""
    plan = plan_part(part_of("[f] d4+a4:4> e4> (d4:8 e4) f4+c5:2"), preset("treble-viol"))
    groups = {(group.kind, group.name): group for group in balance_of(plan).groups}
    names = {plan.rig.instrument.strings[note.lead.string].letter for note in plan.bowed}
    assert {name for kind, name in groups if kind == "string"} == names
    seconds = [(note, voice) for note in plan.bowed for voice in note.voices if not voice.lead]
    found = groups["voice", "second voices"]
    time = sum(note.sounding for note, _ in seconds)
    assert found.notes == len(seconds) == 2
    off = sum((voice.level_db - note.target_db) * note.sounding for note, voice in seconds) / time
    assert found.off_db == pytest.approx(off)
    accent = plan.bowed[0].onset_of_tone
    assert accent is not None
    assert found.attack_db == pytest.approx(accent.attack_db)


def test_balance_names_passages_by_their_character() -> None:
    """In the order of the music; one without a character by its number."""
    part = part_of("[mf] d4:4 e4 f4 g4 | a4:4 b4 a4 g4")
    passages = (Passage("n5", "n8"), Passage("n1", "n4", character="calm"))
    balance = balance_of(plan_part(part, preset("violin"), Settings(passages=passages)))
    assert [(g.name, g.notes) for g in balance.groups if g.kind == "passage"] == [("1. calm", 4), ("2", 4)]
