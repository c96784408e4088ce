"""Manners of playing, and how the notation asks for them. Figures are our estimates."""

from collections.abc import Collection
from dataclasses import dataclass

from pathway.core.music import Mark


@dataclass(frozen=True, slots=True)
class StrokeType:
    """One manner of playing."""

    key: str
    name: str
    zone: tuple[float, float] | None  # shares of the hair for the stroke's middle; None: by the centre rule
    speed_factor: float  # on the preferred speed
    gap: float  # share of each note that is silent at its end
    most_per_second: float | None
    tilt_deg: float
    stops_inside: bool = False  # several notes in one bow, each ended by itself
    hair_a_note: tuple[float, float] | None = None  # least and most hair for one note [m]


_TYPES = (
    StrokeType("detache", "détaché", None, 1.0, 0.0, 12, 15),
    StrokeType("legato", "legato", None, 1.0, 0.0, None, 15),
    StrokeType("porte", "détaché porté", (0.15, 0.85), 1.0, 0.05, 5, 15),
    StrokeType("short-detache", "short détaché", None, 0.9, 0.35, 8, 15),
    StrokeType("martele", "martelé", (0.45, 0.95), 1.6, 0.35, 5, 5),
    StrokeType("portato", "portato", (0.15, 0.85), 1.0, 0.10, 6, 15, stops_inside=True),
    StrokeType("staccato", "staccato in one bow", (0.45, 0.90), 1.0, 0.40, 9, 10, True, (0.01, 0.025)),
)
STROKE_TYPES: dict[str, StrokeType] = {kind.key: kind for kind in _TYPES}

PORTATO_BELOW = 3.5  # notes a second: slower dots under a slur are a portato


def from_notation(marks: Collection[Mark], notes_in_stroke: int, notes_per_second: float) -> StrokeType:
    """Return the manner the printed signs ask for.

    Args:
        marks: the signs on the stroke's first note.
        notes_in_stroke: how many separate notes the stroke carries.
        notes_per_second: their rate [1/s].
    """
    short = Mark.DOT in marks or Mark.WEDGE in marks
    if notes_in_stroke > 1:
        if short and notes_per_second >= PORTATO_BELOW:
            return STROKE_TYPES["staccato"]
        return STROKE_TYPES["portato" if short or Mark.DASH in marks else "legato"]
    accented = Mark.ACCENT in marks or Mark.STRONG_ACCENT in marks
    if Mark.WEDGE in marks or (accented and Mark.DOT in marks):
        return STROKE_TYPES["martele"]
    if Mark.DOT in marks:
        return STROKE_TYPES["short-detache"]
    if Mark.DASH in marks:
        return STROKE_TYPES["porte"]
    return STROKE_TYPES["detache"]
