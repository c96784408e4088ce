"""Pictures of a stroke type. Shapes only; looks are in the style sheet."""

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.technique.motion import ShownMotion
from pathway.web.shared.svg import px

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
        parts.append(f'<text x="4" y="{y + height / 2 + 5:.0f}">{name}</text>')
        parts.append(f'<path class="grid" d="M{_LEFT} {y + height:.0f}H{_WIDTH - 10}"/>')
        parts.append(f'<path class="motion motion-{name}" d="{_line(motion.times, values, y, height)}"/>')
        y += height + 18
    if motion.lifted.any():
        parts.append(f'<text x="4" y="{y + 16:.0f}">flight</text>')
        parts.append(f'<path class="grid" d="M{_LEFT} {y + 26:.0f}H{_WIDTH - 10}"/>')
        parts.append(f'<path class="motion motion-flight" d="{_line(motion.times, motion.lifted, y, 26.0)}"/>')
        y += 44
    seconds = float(motion.times[-1])
    parts.append(f'<text class="end" x="{_WIDTH - 10}" y="{y + 4:.0f}">{seconds:.1f} s</text>')
    label = "Place of the bow, its speed and its weight over four notes"
    box = f"0 0 {_WIDTH:.0f} {y + 10:.0f}"
    return f'<svg class="picture motions" viewBox="{box}" role="img" aria-label="{label}">{"".join(parts)}</svg>'


def _line(times: FloatArray, values: FloatArray, top: float, height: float) -> str:
    """Return a line over time; zero lies at the bottom."""
    most = max(float(values.max()), 1e-9)
    xs = _LEFT + (_WIDTH - _LEFT - 10) * times / times[-1]
    ys = top + height * (1 - values / most)
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in zip(xs.tolist(), ys.tolist(), strict=True))


def zone_picture(zone: tuple[float, float], hair: float) -> str:
    """The bow with the part of the hair where a stroke type is at home."""
    low, high = (40 + 560 * place / hair for place in zone)
    return (
        '<svg class="picture rig-bow" viewBox="0 0 640 40" role="img" aria-label="Where on the hair it is at home">'
        f'<path class="stick" d="M10 12H40Q320 22 600 12L606 28"/><path class="frog" d="M14 15H40V29H14Z"/>'
        f'<path class="hair" d="M40 28H600"/><path class="usable" d="M{px(low)} 33H{px(high)}"/></svg>'
    )
