"""Differences between kinds of notes, and what of them may be taken over into the plan."""

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from pathway.core.planning import Plan
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.core.sound import playable
from pathway.core.takes import Listened, listen
from pathway.core.takes.groups import HeardGroup
from pathway.core.takes.measures import MeasuredNote
from pathway.core.takes.player import Fault, Human, play
from pathway.core.takes.proposals import Proposal, proposals
from pathway.core.takes.words import Word
from tests.core.takes.hearing import plan_of_demo
from tests.helpers import THOROUGH, plan_of

RATE = 48_000
STACCATO = "[mf] " + " | ".join(["(e4:16. f4. g4. a4. b4. c5. d5. e5.) d5:2"] * 3)


def _hear(plan: Plan, human: Human, seed: int = 9, seconds: float = 40.0) -> Listened:
    made = play(playable(plan), human, seed, end=seconds)
    return listen(playable(plan), made.samples, RATE, end=seconds)


def _proposed(plan: Plan, heard: Listened) -> dict[str, Proposal]:
    found = proposals(heard, plan.strokes, plan.rig, plan.draft.tempo_bpm)
    return {one.key: one for one in found}


@cache
def _accented() -> Plan:
    """A plan with accents on both bows."""
    bars = ["d5:4> e5> f#5 e5", "d5 e5 f#5> d5>", "e5> f#5 d5> e5", "f#5> e5> d5 f#5>"]
    return plan_of("[mf] " + " | ".join(bars * 2), tempo=96)


def test_accents_that_come_out_on_one_bow_only_are_told_and_moved() -> None:
    """Planted, they are; even ones are not, and nothing is proposed."""
    plan = _accented()
    ways = {plan.stroke[note.stroke or ""].direction for note in plan.bowed if note.pulse_db > 0}
    assert ways == {Direction.DOWN, Direction.UP}
    weak, even = _hear(plan, Human(weak_accents=-7.0)), _hear(plan, Human())
    assert next(g for g in weak.groups if g.kind == "accents").told
    assert not any(g.told for g in even.groups if g.kind == "accents")
    edit = _proposed(plan, weak)["accents"].edit
    assert edit is not None
    assert edit.value == "down"
    assert {plan.stroke[note].direction for note in edit.notes} == {Direction.UP}
    assert "accents" not in _proposed(plan, even)


def test_a_string_is_told_where_it_is_louder_from_pitch_to_pitch() -> None:
    """Not where the room or the string answers at one of its pitches; even strings are never told of."""
    plan = plan_of_demo("slack-water")
    loud = _hear(plan, Human(strings={2: 9.0}), 51, 40.0)
    told = [group for group in loud.groups if group.kind == "string" and group.told]
    first = max(told, key=lambda group: abs(group.mean))
    assert (first.name, first.mean > 5) == ("D", True)
    for key in ("slack-water", "stone-stairs", "pebbles"):
        for seed in (81, 82)[:THOROUGH]:
            even = _hear(plan_of_demo(key), Human(), seed, 30.0)
            assert not [group for group in even.groups if group.told and group.kind != "direction"]


def _with_group(heard: Listened, group: HeardGroup) -> Listened:
    return replace(heard, groups=(group,))


def test_a_string_that_answers_louder_goes_into_the_rig() -> None:
    """To half a decibel, and only where it is told."""
    plan = plan_of_demo("toll-house")
    heard = _hear(plan, Human(), seconds=10.0)
    told = _with_group(heard, HeardGroup("string", "D", 3.7, 0.4, 20, ("n1",)))
    change = _proposed(plan, told)["answer-1"].rig
    assert change is not None
    assert [string.answer for string in change(preset("violin")).instrument.strings] == [0, 3.5, 0, 0]
    unsure = _with_group(heard, HeardGroup("string", "D", 3.7, 2.0, 20, ("n1",)))
    assert _proposed(plan, unsure) == {}


