"""Helps that hold: what is promised on some strokes is kept in the whole piece, or not promised."""

import pytest

from pathway.core.planning.advice.fixes import fixes_for
from pathway.core.planning.helped import helps, with_fix
from pathway.core.planning.plan import Finding, Plan, Severity
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
    """Some strokes alone would be helped by more than the whole piece is."""
    plan = plan_of(LILTING.replace("[f]", "[ff]"), tempo=90)
    promised = sum(len(fixes_for(plan, finding)) for finding in plan.findings)
    kept = sum(helped is not None for finding in plan.findings for helped in helps(plan, finding))
    assert 0 < kept < promised
