"""What the colour of a ribbon tells: the tone, or how a note lies in level, brightness or window."""

from bisect import bisect
from collections.abc import Callable, Mapping

from pathway.core.planning.plan import NotePlan

Paint = Callable[[NotePlan], str]
LEGENDS: Mapping[str, tuple[str, ...]] = {
    "level": ("much softer than asked", "softer", "as asked", "louder", "much louder"),
    "brightness": ("dark", "a little dark", "plain", "a little bright", "bright"),
    "window": ("near airy", "light", "middle", "heavy", "near pressed"),
}
_EDGES = {
    "level": (-4.0, -1.5, 1.5, 4.0), "brightness": (-0.4, -0.15, 0.15, 0.4), "window": (0.15, 0.4, 0.65, 0.85),
}  # fmt: skip
_VALUES: Mapping[str, Callable[[NotePlan], float]] = {
    "level": lambda note: note.level_db - note.target_db,
    "brightness": lambda note: note.brightness,
    "window": lambda note: note.lead.place,
}


def paint_by(name: str) -> Paint | None:
    """Return how notes are painted by something other than their tone; None where they are not."""
    if name not in LEGENDS:
        return None
    value, edges = _VALUES[name], _EDGES[name]
    return lambda note: f"shade-{bisect(edges, value(note)) + 1}"
