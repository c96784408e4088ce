"""How a player looks at the sheet: what the colour of a ribbon tells, and which tracks lie under it."""

from bisect import bisect
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from pathway.core.planning.note_plan import NotePlan

LEGENDS: Mapping[str, tuple[str, ...]] = {
    "level": ("much softer than asked", "softer", "as asked", "louder", "much louder"),
    "brightness": ("dark", "a little dark", "plain", "a little bright", "bright"),
    "window": ("near airy", "light", "middle", "heavy", "near pressed"),
}
HAIR = 128.0  # height of the hair track [px]
_EDGES = {
    "level": (-4.0, -1.5, 1.5, 4.0), "brightness": (-0.4, -0.15, 0.15, 0.4), "window": (0.15, 0.4, 0.65, 0.85),
}  # fmt: skip
_VALUES: Mapping[str, Callable[[NotePlan], float]] = {
    "level": lambda note: note.level_db - note.target_db,
    "brightness": lambda note: note.brightness,
    "window": lambda note: note.lead.place,
}


@dataclass(frozen=True, slots=True)
class Look:
    """What a player wants to see."""

    colour: str = "tone"  # or one of the legends
    lanes: bool = True
    strings: bool = True
    hair: float = HAIR  # height of the hair track [px]; 0 where only the signs are wanted
    heft: float = 1.0  # of its ribbons, against those of the screen

    @classmethod
    def of(cls, colour: str, folded: str) -> "Look":
        """Return the look by the names of its colour and of the tracks that are folded."""
        return cls(
            colour if colour in LEGENDS else "tone", lanes="lanes" not in folded, strings="strings" not in folded
        )

    @property
    def name(self) -> str:
        """Return the name of its colour and those of the tracks that are folded, for a page to keep."""
        folded = [name for name, there in (("lanes", self.lanes), ("strings", self.strings)) if not there]
        return f"{self.colour} {'-'.join(folded)}"

    def paint(self, note: NotePlan) -> str:
        """Return the class of a note's colour."""
        if self.colour not in LEGENDS:
            return f"tone-{note.tone.value}"
        return f"shade-{bisect(_EDGES[self.colour], _VALUES[self.colour](note)) + 1}"

    @property
    def legend(self) -> list[tuple[str, str]]:
        """Return what the colours tell, class and words, where they do not tell the tone."""
        return [(f"shade-{n}", text) for n, text in enumerate(LEGENDS.get(self.colour, ()), start=1)]


WHOLE_LOOK = Look()
