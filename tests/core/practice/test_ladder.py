"""Ladders: every rung planned at its own tempo, what it keeps, what stands for a type outside its limits."""

from dataclasses import replace

import pytest

from pathway.core.planning import Settings, plan_part
from pathway.core.planning.plan import Plan
from pathway.core.planning.wishes import Lock
from pathway.core.practice.drill import Drill, DrillAsk, Keeps, Rung, Stage, Work
from pathway.core.practice.excerpt import Bars, cut_out
from pathway.core.practice.ladder import planned, rate_of, rates_to, slower_neighbour, tempo_rungs, typical
from pathway.core.practice.making import opened
from pathway.core.practice.material import line, tones
from pathway.core.rig import PRESETS
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.errors import NotHere
from tests.core.practice.grounds import drill, tune_on
from tests.helpers import plan_of

VIOLIN = PRESETS["violin"]


def _drill(rungs: list[Rung], *, strict: bool = False) -> Drill:
    return Drill(DrillAsk("tempo-ladder"), VIOLIN, tuple(rungs), strict)


def test_slow_is_not_the_same_as_fast() -> None:
    """With the hair kept a slower bow is slower; with the speed kept a long one is parted."""
    whole = plan_of("[mf] (d4:2 e4 | f#4 g4) | a4:1 | (b4:2 a4) | d4:1", tempo=110)
    work = cut_out(whole, Bars(0, 4))
    hair = planned(_drill(tempo_rungs(work, (0.4, 1.0), Keeps.HAIR)), whole)
    speed = planned(_drill(tempo_rungs(work, (0.4, 1.0), Keeps.SPEED, whole=whole)), whole)
    assert [s.length for s in hair[0].plan.strokes] == pytest.approx([s.length for s in whole.strokes], abs=1e-6)
    assert hair[0].plan.notes[0].speed == pytest.approx(0.4 * whole.notes[0].speed, rel=0.02)
    assert speed[0].parted > 0
    assert hair[0].parted == 0
    assert hair[-1].holds
    at_speed = [
        speed[0].plan.note[n.id].speed / n.speed for n in whole.bowed if len(whole.stroke[n.stroke or ""].notes) > 1
    ]
    assert min(at_speed) > 0.75


def test_the_last_rung_is_the_plan_of_the_piece() -> None:
    """Bow by bow."""
    whole = tune_on("violin")
    last = drill("tempo-ladder", "the hair").rungs[-1]
    inside = [whole.stroke[s.id] for s in last.plan.strokes if s.id in whole.stroke]
    assert [(s.start, s.end, s.direction) for s in inside] == [
        (s.start, s.end, s.direction) for s in last.plan.strokes if s.id in whole.stroke
    ]
    assert last.beats_per_minute == pytest.approx(whole.draft.tempo_bpm)


def test_a_rung_that_cannot_be_bowed_is_not_offered() -> None:
    """The lock leaves no way; where none is left the drill is refused."""
    part = line("Test", tones([62] * 4))
    ids = [event.id for event in part.events]
    fine, broken = Work(part), Work(part, locks=(Lock(ids[0], start=2.0),))
    assert len(planned(_drill([Rung("fine", fine), Rung("broken", broken)]))) == 1
    with pytest.raises(NotHere, match="no rung"):
        planned(_drill([Rung("broken", broken)]))


def test_a_high_finding_bars_a_strict_rung_only() -> None:
    """Own bars are practised although something is wrong with them."""
    part = line("Test", tones([62, 62], 8 * line("x", tones([62])).events[0].duration))
    slow = Work(part).at_tempo(14)
    plan = plan_part(part, VIOLIN, slow.settings)
    assert any(finding.severity.value == "high" for finding in plan.findings)
    with pytest.raises(NotHere):
        planned(_drill([Rung("slow", slow)], strict=True))
    assert planned(_drill([Rung("slow", slow)]))
    known = frozenset(finding.code.value for finding in plan.findings)
    assert planned(replace(_drill([Rung("slow", slow)], strict=True), known=known))


def test_below_its_rate_a_type_gives_way_to_its_neighbour() -> None:
    """Sautillé needs the rate; below it spiccato stands for it, and the page can say so."""
    fast = plan_of("[mf] d4:16 d4 d4 d4 e4 e4 e4 e4 f#4 f#4 f#4 f#4 g4 g4 g4 g4 | a4:1", tempo=132)
    first = Lock("n1", kind="sautille")
    whole = plan_part(fast.part, VIOLIN, Settings(132), [replace(first, note=s.notes[0]) for s in fast.strokes[:16]])
    rungs = planned(_drill(tempo_rungs(cut_out(whole, Bars(0, 0)), (0.5, 1.0))), whole)
    assert rungs[0].replaced == (("sautille", "spiccato"),)
    assert {s.kind for s in rungs[0].plan.strokes} == {"spiccato"}
    assert rungs[-1].replaced == ()
    assert not rungs[0].holds


def test_above_its_rate_a_type_gives_way_to_the_quicker_one() -> None:
    """A martelé that is too fast is not offered as one."""
    part = plan_of("[mf] d4:16 d4 d4 d4 e4 e4 e4 e4 f#4 f#4 f#4 f#4 g4 g4 g4 g4 | a4:1", tempo=100).part
    whole = plan_part(part, VIOLIN, Settings(100), [Lock(f"n{n}", kind="martele") for n in range(1, 17)])
    last = planned(_drill(tempo_rungs(cut_out(whole, Bars(0, 0)), (0.5, 1.0))), whole)[-1]
    assert ("martele", STROKE_TYPES["martele"].faster) in last.replaced


@pytest.mark.parametrize(
    ("kind", "slower"), [("sautille", "spiccato"), ("tremolo", "sautille"), ("running-staccato", "staccato")]
)
def test_every_type_with_a_least_rate_has_a_slower_neighbour(kind: str, slower: str) -> None:
    """That which gives way to it when it gets faster."""
    assert slower_neighbour(kind) == slower
    assert all(slower_neighbour(key) in STROKE_TYPES for key, one in STROKE_TYPES.items() if one.least_per_second)


def test_notes_a_second_are_the_common_currency() -> None:
    """Of the commonest value, whatever the tempo is told in."""
    assert rate_of(plan_of("[mf] d4:8 e4 f#4 g4 a4:2", tempo=60)) == pytest.approx(2.0)
    assert rate_of(plan_of("[mf] d4:4 e4 f#4 g4", tempo=60)) == pytest.approx(1.0)
    assert rates_to(8.0, 4.0)[0] == 4.0
    assert rates_to(8.0)[-1] == 8.0


def test_the_typical_note_is_one_of_the_usual_length() -> None:
    """In the middle of them."""
    plan: Plan = plan_of("[mf] d4:2 e4:8 f#4 g4 a4")
    assert typical(plan).duration == pytest.approx(plan.notes[1].duration)


def test_a_rung_says_from_where_on_the_bowing_holds() -> None:
    """The first rung after which every one holds; its share of the aim by the rate, or by its place."""
    ready = drill("tempo-ladder", "the hair", Stage.AROUND)
    assert ready.holds_from is not None
    assert [ready.share(n) for n in range(ready.top + 1)] == sorted(ready.share(n) for n in range(ready.top + 1))
    assert ready.share(ready.top) == 1.0
    slower = opened(DrillAsk("long-tones", "down", Stage.OPEN), VIOLIN)
    assert slower.share(0) < slower.share(slower.top) == 1.0
