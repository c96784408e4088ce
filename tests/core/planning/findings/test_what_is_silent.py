"""What a teacher would not say: each rule that keeps a finding back, with the finding that comes without it."""

import pytest

from pathway.core.planning import Plan
from pathway.core.planning.finding import Finding
from pathway.core.planning.findings import hair, technique
from tests.helpers import plan_of


def _found(plan: Plan, code: str) -> list[Finding]:
    return [finding for finding in plan.findings if finding.code == code]


def test_a_step_of_loudness_is_no_spike(monkeypatch: pytest.MonkeyPatch) -> None:
    """The louder note is meant to stand out."""
    text = " | ".join(["[p] (c5:4 c5 e4) [mf] c5:4"] * 5)
    assert not _found(plan_of(text, tempo=50), "speed-spike")
    monkeypatch.setattr(hair, "ALIKE", 99.0)
    assert _found(plan_of(text, tempo=50), "speed-spike")


def test_a_light_way_back_is_told_only_where_it_is_worth_a_word(monkeypatch: pytest.MonkeyPatch) -> None:
    """And gravely where there is no time to be light."""
    text = " | ".join(["[mf] (d4:4 e4 f4) g4"] * 6)
    (told,) = _found(plan_of(text, tempo=72), "speed-spike")
    assert told.severity == "low"
    assert "by itself it would be" in told.text()
    monkeypatch.setattr(hair, "WORTH_A_WORD", 99.0)
    assert not _found(plan_of(text, tempo=72), "speed-spike")
    monkeypatch.setattr(hair, "LIGHT_FROM", 9.0)
    (grave,) = _found(plan_of(text, tempo=72), "speed-spike")
    assert grave.severity == "medium"


def test_a_bow_that_answers_nearly_as_wanted_is_not_told(monkeypatch: pytest.MonkeyPatch) -> None:
    """Nobody tells such rates apart."""
    text = "[p] d5:8. d5:16. b4:16. e5:16. e5:8. a4:16. a4:16. d5:16. d5:8. e5:16. e4:8. e5:8."
    assert not _found(plan_of(text, "viola", tempo=120), "bounce-place")
    monkeypatch.setattr(technique, "RATE_APART", 0.0)
    assert _found(plan_of(text, "viola", tempo=120), "bounce-place")


def test_the_angle_that_is_carried_over_is_told_once_a_piece() -> None:
    """At the place where it leads the hair off furthest, however many leaps there are."""
    plan = plan_of(" | ".join(["[f] c2:8 a3:8 c2:8 a3:8 c2:2"] * 6), "cello", tempo=60)
    (told,) = _found(plan, "angle-carried")
    assert len(told.notes) == 2
    assert not told.others
