"""A bar of music for every finding that a press can mend, and what is pressed: each was planned in the whole piece."""

from dataclasses import replace

import pytest

from pathway.core.planning import Lock, Passage
from pathway.core.planning.advice.fixes import ways
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.findings.catalogue import CATALOGUE
from pathway.core.planning.helped import fixes_for, with_fix
from pathway.core.planning.plan import Plan
from pathway.core.planning.wishes import Link
from tests.core.planning.findings.test_by_code import CASES, QUARTERS, Score, _bow

GRAVER = (Severity.LOW, Severity.MEDIUM, Severity.HIGH)
LEAPS = "[mf] " + "d4:16 e5 f5 e5 d4 e5 f5 e5 " * 2
MENDED = {code: having for code, (having, _) in CASES.items()} | {
    "wood-contact": Score("[ff] a5:2 b5 | a5 b5", change=_bow(clearance=0.0045)),
    "crossing-fast": Score(LEAPS, 95),
    "speaks-late": Score("[mf] " + "c2:16 d2 e2 f2 " * 4, 130, "cello"),
    "voice-lost": Score("[ff] g3+a4:2 g3+a4", 60, "viola"),
    "no-window": Score(QUARTERS, locks=(Lock("n2", lane=6),), change=CASES["no-window"][1].change),
    "heavy-hand": Score("[ff] " + " | ".join(["d5:2 e5"] * 30), 60, change=lambda rig: replace(rig, torque_limit=0.45)),
}
BEYOND_HELP = {"keep-back-short", "string-imbalance"}  # as they stand in the table: every change brings more


def _grave(plan: Plan, finding: Finding) -> int:
    """How grave what is left of it is at its first place; −1 where it is gone."""
    left = [f.severity for f in plan.findings if f.code is finding.code and {*f.notes} & {*finding.place}]
    return max(map(GRAVER.index, left), default=-1)


@pytest.mark.parametrize("code", sorted(CASES.keys() - BEYOND_HELP))
def test_what_helps_holds(code: str) -> None:
    """At least one help that is more than a lock taken back where there is none; what it says is what comes of it."""
    plan = MENDED[code].plan()
    finding = next(f for f in plan.findings if f.code == code)
    fixes = fixes_for(plan, finding)
    assert fixes
    if not plan.locks:
        assert any(fix.way != "unlock" for fix in fixes)
    for fix in fixes:
        left = _grave(with_fix(plan, fix), finding)
        if not CATALOGUE[finding.code].between:
            assert left < GRAVER.index(finding.severity)
            assert fix.lowers == (left >= 0)
        assert fix.text()[0].isupper()


def test_a_wooden_place_is_mended_by_a_press_of_the_hand() -> None:
    """Flatter, lighter or elsewhere."""
    plan = MENDED["wood-contact"].plan()
    finding = next(f for f in plan.findings if f.code is Code.WOOD_CONTACT)
    assert {fix.way for fix in fixes_for(plan, finding)} & {"flatten", "lighter", "place", "softer"}


def test_a_crossing_inside_a_slur_is_never_told_to_be_slurred() -> None:
    """Not for a crossing, nor for any finding about notes of one bow."""
    plan = Score("[f] " + "(g3:16 e5 g3 e5 g3 e5 g3 e5) " * 2, 120).plan()
    assert plan.findings
    for finding in plan.findings:
        slurred = {plan.note[id_].stroke for id_ in finding.place}
        if len(slurred) == 1 and len(plan.stroke[next(iter(slurred)) or ""].notes) > 1:
            assert (
                "join" not in {fix.way for fix in fixes_for(plan, finding)}
                or plan.stroke_index[next(iter(slurred)) or ""]
            )


def test_a_help_inside_a_passage_changes_that_passage() -> None:
    """Softer than it is: the passage itself becomes so, and no other one lies over it."""
    passage = Passage("n1", "n4", character="broad", offset_db=1.0)
    plan = Score("[f] (d4:1 | e4:1) | f4:4 g4", 60, passages=(passage,)).plan()
    finding = next(f for f in plan.findings if f.code is Code.RUNS_OUT)
    softer = next(fix for fix in fixes_for(plan, finding) if fix.way == "softer")
    assert softer.passage is not None
    after = with_fix(plan, softer).draft.settings.passages
    assert [(one.character, one.offset_db) for one in after] == [("broad", -2.0)]


def test_an_easier_voicing_is_taken_with_a_press() -> None:
    """The chord at the limit of a hand becomes one that lies at ease; its printed heads stay in the part."""
    plan = MENDED["chord-hard"].plan()
    finding = next(f for f in plan.findings if f.code is Code.CHORD_HARD)
    voicing = next(fix for fix in fixes_for(plan, finding) if fix.way == "voicing")
    after = with_fix(plan, voicing)
    assert len(after.bowed[0].voices) == 2
    assert len(after.part.events[0].heads) == 3
    assert "chord-hard" not in {f.code for f in after.findings}


def test_hooks_are_offered_where_a_note_sticks_out() -> None:
    """And the link is what the lock says."""
    plan = MENDED["speed-spike"].plan()
    finding = next(f for f in plan.findings if f.code is Code.SPEED_SPIKE)
    for fix in fixes_for(plan, finding):
        links = [lock.link for lock in fix.locks if lock.link is not None]
        assert all(link in {Link.HOOK, Link.RETAKE} for link in links)


def test_a_fast_crossing_is_moved_to_the_hand_or_left() -> None:
    """Farther out the way is only longer; where a hand's breadth does not do, no place along the hair is tried."""
    for tempo, sides in ((95, ["frog"]), (140, [])):
        plan = Score(LEAPS, tempo).plan()
        found = [finding for finding in plan.findings if finding.code == "crossing-fast"]
        assert found
        for finding in found:
            assert [fix.facts["side"] for fix in ways(plan, finding) if fix.way == "place"] == sides
