"""Which part of the arm moves a stroke or a crossing: sixty situations, as players have them."""

import pytest

from pathway.core.technique.crossings import mover_of
from pathway.core.technique.limbs import Limb, Motion, limb_of

HAIR = 0.65
F, W, A, U, X = Limb.FINGERS, Limb.WRIST, Limb.FOREARM, Limb.UPPER_ARM, Limb.WHOLE_ARM
STROKES = [  # length [cm], middle of it [cm], strokes a second, off the string, early hold, limb
    (2, 50, 9, 0, 0, F), (2, 10, 9, 0, 0, F), (2, 33, 12, 0, 0, F), (1, 60, 14, 0, 0, F),
    (2.5, 20, 7, 0, 0, F), (2, 50, 5, 0, 0, W), (2, 50, 2, 0, 0, A), (2, 10, 2, 0, 0, U),
    (2, 25, 8, 1, 0, W), (4, 10, 5, 1, 0, W), (3, 25, 3, 1, 0, W), (1, 40, 12, 1, 0, W),
    (5, 15, 6, 1, 0, W), (5.5, 8, 4, 1, 0, W), (2, 33, 0, 1, 0, W), (8, 8, 3, 1, 0, U),
    (7, 40, 3, 1, 0, A), (12, 10, 2, 1, 0, U),
    (3, 20, 3, 0, 1, F), (5, 40, 5, 0, 1, F), (5, 10, 1, 0, 1, F), (4, 30, 2, 1, 1, W),
    (9, 20, 5, 0, 1, W), (9, 20, 2, 0, 1, U), (30, 20, 1, 0, 1, U), (45, 30, 1, 0, 1, X),
    (8, 45, 5, 0, 0, W), (8, 10, 5, 0, 0, W), (9, 33, 6, 0, 0, W), (8, 45, 3, 0, 0, A),
    (8, 10, 3, 0, 0, U), (12, 45, 5, 0, 0, A), (12, 15, 5, 0, 0, U), (15, 50, 4, 0, 0, A),
    (20, 50, 2, 0, 0, A), (20, 15, 2, 0, 0, U), (30, 45, 1, 0, 0, A), (30, 20, 1, 0, 0, U),
    (38, 33, 1, 0, 0, A), (38, 32, 1, 0, 0, U), (40, 33, 1, 0, 0, X), (50, 30, 2, 0, 0, X),
    (60, 32, 0.5, 0, 0, X), (60, 32, 3, 0, 0, X),
]  # fmt: skip
CROSSINGS = [  # way of the hand [cm], crossings a second, level [dB], limb
    (2, 1, 0, "fingers"), (4, 3, -9, "fingers"), (4, 8, 0, "fingers"), (7, 2.5, 0, "forearm"), (7, 8, 0, "fingers"),
    (9, 3, 0, "forearm"), (9, 9, 4, "fingers"), (11, 7, 0, "fingers"), (13, 7, 0, "forearm"), (12, 2.5, 0, "arm"),
    (20, 1, 0, "arm"), (30, 8, 0, "forearm"), (30, 2.5, 0, "arm"), (4, 1, 8, "arm"), (7, 1.5, 4, "arm"),
    (4, 3, 8, "fingers"), (7, 1.5, 0, "forearm"), (2, 1, 3.9, "fingers"),
]  # fmt: skip


@pytest.mark.parametrize(("length", "place", "rate", "off", "early", "limb"), STROKES)
def test_what_moves_a_stroke(length: float, place: float, rate: float, off: bool, early: bool, limb: Limb) -> None:
    """Short quick ones from the fingers, off the string from the wrist everywhere, near the frog with the upper arm."""
    assert limb_of(Motion(length / 100, place / 100, HAIR, rate, bool(off), bool(early))) is limb


@pytest.mark.parametrize(("travel", "rate", "level", "limb"), CROSSINGS)
def test_what_makes_a_crossing(travel: float, rate: float, level: float, limb: str) -> None:
    """Near or quick ones the fingers, as far as they reach; loud and slow ones the arm."""
    assert mover_of(travel / 100, rate, level) == limb


def test_there_are_sixty_situations() -> None:
    """No two alike."""
    assert len({*STROKES}) + len({*CROSSINGS}) == len(STROKES) + len(CROSSINGS) >= 60


@pytest.mark.parametrize(
    ("travel", "rate", "limb"),
    [(0.03, 1, "fingers"), (0.07, 1, "forearm"), (0.2, 1, "arm"), (0.1, 8, "fingers"), (0.3, 8, "forearm")],
)
def test_limb_of_a_crossing(travel: float, rate: float, limb: str) -> None:
    """Small or fast ones come from the fingers, large slow ones from the arm; a wide quick one from the forearm."""
    assert mover_of(travel, rate) == limb
