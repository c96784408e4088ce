"""The three lines at the top of a take: what is as planned, what is most worth a look, what to do."""

from dataclasses import dataclass

from pathway.core.guide.takes import NOTHING_TO_DO, found_text, group_text, word_text
from pathway.core.practice import FAMILIES
from pathway.core.practice.drill import DrillAsk, Stage
from pathway.core.takes.listening import Listened
from pathway.core.takes.words import Word

_WEIGHTS = {
    Word.WRONG: 3.0,
    Word.ROUGH: 2.5,
    Word.MISSED: 2.0,
    Word.THIN: 1.5,
    Word.AIRY: 1.0,
    Word.LATE: 1.0,
    Word.LOUD: 1.0,
}
DRILLS = {
    Word.ROUGH: "wrong-on-purpose", Word.MISSED: "tempo-ladder", Word.THIN: "arrive", Word.AIRY: "long-tones",
    Word.LATE: "load-and-test", Word.LOUD: "speed-alone", Word.WRONG: "tempo-ladder",
}  # fmt: skip
BY_GROUP = {"direction": "both-ways-equal", "accents": "both-ways-equal", "string": "crossings", "part": "long-tones"}
_LONG = 8  # notes of a passage that is worked at
_PER_DB = 1.5  # what a decibel of a group counts against words of notes


@dataclass(frozen=True, slots=True)
class WorthALook:
    """What is most worth a look."""

    text: str
    notes: tuple[str, ...]
    drill: DrillAsk | None


@dataclass(frozen=True, slots=True)
class TakeSummary:
    """The three lines."""

    found: str
    look: WorthALook | None
    others: tuple[WorthALook, ...]  # less worth one

    @property
    def lines(self) -> tuple[str, str, str]:
        """Return them in words."""
        if self.look is None:
            return self.found, "Nothing stands out.", NOTHING_TO_DO
        drill = self.look.drill
        do = f"Work at it: {drill.family.replace('-', ' ')}." if drill else "It is the left hand's."
        return self.found, self.look.text, do


def summary(heard: Listened) -> TakeSummary:
    """Return the three lines of a take."""
    first = found_text(heard.found, len(heard.of), heard.tempo, heard.cents)
    looks = sorted([*_words(heard), *_groups(heard)], key=lambda one: -one[0])
    told = [look for _, look in looks]
    return TakeSummary(first, told[0] if told else None, tuple(told[1:]))


def _words(heard: Listened) -> list[tuple[float, WorthALook]]:
    found = []
    for word in heard.words:
        rows = [row for row in heard.rows if word in row.words]
        ids = tuple(heard.planned.notes[row.note].id for row in rows)
        bars = list(dict.fromkeys(heard.planned.bars[row.note] for row in rows))
        look = WorthALook(word_text(word.value, len(rows), bars), ids, _drill(DRILLS[word], ids))
        found.append((_WEIGHTS[word] * len(rows), look))
    return found


def _groups(heard: Listened) -> list[tuple[float, WorthALook]]:
    found = []
    for group in heard.groups:
        if group.told:
            text = group_text(group.kind, group.name, group.mean, group.error, group.count)
            drill = _drill(BY_GROUP[group.kind], group.notes[:1] + group.notes[1:_LONG][-1:])
            found.append((_PER_DB * abs(group.mean), WorthALook(text, group.notes, drill)))
    return found


def _drill(family: str, notes: tuple[str, ...]) -> DrillAsk | None:
    row = FAMILIES[family]
    stage = Stage.BARS if Stage.BARS in row.stages else Stage.PITCH if Stage.PITCH in row.stages else row.stages[0]
    return DrillAsk(family, row.members[0], stage, notes[0], notes[-1]) if notes else None
