"""Two strings under one bow: the search against a fine grid, and what players expect of it."""

import random

import numpy as np
import pytest

from pathway.core.arrays import FloatArray, Floats
from pathway.core.physics.string import CLOSEST, SoundingString, force_window
from pathway.core.planning import replan
from pathway.core.planning.helped import fixes_for
from pathway.core.planning.notes.two_strings import TwoStrings
from pathway.core.planning.wishes import Lock
from pathway.core.rig import preset
from pathway.core.technique.double_stops import DoubleStops, Leading, share_weight
from tests.helpers import plan_of

VIOLIN = preset("violin")
STOPS = TwoStrings(VIOLIN, (2, 1), (2, 0), 0.25, 0.0, 0.3)


def _random_stops(count: int, seed: int) -> DoubleStops:
    chance = random.Random(seed)
    leads, seconds, rows = [], [], []
    for _ in range(count):
        instrument = preset(chance.choice(["violin", "viola", "cello", "bass", "treble-viol"])).instrument
        lower = chance.randrange(len(instrument.strings) - 1)
        pair = [SoundingString.of(instrument, lower + i, chance.randrange(0, 10)) for i in (0, 1)]
        chance.shuffle(pair)
        leads.append(pair[0])
        seconds.append(pair[1])
        near = CLOSEST * max(s.length for s in pair)
        far = min(s.furthest * s.length for s in pair)
        comfort = instrument.comfort_force
        rows.append(
            (chance.uniform(0.06, 0.6), chance.uniform(-9, 6), chance.uniform(0.3, 0.7),
             chance.uniform(0.15, 1.5) * comfort, near, far)
        )  # fmt: skip
    speed, target, place, most, nearest, furthest = np.array(rows).T
    return DoubleStops(leads, seconds, speed, speed, target, place, most, nearest, furthest)


def _cost(stops: DoubleStops, i: int, contact: Floats, lead_share: Floats, drive_mf: float) -> FloatArray:
    """The cost of one double stop, term by term, for places and splits of what may be pressed."""
    total = np.zeros(np.broadcast_shapes(np.shape(contact), np.shape(lead_share)))
    shares = (lead_share, 1 - lead_share)
    wanted = (float(stops.place[i]), max(float(stops.place[i]) - 0.1, 0.3))
    for n, string in enumerate((stops.leads[i], stops.seconds[i])):
        beta = contact / string.length
        window = force_window(float(stops.speed[i]), beta, string)
        force = np.minimum(shares[n] * float(stops.most[i]), window.force(wanted[n]))
        q = np.log(force / window.lower) / np.log(window.upper / window.lower)
        level = 20 * np.log10(float(stops.plain_speed[i]) / beta * string.heaviness / drive_mf)
        goal = float(stops.target[i]) - (3.0 if n else 0.0)
        total += (3.0, 1.0)[n] * (level - goal) ** 2 + (20.0, 10.0)[n] * (q - wanted[n]) ** 2
        total += 400.0 * np.maximum(0.0, 0.15 - q) ** 2
    return total


def test_the_search_finds_what_a_fine_grid_finds() -> None:
    """Two hundred double stops of five instruments, within a hundredth of the grid's least cost."""
    stops = _random_stops(200, seed=3)
    found = share_weight(stops, 3.0)
    for i in range(200):
        places = np.geomspace(float(stops.nearest[i]), float(stops.furthest[i]), 60)
        best = float(_cost(stops, i, places[:, None], np.linspace(0.02, 0.98, 49), 3.0).min())
        assert found.cost[i] <= 1.01 * best + 1e-6
        here = float(_cost(stops, i, *_chosen(stops, found, i), 3.0))
        assert found.cost[i] == pytest.approx(here, rel=0.02, abs=1e-3)


def _chosen(stops: DoubleStops, found: object, i: int) -> tuple[float, float]:
    """The place, and a share that gives both voices at least what the search gave them."""
    force = found.force[i]  # type: ignore[attr-defined]
    spare = max(0.0, float(stops.most[i]) - float(force.sum()))
    return float(found.contact[i]), float((force[0] + spare / 2) / stops.most[i])  # type: ignore[attr-defined]


