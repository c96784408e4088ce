"""What is heard, its causes by the plan's margins at the note, and what may be pressed against them."""

import pytest

from pathway.core.guide.causes import CAUSE_WORDS
from pathway.core.planning import Lock, Plan
from pathway.core.planning.advice.symptoms import TABLE, Cause, Heard, causes, margin_of
from pathway.core.planning.relief import reliefs
from pathway.core.planning.wishes import Link
from pathway.core.rig.bow import Direction
from tests.helpers import plan_of

QUARTERS = "[mf] " + " | ".join(["d4:4 e4 f4> g4"] * 3)


def _of(plan: Plan, note: str, heard: Heard, key: str) -> Cause:
    return next(cause for cause in causes(plan, note, heard) if cause.key == key)


def _keys(plan: Plan, note: str, heard: Heard) -> list[str]:
    return [cause.key for cause in causes(plan, note, heard)]


@pytest.mark.parametrize("heard", list(Heard))
def test_every_symptom_has_causes_in_the_order_of_their_margins(heard: Heard) -> None:
    """Each with its words, a test to make and something to do."""
    found = causes(plan_of(QUARTERS), "n7", heard)
    assert [c.margin for c in found] == sorted(c.margin for c in found)
    assert all(0 <= c.margin <= 1 for c in found)
    assert all(c.words().test.endswith(".") for c in found)
    assert {(heard.value, key) for key in TABLE[heard]} == {row for row in CAUSE_WORDS if row[0] == heard.value}


def test_the_likeliest_cause_follows_the_plan() -> None:
    """A short note after a long one sticks out because of the hair; a high open string whistles."""
    locks = [Lock(f"n{i}", Direction.DOWN if i % 2 else Direction.UP) for i in range(1, 7)]
    hurried = plan_of("[f] " + " | ".join(["d4:2d e4:4"] * 3), locks=locks)
    assert causes(hurried, "n2", Heard.STICKS_OUT)[0].key == "remainder"
    open_string = plan_of("[mf] e5:4 e5 e5 e5")
    assert "open" in _keys(open_string, "n2", Heard.BREATHY)[:2]


def test_what_cannot_be_there_is_no_cause() -> None:
    """No string before the first note, no open string where a finger is, no crossing on one string, no second voice."""
    plan = plan_of("[mf] g3:4 e5 f4 f4")
    assert "carried" not in _keys(plan, "n1", Heard.SQUEAL)
    assert "carried" in _keys(plan, "n2", Heard.SQUEAL)
    assert "open" not in _keys(plan, "n3", Heard.BREATHY)
    assert "crossing" not in _keys(plan, "n4", Heard.BOUNCE)
    assert _keys(plan, "n4", Heard.VOICE) == ["level"]
    assert "remainder" not in _keys(plan, "n1", Heard.STICKS_OUT)
    assert "hook" not in _keys(plan, "n3", Heard.JOIN)


@pytest.mark.parametrize(
    ("heard", "key", "near", "far"),
    [
        (Heard.BREATHY, "light", Lock("n2", force=0.25), Lock("n2", force=0.9)),
        (Heard.GRATING, "heavy", Lock("n2", force=2.4), Lock("n2", force=0.6)),
        (Heard.SQUEAL, "lane", Lock("n2", lane=6), Lock("n2", lane=3)),
        (Heard.WOOD, "tilt", Lock("n2", tilt=0.7), Lock("n2", tilt=0.1)),
        (Heard.WOOD, "stick", Lock("n2", force=4.0), Lock("n2", force=0.5)),
        (Heard.ACCENT, "tip", Lock("n2", start=0.63, end=0.5), Lock("n2", start=0.2, end=0.05)),
        (Heard.SQUEAL, "slant", Lock("n2", start=0.64, end=0.02, lane=6), Lock("n2", start=0.30, end=0.25, lane=2)),
        (Heard.JOIN, "hook", Lock("n2", link=Link.HOOK), None),
    ],
)
def test_a_margin_is_the_plans_own(heard: Heard, key: str, near: Lock, far: Lock | None) -> None:
    """Nearer to its limit where the hand is nearer to it."""
    text = "[mf] d4:4 e4 f4 g4"
    close = _of(plan_of(text, locks=[near]), "n2", heard, key).margin
    if far is None:
        assert close < 0.5
    else:
        assert close < _of(plan_of(text, locks=[far]), "n2", heard, key).margin


def test_thin_strings_betray_a_slant_and_an_open_one_whistles_first() -> None:
    """The same bow on the thickest and on the thinnest string."""
    low, high = (plan_of(f"[mf] {pitch}:4 {pitch} {pitch} {pitch}") for pitch in ("g3", "e5"))
    assert _of(high, "n2", Heard.BREATHY, "open").margin < _of(low, "n2", Heard.BREATHY, "open").margin
    assert _of(high, "n2", Heard.SQUEAL, "slant").margin < _of(low, "n2", Heard.SQUEAL, "slant").margin


def test_a_hand_that_carries_is_told_of_the_little_finger() -> None:
    """Where the bow is lifted by the hand near the frog; not where it leans on."""
    frog = plan_of("[pp] d4:4 e4", locks=[Lock("n1", start=0.02, end=0.10)])
    assert "little finger" in _keys(frog, "n1", Heard.BREATHY)
    tip = plan_of("[f] d4:4 e4", locks=[Lock("n1", start=0.50, end=0.63)])
    assert "little finger" not in _keys(tip, "n1", Heard.BREATHY)


def test_a_bounce_that_flies_too_high_is_told_so() -> None:
    """Its flight is nearer to its limit far out than where it is at home, and a tilt gives it room."""
    text = "[mf] {spiccato} " + "d4:16 d4 d4 d4 " * 4
    far = plan_of(text, tempo=95, locks=[Lock(f"n{i}", end=0.36) for i in range(1, 17, 3)])
    home = plan_of(text, tempo=95)
    assert _of(far, "n7", Heard.BOUNCE, "flight").margin < _of(home, "n7", Heard.BOUNCE, "flight").margin
    assert _of(far, "n7", Heard.BOUNCE, "place").margin < _of(home, "n7", Heard.BOUNCE, "place").margin
    found = list(reliefs(far, "n7", _of(far, "n7", Heard.BOUNCE, "flight")))
    assert any(relief.fix.way in {"tilt", "place"} for relief in found)


@pytest.mark.parametrize(
    ("heard", "key", "locks"),
    [
        (Heard.BREATHY, "light", [Lock("n2", force=0.25)]),
        (Heard.GRATING, "heavy", [Lock("n2", force=2.2)]),
        (Heard.WOOD, "tilt", [Lock("n2", tilt=0.7)]),
        (Heard.ACCENT, "tip", [Lock("n2", start=0.63, end=0.45)]),
        (Heard.JOIN, "hook", [Lock("n2", link=Link.HOOK)]),
    ],
)
def test_a_relief_gives_the_note_more_room(heard: Heard, key: str, locks: list[Lock]) -> None:
    """As much as it says, in the whole plan that it comes with; two at most, each of another kind."""
    plan = plan_of("[mf] d4:4 e4 f4 g4 | a4 g4 f4 e4", locks=locks)
    cause = _of(plan, "n2", heard, key)
    found = list(reliefs(plan, "n2", cause))
    assert 1 <= len(found) <= 2
    assert len({relief.fix.way for relief in found}) == len(found)
    for relief in found:
        assert relief.before == pytest.approx(cause.margin)
        assert relief.after == pytest.approx(margin_of(relief.plan, "n2", cause))
        assert relief.after > relief.before
