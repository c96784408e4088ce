"""How strokes share their hair among their notes: laws of the columns, and worked values."""

from functools import cache

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pathway.core.planning.notes.sharing import LEAST_SOUND, Hair, hair_of
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.wishes import Lock, Profile
from tests.helpers import plan_of

SLUR = "[mf] (d4:4 e4:8 f4:8) g4:2"


@cache
def _asked(text: str) -> StrokesAsked:
    return plan_of(text).draft.asked


def _hair(asked: StrokesAsked, *, rolled: float = 0.0, taken: float = 0.0) -> Hair:
    """Share 40 cm down and 30 up between two strokes."""
    starts, ends = np.array([0.10, 0.50]), np.array([0.50, 0.20])
    return hair_of(asked, starts, ends, asked.columns.moving - [taken, 0.0], {0: [rolled, 0.0]} if rolled else {})


def test_hair_goes_by_time_where_all_is_even() -> None:
    """A quarter and two eighths at one level share 40 cm as 20, 10, 10; the next stroke takes its own."""
    hair = _hair(_asked(SLUR))
    assert hair.start == pytest.approx([0.10, 0.30, 0.40, 0.50])
    assert hair.end == pytest.approx([0.30, 0.40, 0.50, 0.20])
    assert hair.opening == pytest.approx(np.ones(4))
    assert np.ptp(hair.speed[:3]) == pytest.approx(0)


def test_louder_notes_get_more_of_it() -> None:
    """By the square root of the drive: 12 dB are four times the drive, twice the speed."""
    asked = _asked("[p] (d4:4 [f] e4:4) g4:2")
    hair, levels = _hair(asked), asked.notes.level
    assert hair.speed[1] / hair.speed[0] == pytest.approx(10 ** ((levels[1] - levels[0]) / 40))


@pytest.mark.parametrize(
    ("profile", "first"),
    [(Profile.EVEN, 0.5), (Profile.SAVE, 0.4), (Profile.SPEND, 0.6), (Profile.SWELL, 0.5)],
)
def test_profiles_spend_early_or_late(profile: Profile, first: float) -> None:
    """What the first of two like notes gets: .6 u + .4 u² of it at the half, and the mirror image."""
    plan = plan_of("[mf] (d4:4 e4:4) f4:2", locks=[Lock("n1", profile=profile)])
    one, other = plan.note["n1"], plan.note["n2"]
    assert one.length / (one.length + other.length) == pytest.approx(first, abs=0.001)
    assert one.length + other.length == pytest.approx(plan.stroke["n1"].length)


@given(st.floats(-0.05, 0.05), st.floats(0.0, 0.4))
def test_lengths_and_rolls_add_up_to_the_stroke(rolled: float, taken: float) -> None:
    """Whatever is rolled over or taken for a retake: notes follow each other, the stroke ends where the path has it."""
    hair = _hair(_asked(SLUR), rolled=rolled, taken=taken)
    assert hair.start[0] == pytest.approx(0.10)
    assert hair.end[2] == 0.50
    assert hair.end[3] == 0.20
    assert hair.start[1] - hair.end[0] == pytest.approx(rolled, abs=1e-12)
    assert hair.start[2] == pytest.approx(hair.end[1])


@given(st.floats(0.0, 3.0))
def test_a_retake_takes_its_time_from_the_last_notes(taken: float) -> None:
    """As much as they can give; each keeps three tenths of its sound."""
    asked = _asked(SLUR)
    whole = asked.notes.sounding[:3]
    left = _hair(asked, taken=taken).sounding[:3]
    assert (left >= LEAST_SOUND * whole - 1e-12).all()
    assert whole.sum() - left.sum() == pytest.approx(min(taken, (1 - LEAST_SOUND) * whole.sum()))
    assert list(left < whole - 1e-12) == sorted(left < whole - 1e-12)
