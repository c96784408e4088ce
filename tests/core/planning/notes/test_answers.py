"""A string that answers more readily is bowed softer, so that the level stays as it was meant."""

from dataclasses import replace

import numpy as np
import pytest

from pathway.core.planning import Plan, plan_part
from pathway.core.rig import Rig, preset
from pathway.core.sound import Manner, playable, render
from pathway.core.sound.strings import SAMPLES
from tests.helpers import part_of

TUNES = {
    "violin": ("[mf] d4:2 e4:2 | a4:2 b4:2 | d4:2 a4:2", 1),
    "cello": ("[mf] d3:2 e3:2 | a3:2 b3:2 | d3:2 a3:2", 2),
    "bass": ("[mf] d3:2 e3:2 | g3:2 a3:2 | d3:2 g3:2", 2),
}


def _with_answer(rig: Rig, string: int, answer: float) -> Rig:
    instrument = rig.instrument
    strings = [replace(s, answer=answer if n == string else s.answer) for n, s in enumerate(instrument.strings)]
    return replace(rig, instrument=replace(instrument, strings=tuple(strings)))


def _plan(key: str, answer: float) -> Plan:
    tune, string = TUNES[key]
    return plan_part(part_of(tune, key), _with_answer(preset(key), string, answer))


def _drive(plan: Plan, string: int) -> float:
    """Return the mean of speed over distance of the notes on a string."""
    return float(np.mean([n.speed / n.contact for n in plan.bowed if n.lead.string == string]))


@pytest.mark.parametrize("key", TUNES)
def test_what_answers_louder_is_bowed_softer(key: str) -> None:
    """By as much, on its own string and on no other; the planned level stays."""
    string = TUNES[key][1]
    before, after = _plan(key, 0.0), _plan(key, 4.0)
    gained = 20 * np.log10(_drive(after, string) / _drive(before, string))
    assert gained == pytest.approx(-4.0, abs=1.0)
    others = {n.lead.string for n in before.bowed} - {string}
    assert others
    for other in others:
        assert 20 * np.log10(_drive(after, other) / _drive(before, other)) == pytest.approx(0.0, abs=0.8)
    levels = [abs(a.level_db - b.level_db) for a, b in zip(after.bowed, before.bowed, strict=True)]
    assert max(levels) < 1.0


def test_the_string_sounds_as_loud_as_was_meant() -> None:
    """What is heard of it is the softer bow, times its answer."""
    loud = []
    for answer in (0.0, 4.0):
        sound = render(playable(_plan("violin", answer)), manner=Manner(vibrato=0.0, wet=0.0)).samples
        loud.append(20 * np.log10(float(np.sqrt(np.mean(sound[: 2 * SAMPLES] ** 2)))))
    assert loud[1] == pytest.approx(loud[0], abs=1.0)
