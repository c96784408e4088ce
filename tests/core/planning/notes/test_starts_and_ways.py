"""On what a start finds the string, and how the bow comes over: where each rule bites, and where it does not."""

from dataclasses import replace

import pytest

from pathway.core.music import Mark
from pathway.core.planning import Lock, Plan, Settings, plan_part
from pathway.core.planning.strokes import rebound
from pathway.core.planning.strokes.speeds import speeds_of
from pathway.core.planning.wishes import Link, Style
from pathway.core.rig import preset
from pathway.core.technique.crossings import CrossingManner, Sense
from tests.helpers import part_of, plan_of


def _speaks(plan: Plan, note: str) -> float:
    onset = plan.note[note].onset_of_tone
    assert onset is not None
    return onset.speak


def test_a_string_that_sounds_already_speaks_sooner() -> None:
    """After a note on it, or a double stop with it; not after a gap, but in the ring of a strong early bow."""
    quarters, stopped = "[mf] d4:4 d4 d4 d4", (Lock("n1", kind="lance"), Lock("n2", link=Link.CHANGE))
    plain, gapped = plan_of(quarters), plan_of(quarters, locks=stopped)
    assert 1.2 * _speaks(plain, "n2") < _speaks(gapped, "n2")
    assert 1.2 * _speaks(plan_of("[mf] d4+a4:4 d4:4"), "n3") < _speaks(plan_of("[mf] a4:4 d4:4"), "n2")
    early = preset("early-violin")
    rings, stops = (
        plan_part(part_of(quarters), early, Settings(style=style), stopped) for style in (Style.EARLY, Style.MODERN)
    )
    assert 1.2 * _speaks(rings, "n2") < _speaks(stops, "n2")


def test_a_bow_rolls_over_strings_unless_it_is_lifted() -> None:
    """A roll moves the contact along the hair; a retake does not."""
    rolled = plan_of("[mf] g3:8 e5:8 g3 e5 g3:2").crossing_to["n2"]
    assert (rolled.how, abs(rolled.shift) > 0.03) == (CrossingManner.ROLL, True)
    viol, leap = preset("treble-viol"), part_of("[mf] d3:4 d5:4 d3:2")  # whose bow stays on the strings
    on, lifted = (
        plan_part(leap, viol, locks=locks).crossing_to["n2"] for locks in ((), [Lock("n2", link=Link.RETAKE)])
    )
    assert (on.how, abs(on.shift) > 0.03) == (CrossingManner.ROLL, True)
    assert (lifted.how, lifted.shift) == (CrossingManner.LIFT, 0.0)


def test_only_quick_single_bows_go_round_one_way_or_the_other() -> None:
    """Slurs of two do not, nor slow ones."""
    single, slurred, slow = (
        plan_of(f"[mf] {bars} d4:2", tempo=80)
        for bars in ("d4:16 a4 d4 a4 d4 a4 d4 a4", "(d4:16 e4) (a4 b4) (d4 e4) (a4 b4)", "d4:4 a4")
    )
    assert Sense.NEUTRAL not in [crossing.sense for crossing in single.crossings]
    for plan in (slurred, slow):
        assert {crossing.sense for crossing in plan.crossings} == {Sense.NEUTRAL}


def test_no_crossing_by_a_chord_is_told_fast() -> None:
    """Its own pieces take the way; the same leap between single notes is told."""
    viol = preset("treble-viol")
    chords, notes = (
        plan_part(part_of(f"[f] {' '.join([pair] * 4)} a4:2"), viol, Settings(120))
        for pair in ("d3+g3+c4:16 d5", "d3:16 d5")
    )
    assert max(crossing.speed for crossing in chords.crossings) > 4
    assert "crossing-fast" not in [finding.code for finding in chords.findings]
    assert "crossing-fast" in [finding.code for finding in notes.findings]


def test_a_bounce_takes_no_more_than_the_hand_draws_while_it_touches(monkeypatch: pytest.MonkeyPatch) -> None:
    """Were hands slower, it would take less; and never less than its least."""
    asked = plan_of("[ff] {spiccato} " + "d4:16 e4 f4 g4 a4 g4 f4 e4 " * 2, tempo=100).draft.asked
    rig, columns = preset("violin"), asked.columns
    free = speeds_of(asked, rig).preferred * columns.moving / columns.notes
    monkeypatch.setattr(rebound, "FASTEST_THROW", 0.6)
    bound = speeds_of(asked, rig).preferred * columns.moving / columns.notes
    assert (bound < free - 0.01).all()
    monkeypatch.setattr(rebound, "FASTEST_THROW", 0.01)
    least = [min(stroke.kind.hair_a_note or (0.0,)) for stroke in asked.strokes]
    assert speeds_of(asked, rig).preferred * columns.moving / columns.notes == pytest.approx(least)


def test_a_tremolo_takes_the_hair_of_its_level() -> None:
    """Each of its bows: softly the least of its manner, loudly the most."""
    lengths = {}
    for level in ("pp", "mf", "ff"):
        part = part_of(f"[{level}] d4:1 d4:1", tempo="60")
        marked = replace(part, events=tuple(replace(event, marks=frozenset({Mark.TREMOLO})) for event in part.events))
        asked = plan_part(marked, preset("violin")).draft.asked
        low, high = asked.strokes[0].kind.hair_a_note or (0.0, 0.0)
        bow = asked.columns.moving[0] / asked.columns.bows[0]
        lengths[level] = (speeds_of(asked, preset("violin")).preferred[0] * bow - low) / (high - low)
    assert (lengths["pp"], lengths["ff"]) == pytest.approx((0.0, 1.0))
    assert 0.2 < lengths["mf"] < 0.8
