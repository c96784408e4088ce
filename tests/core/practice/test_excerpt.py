"""Bars cut out of a piece: what holds for them comes along, and nothing else."""

from fractions import Fraction

import pytest

from pathway.core.planning import Passage, Settings, plan_part
from pathway.core.planning.wishes import Link, Lock, Relation, TempoChange
from pathway.core.practice.excerpt import MOST_BARS, Bars, bars_around, cut_out
from pathway.core.rig import PRESETS
from tests.helpers import part_of, plan_of

TEXT = "[p] (d4:4 e4) f#4 g4 | a4:2 [f] (b4:4 a4~ | a4:4 g4) f#4:2 | [<] e4:4 f#4 g4 a4 [*] | [p] d4:1 | d4:4 d4 d4 d4"
PLAN = plan_of(TEXT, tempo=66)


def test_the_bars_begin_at_nothing() -> None:
    """Times are counted from the first of them; ids stay."""
    work = cut_out(PLAN, Bars(1, 3))
    assert [m.number for m in work.part.measures] == ["2", "3", "4"]
    assert work.part.events[0].onset == 0
    assert [event.id for event in work.part.events] == [e.id for e in PLAN.part.events if 1 <= e.measure <= 3]
    assert work.bars == (1, 3)


def test_the_dynamic_and_the_tempo_in_force_come_along() -> None:
    """Also those that were printed before; the player's tempo is that of the excerpt."""
    work = cut_out(PLAN, Bars(2, 3))
    assert work.part.dynamics[0].onset == 0
    assert work.part.dynamics[0].level_db == 4.0
    assert work.part.tempo.beats_per_minute == pytest.approx(66)
    assert work.settings.tempo_bpm is None
    assert cut_out(PLAN, Bars(0, 0)).part.dynamics[0].level_db == -9.0


def test_a_change_of_tempo_holds_in_the_bars_after_it() -> None:
    """Told as the excerpt's own tempo."""
    part = part_of(TEXT)
    later = next(event for event in part.events if event.measure == 3)
    plan = plan_part(part, PRESETS["violin"], Settings(66, tempi=(TempoChange(later.id, 44),)))
    work = cut_out(plan, Bars(4, 5))
    assert work.part.tempo.beats_per_minute == pytest.approx(44 * 66 / part.tempo.beats_per_minute)


def test_a_tie_from_before_is_a_note() -> None:
    """A slur that is cut goes on with what lies in the bars; the bow cannot be kept then."""
    work = cut_out(PLAN, Bars(2, 3))
    assert not work.part.events[0].tied
    assert work.part.slurs[0].start == work.part.events[0].id
    assert work.path is None
    assert cut_out(PLAN, Bars(0, 0)).path is not None


def test_hairpins_are_clipped() -> None:
    """To the bars."""
    work = cut_out(PLAN, Bars(3, 3))
    (hairpin,) = work.part.hairpins
    assert hairpin.start == 0
    assert hairpin.end <= work.part.measures[0].length


def test_passages_and_locks_come_along() -> None:
    """Clipped, with their own level; those elsewhere stay behind, and the first bow follows no other."""
    part = part_of(TEXT)
    ids = [event.id for event in part.events]
    first_of = {m: next(e.id for e in part.events if e.measure == m) for m in range(6)}
    passages = (
        Passage(ids[0], first_of[1], offset_db=2.0, id=1),
        Passage(first_of[3], first_of[4], relation=Relation(1, -3.0), id=2),
    )
    locks = [Lock(first_of[3], link=Link.RETAKE), Lock(first_of[5], lane=2)]
    plan = plan_part(part, PRESETS["violin"], Settings(passages=passages), locks)
    work = cut_out(plan, Bars(3, 3))
    (kept,) = work.settings.passages
    assert kept.start == first_of[3]
    assert kept.relation is None
    assert [lock.note for lock in work.locks] == [first_of[3]]
    assert work.locks[0].link is None
    assert plan_part(work.part, PRESETS["violin"], work.settings, work.locks).strokes


def test_a_place_comes_with_its_lead_in_and_landing() -> None:
    """A bar before where it opens its bar, a bar after where it closes it; MOST_BARS at most."""
    by_bar = [[n.id for n in PLAN.bowed if PLAN.part.event[n.id].measure == m] for m in range(6)]
    assert bars_around(PLAN, by_bar[3]) == Bars(2, 4)
    assert bars_around(PLAN, by_bar[5][1:3]) == Bars(5, 5)
    assert bars_around(PLAN, by_bar[0]) == Bars(0, 1)
    assert bars_around(PLAN, by_bar[3], more=1) == Bars(1, 5)
    whole = bars_around(PLAN, [id_ for bar in by_bar for id_ in bar])
    assert whole.last - whole.first + 1 <= MOST_BARS


def test_another_tempo_is_told_in_quarters() -> None:
    """Whatever the beat is."""
    plan = plan_of("[mf] d4:8 e4 f#4 g4 a4 b4 | d4:4d d4", meter="6/8", tempo=50)
    work = cut_out(plan, Bars(0, 1))
    assert work.at_tempo(60).quarters_per_minute == pytest.approx(60)
    assert work.quarters_per_minute == pytest.approx(50 * float(work.part.tempo.unit))
    assert Fraction(work.part.tempo.unit) == plan.part.tempo.unit
