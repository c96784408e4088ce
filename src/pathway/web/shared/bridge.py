"""The bridge in section, to scale, as large pictures of it are drawn."""

import math

from pathway.core.rig.instrument import Rig
from pathway.web.shared.svg import px

_SPACING = 92.0  # of neighbouring strings [px]
BRIDGE_WIDTH, BRIDGE_HEIGHT = 560.0, 262.0
_TOP = 84.0  # of the arc


class Bridge:
    """The bridge in section, to scale, and where things lie on it [px]."""

    def __init__(self, rig: Rig) -> None:
        self.rig = rig
        self.radius = rig.instrument.bridge_radius / rig.instrument.spacing * _SPACING
        self.cx, self.cy = BRIDGE_WIDTH / 2, _TOP + self.radius

    def at(self, level: float, out: float = 0.0) -> tuple[float, float]:
        """Return the place at a level [rad], so far outside the arc."""
        radius = self.radius + out
        return self.cx + radius * math.sin(level), self.cy - radius * math.cos(level)

    def arc(self, low: float, high: float, out: float) -> str:
        """Return an arc between two levels."""
        (x0, y0), (x1, y1) = self.at(low, out), self.at(high, out)
        radius = self.radius + out
        return f"M{px(x0)} {px(y0)}A{px(radius)} {px(radius)} 0 0 1 {px(x1)} {px(y1)}"
