"""Why a stroke is as it is: what speaks loudest comes first, and what the player did comes before all."""

import re

import pytest

from pathway.core.guide.speech import Lengths, Speech
from pathway.core.planning.advice.reasons import MOST_REASONS, reasons_for
from pathway.core.planning.wishes import Link, Lock
from pathway.core.rig.bow import Direction
from tests.helpers import plan_of

DOTTED = "[mf] " + " | ".join(["d4:8d e4:16 f4:8d g4:16 a4:8d g4:16 f4:8d e4:16"] * 4)


def _reasons(text: str, note: str, locks: tuple[Lock, ...] = (), tempo: float | None = None) -> list[str]:
    plan = plan_of(text, locks=locks, tempo=tempo)
    return [reason.text() for reason in reasons_for(plan, plan.stroke[note])]


def test_a_strong_beat_speaks_for_the_strong_bow() -> None:
    """The first note of a plain bar."""
    assert any("first beat: down-bow" in reason for reason in _reasons("[mf] d4:4 e4 f#4 g4", "n1"))


@pytest.mark.parametrize(
    ("text", "note", "said"),
    [
        ("[mf] vd4:4 e4 f#4 g4", "n1", "printed in the part"),
        ("[f] g3+e4+b4+g5:4 r r r", "n1", "a chord: down-bow"),
        ("[mf] d4:4> r d4> r", "n1", "an accent: down-bow"),
    ],
)
def test_signs_and_chords_speak_for_themselves(text: str, note: str, said: str) -> None:
    """A printed bow, a chord, an accent."""
    assert any(said in reason for reason in _reasons(text, note))


def test_what_the_player_set_is_said_first() -> None:
    """Direction and hair."""
    locks = (Lock("n2", direction=Direction.DOWN, end=0.5),)
    reasons = _reasons("[mf] d4:4 e4 f#4 g4", "n2", locks)
    assert reasons[0] == "down-bow: you set it"
    assert "its hair is as you set it" in reasons


def test_links_and_saved_hair_are_explained() -> None:
    """A hook, a retake in a rest, a slur that is too long."""
    hooked = _reasons("[mf] d4:4d e4:8 d4:4d e4:8", "n2", (Lock("n2", link=Link.HOOK),))
    assert any(reason.startswith("hooked") for reason in hooked)
    lifted = _reasons("[mf] d4:4 r e4 r", "n3", (Lock("n3", link=Link.RETAKE),))
    assert any("comes back" in reason and "in the rest" in reason for reason in lifted)
    saved = _reasons("[f] (d4:1 | e4:2) f4", "n1", tempo=72)
    assert any(reason.startswith("saves hair") for reason in saved)


@pytest.mark.parametrize(
    ("text", "note", "said"),
    [
        ("[mf] d4:4 r:8 e4 f#4:4 g4", "n3", "comes in on a weak beat: up-bow"),
        ("[mf] d4:2 e4 | f4 g4 | a4:1 | d4:2 e4 | f4 g4 | a4:1", "n6", "this phrase returns: down-bow as before"),
        (DOTTED, "n2", "hooked: the short note goes with the long one"),
        (DOTTED, "n4", "a run of long and short keeps one way"),
    ],
)
def test_what_strokes_owe_to_each_other_is_said(text: str, note: str, said: str) -> None:
    """A weak entry, a phrase that returns, a run of long and short."""
    assert said in _reasons(text, note, tempo=100)


def test_there_are_few_reasons_and_never_none() -> None:
    """Every stroke of a mixed line has one to a few."""
    plan = plan_of("[mf] d4:4d e4:8 (f4:4 a4) | [p] g4:8. f4. e4. d4. c4:2> | r:4 d4 (e4:2 | f4:1)")
    for stroke in plan.strokes:
        assert 1 <= len(reasons_for(plan, stroke)) <= MOST_REASONS


def test_lengths_in_reasons_are_told_as_the_player_reads_them() -> None:
    """A retake of some centimetres is one of some inches."""
    plan = plan_of("[mf] d4:4 r e4 r", locks=(Lock("n3", link=Link.RETAKE),))
    (back,) = [reason for reason in reasons_for(plan, plan.stroke["n3"]) if reason.code.startswith("retake")]
    assert re.search(r"comes back \d+ cm", back.text())
    assert re.search(r"comes back \d+\.\d in", back.text(Speech(Lengths.INCH)))