def test_the_own_rate_of_a_staccato_is_proposed_for_its_bow() -> None:
    """Where it ran slower than asked against the rest of the tempo, and not where it kept it."""
    plan = plan_of(STACCATO, tempo=90)
    (kind,) = {stroke.kind for stroke in plan.strokes if len(stroke.notes) > 4}
    assert kind in {"staccato", "flying-staccato"}
    heard = _hear(plan, Human(rubato=0.0, timing=0.003), seconds=12.0)
    assert not any(key.startswith("rate") for key in _proposed(plan, heard))
    slower = replace(heard, rows=tuple(_stretched(heard)))
    found = _proposed(plan, slower)
    (key,) = [key for key in found if key.startswith("rate")]
    change = found[key].rig
    assert change is not None
    way = Direction[key.removeprefix("rate-").upper()]
    asked = 90 / 60 * 4
    assert change(preset("violin")).one_bow(way).rate == pytest.approx(asked * 0.8, rel=0.08)
    assert change(preset("violin")).one_bow(way.other).rate is None


def _stretched(heard: Listened) -> list[MeasuredNote]:
    """Return rows whose notes inside a bow come at four fifths of the rate."""
    rows, shift = [], 0.0
    for before, row in zip([None, *heard.rows[:-1]], heard.rows, strict=True):
        inside = before and heard.planned.notes[row.note].stroke == heard.planned.notes[before.note].stroke
        shift += 0.25 * (row.onset - before.onset) if before and inside else 0.0
        rows.append(replace(row, onset=row.onset + shift))
    return rows


def test_hair_on_which_the_tone_thins_out_is_left_out() -> None:
    """From two notes on, as far as the tone held."""
    plan = plan_of("[mf] d4:1 | e4:1 | d4:1 | e4:1 | d4:1 | e4:1", tempo=60)
    heard = _hear(plan, Human())
    downs = [row.note for row in heard.rows if heard.planned.directions[row.note] is Direction.DOWN]
    assert len(downs) >= 2
    thin = [replace(row, words={Word.THIN.value}, slope=-9.0) if row.note in downs else row for row in heard.rows]
    change = _proposed(plan, replace(heard, rows=tuple(thin)))["stretch"].rig
    assert change is not None
    rig = preset("violin")
    low, high = change(rig).usable
    assert low == rig.usable[0]
    assert 0.5 * rig.bow.hair <= high < rig.usable[1] - 0.05
    once = [replace(row, words=set()) if row.note != downs[0] else row for row in thin]
    assert "stretch" not in _proposed(plan, replace(heard, rows=tuple(once)))


def test_what_comes_again_in_another_take_is_said() -> None:
    """Late and missed notes are kept in mind after the first take, and said after the second; good ones hardly ever."""
    plan = plan_of_demo("toll-house")
    ids = [note.id for note in plan.bowed if note.onset < 20 and note.duration > 0.25]
    chosen = np.random.default_rng(3).permutation(np.arange(4, len(ids) - 4))[:8]
    faults = {ids[at]: (Fault.LATE, Fault.MISSED)[n % 2] for n, at in enumerate(chosen)}
    first, second = (_hear(plan, Human(faults=faults), seed, 20.0) for seed in (5, 6))
    both = second.beside([first.could])
    said = {note for note, row in both.of.items() if row.words & {Word.LATE.value, Word.MISSED.value}}
    alone = {note for note, row in second.of.items() if row.words & {Word.LATE.value, Word.MISSED.value}}
    assert len(said & set(faults)) >= 3
    assert len(alone & set(faults)) < len(said & set(faults))
    assert len(said - set(faults)) <= 1
    assert both.beside([]).words == both.words


def test_the_parts_of_the_bow_are_compared() -> None:
    """Every third that has enough notes, with its notes."""
    heard = _hear(plan_of_demo("slack-water"), Human(), seconds=24.0)
    parts = [group for group in heard.groups if group.kind == "part"]
    assert {group.name for group in parts} <= {"lower third", "middle third", "upper third"}
    assert sum(group.count for group in parts) > 30
    assert all(set(group.notes) <= set(heard.of) for group in parts)
