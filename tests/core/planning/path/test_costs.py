"""What speaks for each direction, place and speed: every rule on a bar of its own."""

import math
from dataclasses import replace

import numpy as np
import pytest

from pathway.core.planning.draft import Draft
from pathway.core.planning.path.costs import TURNED, with_inertia
from pathway.core.planning.path.grid import grid_path
from pathway.core.planning.path.problem import PathProblem
from pathway.core.planning.strokes.speeds import preferred_speed
from pathway.core.planning.wishes import Lock, Settings
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from tests.helpers import part_of


def _draft(text: str, rig: str = "violin", **head: str) -> Draft:
    return Draft.of(part_of(text, rig, **head), preset(rig), Settings())


def _problem(text: str, rig: str = "violin", **head: str) -> PathProblem:
    return _draft(text, rig, **head).problem


def _against_up(problem: PathProblem) -> list[float]:
    """How much more an up-bow costs than a down-bow, stroke by stroke."""
    return [round(float(up - down), 3) for down, up in problem.direction_costs]


def test_strong_beats_want_the_strong_bow() -> None:
    """First beat 1 + .4, the very first .2 more, half bar .5, beats .25; the last before a bar wants the other."""
    assert _against_up(_problem("e4:4 f4 g4 a4 | b4:1")) == [1.6, 0.25, 0.5, 0.25 - 0.15, 1.4]


def test_an_upbeat_after_a_rest_wants_the_up_bow_much_more() -> None:
    """.25 for its beat against .15 + .9."""
    assert _against_up(_problem("r:2d e4:4 | f4:1"))[0] == pytest.approx(0.25 - 1.05)


def test_accents_and_phrase_starts_add_up() -> None:
    """Accent .8; a phrase that starts on a beat with weight after a rest .6."""
    costs = _against_up(_problem("e4:4> f4 r:2 | g4:1"))
    assert costs[0] == pytest.approx(1.6 + 0.8)
    assert costs[-1] == pytest.approx(1.4 + 0.6)


def test_growing_strokes_want_to_come_from_the_tip() -> None:
    """.25 for a long stroke under a hairpin."""
    plain, grown = _problem("[p] e4:1 | f4:1"), _problem("[p] [<] e4:1 | [*] [f] f4:1")
    assert _against_up(plain)[0] - _against_up(grown)[0] == pytest.approx(0.25)


def test_the_hard_way_round_costs_on_upheld_instruments_only() -> None:
    """Sixteenths between two strings: the higher on a down-bow is hard; the cello does not mind."""
    bars = "e{0}:16 b{0} e{0} b{0} e{0} b{0} e{0} b{0} e{0}:2"
    violin, cello = _problem(bars.format(4), tempo="90"), _problem(bars.format(3), "cello", tempo="90")
    assert violin.direction_costs[1].tolist() == pytest.approx([0.1, 0.125])
    assert violin.direction_costs[2].tolist() == pytest.approx([0.0, 0.125 + 0.1])
    assert cello.direction_costs[1].tolist() == pytest.approx([0.0, 0.125])


def test_signs_and_locks_shut_the_other_direction() -> None:
    """A printed up-bow; a lock on another note; a lock against the print wins."""
    draft = _draft("ve4:4 f4 g4 a4")
    shut = draft.problem_with({"n2": Lock("n2", Direction.DOWN)}).direction_costs
    assert np.isinf(shut).tolist() == [[True, False], [False, True], [False, False], [False, False]]
    assert np.isinf(draft.problem_with({"n1": Lock("n1", Direction.DOWN)}).direction_costs[0]).tolist() == [False, True]


def test_inertia_costs_every_turn_but_nothing_that_stays() -> None:
    """Keeping the known path adds nothing."""
    from pathway.core.planning.path.search import find_path

    problem = _problem("e4:4 f4 g4 a4")
    known = find_path(problem)
    held = with_inertia(problem, known)
    assert held.total(known) == pytest.approx(problem.total(known))
    assert (held.direction_costs - problem.direction_costs).max(axis=1) == pytest.approx(TURNED)


@pytest.mark.parametrize(("level", "share"), [("f", 0.446), ("mf", 0.508), ("p", 0.569)])
def test_louder_notes_live_nearer_the_frog(level: str, share: float) -> None:
    """The centre of the zone by level."""
    problem = _problem(f"[{level}] e4:8 f4 g4 a4 e4 f4 g4 a4")
    middle = (problem.zone_low[1] + problem.zone_high[1]) / 2
    assert middle == pytest.approx(share * 0.65, abs=0.002)


