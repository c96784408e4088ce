"""Double stops out of a hand's reach are told with what it spans; octaves and tenths are led from below."""

import pytest

from pathway.core.technique.double_stops import Leading, usual_lead
from tests.helpers import plan_of


@pytest.mark.parametrize(
    ("rig", "text", "severity"),
    [
        ("violin", "g#3+d6:2 a4", "high"), ("violin", "e4+g5:2 a4", "low"), ("violin", "b3+g#4:2 a4", None),
        ("violin", "a4+a5:2 b4", None), ("cello", "e2+d4:2 a3", "high"), ("cello", "e3+c4:2 a3", None),
    ],
)  # fmt: skip
def test_a_double_stop_beyond_the_hand_is_told(rig: str, text: str, severity: str | None) -> None:
    """A tenth is a stretch; further apart no hand holds it."""
    plan = plan_of(f"[mf] {text}", rig)
    found = [finding for finding in plan.findings if finding.code == "chord-out-of-reach"]
    assert [finding.severity.value for finding in found] == ([severity] if severity else [])
    for finding in found:
        assert f"span {plan.rig.instrument.frame(max(plan.bowed[0].position, 1))} semitones" in finding.text()


@pytest.mark.parametrize(
    ("pitches", "lead"),
    [((76, 64), "bottom"), ((79, 64), "bottom"), ((80, 64), "bottom"), ((76, 67), "top"), ((76, 64, 60), "top")],
)
def test_octaves_and_tenths_are_led_from_below(pitches: tuple[int, ...], lead: str) -> None:
    """All others from above, chords too."""
    assert usual_lead(pitches) is Leading(lead)


def test_the_lead_of_an_octave_is_the_lower_voice_unless_someone_says_otherwise() -> None:
    """In the plan as it sounds."""
    octave, sixth = plan_of("[mf] b4+b5:2 e5+g4").bowed
    assert octave.lead.midi == 71
    assert sixth.lead.midi == 76
