"""The words in a rig's picture of its bow: no pointer runs through any of them, on whatever bow."""

import re
from dataclasses import replace

import pytest

from pathway.core.rig import PRESETS, Rig
from pathway.web.rigs.pictures import bow_picture

LETTER, HIGH = 6.3, 11.0  # of a label [px]


def _labels(rig: Rig) -> list[tuple[float, float, float]]:
    """Return from where to where each label of a pointer reaches, and its baseline."""
    found = []
    pattern = r'<text x="([-\d.]+)" y="([-\d.]+)" text-anchor="(start|end)">([^<]+)</text>'
    for x, y, side, words in re.findall(pattern, bow_picture(rig)):
        wide = LETTER * len(words)
        left = float(x) if side == "start" else float(x) - wide
        found.append((left, left + wide, float(y)))
    return found


def _pointers(rig: Rig) -> list[tuple[float, float]]:
    """Return where each pointer stands and how high it goes."""
    return [
        (float(x), float(top)) for x, top in re.findall(r'class="pointer" d="M([\d.]+) 71V([-\d.]+)"', bow_picture(rig))
    ]


def _moved(rig: Rig, centre: float) -> Rig:
    return replace(rig, bow=replace(rig.bow, centre=centre * rig.bow.hair))


@pytest.mark.parametrize("key", PRESETS)
@pytest.mark.parametrize("centre", [None, 0.2, 0.34, 0.45])
def test_no_pointer_crosses_a_label(key: str, centre: float | None) -> None:
    """Nor do two labels touch; all stay in the picture."""
    rig = PRESETS[key] if centre is None else _moved(PRESETS[key], centre)
    labels, pointers = _labels(rig), _pointers(rig)
    assert len(labels) == len(pointers) >= 2
    for left, right, base in labels:
        assert left >= 0
        assert right <= 760
        for x, top in pointers:
            assert not (left + 1 < x < right - 1 and top < base + 2), (left, right, base, x, top)
    for n, one in enumerate(labels):
        for other in labels[n + 1 :]:
            apart = one[1] <= other[0] or other[1] <= one[0] or abs(one[2] - other[2]) >= HIGH
            assert apart
