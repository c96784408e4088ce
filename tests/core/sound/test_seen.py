"""The string under the bow, to be seen."""

import numpy as np
import pytest

from pathway.core.planning.note_plan import Tone
from pathway.core.sound import playable
from pathway.core.sound.otherwise import pushed
from pathway.core.sound.seen import PERIODS, seen_in
from pathway.errors import NotFound
from tests.helpers import plan_of

PLAN = plan_of("[mf] d4:2 a4:2 | e5:1", tempo=60)


def test_a_clear_tone_is_one_slip_a_period() -> None:
    """The string goes with the bow most of the time, at the bow's speed, and the fall back takes a share β."""
    note = PLAN.note["n1"]
    seen = seen_in(playable(PLAN), "n1")
    assert seen.tone is Tone.CORE
    assert seen.a_period == pytest.approx(1, abs=0.05)
    assert seen.times[-1] == pytest.approx(PERIODS, abs=0.02)
    step = np.diff(seen.place) * seen.pitch / np.diff(seen.times)
    down = np.sign(step[np.argmax(np.abs(step))])
    assert np.mean(step * down > 0) == pytest.approx(note.lead.beta, abs=0.05)
    assert np.median(np.abs(step)) == pytest.approx(note.speed, rel=0.1)


@pytest.mark.parametrize(("place", "tone"), [(-0.4, Tone.AIRY), (1.3, Tone.PRESSED)])
def test_off_the_window_it_is_another_motion(place: float, tone: Tone) -> None:
    """Smaller and more often, or larger and seldom."""
    clear, other = seen_in(playable(PLAN), "n3"), seen_in(playable(pushed(PLAN, place)), "n3")
    assert other.tone is tone
    assert (np.ptp(other.place) < 0.7 * np.ptp(clear.place)) == (tone is Tone.AIRY)
    with pytest.raises(NotFound):
        seen_in(playable(PLAN), "n9")
