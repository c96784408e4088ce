"""Helps that hold: what is promised on some strokes is kept in the whole piece, or not promised."""

import pytest

from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.helped import fixes_for, helps, with_fix
from pathway.core.planning.plan import Plan
from tests.core.planning.advice.test_fixes import TROUBLES
from tests.helpers import plan_of

GRAVER = (Severity.LOW, Severity.MEDIUM, Severity.HIGH)
LILTING = "[f] " + " | ".join(["(d4:2 e4:4) f4:4"] * 6)


def _severity(plan: Plan, finding: Finding) -> int:
    """How grave what is left of a finding is at its first note; −1 where it is gone."""
    left = [f.severity for f in plan.findings if f.code is finding.code and finding.notes[0] in f.notes]
    return max(map(GRAVER.index, left), default=-1)


@pytest.mark.parametrize(("text", "tempo"), [*TROUBLES, (LILTING, 90), (LILTING, 60)])
def test_every_help_holds_in_the_whole_piece(text: str, tempo: float) -> None:
    """Removed or lowered, as it says; its plan is the one that taking it makes."""
    plan = plan_of(text, tempo=tempo)
    for finding in plan.findings:
        for helped in filter(None, helps(plan, finding)):
            assert _severity(helped.plan, finding) < GRAVER.index(finding.severity)
            assert helped.fix.lowers == (_severity(helped.plan, finding) >= 0)
            assert helped.plan.path.starts == pytest.approx(with_fix(plan, helped.fix).path.starts)


def test_what_does_not_hold_is_not_offered() -> None:
    """Of all that is tried less than half helps, and of that three are told, each of another kind."""
    plan = plan_of(LILTING.replace("[f]", "[ff]"), tempo=90)
    tried = sum(1 for finding in plan.findings for _ in helps(plan, finding))
    kept = [fix for finding in plan.findings for fix in fixes_for(plan, finding)]
    assert 0 < len(kept) < tried / 2
    assert all(len(fixes_for(plan, finding)) <= 3 for finding in plan.findings)


def test_what_helps_at_one_place_of_a_figure_is_taken_at_all() -> None:
    """Eight wedges too quick for their manner: one help for all of them, which leaves none."""
    plan = plan_of("[mf] " + " | ".join(["d4:8! e4! f4! g4! a4! g4! f4! e4!"] * 2), tempo=170)
    finding = next(f for f in plan.findings if f.code == "too-fast-for-type")
    helped = next(one for one in helps(plan, finding) if one)
    assert helped.fix.places == len(finding.places) > 8
    assert len(helped.fix.locks) == helped.fix.places
    assert "too-fast-for-type" not in {f.code for f in helped.plan.findings}
    assert f"at {helped.fix.places - 1} more places" in helped.fix.text()


def test_a_tempo_is_planned_only_if_it_helps_at_a_glance(monkeypatch: pytest.MonkeyPatch) -> None:
    """Where the glance still has the trouble, the whole piece is left alone; else it has the last word."""
    plan = plan_of("[f] (d4:1 | e4:1 | f4:1) | d4:1", tempo=60)
    finding = next(f for f in plan.findings if f.code is Code.RUNS_OUT)
    assert any(fix.tempo_bpm for fix in fixes_for(plan, finding))

    def planned_whole(plan: Plan, fix: Fix) -> Plan:
        assert fix.tempo_bpm is None, "planned for nothing"
        return with_fix(plan, fix)

    monkeypatch.setattr("pathway.core.planning.helped.glance", lambda plan, *_: plan)
    monkeypatch.setattr("pathway.core.planning.helped.with_fix", planned_whole)
    assert not any(fix.tempo_bpm for fix in fixes_for(plan, finding))
