"""The steps from passage to passage: how far they lie apart, and one of them made wider or narrower."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from pathway.core.planning import Contrast, Plan, contrasts
from pathway.core.planning.wishes import Colour, Passage
from pathway.web.music.places import name_of
from pathway.web.shared.reading import signed

_CLEAR = 3.0  # [dB] or more are a clear step
HEARD = 0.1  # [octaves] of colour, and silent share, that are worth a word
LEVEL_BY, GAP_BY = 1.0, 0.1  # what a step is widened by [dB]; silent share
MOST_GAP = 0.8
_COLOURS = list(Colour)


class By(StrEnum):
    """What a step is made of."""

    LEVEL = "level"
    COLOUR = "colour"
    ARTICULATION = "articulation"


@dataclass(frozen=True, slots=True)
class StepRow:
    """The step to a passage from the one before, in words."""

    id: int  # of the later one
    before: str
    after: str
    thin: bool
    text: str


def steps_of(plan: Plan, passages: Sequence[Passage]) -> list[Contrast]:
    """Return the steps between neighbouring passages, given in the order of the music."""
    order = plan.part.index
    spans = [(order[passage.start], order[passage.end]) for passage in passages]
    return contrasts([[note for note in plan.bowed if a <= order[note.id] <= b] for a, b in spans])


def rows_of(plan: Plan, passages: Sequence[Passage]) -> list[StepRow]:
    """Return the steps in words."""
    return [
        StepRow(
            passages[step.after].id,
            name_of(passages[step.before]),
            name_of(passages[step.after]),
            step.thin,
            _told(step),
        )
        for step in steps_of(plan, passages)
    ]


def _told(step: Contrast) -> str:
    words = [f"{signed(step.level_db, 1)} dB"]
    if abs(step.brightness) > HEARD:
        words.append("brighter" if step.brightness > 0 else "darker")
    if abs(step.gap) > HEARD:
        words.append("more apart" if step.gap > 0 else "more joined")
    return ", ".join(words)


def widened(before: Passage, after: Passage, step: Contrast, what: By, by: int) -> Passage:
    """Return the later of two passages with the step to it wider, or narrower.

    Args:
        before: the earlier one.
        after: the later one.
        step: how far they lie apart now.
        what: it shall differ more, or less, in.
        by: 1 wider, −1 narrower.
    """
    if what is By.LEVEL:
        change = by * (LEVEL_BY if step.level_db >= 0 else -LEVEL_BY)
        return louder(after, change)
    if what is By.COLOUR:
        way = by * (1 if step.brightness >= 0 else -1)
        at = min(max(_COLOURS.index(after.colour) + way, 0), len(_COLOURS) - 1)
        return replace(after, colour=_COLOURS[at], colour_end=None)
    gap = (after.gap or 0.0) + by * (GAP_BY if step.gap >= 0 else -GAP_BY)
    return replace(after, gap=min(max(round(gap, 3), 0.0), MOST_GAP))


def louder(passage: Passage, by_db: float) -> Passage:
    """Return a passage louder by so much; one that leans on another leans otherwise."""
    relation = passage.relation
    if relation is not None:
        return replace(passage, relation=replace(relation, by_db=relation.by_db + by_db))
    return replace(passage, offset_db=passage.offset_db + by_db)
