"""Why a note lies where it does: the first reason that holds is told."""

from dataclasses import replace

import pytest

from pathway.core.planning import Lock, Passage, Plan, Settings, plan_part
from pathway.core.planning.advice.hand_reason import hand_reason
from pathway.core.rig import preset
from tests.helpers import part_of


def _plan(text: str, finger: int | None = None, string: int | None = None) -> Plan:
    part = part_of(text)
    first = part.events[0]
    heads = (replace(first.heads[0], finger=finger, string=string),)
    return plan_part(replace(part, events=(replace(first, heads=heads), *part.events[1:])), preset("violin"))


@pytest.mark.parametrize(
    ("plan", "note", "told"),
    [
        (_plan("e5:4", finger=4), 0, "A string, 4 in 1st position: the printed finger"),
        (_plan("e5:4", string=2), 0, "A string, 4 in 1st position: the printed string"),
        (_plan("g3:4"), 0, "G string: no other string has the note"),
        (_plan("d4:4"), 0, "D string: an open string, in reach of the bow"),
        (_plan("b4:4 e4"), 0, "A string, 1 in 1st position: the easiest place to begin"),
        (_plan("b4:4 c5"), 1, "A string, 2 in 1st position: the hand and the bow stay where they are"),
        (_plan("b4:4 e4"), 1, "D string, 1 in 1st position: the hand stays where it is"),
        (_plan("a4:4 b4"), 1, "A string, 1 in 1st position: the line stays on one string"),
        (_plan("a4:4 f#5"), 1, "E string, 1 in 1st position: the least crossing and shifting from the notes around it"),
    ],
)
def test_the_reason_is_the_one_that_decided(plan: Plan, note: int, told: str) -> None:
    """With string, finger and position."""
    assert hand_reason(plan, plan.bowed[note]) == told


def test_what_was_asked_for_is_told_as_that() -> None:
    """By the player on the card, or by a passage."""
    part = part_of("e5:4 e5")
    id_ = part.events[1].id
    mine = plan_part(part, preset("violin"), locks=[Lock(id_, string=2)])
    assert hand_reason(mine, mine.note[id_]).endswith("you set it")
    passage = plan_part(part, preset("violin"), Settings(passages=(Passage(id_, id_, string=2),)))
    assert hand_reason(passage, passage.note[id_]).endswith("words or the passage ask for the string")