def test_both_weights_stay_within_what_may_be_pressed() -> None:
    """The forces add up to no more than the most, and each is positive."""
    stops = _random_stops(100, seed=5)
    found = share_weight(stops, 3.0)
    assert (found.force.sum(axis=1) <= stops.most * (1 + 1e-9)).all()
    assert (found.force > 0).all()


def test_moving_the_lead_to_the_other_string_swaps_the_roles() -> None:
    """On two like strings at one pitch height the other lead is the mirror image; else each lead keeps its level."""
    one, other = STOPS.best, STOPS.turned.best
    off = [abs(float(found.level_db[0, 0])) for found in (one, other)]
    assert max(off) < 2.0
    under = [float(found.level_db[0, 0] - found.level_db[0, 1]) for found in (one, other)]
    assert under[1] == pytest.approx(-under[0], abs=0.01)  # the distance of the two levels is the strings' own


def test_the_second_voice_gains_at_the_place_that_is_named() -> None:
    """There its level is the wanted one, three decibels under the lead's goal."""
    found = STOPS.at(STOPS.second_gains_at, 0.5)
    assert float(found.level_db[0, 1]) == pytest.approx(-3.0, abs=0.01)


def test_a_share_of_the_weight_moves_both_voices_in_their_windows() -> None:
    """More for the lead is less for the other; the levels stay, they follow speed and place."""
    light, heavy = STOPS.at(0.027, 0.3), STOPS.at(0.027, 0.7)
    assert heavy.place[0, 0] > light.place[0, 0]
    assert heavy.place[0, 1] < light.place[0, 1]
    assert np.allclose(heavy.level_db, light.level_db)


def test_two_strings_take_more_weight_than_one() -> None:
    """The same speed on one string and on two."""
    one, two = plan_of("[mf] a4:4 a4 a4 a4"), plan_of("[mf] d4+a4:4 d4+a4 d4+a4 d4+a4")
    assert two.notes[1].force > 1.15 * one.notes[1].force
    assert two.notes[1].level == pytest.approx(VIOLIN.instrument.level(1.5))


@pytest.mark.parametrize(("lead", "string"), [(Leading.TOP, 2), (Leading.BOTTOM, 1)])
def test_a_note_may_choose_its_lead(lead: Leading, string: int) -> None:
    """The voice that leads comes first and decides the place; voices sound on neighbouring strings."""
    plan = plan_of("[mf] d4+b4:2 d4+b4", locks=[Lock("n1", lead=lead)])
    note = plan.notes[0]
    assert note.lead.string == string
    assert {voice.string for voice in note.voices} == {1, 2}
    assert note.lead.beta * note.lead.vibrating == pytest.approx(note.contact)


def test_a_held_open_string_is_a_drone_in_every_note() -> None:
    """Slurred double stops with one voice moving: each has both strings and its own place."""
    plan = plan_of("[mp] (g3+d4:4 g3+e4 g3+f4 g3+e4)")
    assert [sorted(v.string for v in note.voices) for note in plan.notes] == [[0, 1]] * 4
    assert len(plan.strokes) == 1


def test_a_lost_voice_is_said_and_the_other_lead_offered() -> None:
    """The finding names the voice under a ninth on the viola; let to lead, it is not lost, nor is the other."""
    plan = plan_of("[ff] g3+a4:2 g3+a4", "viola", tempo=60)
    found = [finding for finding in plan.findings if finding.code == "voice-lost"]
    assert found
    assert "voice" in found[0].text()
    assert found[0].numbers["under_db"] != 0
    (help_,) = [fix for fix in fixes_for(plan, found[0]) if fix.way == "lead"]
    assert {lock.lead for lock in help_.locks} == {Leading.BOTTOM}
    left = [finding for finding in replan(plan, help_.locks).findings if finding.code == "voice-lost"]
    assert "n1" in found[0].notes
    assert "n1" not in {note for finding in left for note in finding.notes}