def test_martele_lives_in_the_upper_half() -> None:
    """Its own zone, and a faster bow."""
    plain, sharp = _problem("[mf] e4:4 f4 g4 a4"), _problem("[mf] e4:4! f4! g4! a4!")
    assert sharp.zone_low[0] == pytest.approx(0.45 * 0.65)
    assert sharp.preferred[0] == pytest.approx(1.6 * plain.preferred[0])


def test_speed_limits_follow_the_drive() -> None:
    """v_lo = .035 D′, and the preferred speed lies inside the limits."""
    problem, instrument = _problem("[mf] a4:4 a4 a4 a4"), preset("violin").instrument
    heaviness = math.sqrt(instrument.impedances[2] / instrument.impedance_mean)
    assert problem.slowest[0] == pytest.approx(0.035 * 3.0 / heaviness)
    assert problem.preferred[0] == pytest.approx(0.27)
    assert (problem.preferred > 1.14 * problem.slowest).all()
    assert (problem.preferred < 0.88 * problem.fastest).all()
    assert preferred_speed(6.0, 3.0) < 2 * preferred_speed(3.0, 3.0)


def test_evenness_forgets_over_a_rest() -> None:
    """After half a second nothing is compared any more; into weak notes it counts more."""
    problem = _problem("e4:4 f4 r g4 | a4:8 b4 c5 d5 e5:2")
    assert problem.speeding[0] == problem.speeding[2] == 0
    assert problem.speeding[1] == pytest.approx(1.8)
    assert problem.speeding[3] == pytest.approx(0.8)
    assert (problem.slowing <= 0.8).all()


def test_hooks_are_cheap_for_short_partners_and_dear_for_slurs() -> None:
    """Dotted long and short .05, plain 1, slurs of three 1.4; over a rest nearly nothing."""
    hook = _problem("e4:4d f4:8 (g4:4 a4 b4) | c5:4 r:2d | d5:1").hook
    assert hook[1] == pytest.approx(1.6 * 0.05 + 0.08)
    assert hook[2] == pytest.approx(1.6 * 1.4 + 0.08)
    assert hook[4] < 0.1


def test_retakes_are_cheap_after_rests_and_before_accents() -> None:
    """2.4 plain, .6 of it for an accent, little after a rest."""
    retake = _problem("e4:4 f4 g4> r | a4:1").retake
    assert retake[1] == pytest.approx(2.52)
    assert retake[2] == pytest.approx(2.4 * 0.6 + 0.12)
    assert retake[3] < 0.4


def test_a_louder_stroke_may_be_faster_by_the_root_of_its_drive() -> None:
    """Thirteen decibels more on the same string: half of their logarithm; alike: nothing."""
    step = _problem("[p] a4:4 a4 [f] a4 a4").wanted_step
    assert step[1] == step[3] == 0
    assert step[2] == pytest.approx(0.5 * math.log(10 ** (13 / 20)))


def test_lifting_between_slurs_costs_more_but_not_out_of_a_caught_stroke() -> None:
    """2.4 and .12 between two legato bows, 1.2 more; before a martelé there is a stop anyway."""
    sung = _problem("(d4:4 e4) (f4 g4) | g4:1").retake
    assert sung[1] == pytest.approx(2.4 + 0.12 + 1.2)
    caught = _problem("(d4:4 e4) f4! g4! | a4:1").retake
    assert caught[1] == pytest.approx(2.4 + 0.12)


@pytest.mark.parametrize("short", ["directions", "starts", "ends", "links"])
def test_a_path_of_other_strokes_is_refused(short: str) -> None:
    """Damaged data, say: the compiled pass would read beside it."""
    problem = _problem("d4:4 e4 f4 g4")
    path = grid_path(problem)
    broken = replace(path, **{short: getattr(path, short)[:-1]})
    for judged in (problem.cost.of, problem.cost.times, problem.cost.short_of_keep):
        with pytest.raises(ValueError, match="these 4"):
            judged(broken)
    with pytest.raises(ValueError, match="3 ways for 4"):
        problem.cost.time_short(np.zeros(3))
