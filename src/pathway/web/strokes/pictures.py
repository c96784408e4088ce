"""Pictures of a stroke type. Shapes only; looks are in the style sheet."""

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.technique.motion import ShownMotion
from pathway.web.shared.svg import across, path, picture, text, through

_WIDTH, _LEFT = 620.0, 84.0


def motion_picture(motion: ShownMotion) -> str:
    """The bow's place, speed and weight against time; where the hair flies, its place is drawn above the string."""
    rows = (
        ("place", motion.place - motion.place.min(), 74.0),
        ("speed", np.abs(motion.speed), 42.0),
        ("weight", motion.weight, 42.0),
    )
    y, parts = 14.0, []
    for name, values, height in rows:
        parts.append(text(4, y + height / 2 + 5, name))
        parts.append(f'<path class="grid" d="M{_LEFT} {y + height:.0f}H{_WIDTH - 10}"/>')
        parts.append(f'<path class="motion motion-{name}" d="{_line(motion.times, values, y, height)}"/>')
        y += height + 18
    if motion.lifted.any():
        parts.append(text(4, y + 16, "flight"))
        parts.append(f'<path class="grid" d="M{_LEFT} {y + 26:.0f}H{_WIDTH - 10}"/>')
        parts.append(f'<path class="motion motion-flight" d="{_line(motion.times, motion.lifted, y, 26.0)}"/>')
        y += 44
    seconds = float(motion.times[-1])
    parts.append(text(_WIDTH - 10, y + 4, f"{seconds:.1f} s", "end"))
    label = "Place of the bow, its speed and its weight over four notes"
    return picture(label, _WIDTH, y + 10, *parts, kind="motions")


def _line(times: FloatArray, values: FloatArray, top: float, height: float) -> str:
    """Return a line over time; zero lies at the bottom."""
    most = max(float(values.max()), 1e-9)
    xs = _LEFT + (_WIDTH - _LEFT - 10) * times / times[-1]
    ys = top + height * (1 - values / most)
    return through(zip(xs.tolist(), ys.tolist(), strict=True))


def zone_picture(zone: tuple[float, float], hair: float) -> str:
    """The bow with the part of the hair where a stroke type is at home."""
    low, high = (40 + 560 * place / hair for place in zone)
    bow = path("stick", "M10 12H40Q320 22 600 12L606 28") + path("frog", "M14 15H40V29H14Z")
    strip = path("hair", across(28, 40, 600)) + path("usable", across(33, low, high))
    return picture("Where on the hair it is at home", 640, 40, bow, strip, kind="rig-bow")
