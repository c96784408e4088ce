"""The panel that opens over a stretch of music: what it is like, with the few choices that matter first."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from pathway.core.guide.speech import Speech
from pathway.core.planning import Plan
from pathway.core.planning.characters import CHARACTERS
from pathway.core.planning.wishes import Colour, Passage, Profile, Role, Style, Vibrato
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.web.music.bands import Bands
from pathway.web.music.places import name_of, stretch
from pathway.web.shared.reading import signed


@dataclass(frozen=True, slots=True)
class Choice:
    """One field that is chosen from a list; its empty value leaves it open."""

    name: str
    label: str
    now: str
    options: tuple[tuple[str, str], ...]
    empty: str = ""  # what no choice means; none: one has to be chosen


class Panel:
    """What is asked of a passage, or of a stretch that is none yet."""

    def __init__(self, plan: Plan, passages: Sequence[Passage], passage: Passage, say: Speech) -> None:
        self.plan, self.passages, self.passage, self.say = plan, passages, passage, say

    @property
    def fresh(self) -> bool:
        """Whether it is no passage yet."""
        return self.passage.id == 0

    @property
    def title(self) -> str:
        """Return from where to where it goes."""
        return stretch(self.plan.part, self.passage.start, self.passage.end)

    @property
    def subtitle(self) -> str:
        """Return what it is, and on what it leans."""
        if self.fresh:
            return "As it is written. What shall it be like?"
        leans = next((p for p in self.passages if self.passage.relation and p.id == self.passage.relation.to), None)
        if leans is None or self.passage.relation is None:
            return name_of(self.passage)
        by = self.passage.relation.by_db
        how = f"{abs(by):g} dB {'over' if by > 0 else 'under'}" if by else "as loud as"
        return f"{name_of(self.passage)} · {how} {name_of(leans)}"

    @property
    def words(self) -> list[tuple[str, bool]]:
        """Return the characters to choose from, and which of them it has."""
        return [(character.word, character.word == self.passage.character) for character in CHARACTERS]

    @property
    def own_word(self) -> str:
        """Return its character, where it is the player's own."""
        known = {character.word for character in CHARACTERS}
        return "" if self.passage.character in known else self.passage.character

    @property
    def level(self) -> str:
        """Return how loud it is asked for."""
        loud = Bands(self.plan, self.passages, self.say).level_of(None if self.fresh else self.passage, ())
        return "as written" if self.fresh else f"{signed(loud, 0)} dB against mezzo-forte"

    @cached_property
    def first(self) -> list[Choice]:
        """Return the choices that matter most."""
        p = self.passage
        kinds = tuple((key, self.say.manner(key)) for key in STROKE_TYPES)
        colours = tuple((colour.value, colour.value) for colour in Colour)
        return [
            Choice("type", "Played", p.kind or "", kinds, "as written"),
            Choice("colour", "Colour", p.colour.value, colours),
            Choice("colour_end", "leading to", p.colour_end.value if p.colour_end else "", colours, "the same"),
        ]

    @cached_property
    def more(self) -> list[Choice]:
        """Return the other choices."""
        p, strings = self.passage, self.plan.rig.instrument.strings
        return [
            Choice("role", "Role", p.role or "", _named(Role), "on its own"),
            Choice("vibrato", "Vibrato", p.vibrato or "", _named(Vibrato), "as you like"),
            Choice("profile", "Distribution", p.profile or "", _named(Profile), "as usual"),
            Choice("style", "Style", p.style or "", _named(Style), "of the piece"),
            Choice("string", "String", "" if p.string is None else str(p.string),
                   tuple((str(i), s.letter) for i, s in enumerate(strings)), "where it lies best"),
            Choice("lead", "Leads", p.lead or "", _named(Leading), "top"),
            Choice("chords", "Chords", p.chords or "", _named(Form), "pairs"),
        ]  # fmt: skip

    @property
    def leans(self) -> Choice:
        """Return the passages that it can lean on."""
        others = tuple((str(p.id), name_of(p)) for p in self.passages if p.id != self.passage.id)
        now = str(self.passage.relation.to) if self.passage.relation else ""
        return Choice("like", "Answers", now, others, "no other")

    @property
    def by_db(self) -> str:
        """Return by how much it leans on another."""
        return f"{self.passage.relation.by_db:g}" if self.passage.relation else "0"

    @property
    def _kept_back(self) -> str:
        kept = self.passage.keep_back
        return "" if kept is None else f"{self.say.shown(100 * kept, 'cm'):.4g}"

    @property
    def numbers(self) -> list[tuple[str, str, str, str]]:
        """Return the fields with a number or some: name, label, value and what an empty one means."""
        p, stress = self.passage, self.passage.stress
        return [
            ("gap", "Silent after each note, %", "" if p.gap is None else f"{100 * p.gap:.0f}", "as usual"),
            ("keep_back", f"Hair left at its end, {self.say.unit('cm')}", self._kept_back, "any"),
            ("beats", "Heavy beats, heaviest first", " ".join(f"{beat:g}" for beat in stress.beats), "by the meter"),
            ("group", "Bars in a group", str(stress.group), ""),
            ("bars", "Heavy bars of it", " ".join(map(str, stress.bars)), "all alike"),
            ("swing", "Swing, first half over second", f"{stress.swing:g}", ""),
        ]


def _named(
    words: type[Role] | type[Vibrato] | type[Profile] | type[Style] | type[Leading] | type[Form],
) -> tuple[tuple[str, str], ...]:
    return tuple((word.value, word.value) for word in words)
