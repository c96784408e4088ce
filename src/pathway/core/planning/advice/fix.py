"""A change that helps against a finding."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from pathway.core.guide.helps import effect_text, everywhere_text, help_text
from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.planning.finding import Code
from pathway.core.planning.wishes import Lock, Passage


@dataclass(frozen=True, slots=True)
class Fix:
    """A change that was tried and helps; applying it means adding its wishes to the player's."""

    id: str
    way: str  # in which it helps: a maker, or a line of the guide of its own
    facts: Mapping[str, str] = field(default_factory=dict)  # names that its words need
    locks: tuple[Lock, ...] = ()
    frees: tuple[str, ...] = ()  # notes whose locks are taken back
    passage: Passage | None = None
    tempo_bpm: float | None = None
    tuning: tuple[int, ...] = ()  # pitches of the open strings
    lowers: bool = False  # the finding it is for, rather than removing it
    brings: tuple[Code, ...] = ()  # other findings near
    places: int = 1  # like figures at which it is taken

    def text(self, say: Speech = PLAIN) -> str:
        """Return it in a player's words."""
        return help_text(self.way, self.facts, say) + everywhere_text(self.places)

    @property
    def effect(self) -> str:
        """Return what it does to the findings near."""
        return effect_text(self.lowers, self.brings)
