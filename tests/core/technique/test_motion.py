"""How the bow moves in every manner of playing."""

import numpy as np
import pytest

from pathway.core.guide.descriptions import DESCRIPTIONS
from pathway.core.guide.working import WORK
from pathway.core.technique.motion import POINTS, SHOWN_NOTES, motion_of
from pathway.core.technique.stroke_types import STROKE_TYPES, Contact, StrokeType

KINDS = list(STROKE_TYPES.values())


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.key)
def test_each_note_gets_its_hair(kind: StrokeType) -> None:
    """The speed adds up to the type's own length; separate notes go to and fro, those in one bow on."""
    motion = motion_of(kind)
    ways = motion.speed.reshape(SHOWN_NOTES, POINTS).sum(axis=1) / (POINTS * motion.rate)
    if kind.hair_a_note is not None:
        assert np.abs(ways) == pytest.approx(sum(kind.hair_a_note) / 2)
    one_way = kind.stops_inside or kind.key in {"legato", "sustained"}
    assert np.all(ways > 0) if one_way else np.all(ways[::2] > 0) and np.all(ways[1::2] < 0)
    assert np.ptp(motion.place) < 0.70


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.key)
def test_the_hair_is_off_the_string_only_where_it_flies(kind: StrokeType) -> None:
    """Weight and flight exclude each other, and only thrown strokes fly."""
    motion = motion_of(kind)
    assert not np.any((motion.lifted > 0) & (motion.weight > 0))
    if kind.key == "sautille":
        assert motion.weight.min() > 0
    assert motion.lifted.any() == (kind.contact is not Contact.ON and kind.gap > 0)


def test_every_type_is_told_in_full() -> None:
    """Words and work for each, and nothing for types that are not there."""
    assert DESCRIPTIONS.keys() == STROKE_TYPES.keys() == WORK.keys()


def test_a_catch_loads_before_it_moves() -> None:
    """In a martelé the weight grows while the bow stands, and is greatest as it starts."""
    motion = motion_of(STROKE_TYPES["martele"])
    second = motion.weight[POINTS : 2 * POINTS]
    standing = motion.speed[POINTS : 2 * POINTS] == 0
    assert np.all(np.diff(second[standing]) > 0)
    assert second[standing][-1] > 0.9 * motion.weight.max()
