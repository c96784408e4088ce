"""Cues in words: they differ by school where the schools differ, and say what the figures ask."""

import pytest

from pathway.core.guide.cues import School, chord_cue, crossing_cue, end_cue, level_cue, weight_cue
from pathway.core.technique.crossings import CrossingManner, Mover
from pathway.core.technique.endings import Exit


def test_schools_give_weight_in_their_own_words() -> None:
    """The same moment: an arm that leans in, or an index that rolls in; nothing to do where the bow does it."""
    arm, hand = (weight_cue(school, 0.5, 0.55) for school in (School.ARM, School.HAND))
    assert arm != hand
    assert "arm" in arm
    assert "index" in hand
    assert weight_cue(School.ARM, 0.0, 0.55) == weight_cue(School.HAND, 0.01, 0.55)


@pytest.mark.parametrize("how", CrossingManner)
@pytest.mark.parametrize("mover", Mover)
def test_every_manner_of_crossing_has_a_cue(how: CrossingManner, mover: Mover) -> None:
    """A sentence for each; the whole arm leads where it is that large."""
    cues = [crossing_cue(school, how, mover) for school in School]
    assert all(cue.endswith(".") for cue in cues)
    assert (cues[0] != cues[1]) == (mover is Mover.ARM)


def test_levels_and_chords_are_told_by_instrument_and_direction() -> None:
    """Held up or down; up-bow chords grip, retaken ones rest first."""
    assert level_cue(School.ARM, held_down=True) != level_cue(School.ARM, held_down=False)
    assert "grip" in chord_cue(up_bow=True, retaken=False)
    assert "rest" in chord_cue(up_bow=False, retaken=True)
    assert "Sink" in chord_cue(up_bow=False, retaken=False)


def test_every_ending_is_told_by_what_the_hand_does() -> None:
    """Stopped keeps the weight, ringing lightens, lifted goes on in the air; joined says how long the tone dips."""
    told = {how: end_cue(how, 0.047) for how in Exit}
    assert len(set(told.values())) == len(Exit)
    assert "keep the weight" in told[Exit.STOPPED]
    assert "lighten" in told[Exit.RINGING]
    assert "Lift" in told[Exit.LIFTED]
    assert "47 ms" in told[Exit.JOINED]
